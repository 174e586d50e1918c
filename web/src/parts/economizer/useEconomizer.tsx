/** The economizer of the open visit. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { economizerQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { Loading } from "../../shell/Loading";
import { tables } from "../../units/tables.gen";

export type Page = Schemas["EconomizerPage"];
export type Test = Page["tests"][number];
export type SeenTest = NonNullable<Test["as_found"]>;
export type Setting = Page["settings"][number];

/** Shows its children once the economizer is worked out; what still waits on the device is said. */
export function WithEconomizer({ children }: { children: (page: Page) => ReactNode }) {
  const { page, entries } = useVisit();
  const query = useQuery(economizerQuery(String(page.id)));
  const waiting = entries.filter(
    (entry) => entry.waiting && tables.economizer.entries.includes(entry.kind),
  ).length;
  return (
    <Loading query={query} what="the economizer">
      {(answer) => (
        <>
          {waiting > 0 && (
            <p role="status" className="panel mb-3 px-3 py-2">
              {waiting === 1 ? "One entry waits" : `${waiting} entries wait`} on this device: what follows
              from it is worked out when it is sent.
            </p>
          )}
          {children(answer.page)}
        </>
      )}
    </Loading>
  );
}
