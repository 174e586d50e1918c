import { TriangleAlert } from "lucide-react";
import { useVisit } from "../logbook/context";
import { standing } from "../logbook/logbook";
import { entryWords } from "../queue/entryWords";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";

/** Entries that the visit can't be worked out with: what they say, why, and the way to take them back. */
export function LeftOut() {
  const { page, entries, mayWrite, record } = useVisit();
  const { system } = useUnits();
  const stands = new Map(standing(entries).map((entry) => [entry.id, entry]));
  const left = page.left_out.filter((each) => stands.has(String(each.entry)));
  if (left.length === 0) return null;
  return (
    <section
      aria-label="Entries that can't be worked with"
      className="mb-3 space-y-3 rounded border border-error p-4"
    >
      <p className="flex items-center gap-2 font-semibold">
        <TriangleAlert size={20} className="shrink-0 text-error" aria-hidden="true" />
        {left.length === 1 ? "One entry is" : `${left.length} entries are`} left out of everything shown here.
      </p>
      {left.map(({ entry: id, words }) => {
        const entry = stands.get(String(id));
        return (
          <div key={String(id)} className="flex flex-col gap-3 wide:flex-row wide:items-center">
            <div className="min-w-0 flex-1">
              <p className="font-semibold">{entry && entryWords(entry.kind, entry.body)}</p>
              <p>{say(words, system)}</p>
            </div>
            {mayWrite && entry && !entry.waiting && (
              <button
                type="button"
                className="btn touch"
                onClick={() =>
                  void record(
                    "withdrawal",
                    {},
                    { replaces: entry.id, reason: "taken back", phase: entry.phase },
                  )
                }
              >
                Take it back
              </button>
            )}
          </div>
        );
      })}
    </section>
  );
}
