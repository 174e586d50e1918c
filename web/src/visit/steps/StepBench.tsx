import { TriangleAlert } from "lucide-react";
import type { ReactNode } from "react";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { Changes } from "../../temporary/Ledger";
import { Arrive } from "./Arrive";
import { Checks } from "./Checks";
import { HandOver } from "./HandOver";
import { Measure } from "./Measure";
import { Notes } from "./Notes";
import { Prove } from "./Prove";
import { Settle } from "./Settle";
import { SetUp } from "./SetUp";
import { Trace } from "./Trace";
import { WorkOut } from "./WorkOut";

const BENCHES: Record<string, () => ReactNode> = {
  arrive: Arrive,
  trace: Trace,
  settle: Settle,
  measure: Measure,
  work_out: WorkOut,
  set_up: SetUp,
  prove: Prove,
  restore: Changes,
  hand_over: HandOver,
};

/** The bench of a step: cautions first, then its work, its checks, its notes. */
export function StepBench({ step }: { step: string }) {
  const { page, openStep } = useVisit();
  const route = page.work_up.route;
  const index = route.findIndex((each) => each.id === step);
  const here = route[index] ?? route[0];
  if (!here) return null;
  const Bench = BENCHES[here.id];
  const following = route[index + 1];
  return (
    <div className="space-y-4">
      <div className="flex flex-wrap items-start justify-between gap-2">
        <div>
          <h1 className="font-semibold text-2xl leading-tight">{here.name}</h1>
          <p className="quiet">{here.lead}</p>
        </div>
        {page.work_up.closed && (
          <p className="panel bg-base-200 px-3 py-1.5">This visit is closed: you can look, not add.</p>
        )}
      </div>
      <FirstReading step={here.id} />
      {here.cautions.length > 0 && (
        <ul className="space-y-1 border-accent border-l-4 bg-base-200 py-2 pr-3 pl-3" aria-label="Cautions">
          {here.cautions.map((caution) => (
            <li key={caution} className="flex gap-2">
              <TriangleAlert size={18} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
              {caution}
            </li>
          ))}
        </ul>
      )}
      {here.id === "arrive" && <Notes step={here.id} />}
      {Bench && <Bench />}
      <Checks checks={here.checks} />
      {here.id !== "arrive" && <Notes step={here.id} />}
      {following && here.state === "done" && (
        <button
          type="button"
          className="btn btn-primary touch text-base"
          onClick={() => openStep(following.id)}
        >
          Next: {following.name}
        </button>
      )}
    </div>
  );
}

/** Steps before anything is worked out. */
const BEFORE = ["arrive", "trace", "settle", "measure"];

/** Until the first reading: where it begins. */
function FirstReading({ step }: { step: string }) {
  const { page, entries, mayWrite, openStation } = useVisit();
  const first = page.work_up.path.stations.find((each) => each.id === page.work_up.next_station);
  if (!mayWrite || !first || !BEFORE.includes(step) || standingOf(entries, "reading").length > 0) return null;
  return (
    <p className="border-primary border-l-4 bg-base-200 p-3 text-lg">
      {step === "measure" ? "Tap " : "To read, tap "}
      <button
        type="button"
        className="-my-3 inline-block py-3 font-semibold underline"
        onClick={() => openStation(first.id, "measure")}
      >
        {first.name}
      </button>{" "}
      on the air path.
    </p>
  );
}
