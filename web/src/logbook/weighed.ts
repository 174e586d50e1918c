/** Verdicts are worked out at once; which cause it is takes as long again, and follows when nothing else is to be done. */
import type { Page } from "./logbook";

type WorkUp = Page["work_up"];

/** Lines of verdicts that name a cause. */
const OF_CAUSES = new Set(["finding", "first_look", "odd"]);

/** Worked out without its causes: until they are weighed anew, those from before stand. */
export function carried(quick: WorkUp, before: WorkUp): WorkUp {
  if (quick.weighed !== false) return quick;
  return {
    ...quick,
    phases: quick.phases.map((phase) => {
      const known = before.phases.find((each) => each.phase === phase.phase);
      if (!known) return phase;
      const lines = known.verdicts.filter((line) => OF_CAUSES.has(line.key));
      const first = phase.verdicts.filter((line) => line.key === "filter_arrow");
      const rest = phase.verdicts.filter((line) => line.key !== "filter_arrow");
      return {
        ...phase,
        verdicts: [...first, ...lines, ...rest],
        findings: known.findings,
        next_check: known.next_check,
        odd: known.odd,
        sound: known.sound,
      };
    }),
  };
}
