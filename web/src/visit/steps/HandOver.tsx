import { Download } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { openChanges } from "../../logbook/openChanges";
import { TextField } from "../../shell/fields";
import { Changes } from "../../temporary/Ledger";
import { Comparison } from "./Comparison";

export function HandOver() {
  const { page, entries, record, mayWrite } = useVisit();
  const [summary, setSummary] = useState("");
  const open = page.work_up.route.filter((step) => step.left.length > 0 && step.id !== "hand_over");
  const last = standingOf(entries, "closing").at(-1);
  const closed = page.work_up.closed;
  const nobodys = openChanges(page, entries).filter((each) => !each.handedTo);
  return (
    <div className="space-y-4">
      {closed && last && (
        <p className="panel p-4">
          <span className="font-semibold">Closed.</span> {last.body.summary}
        </p>
      )}
      {open.length > 0 && !closed && (
        <section className="panel p-4">
          <h2 className="font-semibold">Not done yet</h2>
          <ul className="mt-1 space-y-1">
            {open.map((step) => (
              <li key={step.id}>
                {step.name}: {step.left.join("; ")}
              </li>
            ))}
          </ul>
        </section>
      )}
      <Comparison />
      <div className="flex flex-wrap gap-2">
        <a className="btn touch" href={`/api/v1/visits/${page.id}/snapshot`} download>
          <Download size={18} aria-hidden="true" /> The whole visit as JSON
        </a>
        {closed && page.may_write && (
          <button
            type="button"
            className="btn touch"
            onClick={() => void record("reopening", {}, { phase: "as_found" })}
          >
            Reopen this visit
          </button>
        )}
      </div>
      {mayWrite && nobodys.length > 0 && (
        <section className="space-y-2" aria-label="Still open">
          <p className="border-error border-l-4 bg-base-200 p-3 font-semibold">
            A temporary change is still open. Undo it, or hand it to someone with the reason; then the visit
            can be closed.
          </p>
          <Changes />
        </section>
      )}
      {mayWrite && nobodys.length === 0 && (
        <div className="panel p-4">
          <TextField
            label="What it does now, what to watch, when to come back"
            rows={3}
            value={summary}
            onChange={setSummary}
          />
          <button
            type="button"
            className="btn btn-primary touch mt-3 text-base"
            onClick={() => void record("closing", { summary: summary.trim() }, { phase: "as_found" })}
          >
            Close the visit
          </button>
        </div>
      )}
    </div>
  );
}
