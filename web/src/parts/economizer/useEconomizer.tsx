/** The economizer of the open visit. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { economizerQuery } from "../../api/queries";
import { core, useCore } from "../../core/core";
import { useVisit } from "../../logbook/context";
import { Loading } from "../../shell/Loading";
import { tables } from "../../units/tables.gen";

export type Page = Schemas["EconomizerPage"];
export type Test = Page["tests"][number];
export type SeenTest = NonNullable<Test["as_found"]>;
export type Setting = Page["settings"][number];

/** Traces of tests stay on the server until they are looked at: those known here are put back where they were. */
function withTraces(here: Page, known: Page | undefined): Page {
  const traces = new Map(
    (known?.tests ?? [])
      .flatMap((test) => [test.as_found, test.as_left])
      .flatMap((seen) => (seen?.seen.trace?.length ? [[seen.entry, seen.seen.trace] as const] : [])),
  );
  const put = (seen: Test["as_found"]): Test["as_found"] => {
    const trace = seen && !seen.seen.trace?.length ? traces.get(seen.entry) : undefined;
    return seen && trace ? { ...seen, seen: { ...seen.seen, trace } } : seen;
  };
  return {
    ...here,
    tests: here.tests.map((test) => ({
      ...test,
      as_found: put(test.as_found),
      as_left: put(test.as_left),
    })),
  };
}

/** Whether anything waits that the economizer stands on. */
const standsOn = (kind: string): boolean => kind === "reading" || tables.economizer.entries.includes(kind);

/** Shows its children once the economizer is worked out: on this device while something waits, else by the server. */
export function WithEconomizer({ children }: { children: (page: Page) => ReactNode }) {
  const { page, question } = useVisit();
  const state = useCore();
  const there = useQuery(economizerQuery(String(page.id)));
  const waiting = question.entries
    .filter((entry) => entry.waiting && standsOn(entry.kind))
    .map(({ id }) => id);
  const here = useQuery({
    queryKey: ["economizer", String(page.id), "here", page.number, waiting],
    enabled: state === "ready" && (waiting.length > 0 || there.isError),
    queryFn: () => core.ask<Page>("economizer", { ...question }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    retry: false,
    meta: { transient: true },
  });
  const worked = here.data && (waiting.length > 0 || !there.data) ? here.data : undefined;
  const found = worked ? withTraces(worked, there.data?.page) : there.data?.page;
  if (found) {
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
  return (
    <Loading query={there} what="the economizer">
      {(answer) => children(answer.page)}
    </Loading>
  );
}
