import { describe, expect, it } from "vitest";
import type { Page } from "./logbook";
import { carried } from "./weighed";

type WorkUp = Page["work_up"];

const lines = (...keys: string[]) => keys.map((key) => ({ key, mark: null }));
const workUp = (weighed: boolean | undefined, ...phases: object[]) =>
  ({ weighed, phases }) as unknown as WorkUp;
const keysOf = (found: WorkUp) =>
  found.phases.map((phase) => phase.verdicts.map((line) => line.key).join(" "));

const BEFORE = workUp(true, {
  phase: "as_found",
  verdicts: lines("filter_arrow", "finding", "split"),
  findings: [{ key: "low_charge" }],
  next_check: { key: "oil_stain" },
});

describe("until causes are weighed anew", () => {
  it("those from before stand, in their place", () => {
    const quick = workUp(false, {
      phase: "as_found",
      verdicts: lines("filter_arrow", "split", "leak"),
      findings: [],
    });
    const found = carried(quick, BEFORE);
    expect(keysOf(found)).toEqual(["filter_arrow finding split leak"]);
    expect(found.phases[0]?.findings).toEqual([{ key: "low_charge" }]);
    expect(found.phases[0]?.next_check).toEqual({ key: "oil_stain" });
    expect(found.weighed).toBe(false);
  });

  it("a phase that is new has none yet", () => {
    const quick = workUp(
      false,
      { phase: "as_found", verdicts: lines("split"), findings: [] },
      { phase: "as_left", verdicts: lines("split"), findings: [] },
    );
    expect(keysOf(carried(quick, BEFORE))).toEqual(["finding split", "split"]);
  });

  it("what is weighed is left as it is, also from a server that does not say", () => {
    for (const weighed of [true, undefined]) {
      const whole = workUp(weighed, { phase: "as_found", verdicts: lines("split"), findings: [] });
      expect(carried(whole, BEFORE)).toBe(whole);
    }
  });
});
