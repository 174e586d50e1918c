import { Check, Circle, CircleDot, Minus } from "lucide-react";
import { useVisit } from "../logbook/context";

const STATES: Record<string, string> = {
  to_do: "to do",
  begun: "begun",
  done: "done",
  not_needed: "not needed so far",
};

/** The nine steps; any can be opened any time, the next sensible one is lit. */
export function Route({ step, onChosen }: { step: string; onChosen?: () => void }) {
  const { page, openStep } = useVisit();
  return (
    <ol className="py-1">
      {page.work_up.route.map((each, index) => {
        const here = each.id === step;
        const next = each.id === page.work_up.next_step && each.state !== "done";
        return (
          <li key={each.id}>
            <button
              type="button"
              aria-current={here ? "step" : undefined}
              title={`${index + 1}`}
              className={`touch flex w-full items-center gap-2.5 border-l-4 px-3 text-left ${
                here ? "border-primary bg-base-200 font-semibold" : "border-transparent hover:bg-base-200"
              }`}
              onClick={() => {
                openStep(each.id);
                onChosen?.();
              }}
            >
              <StateIcon state={each.state} />
              <span className="flex-1">{each.name}</span>
              <span className="sr-only">{STATES[each.state]}</span>
              {next && <span className="size-2.5 rounded-full bg-accent" title="Next" />}
            </button>
          </li>
        );
      })}
    </ol>
  );
}

function StateIcon({ state }: { state: string }) {
  if (state === "done") return <Check size={18} className="text-success" aria-hidden="true" />;
  if (state === "begun") return <CircleDot size={18} aria-hidden="true" />;
  if (state === "not_needed") return <Minus size={18} className="quiet" aria-hidden="true" />;
  return <Circle size={18} className="quiet" aria-hidden="true" />;
}
