import { Link } from "@tanstack/react-router";
import { Timer } from "lucide-react";
import { useNow } from "../shell/useNow";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { StateSign } from "./LiveMark";
import { useRunning } from "./running";
import { STATE_WORDS } from "./types";
import { useLive } from "./useLive";

const SETTLED_MIN = 10;

/**
 * Since when the unit runs, on every page and after a reload; lit until the first ten minutes are over. With live probes
 * it also says whether the readings stand still.
 */
export function SettleClock() {
  const running = useRunning();
  const now = useNow();
  const { picture } = useLive();
  const { system } = useUnits();
  if (!running) return null;
  const live = picture?.connected ? picture : undefined;
  const elapsed = live?.running_s ?? (now - new Date(running.since).getTime()) / 1000;
  const minutes = Math.max(0, Math.floor(elapsed / 60));
  const judged = live?.channels.some((channel) => channel.station !== "");
  const settling = judged && live ? live.state !== "steady" : minutes < SETTLED_MIN;
  const words =
    judged && live
      ? say(live.words, system)
      : settling
        ? "Under ten minutes: readings still move"
        : "Running long enough to read";
  return (
    <Link
      to="/visits/$visitId"
      params={{ visitId: running.visit }}
      className="touch flex items-center"
      title={`${running.system}: ${words}`}
      aria-label={`Settle clock, ${running.system}: ${minutes} min. ${words}`}
    >
      <span
        className={`flex items-center gap-1.5 rounded px-2 py-1 ${
          settling ? "bg-warning text-warning-content" : ""
        }`}
      >
        {judged && live ? <StateSign state={live.state} size={18} /> : <Timer size={18} aria-hidden="true" />}
        <span className="reading">{minutes} min</span>
        <span className="hidden text-sm wide:inline">
          {judged && live ? STATE_WORDS[live.state] : settling ? "settling" : "running"}
        </span>
      </span>
    </Link>
  );
}
