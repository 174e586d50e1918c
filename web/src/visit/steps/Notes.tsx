import { useEffect, useState } from "react";
import { useForm } from "react-hook-form";
import { remember, remembered } from "../../device/remembered";
import { Amend } from "../../logbook/Amend";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { FormText } from "../../shell/fields";
import { cameIn, clockTime } from "../../shell/when";

/** Notes of this step; `n` jumps here. What is typed stays until it is kept. */
export function Notes({ step }: { step: string }) {
  const { entries, record, mayWrite, page } = useVisit();
  const draft = `fentro.draft.${page.id}.${step}`;
  const { control, handleSubmit, watch, reset } = useForm({
    defaultValues: { text: remembered(draft, "page") ?? "" },
  });
  const [correcting, setCorrecting] = useState<string | undefined>();
  const text = watch("text");
  useEffect(() => remember(draft, text, "page"), [draft, text]);
  const notes = standingOf(entries, "note").filter((entry) => entry.body.step === step);
  const send = handleSubmit(async (typed) => {
    if (!typed.text.trim()) return;
    const instead = notes.some((note) => note.id === correcting)
      ? { replaces: correcting, reason: "corrected" }
      : {};
    // Shown at once; the field is free for the next before the device has written it down.
    const kept = record("note", { text: typed.text.trim(), step }, { phase: "as_found", ...instead });
    setCorrecting(undefined);
    reset({ text: "" });
    await kept;
  });
  const label = step === "arrive" ? "What was reported" : "Note";
  return (
    <section aria-label="Notes">
      <ul className="space-y-1">
        {notes.map((note) => (
          <li key={note.id} className="border-base-300 border-l-4 pl-3">
            {note.body.text}{" "}
            <span className="text-sm quiet">
              {clockTime(note.at)}
              {cameIn(note)}
            </span>
            <Amend
              entry={note}
              name={note.body.text.slice(0, 40)}
              correct={() => {
                setCorrecting(note.id);
                reset({ text: note.body.text });
                document.getElementById("note")?.focus();
              }}
            />
          </li>
        ))}
      </ul>
      {mayWrite && (
        <form onSubmit={send} className="mt-2 flex gap-2">
          <FormText
            control={control}
            name="text"
            id="note"
            className="min-w-0 flex-1"
            label={label}
            quiet
            placeholder={label}
          />
          <button type="submit" className="btn touch" disabled={!text.trim()}>
            {correcting ? "Keep instead" : "Keep"}
          </button>
        </form>
      )}
    </section>
  );
}
