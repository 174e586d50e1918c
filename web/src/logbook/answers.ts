/** What is done with every answer to what was sent: the visit is kept, lists that show it are asked for anew. */
import type { Schemas } from "../api/client";
import {
  ductsKey,
  economizerKey,
  instrumentsQuery,
  queries,
  temporaryQuery,
  visitKey,
  visitQuery,
  zonesKey,
} from "../api/queries";
import { core } from "../core/core";
import { queue } from "../queue/useQueue";
import type { Page } from "./logbook";
import { grown } from "./logbook";
import { afterAnswer } from "./openChanges";
import { carried } from "./weighed";

/** The visit as answered; lists that show it are asked for anew when next looked at. */
function keepAnswer(page: Schemas["VisitPage"]): void {
  const known = queries.getQueryData<Page>(visitKey(page.id));
  if (page.after > 0 && !known) void queries.invalidateQueries({ queryKey: visitKey(page.id) });
  else
    queries.setQueryData(
      visitKey(page.id),
      grown(known, { ...page, work_up: known ? carried(page.work_up, known.work_up) : page.work_up }),
    );
  queries.setQueryData(temporaryQuery.queryKey, (rows) => rows && afterAnswer(rows, page));
  for (const [part, key] of Object.entries({
    economizer: economizerKey,
    ducts: ductsKey,
    zoning: zonesKey,
  })) {
    if (page.work_up.parts?.includes(part)) void queries.invalidateQueries({ queryKey: key(page.id) });
  }
  for (const list of ["history", "day", "system"]) {
    void queries.invalidateQueries({ queryKey: [list], refetchType: "none" });
  }
}

const OF_PLACES = new Set(["corrected_system", "corrected_site", "known_system"]);

/** Lists know it only from the server. */
function madeThere(): void {
  for (const list of ["day", "system", "systems", "instruments", "logged"]) {
    void queries.invalidateQueries({ queryKey: [list] });
  }
}

/** What came to a visit that is worked out here: with it, by the core on this device. */
async function keepNews(news: Schemas["VisitNews"]): Promise<void> {
  const key = visitKey(news.id);
  const known = queries.getQueryData<Page>(key);
  if (!known || known.number < news.after) return void queries.invalidateQueries({ queryKey: key });
  const there = new Set(known.entries.map((entry) => entry.id));
  const entries = [...known.entries, ...news.entries.filter((each) => !there.has(each.id))];
  const instruments = queries.getQueryData(instrumentsQuery.queryKey) ?? [];
  try {
    const worked = await core.ask<Pick<Page, "work_up" | "left_out" | "core">>("visit", {
      head: news.head,
      entries,
      instruments,
      weigh: false,
    });
    worked.work_up = carried(worked.work_up, known.work_up);
    const now = queries.getQueryData<Page>(key);
    if (!now || now.number <= news.number) keepAnswer({ ...news, ...worked, after: 0, entries });
  } catch {
    // Not here after all: as the server has it.
    await queries.fetchQuery({ ...visitQuery(String(news.id)), staleTime: 0 }).catch(() => {
      void queries.invalidateQueries({ queryKey: key });
    });
  }
}

export function startKeeping(): void {
  queue.onAnswer(({ visit, news }) => {
    // What was set right of a system or site, or which one it is, stands in lists, too.
    if ((visit ?? news)?.entries.some((entry) => OF_PLACES.has(entry.kind))) madeThere();
    if (visit) keepAnswer(visit);
    return news ? keepNews(news) : undefined;
  });
  queue.onMade(madeThere);
}
