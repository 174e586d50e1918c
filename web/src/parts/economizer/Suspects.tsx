import { sureWords } from "../../shell/sure";
import type { Page } from "./useEconomizer";

/** From here one suspect stands alone; what keeps it from being found is what is not seen yet. */
const FITS = 0.7;

/** What all tests together point to. */
export function Suspects({ page }: { page: Page }) {
  const { suspects, found } = page;
  // A page kept by an older edition has none.
  const between = page.open_between ?? [];
  if (suspects.length === 0) return between.length > 0 ? <LeftOpen between={between} /> : null;
  const first = suspects[0];
  return (
    <section className="panel p-3" aria-labelledby="suspects">
      <h2 id="suspects" className="font-semibold text-lg">
        {found && first ? `The tests point to: ${first.name.toLowerCase()}` : "What the tests may point to"}
      </h2>
      <ul className="mt-1 space-y-2">
        {suspects.slice(0, 3).map((each) => (
          <li key={each.key}>
            <p className="flex flex-wrap items-baseline gap-x-2">
              {(each !== first || !found) && <span className="font-semibold">{each.name}</span>}
              <span className="text-sm">
                {each.sure >= FITS && !found ? "fits well, not proven" : sureWords(each.sure)}
              </span>
            </p>
            <p className="text-sm">{each.do}</p>
            <p className="text-sm quiet">By: {each.tests.join("; ")}</p>
          </li>
        ))}
      </ul>
      {between.length > 0 && (
        <p className="mt-2 border-base-300 border-t pt-2">
          <span className="font-semibold">
            {first && first.sure >= FITS ? "Before you act on it, see:" : "Not sure yet. To decide:"}
          </span>{" "}
          {between.join("; ")}.
        </p>
      )}
    </section>
  );
}

/** Nothing is suspected, but not everything was told. */
function LeftOpen({ between }: { between: string[] }) {
  return (
    <p className="panel p-3">
      <span className="font-semibold">Nothing speaks for a fault so far, but these told nothing:</span>{" "}
      {between.join("; ")}. Why stands with each.
    </p>
  );
}
