import { VerdictMark } from "../shell/VerdictMark";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { useVisit } from "./context";
import { type Running, testLineOf } from "./running";

/** How far a test at the controller is, what went wrong, or what it said at its end. */
export function RunState({ running }: { running: Running }) {
  const { system } = useUnits();
  const { page } = useVisit();
  if (running.trouble)
    return (
      <div role="alert" className="panel space-y-2 border-error p-3">
        <p>{running.trouble}</p>
        {running.held.length > 0 && (
          <button
            type="button"
            className="btn btn-warning touch"
            onClick={() => testLineOf(String(page.id)).overHeld()}
          >
            Run it, then put it back
          </button>
        )}
      </div>
    );
  if (running.ended)
    return (
      <p role="status" className="flex items-center gap-2 font-semibold">
        <VerdictMark mark={running.ended.mark as "holds"} /> {say(running.ended.sentence, system)}{" "}
        <span className="font-normal">{running.ended.words}</span>
      </p>
    );
  const at = running.samples.at(-1)?.at_s ?? 0;
  return (
    <p role="status">
      {running.stage === "first" ? "Bringing about the starting condition" : "Watching"},{" "}
      <span className="reading">{Math.round(at)} s</span> of the controller's time.
    </p>
  );
}
