import { Link } from "@tanstack/react-router";
import { Check, CloudOff, LoaderCircle, TriangleAlert } from "lucide-react";
import { useState } from "react";
import { useOnline } from "../device/useOnline";
import { CantKeep } from "../queue/CantKeep";
import { entryWords } from "../queue/entryWords";
import type { Waiting } from "../queue/store";
import { newEntry, queue, useQueue } from "../queue/useQueue";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";

/** Whether everything taken is safely on the server; tap to see what waits and why. */
export function QueueState() {
  const { waiting, refused: notTaken, making, link, fragile } = useQueue();
  const online = useOnline();
  const [open, setOpen] = useState(false);
  const refused = [...notTaken, ...making.filter((row) => row.refusal)];
  const count = waiting.length + making.filter((row) => !row.refusal).length;
  const words = fragile
    ? count
      ? `${count} not kept here`
      : "Can't keep readings"
    : refused.length
      ? `${refused.length} not taken`
      : count
        ? `${count} waiting`
        : link === "signed_out"
          ? "Signed out"
          : "All saved";
  const away = !online || link === "away";
  return (
    <div className="relative">
      <button
        type="button"
        className="btn btn-ghost touch px-2 font-normal"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        aria-label={`${words}. Show what waits`}
      >
        <StateIcon
          refused={refused.length + (fragile ? count + 1 : 0)}
          count={count}
          away={away || link === "signed_out"}
        />
        {away && (
          <span className="rounded bg-warning px-1.5 text-sm text-warning-content" data-testid="no-signal">
            No signal
          </span>
        )}
        <span
          className={count || refused.length || fragile ? "" : away ? "hidden" : "hidden wide:inline"}
          data-testid="queue-state"
        >
          {words}
        </span>
      </button>
      <p className="sr-only" role="status">
        {words}
      </p>
      {open && <QueuePanel />}
    </div>
  );
}

function StateIcon({ refused, count, away }: { refused: number; count: number; away: boolean }) {
  if (refused) return <TriangleAlert size={18} className="text-error" aria-hidden="true" />;
  if (away) return <CloudOff size={18} className="text-warning" aria-hidden="true" />;
  if (count) return <LoaderCircle size={18} className="animate-spin" aria-hidden="true" />;
  return <Check size={18} className="text-success" aria-hidden="true" />;
}

function QueuePanel() {
  const { waiting, refused, making, link, fragile } = useQueue();
  const { system } = useUnits();
  const unsent = making.filter((row) => !row.refusal);
  return (
    <div className="panel fixed inset-x-2 top-13 z-30 max-h-[80vh] space-y-3 overflow-y-auto p-4 shadow-sm wide:absolute wide:inset-x-auto wide:top-auto wide:right-0 wide:mt-1 wide:w-80">
      {fragile && <CantKeep />}
      {waiting.length === 0 && refused.length === 0 && making.length === 0 && (
        <p>
          Everything you took is on the server. Without signal it waits on this device and goes by itself
          later.
        </p>
      )}
      {waiting.length > 0 && (
        <div>
          <p>
            {waiting.length === 1 ? "One entry is" : `${waiting.length} entries are`}{" "}
            {fragile ? "on this page only," : "safe on this device"}
            {link === "away" ? " and waiting for the server. They go by themselves." : " and on the way."}
          </p>
          {link === "signed_out" && (
            <Link to="/sign-in" className="btn btn-primary touch mt-2 w-full">
              Sign in to send them
            </Link>
          )}
          {link === "away" && (
            <button type="button" className="btn touch mt-2 w-full" onClick={() => queue.kick()}>
              Try now
            </button>
          )}
        </div>
      )}
      {unsent.length > 0 && (
        <div>
          <p>Made on this device, and sent first:</p>
          <ul className="list-disc pl-5">
            {unsent.map((row) => (
              <li key={row.id}>{row.words}</li>
            ))}
          </ul>
        </div>
      )}
      {making
        .filter((row) => row.refusal)
        .map((row) => (
          <div key={row.id} className="rounded border border-error p-3">
            <p className="font-semibold">{row.words}</p>
            <p>{row.refusal && say(row.refusal.sentence, system)}</p>
            <p className="text-sm quiet">What was read there stays on this device.</p>
            <button type="button" className="btn touch mt-2 w-full" onClick={() => queue.makeAgain(row)}>
              Try this again
            </button>
          </div>
        ))}
      {refused.map((row) => (
        <div key={row.entry.id} className="rounded border border-error p-3">
          <p className="font-semibold">{entryWords(row.entry.kind, row.entry.body)}</p>
          <p>{row.refusal ? say(row.refusal.sentence, system) : "Not taken."}</p>
          {row.aside === "closed" && (
            <button
              type="button"
              className="btn btn-primary touch mt-2 w-full"
              onClick={() => reopen(row.visit)}
            >
              Reopen the visit and add{" "}
              {sameVisit(refused, row) > 1 ? `all ${sameVisit(refused, row)}` : "this"}
            </button>
          )}
          {row.aside === "failed" && (
            <button type="button" className="btn touch mt-2 w-full" onClick={() => queue.again([row])}>
              Try this again
            </button>
          )}
          <button type="button" className="btn touch mt-2 w-full" onClick={() => queue.drop(row)}>
            Dismiss
          </button>
        </div>
      ))}
    </div>
  );
}

const sameVisit = (refused: Waiting[], row: Waiting): number =>
  refused.filter((other) => other.aside === "closed" && other.visit === row.visit).length;

/** Reopen a visit that another closed meanwhile, then add what was taken here before. */
async function reopen(visit: string): Promise<void> {
  const rows = queue.snapshot().refused.filter((row) => row.aside === "closed" && row.visit === visit);
  const reason = "Entries made without signal before it was closed";
  await queue.takeBefore(visit, newEntry("reopening", {}, "as_found", { reason }), rows);
}
