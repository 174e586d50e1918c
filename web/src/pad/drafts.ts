/** What was half typed at a station, kept while another is looked at. */
import { useEffect } from "react";
import type { LoggedReading } from "../logbook/logbook";
import type { Place } from "./place";

export interface Draft {
  typed: string;
  place: Place;
  correcting: LoggedReading | undefined;
}

const drafts = new Map<string, Draft>();

/** The draft of a station, if there is one. */
export const draftAt = (where: string): Draft | undefined => drafts.get(where);

/** Keep what is typed now; nothing typed, nothing kept. */
export function useDraft(where: string, draft: Draft): void {
  const { typed, place, correcting } = draft;
  useEffect(() => {
    if (typed) drafts.set(where, { typed, place, correcting });
    else drafts.delete(where);
  }, [where, typed, place, correcting]);
}
