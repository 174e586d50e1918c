import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { Unplug } from "lucide-react";
import { sessionQuery, temporaryQuery } from "../api/queries";
import { stillOpen } from "../logbook/openChanges";
import { useQueue } from "../queue/useQueue";

/** How many temporary changes stand open and are mine, on every page; the way to the oldest. */
export function OpenChanges() {
  const session = useQuery(sessionQuery);
  const query = useQuery({ ...temporaryQuery, enabled: Boolean(session.data?.person) });
  const { waiting } = useQueue();
  const open = stillOpen(query.data ?? [], waiting);
  const first = open[0];
  if (!session.data?.person || session.data.person.role === "viewer") return null;
  const said = `${open.length} temporary ${open.length === 1 ? "change" : "changes"} open`;
  const look = `touch flex items-center gap-1 rounded px-2 ${open.length > 0 ? "bg-warning font-semibold text-warning-content" : "quiet"}`;
  const inside = (
    <>
      <Unplug size={18} aria-hidden="true" />
      <span className="reading">{open.length}</span>
    </>
  );
  return first ? (
    <Link
      to="/visits/$visitId"
      params={{ visitId: String(first.visit) }}
      search={{ tool: "temporary" }}
      className={look}
      aria-label={said}
      title={said}
      data-testid="open-changes"
    >
      {inside}
    </Link>
  ) : (
    <span
      className={`${look} hidden wide:flex`}
      role="img"
      title={said}
      aria-label={said}
      data-testid="open-changes"
    >
      {inside}
    </span>
  );
}
