/** The visit as the core on this device is asked about it. */
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { instrumentsQuery, queries, sessionQuery } from "../api/queries";
import type { Logged, Page } from "./logbook";

/** What the core is asked with. */
export interface Question {
  head: Page["head"];
  entries: Logged[];
  instruments: unknown[];
}

/** The question about a visit, from what the device has of it. Who took what waits is who is signed in here. */
export function useQuestion(page: Page, entries: Logged[]): Question {
  const { data: instruments } = useQuery(instrumentsQuery);
  return useMemo(() => {
    const me = queries.getQueryData(sessionQuery.queryKey)?.person?.name ?? "";
    return {
      head: page.head,
      entries: entries.map((entry) => (entry.waiting && !entry.by ? { ...entry, by: me } : entry)),
      instruments: instruments ?? [],
    };
  }, [page.head, entries, instruments]);
}
