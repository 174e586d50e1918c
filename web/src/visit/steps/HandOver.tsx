import { Link } from "@tanstack/react-router";
import { Download, FileCheck2 } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { openChanges } from "../../logbook/openChanges";
import { TextField } from "../../shell/fields";
import { Changes } from "../../temporary/Ledger";
import { Comparison } from "./Comparison";

export function HandOver() {
  const { page, entries, mayWrite } = useVisit();
  const open = page.work_up.route.filter((step) => step.left.length > 0 && step.id !== "hand_over");
  const last = standingOf(entries, "closing").at(-1);
  const closed = page.work_up.closed;
  const nobodys = openChanges(page, entries).filter((each) => !each.handedTo);
  return (
    <div className="space-y-4">
      {closed && last && (
        <p className="panel p-4">
          <span className="font-semibold">{last.body.cancelled ? "Cancelled." : "Closed."}</span>{" "}
          {last.body.summary}
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
        <Link
          to="/visits/$visitId/report"
          params={{ visitId: String(page.id) }}
          className={`btn touch ${closed ? "btn-primary text-base" : ""}`}
        >
          <FileCheck2 size={18} aria-hidden="true" /> {closed ? "Report: read and sign" : "Report so far"}
        </Link>
      </div>
      {closed && page.may_write && <Reopen />}
      {mayWrite && nobodys.length > 0 && (
        <section className="space-y-2" aria-label="Still open">
          <p className="border-error border-l-4 bg-base-200 p-3 font-semibold">
            A temporary change is still open. Undo it, or hand it to someone with the reason; then the visit
            can be closed.
          </p>
          <Changes />
        </section>
      )}
      {mayWrite && nobodys.length === 0 && <Close />}
    </div>
  );
}

/** A closed visit goes on only with a reason: whoever signed its report will ask. */
function Reopen() {
  const { record } = useVisit();
  const [asked, setAsked] = useState(false);
  const [why, setWhy] = useState("");
  const [wrong, setWrong] = useState("");
  if (!asked)
    return (
      <button type="button" className="btn touch" onClick={() => setAsked(true)}>
        Reopen this visit
      </button>
    );
  return (
    <form
      className="panel space-y-3 p-4"
      aria-label="Reopen this visit"
      onSubmit={(event) => {
        event.preventDefault();
        if (why.trim() === "") return setWrong("Say why: it stays in the record.");
        void record("reopening", {}, { phase: "as_found", reason: why.trim() });
      }}
    >
      <TextField
        label="Why it goes on"
        value={why}
        onChange={(text) => {
          setWhy(text);
          setWrong("");
        }}
        wrong={wrong}
      />
      <p className="quiet">A report that was signed stays as it is. What you add now makes a new edition.</p>
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-primary touch text-base">
          Reopen it
        </button>
        <button type="button" className="btn touch" onClick={() => setAsked(false)}>
          Leave it closed
        </button>
      </div>
    </form>
  );
}

/** Closing takes a look at what will stand there; a visit that was a mistake is cancelled, with the reason. */
function Close() {
  const { entries, record } = useVisit();
  const [summary, setSummary] = useState("");
  const [asked, setAsked] = useState<"close" | "cancel" | undefined>();
  const [wrong, setWrong] = useState("");
  const readings = standingOf(entries, "reading");
  const stations = new Set(readings.map((entry) => entry.body.station)).size;
  const left = readings.filter((entry) => entry.phase === "as_left").length;
  const settings = standingOf(entries, "setting").length;
  const close = (cancelled: boolean) => {
    if (cancelled && summary.trim() === "") return setWrong("Say why: it stays in the record.");
    void record(
      "closing",
      { summary: summary.trim(), ...(cancelled ? { cancelled } : {}) },
      { phase: "as_found" },
    );
  };
  const cancel = asked === "cancel";
  return (
    <div className="panel space-y-3 p-4">
      <TextField
        label={cancel ? "Why this visit is cancelled" : "What it does now, what to watch, when to come back"}
        rows={3}
        value={summary}
        onChange={(text) => {
          setSummary(text);
          setWrong("");
        }}
        wrong={wrong}
      />
      {asked === undefined ? (
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-primary touch text-base" onClick={() => setAsked("close")}>
            Close the visit
          </button>
          <button type="button" className="btn touch" onClick={() => setAsked("cancel")}>
            It was a mistake: cancel it
          </button>
        </div>
      ) : (
        <section aria-label="Before it is closed" className="space-y-3">
          {!cancel && (
            <p>
              {readings.length === 0
                ? "Nothing was read on this visit. "
                : `${readings.length} readings at ${stations} ${stations === 1 ? "station" : "stations"}, ${left} of them as left. `}
              {settings === 0 ? "No setting was changed." : `${settings} settings were changed.`}
              {summary.trim() === "" && " There is no last word yet."}
            </p>
          )}
          {cancel && <p>A cancelled visit is kept, but out of sight: it counts in no list and no history.</p>}
          <div className="flex flex-wrap gap-2">
            <button type="button" className="btn btn-primary touch text-base" onClick={() => close(cancel)}>
              {cancel ? "Cancel the visit" : readings.length === 0 ? "Close it all the same" : "Close it"}
            </button>
            <button type="button" className="btn touch" onClick={() => setAsked(undefined)}>
              Go on with it
            </button>
          </div>
        </section>
      )}
    </div>
  );
}
