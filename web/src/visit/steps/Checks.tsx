import { Check } from "lucide-react";
import { useVisit } from "../../logbook/context";
import { type Page, standingOf } from "../../logbook/logbook";

type CheckState = Page["work_up"]["route"][number]["checks"][number];

/** Things to see and tick, one tap each; a second tap takes it back. */
export function Checks({ checks }: { checks: CheckState[] }) {
  const { entries, record, mayWrite } = useVisit();
  if (checks.length === 0) return null;
  const waiting = standingOf(entries, "check").filter((entry) => entry.waiting);
  return (
    <ul className="panel divide-y divide-base-300">
      {checks.map((check) => {
        const last = waiting.findLast((entry) => entry.body.item === check.item);
        const done = last ? last.body.done !== false : check.done;
        return (
          <li key={check.item}>
            <button
              type="button"
              aria-pressed={done}
              disabled={!mayWrite}
              className="touch flex w-full items-center gap-3 px-3 py-2 text-left enabled:hover:bg-base-200"
              onClick={() => void record("check", { item: check.item, done: !done }, { phase: "as_found" })}
            >
              <span
                className={`grid size-7 shrink-0 place-items-center rounded border-2 ${
                  done ? "border-success bg-success text-success-content" : "border-base-content/60"
                }`}
              >
                {done && <Check size={20} aria-hidden="true" />}
              </span>
              <span>{check.text}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
