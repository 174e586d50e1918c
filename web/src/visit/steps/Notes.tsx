import { type FormEvent, useState } from "react";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { clockTime } from "../../shell/when";

/** Notes of this step; `n` jumps here. What is typed stays until it is kept. */
export function Notes({ step }: { step: string }) {
  const { entries, record, mayWrite, page } = useVisit();
  const draft = `fentro.draft.${page.id}.${step}`;
  const [text, setText] = useState(() => sessionStorage.getItem(draft) ?? "");
  const notes = standingOf(entries, "note").filter((entry) => entry.body.step === step);
  const type = (next: string) => {
    setText(next);
    sessionStorage.setItem(draft, next);
  };
  const send = async (event: FormEvent) => {
    event.preventDefault();
    if (!text.trim()) return;
    await record("note", { text: text.trim(), step }, { phase: "as_found" });
    type("");
  };
  return (
    <section aria-label="Notes">
      <ul className="space-y-1">
        {notes.map((note) => (
          <li key={note.id} className="border-base-300 border-l-4 pl-3">
            {note.body.text} <span className="text-sm quiet">{clockTime(note.at)}</span>
          </li>
        ))}
      </ul>
      {mayWrite && (
        <form onSubmit={send} className="mt-2 flex gap-2">
          <input
            id="note"
            className="input touch min-w-0 flex-1"
            aria-label={step === "arrive" ? "What was reported" : "Note"}
            placeholder={step === "arrive" ? "What was reported" : "Note"}
            maxLength={4000}
            value={text}
            onChange={(event) => type(event.target.value)}
          />
          <button type="submit" className="btn touch" disabled={!text.trim()}>
            Keep
          </button>
        </form>
      )}
    </section>
  );
}
