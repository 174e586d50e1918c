import { Flame, TriangleAlert } from "lucide-react";
import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { MARK_WORDS, type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";
import { ProbePlaces } from "./ProbePlaces";

type HeatingPage = NonNullable<PhaseShown["pages"]["heating"]>;

/** Rise against the plate, where the probes go on this build-up, and who may do what about it. */
export default function Heating() {
  const { shown, openWorking } = useVisit();
  const heating = shown.pages.heating;
  if (!heating) return null;
  return (
    <div className="space-y-5">
      {heating.carbon_monoxide && (
        <p className="flex gap-2 border-error border-l-4 bg-base-200 p-3">
          <Flame size={20} className="mt-0.5 shrink-0 text-error" aria-hidden="true" />
          <span>
            <span className="font-semibold">Carbon monoxide. </span>
            {heating.carbon_monoxide}
          </span>
        </p>
      )}
      <section aria-labelledby="rise">
        <h2 id="rise" className="font-semibold text-lg">
          Rise
        </h2>
        {heating.rise ? (
          <>
            <button
              type="button"
              className="touch text-left"
              title="Working (w)"
              onClick={() => openWorking("rise")}
            >
              <Figure quantity={heating.rise} size="large" />
            </button>
            <p className="flex items-center gap-2">
              <VerdictMark mark={heating.mark as MarkName} /> {MARK_WORDS[heating.mark as MarkName]}
            </p>
            <RiseBar heating={heating} />
          </>
        ) : (
          <p className="panel mt-2 p-4">
            Let it burn or heat steadily for ten minutes, then read return and supply air.
          </p>
        )}
        <Outlet heating={heating} />
      </section>
      <ProbePlaces />
      <section aria-labelledby="who">
        <h2 id="who" className="font-semibold text-lg">
          Who may do what
        </h2>
        <dl className="panel mt-2 divide-y divide-base-300">
          {heating.who.map((each) => (
            <div key={each.who} className="grid gap-x-4 px-3 py-2 wide:grid-cols-[15rem_1fr]">
              <dt className="font-semibold">{each.who}</dt>
              <dd>{each.what}</dd>
            </div>
          ))}
        </dl>
      </section>
    </div>
  );
}

/** The rise on a scale with the range it should lie in. */
function RiseBar({ heating }: { heating: HeatingPage }) {
  const { system } = useUnits();
  const { rise, low, high } = heating;
  if (!rise || !low || !high) {
    return (
      <p className="text-sm">The nameplate's range is not noted: fill it in, and the rise can be judged.</p>
    );
  }
  const most = Math.max(high.value * 1.35, rise.value + rise.plus_minus);
  const at = (kelvin: number) => `${Math.max(0, Math.min(100, (100 * kelvin) / most))}%`;
  return (
    <div className="mt-2 max-w-xl">
      <div className="relative h-9 rounded bg-base-200">
        <div
          className="absolute inset-y-0 border-success border-x-2 bg-success/25"
          style={{ left: at(low.value), right: `calc(100% - ${at(high.value)})` }}
        />
        <div
          className="absolute inset-y-2 bg-primary/50"
          style={{
            left: at(rise.value - rise.plus_minus),
            right: `calc(100% - ${at(rise.value + rise.plus_minus)})`,
          }}
        />
        <div className="absolute inset-y-0 w-1 bg-primary" style={{ left: at(rise.value) }} />
      </div>
      <div className="relative h-6 text-sm">
        {[low, high].map((edge) => (
          <span
            key={edge.value}
            className="-translate-x-1/2 absolute whitespace-nowrap"
            style={{ left: at(edge.value) }}
          >
            {inWords(edge.value, edge.kind, system)}
          </span>
        ))}
      </div>
    </div>
  );
}

function Outlet({ heating }: { heating: HeatingPage }) {
  const { system } = useUnits();
  const { outlet, most_outlet: most } = heating;
  if (!outlet) return null;
  const over = most && outlet.value > most.value;
  return (
    <p className="mt-1 flex items-center gap-2">
      {over && <TriangleAlert size={18} className="text-error" aria-hidden="true" />}
      Supply air {inWords(outlet.value, outlet.kind, system)}
      {most ? `; the nameplate allows at most ${inWords(most.value, most.kind, system)}.` : "."}
    </p>
  );
}
