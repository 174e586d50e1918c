import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { ChevronRight, Unplug } from "lucide-react";
import { temporaryQuery } from "../api/queries";
import { stillOpen } from "../logbook/openChanges";
import { newEntry, queue, useQueue } from "../queue/useQueue";
import { when } from "../shell/when";

/** What was left open, on top of the day: handed to me first, then of my own visits. */
export function MyChanges() {
  const query = useQuery(temporaryQuery);
  const { waiting } = useQueue();
  const here = new Set(stillOpen(query.data ?? [], waiting).map((row) => String(row.entry)));
  const open = (query.data ?? []).filter((change) => here.has(String(change.entry)));
  if (open.length === 0) return null;
  const undo = (visit: string, change: string) =>
    queue.take(visit, [newEntry("undone", { change }, "as_left", {})]);
  return (
    <section aria-labelledby="left-open">
      <h2 id="left-open" className="mb-2 flex items-center gap-2 font-semibold text-lg">
        <Unplug size={20} className="text-warning" aria-hidden="true" /> Left open, to undo first
      </h2>
      <ul className="space-y-3">
        {open.map((change) => (
          <li key={String(change.entry)} className="panel border-warning p-4">
            <p className="font-semibold text-xl">{change.what}</p>
            <p className="text-sm quiet">
              {change.kind_name}, {when(String(change.at))}, {change.by}
            </p>
            {change.handed && <p className="mt-1">Handed to you: {change.reason}</p>}
            {change.undo && <p className="text-sm">To undo: {change.undo}</p>}
            <div className="mt-2 flex flex-wrap items-center gap-3">
              <button
                type="button"
                className="btn btn-primary touch"
                onClick={() => void undo(String(change.visit), String(change.entry))}
              >
                Undone
              </button>
              <Link
                to="/visits/$visitId"
                params={{ visitId: String(change.visit) }}
                search={{ step: "restore" }}
                className="touch flex items-center gap-1 underline"
              >
                {change.system}, {change.site} <ChevronRight size={18} aria-hidden="true" />
              </Link>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
