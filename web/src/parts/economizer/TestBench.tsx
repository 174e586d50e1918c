import { useEffect, useRef } from "react";
import { useVisit } from "../../logbook/context";
import { RunState } from "../../logbook/RunState";
import type { Running } from "../../logbook/running";
import { Cautions } from "../../shell/Cautions";
import { VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { dueWords, known, shownAs, valueWords } from "./pointWords";
import { RunChart } from "./RunChart";
import type { SeenTest, Test } from "./useEconomizer";
import { Watched } from "./Watched";

/** One test opened: why, how, hazards, what is due; run it, or watch and type; its course and its causes. */
export function TestBench({
  test,
  phase,
  result,
  running,
  busy,
  connected,
  onRun,
}: {
  test: Test;
  phase: "as_found" | "as_left";
  result: SeenTest | undefined;
  running: Running | undefined;
  busy: boolean;
  connected: boolean;
  onRun: () => void;
}) {
  const { system } = useUnits();
  const { mayWrite } = useVisit();
  const { step } = test;
  const stimulus = (step.stimulus ?? []).filter((each) => each.point !== "occupied");
  // One that asks first has no course yet: that of the last run stays.
  const trace =
    (running?.held.length ? undefined : running) ??
    (result?.seen.trace?.length
      ? {
          samples: result.seen.trace.map((each) => ({ at_s: each.at_s, values: each.values ?? {} })),
          version: 0,
        }
      : undefined);
  const bench = useRef<HTMLDivElement>(null);
  const runs = running !== undefined;
  useEffect(() => {
    if (runs) bench.current?.scrollIntoView({ block: "nearest" });
  }, [runs]);
  return (
    <div ref={bench} className="scroll-mb-4 space-y-3 bg-base-200/40 p-3">
      <p>
        {step.purpose} {say(step.do, system)}
      </p>
      <Cautions label="Hazards" said={step.hazards ?? []} />
      <div className="grid gap-3 sm:grid-cols-2">
        {stimulus.length > 0 && (
          <div>
            <h3 className="font-semibold text-sm">Held for the test</h3>
            <ul className="text-sm">
              {stimulus.map((each) => {
                const [name, kind] = [known(each.point).name, shownAs(each.point)];
                return (
                  <li key={each.point}>
                    {name} at <span className="reading">{valueWords(each.value, kind, system)}</span>
                  </li>
                );
              })}
              {step.hand && <li>By hand: {step.hand.words.toLowerCase()}</li>}
            </ul>
          </div>
        )}
        {(step.expected ?? []).length > 0 && (
          <div>
            <h3 className="font-semibold text-sm">Due within {Math.round((step.allowed_s ?? 0) / 60)} min</h3>
            <ul className="text-sm">
              {(step.expected ?? []).map((due) => {
                const [name, kind] = [known(due.point).name, shownAs(due.point)];
                return (
                  <li key={due.point}>
                    {name} <span className="reading">{dueWords(due.low, due.high, kind, system)}</span>
                  </li>
                );
              })}
            </ul>
          </div>
        )}
      </div>
      {running && <RunState running={running} />}
      {trace && (
        <RunChart
          samples={trace.samples}
          version={trace.version}
          expected={running?.started?.expected ?? result?.seen.expected ?? []}
        />
      )}
      {result && !running && <Result result={result} />}
      {mayWrite && !step.by_hand_only && !step.not_today && connected && (
        <button type="button" className="btn btn-primary touch text-base" disabled={busy} onClick={onRun}>
          {result ? "Run it again" : "Run it at the controller"}
        </button>
      )}
      {mayWrite && !step.not_today && !busy && !step.key.startsWith("loop/") && (
        <Watched step={step} phase={phase} />
      )}
    </div>
  );
}

function Result({ result }: { result: SeenTest }) {
  const { system } = useUnits();
  return (
    <div className="space-y-2">
      <ul>
        {result.points.map((point) => (
          <li key={point.point} className="flex flex-wrap items-center gap-x-2">
            <VerdictMark mark={point.mark} size={18} />
            <span>{point.name}:</span>
            <span className="reading font-semibold">
              {point.value === null
                ? "not seen"
                : valueWords(point.value, shownAs(point.point, point.kind), system)}
            </span>
            <span className="text-sm quiet">
              due {dueWords(point.low, point.high, shownAs(point.point, point.kind), system)}
            </span>
          </li>
        ))}
      </ul>
      <p className="text-sm quiet">
        {result.seen.how === "watched" ? "Watched" : "By the controller"}, {result.by}
        {result.times > 1 && `, run ${result.times} times`}. {result.seen.note}
      </p>
      {result.causes.length > 0 && (
        <div>
          <h3 className="font-semibold">What it may be, likeliest first</h3>
          <ol className="list-decimal pl-5">
            {result.causes.map((cause) => (
              <li key={cause.key}>
                <span className="font-semibold">{cause.name}</span>
                {cause.sure >= 0.05 && (
                  <span className="reading text-sm"> {Math.round(cause.sure * 100)} %</span>
                )}
                . {cause.do}
              </li>
            ))}
          </ol>
        </div>
      )}
    </div>
  );
}
