/** Something seen that is no number: one of a few answers, chosen by a tap. */
import { Check } from "lucide-react";
import { tables } from "../units/tables.gen";
import { useVisit } from "./context";
import { type Phase, standingOf } from "./logbook";

export function OneOf({
  item,
  legend,
  usual,
  phase = "as_found",
}: {
  item: string;
  legend: string;
  /** The answer that is made to stand out until one was given. */
  usual?: string;
  phase?: Phase;
}) {
  const { entries, record, mayWrite } = useVisit();
  const seen = standingOf(entries, "observation").findLast((entry) => entry.body.item === item);
  return (
    <fieldset className="mt-3 flex flex-wrap gap-2">
      <legend className="sr-only">{legend}</legend>
      {Object.entries(tables.items[item] ?? {}).map(([value, words]) => {
        const chosen = seen?.body.value === value;
        return (
          <button
            key={value}
            type="button"
            disabled={!mayWrite}
            aria-pressed={chosen}
            className={`btn touch text-base ${chosen ? "btn-neutral" : value === usual && !seen ? "btn-primary" : ""}`}
            onClick={() => void record("observation", { item, value }, { phase })}
          >
            {chosen && <Check size={18} aria-hidden="true" />} {words}
          </button>
        );
      })}
    </fieldset>
  );
}
