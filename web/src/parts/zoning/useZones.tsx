/** The zones of the open visit. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { zonesQuery } from "../../api/queries";
import { PageApart } from "../../logbook/apart";
import { useVisit } from "../../logbook/context";
import { tables } from "../../units/tables.gen";

export type Page = Schemas["ZoningPage"];
export type ZoneLine = NonNullable<Page["zones"]>[number];
export type Zone = ZoneLine["zone"];
export type Sheet = NonNullable<Page["hardware"]>;
export type Proof = NonNullable<Page["proof"]>;
export type ZoneTest = Proof["tests"][number];

/** Shows its children once the zones are worked out. */
export function WithZones({ children }: { children: (page: Page) => ReactNode }) {
  const { page } = useVisit();
  const there = useQuery(zonesQuery(String(page.id)));
  return (
    <PageApart<Page> ask="zones" what="the zones" there={there} kinds={tables.ducts.zone_entries}>
      {children}
    </PageApart>
  );
}
