import { Timer } from "lucide-react";
import { useNow } from "../shell/useNow";
import { useVisit } from "./context";
import { standing } from "./logbook";

const SETTLED_MIN = 10;

/** Minutes since the unit started; lit until the first ten are over. */
export function SettleClock() {
  const { entries, page } = useVisit();
  const now = useNow();
  const runs = standing(entries).filter((entry) => entry.kind === "run");
  const last = runs[runs.length - 1];
  if (page.work_up.closed || last?.body.event !== "started") return null;
  const minutes = Math.max(0, Math.floor((now - new Date(last.at).getTime()) / 60_000));
  const settling = minutes < SETTLED_MIN;
  return (
    <span
      className={`flex items-center gap-1.5 rounded px-2 py-1 ${settling ? "bg-warning text-warning-content" : ""}`}
      title={settling ? "Under ten minutes: readings still move" : "Running long enough to read"}
    >
      <Timer size={18} aria-hidden="true" />
      <span className="reading">{minutes} min</span>
      <span className="hidden text-sm wide:inline">{settling ? "settling" : "running"}</span>
    </span>
  );
}
