/** The visit as the core on this device is asked about it. */
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { instrumentsQuery, queries, sessionQuery, systemQuery } from "../api/queries";
import type { Logged, Page } from "./logbook";

/** What the core is asked with. */
export interface Question {
  head: Page["head"];
  entries: Logged[];
  instruments: unknown[];
}

/** Whether two questions say the same: that an entry was kept meanwhile, or is on its way, changes nothing of it. */
export const sameSaid = (one: Question, other: Question): boolean =>
  one.head === other.head &&
  one.instruments === other.instruments &&
  one.entries.length === other.entries.length &&
  one.entries.every((entry, at) => entry.id === other.entries[at]?.id);

/** What is known of system and site, with what was set right here and is not on the server yet. */
export function headNow(head: Page["head"], entries: Logged[]): Page["head"] {
  let now = head;
  for (const entry of entries) {
    if (!entry.waiting) continue;
    if (entry.kind === "known_system") {
      // What this device knows of the system that the visit was moved to.
      const there = queries.getQueryData(systemQuery(entry.body.system_id).queryKey)?.head;
      if (there) now = { ...now, site: there.site, system: there.system };
    } else if (entry.kind === "corrected_system") {
      const { was: _, ...system } = entry.body;
      now = { ...now, system };
    } else if (entry.kind === "corrected_site") {
      const { was: _, ...site } = entry.body;
      now = { ...now, site };
    }
  }
  return now;
}

/** The question about a visit, from what the device has of it. Who took what waits is who is signed in here. */
export function useQuestion(page: Page, entries: Logged[]): Question {
  const { data: instruments } = useQuery(instrumentsQuery);
  return useMemo(() => {
    const me = queries.getQueryData(sessionQuery.queryKey)?.person?.name ?? "";
    return {
      head: headNow(page.head, entries),
      entries: entries.map((entry) => (entry.waiting && !entry.by ? { ...entry, by: me } : entry)),
      instruments: instruments ?? [],
    };
  }, [page.head, entries, instruments]);
}
