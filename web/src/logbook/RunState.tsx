import { VerdictMark } from "../shell/VerdictMark";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import type { Running } from "./running";

/** How far a test at the controller is, what went wrong, or what it said at its end. */
export function RunState({ running }: { running: Running }) {
  const { system } = useUnits();
  if (running.trouble)
    return (
      <p role="alert" className="panel border-error p-3">
        {running.trouble}
      </p>
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
