import { type ReactNode, Suspense } from "react";
import type { Schemas } from "../../api/client";
import { useVisit } from "../../logbook/context";
import { CAUSES, type PartPage, pagesOf } from "../../parts";
import { type TabItem, Tabs } from "../../shell/Tabs";

type Phase = Schemas["PhaseResult"];

/** A step's own work, and the pages of the parts of the job that belong to it: one at a time. */
export function StepPages({
  step,
  label,
  own,
  children,
}: {
  step: PartPage["step"];
  label: string;
  own: TabItem;
  children: ReactNode;
}) {
  const { page, shown, section, openSection } = useVisit();
  const pages = pagesOf(step, page.work_up, shown);
  if (pages.length === 0) return children;
  const open = pages.find((each) => each.key === section);
  const items = [own, ...pages.map((each) => tabOf(each, shown))];
  return (
    <Tabs
      label={label}
      items={items}
      chosen={open?.key ?? own.key}
      choose={(key) => openSection(key === own.key ? undefined : key)}
    >
      {open ? (
        <Suspense fallback={<p className="quiet">Opening {open.name.toLowerCase()}.</p>}>
          <open.Shown key={shown.phase} />
        </Suspense>
      ) : (
        children
      )}
    </Tabs>
  );
}

/** A page's tab: the gravest mark there, or how many causes there are. */
export function tabOf(page: PartPage, phase: Phase): TabItem {
  const causes = (phase.findings ?? []).filter((each) => !each.why_not).length;
  return {
    key: page.key,
    name: page.name,
    mark: phase.marks?.[page.key],
    says: page.key === CAUSES && causes > 0 ? String(causes) : undefined,
  };
}
