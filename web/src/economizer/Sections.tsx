import type { ReactNode } from "react";
import { useVisit } from "../visit/context";

export interface Section {
  key: string;
  name: string;
  show: () => ReactNode;
}

/** The parts of a step, one at a time; the first is open unless another was chosen. */
export function Sections({ label, sections }: { label: string; sections: Section[] }) {
  const { section, openSection } = useVisit();
  const open = sections.find((each) => each.key === section) ?? sections[0];
  if (!open) return null;
  const Shown = open.show;
  return (
    <div className="space-y-4">
      <nav aria-label={label} className="flex flex-wrap gap-1 border-base-300 border-b">
        {sections.map((each) => (
          <button
            key={each.key}
            type="button"
            aria-current={each === open ? "page" : undefined}
            className={`touch rounded-t border-b-4 px-2 text-sm wide:px-3 wide:text-base ${
              each === open ? "border-primary font-semibold" : "border-transparent hover:bg-base-200"
            }`}
            onClick={() => openSection(each.key)}
          >
            {each.name}
          </button>
        ))}
      </nav>
      <Shown />
    </div>
  );
}
