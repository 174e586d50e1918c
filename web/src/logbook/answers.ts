/** What is done with every answer to what was sent: the visit is kept, lists that show it are asked for anew. */
import type { Schemas } from "../api/client";
import { economizerKey, queries, temporaryQuery, visitKey } from "../api/queries";
import { queue } from "../queue/useQueue";
import type { Page } from "./logbook";
import { grown } from "./logbook";
import { afterAnswer } from "./openChanges";

/** The visit as answered; lists that show it are asked for anew when next looked at. */
function keepAnswer(page: Schemas["VisitPage"]): void {
  const known = queries.getQueryData<Page>(visitKey(page.id));
  if (page.after > 0 && !known) void queries.invalidateQueries({ queryKey: visitKey(page.id) });
  else queries.setQueryData(visitKey(page.id), grown(known, page));
  queries.setQueryData(temporaryQuery.queryKey, (rows) => rows && afterAnswer(rows, page));
  if (page.work_up.parts?.includes("economizer")) {
    void queries.invalidateQueries({ queryKey: economizerKey(page.id) });
  }
  for (const list of ["history", "day", "system"]) {
    void queries.invalidateQueries({ queryKey: [list], refetchType: "none" });
  }
}

/** Lists know it only from the server. */
function madeThere(): void {
  for (const list of ["day", "system", "systems", "instruments"]) {
    void queries.invalidateQueries({ queryKey: [list] });
  }
}

export function startKeeping(): void {
  queue.onAnswer(keepAnswer);
  queue.onMade(madeThere);
}
