/** The ducts of the open visit. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { ductsQuery } from "../../api/queries";
import { PageApart } from "../../logbook/apart";
import { useVisit } from "../../logbook/context";
import { tables } from "../../units/tables.gen";

export type Page = Schemas["DuctPage"];
export type BranchLine = NonNullable<Page["branches"]>[number];
export type TrunkLine = NonNullable<Page["trunks"]>[number];
export type RoomBranch = BranchLine["piece"];
export type Trunk = TrunkLine["piece"];
export type Plan = NonNullable<Page["plan"]>;
export type Position = BranchLine["position"];

/** Shows its children once the ducts are worked out. */
export function WithDucts({ children }: { children: (page: Page) => ReactNode }) {
  const { page } = useVisit();
  const there = useQuery(ductsQuery(String(page.id)));
  return (
    <PageApart<Page> ask="ducts" what="the ducts" there={there} kinds={tables.ducts.entries}>
      {children}
    </PageApart>
  );
}

/** A branch as it is called: its room, and the floor where there is one. */
export const called = (branch: { room: string; floor?: string | undefined }): string =>
  branch.floor ? `${branch.room}, ${branch.floor}` : branch.room;
