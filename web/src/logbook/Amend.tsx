import { useVisit } from "./context";
import type { Logged } from "./logbook";

/** What was written down can be corrected, or taken back; both stay in the record. */
export function Amend({ entry, name, correct }: { entry: Logged; name: string; correct: () => void }) {
  const { record, mayWrite } = useVisit();
  if (!mayWrite) return null;
  const takeBack = () =>
    void record("withdrawal", {}, { replaces: entry.id, reason: "taken back", phase: entry.phase });
  return (
    <span className="ml-2 inline-flex gap-1 print:hidden">
      <button
        type="button"
        className="btn btn-ghost btn-sm touch"
        aria-label={`Correct: ${name}`}
        onClick={correct}
      >
        Correct
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm touch"
        aria-label={`Take back: ${name}`}
        onClick={takeBack}
      >
        Take back
      </button>
    </span>
  );
}
