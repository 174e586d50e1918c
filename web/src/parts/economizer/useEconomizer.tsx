/** The economizer of the open visit. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { economizerQuery } from "../../api/queries";
import { PageApart } from "../../logbook/apart";
import { useVisit } from "../../logbook/context";
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

/** Shows its children once the economizer is worked out. */
export function WithEconomizer({ children }: { children: (page: Page) => ReactNode }) {
  const { page } = useVisit();
  const there = useQuery(economizerQuery(String(page.id)));
  return (
    <PageApart<Page>
      ask="economizer"
      what="the economizer"
      there={there}
      kinds={tables.economizer.entries}
      joined={withTraces}
    >
      {children}
    </PageApart>
  );
}
