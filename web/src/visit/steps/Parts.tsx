import { MARK_WORDS, type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { type Part, useVisit } from "../context";
import type { PhaseShown } from "../logbook";

interface Tab {
  part: Part;
  name: string;
  mark?: MarkName;
  says?: string;
}

/** The parts of Work out, each with its gravest mark, so that one sees where to look. */
export function Parts() {
  const { shown, part, openPart } = useVisit();
  const tabs = tabsOf(shown);
  if (tabs.length < 2) return null;
  return (
    <nav aria-label="Parts of Work out" className="flex flex-wrap gap-1 border-base-300 border-b">
      {tabs.map((tab) => (
        <button
          key={tab.part}
          type="button"
          aria-current={tab.part === part ? "page" : undefined}
          title={tab.mark && `${tab.name}: ${MARK_WORDS[tab.mark]}`}
          className={`touch flex items-center gap-1.5 rounded-t border-b-4 px-1.5 text-sm wide:px-3 wide:text-base ${
            tab.part === part ? "border-primary font-semibold" : "border-transparent hover:bg-base-200"
          }`}
          onClick={() => openPart(tab.part)}
        >
          {tab.name}
          {tab.says && <span className="rounded bg-base-200 px-1.5 text-sm">{tab.says}</span>}
          {tab.mark && <VerdictMark mark={tab.mark} size={18} />}
        </button>
      ))}
    </nav>
  );
}

const GRAVEST: MarkName[] = ["off", "too_close", "watch"];

function gravest(marks: (string | null | undefined)[]): MarkName | undefined {
  return GRAVEST.find((mark) => marks.includes(mark));
}

/** Which parts this phase has, and what each says at a glance. */
export function tabsOf(shown: PhaseShown): Tab[] {
  const tabs: Tab[] = [{ part: "numbers", name: "Numbers" }];
  const causes = (shown.findings ?? []).filter((each) => !each.why_not);
  if (shown.leak)
    tabs.push({ part: "causes", name: "Causes", ...(causes.length ? { says: String(causes.length) } : {}) });
  const own = (shown.schools ?? []).find((each) => each.used);
  const splitMark = gravest([own?.mark]);
  if (shown.leak && shown.mode !== "heating") {
    tabs.push({ part: "split", name: "Split", ...(splitMark ? { mark: splitMark } : {}) });
  }
  const heatMark = gravest([shown.heating?.mark]);
  if (shown.heating) tabs.push({ part: "heating", name: "Heating", ...(heatMark ? { mark: heatMark } : {}) });
  const dropMark = gravest((shown.statics?.drops ?? []).map((each) => each.mark));
  if (shown.leak)
    tabs.push({ part: "pressures", name: "Pressures", ...(dropMark ? { mark: dropMark } : {}) });
  const leakMark = gravest([shown.leak?.mark, (shown.leak?.opened ?? []).length ? "watch" : null]);
  if (shown.leak) tabs.push({ part: "leak", name: "Return leak", ...(leakMark ? { mark: leakMark } : {}) });
  return tabs;
}
