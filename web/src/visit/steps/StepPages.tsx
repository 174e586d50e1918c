import { type ReactNode, Suspense } from "react";
import type { Schemas } from "../../api/client";
import { useVisit } from "../../logbook/context";
import { CAUSES, type PartPage, pagesOf } from "../../parts";
import { type TabItem, Tabs } from "../../shell/Tabs";
import { tables } from "../../units/tables.gen";

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
  const shownPage = open ? (
    <Suspense fallback={<p className="quiet">Opening {open.name.toLowerCase()}.</p>}>
      <open.Shown key={shown.phase} />
    </Suspense>
  ) : (
    children
  );
  if (pages.length <= MOST_IN_A_ROW) {
    return (
      <Tabs
        label={label}
        items={[own, ...pages.map((each) => tabOf(each, shown))]}
        chosen={open?.key ?? own.key}
        choose={(key) => openSection(key === own.key ? undefined : key)}
      >
        {shownPage}
      </Tabs>
    );
  }
  const parts = [...new Set(pages.map((each) => each.part))];
  const here = pages.filter((each) => each.part === open?.part);
  return (
    <Tabs
      label={label}
      items={[own, ...parts.map((part) => partTab(part, pages, shown))]}
      chosen={open ? partKey(open.part) : own.key}
      choose={(key) =>
        openSection(key === own.key ? undefined : pages.find((each) => partKey(each.part) === key)?.key)
      }
    >
      {open && here.length > 1 ? (
        <Tabs
          label={`Pages of ${partName(open.part)}`}
          items={here.map((each) => tabOf(each, shown))}
          chosen={open.key}
          choose={openSection}
        >
          {shownPage}
        </Tabs>
      ) : (
        shownPage
      )}
    </Tabs>
  );
}

/** More pages than these are grouped by their part of the job. */
const MOST_IN_A_ROW = 6;

const partKey = (part: string): string => `part-${part}`;
const partName = (part: string): string => (tables.parts as Record<string, string>)[part] ?? part;

/** A part's tab: the gravest mark of its pages. */
function partTab(part: string, pages: PartPage[], phase: Phase): TabItem {
  const mark = pages
    .filter((each) => each.part === part)
    .map((each) => phase.marks?.[each.key])
    .find(Boolean);
  return { key: partKey(part), name: partName(part), mark, says: undefined };
}

/** A page's tab: the gravest mark there, or how many causes there are. */
export function tabOf(page: PartPage, phase: Phase): TabItem {
  const causes = (phase.findings ?? []).filter((each) => !each.why_not && !each.faint).length;
  return {
    key: page.key,
    name: page.name,
    mark: phase.marks?.[page.key],
    says: page.key === CAUSES && causes > 0 ? String(causes) : undefined,
  };
}
