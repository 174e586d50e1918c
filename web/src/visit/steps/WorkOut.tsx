import { lazy, Suspense } from "react";
import { useVisit } from "../../logbook/context";
import { PHASE_NAMES, type Result, standingOf } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { PhaseSwitch } from "../Verdicts";
import { Comparison } from "./Comparison";
import { StepPages } from "./StepPages";

const LARGE = ["split", "rise", "total", "heat_total"];

/** What the readings say: the numbers, and a page for each part of the job. */
export function WorkOut() {
  const { page, shown } = useVisit();
  return (
    <div className="space-y-4">
      {page.work_up.phases.length > 1 && (
        <div className="flex items-center gap-3 wide:hidden">
          <PhaseSwitch />
          <span className="sr-only">{PHASE_NAMES[shown.phase]}</span>
        </div>
      )}
      <StepPages step="work_out" label="Parts of Work out" own={{ key: "numbers", name: "Numbers" }}>
        <Numbers />
      </StepPages>
    </div>
  );
}

const ChartSection = lazy(() =>
  import("../../chart/ChartSection").then((found) => ({ default: found.ChartSection })),
);

function Numbers() {
  const { shown } = useVisit();
  const large = shown.results.filter((result) => LARGE.includes(result.key));
  const rest = shown.results.filter((result) => !LARGE.includes(result.key));
  return (
    <div className="space-y-4">
      {shown.results.length === 0 && (
        <p>For this kind of system the states at each station are worked out; see the cards under Measure.</p>
      )}
      <ul className="grid gap-3 wide:grid-cols-2">
        {large.map((result) => (
          <ResultCard key={result.key} result={result} size="large" />
        ))}
      </ul>
      <ul className="grid gap-3 sm:grid-cols-2 xl:grid-cols-4">
        {rest.map((result) => (
          <ResultCard key={result.key} result={result} size="middle" />
        ))}
      </ul>
      <AirflowMethods />
      <Comparison />
      <Suspense fallback={<p className="quiet">Opening the chart.</p>}>
        <ChartSection />
      </Suspense>
    </div>
  );
}

/** Every way to the airflow, the one in use first; those that lack something say what. */
function AirflowMethods() {
  const { shown, openWorking } = useVisit();
  const { system } = useUnits();
  const methods = shown.pages.airflow?.methods ?? [];
  if (methods.length === 0) return null;
  const used = (method: Result) => method.key === shown.pages.airflow?.chosen;
  const sorted = [...methods].sort(
    (a, b) => Number(used(b)) - Number(used(a)) || Number(Boolean(b.quantity)) - Number(Boolean(a.quantity)),
  );
  return (
    <section aria-labelledby="airflow-ways">
      <h2 id="airflow-ways" className="font-semibold text-lg">
        Airflow, every way
      </h2>
      <p className="text-sm quiet">The tightest is used. Nominal is a guess and the last resort.</p>
      <FanTap />
      <ul className="panel mt-2 divide-y divide-base-300">
        {sorted.map((method) => (
          <li key={method.key}>
            <button
              type="button"
              className="touch grid w-full items-baseline gap-x-4 px-3 py-1.5 text-left hover:bg-base-200 wide:grid-cols-[14rem_11rem_1fr]"
              title="Working"
              onClick={() => openWorking(method.key)}
            >
              <span className={used(method) ? "font-semibold" : ""}>
                {method.name}
                {used(method) && (
                  <span className="ml-2 rounded bg-primary px-1.5 text-primary-content text-sm">used</span>
                )}
              </span>
              <span>
                {method.quantity ? (
                  <Figure quantity={method.quantity} size="small" />
                ) : (
                  <span className="quiet">–</span>
                )}
              </span>
              <span className="text-sm">
                {(method.missing ?? []).length > 0
                  ? `Missing: ${(method.missing ?? []).join(", ").toLowerCase()}`
                  : method.remark && say(method.remark, system)}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The blower's speed tap as seen on its plug: the fan table needs it. */
function FanTap() {
  const { page, entries, shown, mayWrite, record } = useVisit();
  const taps = page.work_up.speed_taps ?? [];
  if (taps.length < 2 || !mayWrite) return null;
  const seen = standingOf(entries, "observation").findLast((entry) => entry.body.item === "fan_tap");
  return (
    <fieldset className="mt-1 flex flex-wrap items-center gap-2">
      <legend className="sr-only">The blower's speed tap</legend>
      <span>The blower's speed tap, as seen:</span>
      {taps.map((tap) => (
        <button
          key={tap}
          type="button"
          disabled={!mayWrite}
          aria-pressed={seen?.body.value === tap}
          className={`btn touch ${seen?.body.value === tap ? "btn-neutral" : ""}`}
          onClick={() =>
            void record(
              "observation",
              { item: "fan_tap", value: tap },
              { phase: shown.phase === "as_left" ? "as_left" : "as_found" },
            )
          }
        >
          {tap}
        </button>
      ))}
    </fieldset>
  );
}

function ResultCard({ result, size }: { result: Result; size: "middle" | "large" }) {
  const { openWorking } = useVisit();
  const { system } = useUnits();
  return (
    <li>
      <button
        type="button"
        className="panel flex h-full w-full flex-col items-start justify-start p-3 text-left hover:border-primary"
        title="Working (w)"
        onClick={() => openWorking(result.key)}
      >
        <span className="block quiet">{result.name}</span>
        {result.quantity ? (
          <Figure quantity={result.quantity} size={size} />
        ) : (
          <span className="block">
            {result.remark
              ? say(result.remark, system)
              : `Missing: ${(result.missing ?? []).join(", ").toLowerCase()}`}
          </span>
        )}
        {result.quantity && result.remark && (
          <span className="block text-sm">{say(result.remark, system)}</span>
        )}
      </button>
    </li>
  );
}
