import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import type { Quantity } from "../../units/units";

/** As found against as left, and whether the change is larger than its half-width. On a phone each result is a block. */
export function Comparison() {
  const { page } = useVisit();
  const changes = page.work_up.comparison;
  if (changes.length === 0) return null;
  return (
    <section aria-labelledby="compared">
      <h2 id="compared" className="font-semibold text-lg">
        As found, as left
      </h2>
      <Between />
      <table className="panel mt-2 block w-full text-left wide:table">
        <thead className="hidden wide:table-header-group">
          <tr className="border-base-300 border-b text-sm quiet">
            {["Result", "As found", "As left", "Change"].map((name) => (
              <th key={name} className="px-3 py-2 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="block wide:table-row-group">
          {changes.map((change) => (
            <tr
              key={change.key}
              className="block border-base-300 border-b px-3 py-2 last:border-0 wide:table-row wide:px-0"
            >
              <th className="block font-semibold wide:table-cell wide:px-3 wide:py-2">{change.name}</th>
              <Cell name="As found" quantity={change.as_found} />
              <Cell name="As left" quantity={change.as_left} />
              <Cell
                name="Change"
                quantity={change.change}
                unsure={change.real ? "" : change.guessed ? GUESSED : WITHIN}
              />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What was changed in between: without it a difference says nothing. */
function Between() {
  const { page } = useVisit();
  const between = page.work_up.between ?? [];
  if (between.length === 0) {
    return <p className="text-sm">No change is written down under Set up: then what made the difference?</p>;
  }
  return (
    <ul className="mt-1">
      {between.map((each) => (
        <li key={each.what + each.at}>
          <span className="font-semibold">{each.what}:</span> was {each.was}, now {each.now}
          {each.why && <span className="quiet"> ({each.why})</span>}
        </li>
      ))}
    </ul>
  );
}

const WITHIN = "within the doubt: no change can be claimed";
const GUESSED = "rests on a flow nobody measured: no change can be claimed";

function Cell({ name, quantity, unsure = "" }: { name: string; quantity: Quantity; unsure?: string }) {
  return (
    <td className="flex items-baseline justify-between gap-3 py-1 wide:table-cell wide:px-3 wide:py-2">
      <span className="quiet text-sm wide:hidden">{name}</span>
      <span>
        <Figure quantity={quantity} size="small" />
        {unsure && <span className="quiet block text-sm">{unsure}</span>}
      </span>
    </td>
  );
}
