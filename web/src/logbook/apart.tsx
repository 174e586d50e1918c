/** A page of a part that is worked out apart from the visit: on this device while something waits, else by the server. */
import { keepPreviousData, type UseQueryResult, useQuery } from "@tanstack/react-query";
import { type ReactNode, useRef } from "react";
import { core, useCore } from "../core/core";
import { Loading } from "../shell/Loading";
import { useVisit } from "./context";

interface Apart<Page> {
  /** What the core is asked, and the first part of its key. */
  ask: "economizer" | "ducts" | "zones";
  /** What it is called where it is loaded. */
  what: string;
  there: UseQueryResult<{ page: Page }>;
  /** Kinds of entry that it stands on, besides readings. */
  kinds: readonly string[];
  /** The page as worked out here, with what only the server's has. */
  joined?: (here: Page, there: Page | undefined) => Page;
  children: (page: Page) => ReactNode;
}

export function PageApart<Page>({ ask, what, there, kinds, joined, children }: Apart<Page>) {
  const { page, question } = useVisit();
  const state = useCore();
  const waiting = question.entries
    .filter((entry) => entry.waiting && (entry.kind === "reading" || kinds.includes(entry.kind)))
    .map(({ id }) => id);
  const here = useQuery({
    queryKey: [ask, String(page.id), "here", page.number, waiting],
    enabled: state === "ready" && (waiting.length > 0 || there.isError),
    queryFn: () => core.ask<Page>(ask, { ...question }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    retry: false,
    meta: { transient: true },
  });
  // Until the server's page is newer than what waited here, it would show the time before.
  const waited = useRef(0);
  if (waiting.length > 0) waited.current = Date.now();
  const behind = there.dataUpdatedAt <= waited.current;
  const worked = here.data && (waiting.length > 0 || !there.data || behind) ? here.data : undefined;
  const found = worked ? (joined?.(worked, there.data?.page) ?? worked) : there.data?.page;
  if (!found) {
    return (
      <Loading query={there} what={what}>
        {(answer) => children(answer.page)}
      </Loading>
    );
  }
  return (
    <>
      {waiting.length > 0 && !worked && (
        <p role="status" className="panel mb-3 px-3 py-2">
          {waiting.length === 1 ? "One entry waits" : `${waiting.length} entries wait`} on this device: what
          follows from it is worked out when it is sent.
        </p>
      )}
      {children(found)}
    </>
  );
}
