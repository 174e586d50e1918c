import { describe, expect, it } from "vitest";
import { axesOf } from "../history/scale";
import { type Page, type PhaseShown, resultOf } from "../logbook/logbook";
import { tabOf } from "../visit/steps/StepPages";
import { PAGES, type PartPage, pagesOf, stepOf } from ".";
import { frameOf } from "./cooling/fourWay";
import { profileOf } from "./statics/profile";

const phase = (more: Partial<PhaseShown>): PhaseShown =>
  ({
    phase: "as_found",
    results: [],
    verdicts: [],
    stations: [],
    pages: {},
    mode: "cooling",
    ...more,
  }) as PhaseShown;
const leakage = { opened: [], begun: false, missing: [] };
const visit = (more: Partial<Page["work_up"]> = {}) =>
  ({ parts: [], diagnosed: true, ...more }) as Page["work_up"];
const keys = (step: PartPage["step"], work_up = visit(), shown = phase({})) =>
  pagesOf(step, work_up, shown).map((each) => each.key);

describe("pages of the parts", () => {
  it("has none for a ventilator, and none of a part that this phase does not have", () => {
    expect(keys("work_out", visit({ diagnosed: false }))).toEqual([]);
    expect(keys("work_out", visit(), phase({ pages: { leakage } }))).toEqual(["causes", "leakage"]);
  });

  it("belongs to a step, and to a part that the system has", () => {
    expect(keys("set_up")).toEqual([]);
    expect(keys("set_up", visit({ parts: ["economizer"] }))).toContain("minimum");
    expect(keys("prove", visit({ parts: ["economizer"] }))).toEqual(["tests", "loops"]);
    expect(PAGES.map((each) => stepOf(each.key))).toEqual(PAGES.map((each) => each.step));
    expect(stepOf("elsewhere")).toBeUndefined();
  });

  it("has a name of its own for each page", () => {
    expect(new Set(PAGES.map((each) => each.key)).size).toBe(PAGES.length);
  });

  it("shows the gravest mark of each part, and how many causes stand", () => {
    const finding = (why_not: string | null) => ({ key: "x", why_not }) as never;
    const shown = phase({
      pages: { leakage, statics: { taps: [], drops: [] } },
      marks: { statics: "off", leakage: "watch" },
      findings: [finding(null), finding("no")],
    });
    const tabs = pagesOf("work_out", visit(), shown).map((each) => tabOf(each, shown));
    expect(tabs.find((tab) => tab.key === "causes")?.says).toBe("1");
    expect(tabs.find((tab) => tab.key === "statics")?.mark).toBe("off");
    expect(tabs.find((tab) => tab.key === "leakage")?.mark).toBe("watch");
  });
});

describe("numbers by key", () => {
  it("finds a drop and a leak share as well as a result", () => {
    const shown = phase({
      results: [{ key: "split", name: "Split", quantity: null }],
      pages: {
        statics: { taps: [], drops: [{ drop: { key: "drop_filter", name: "Filter" } }] as never },
        leakage: { ...leakage, results: [{ key: "leak_share", name: "Share", quantity: null }] },
        moisture: { results: [{ key: "coil_water", name: "Water", quantity: null }] },
      },
    });
    expect(
      ["split", "drop_filter", "leak_share", "coil_water"].map((key) => resultOf(shown, key)?.key),
    ).toEqual(["split", "drop_filter", "leak_share", "coil_water"]);
    expect(resultOf(shown, undefined)).toBeUndefined();
  });
});

describe("own drawings", () => {
  it("keeps every point of the four-way drawing inside, more split upwards, more cooling to the right", () => {
    const far = { split: -14, capacity: 0.3, splitWidth: 1, capacityWidth: 0.1 };
    const frame = frameOf([far], 400, 300);
    expect(frame.x(0.2)).toBeGreaterThan(0);
    expect(frame.y(-15)).toBeLessThan(300);
    expect(frame.y(1)).toBeLessThan(frame.y(-1));
    expect(frame.x(1)).toBeGreaterThan(frame.x(0.9));
  });

  it("puts suction under the room's line and pressure over it", () => {
    const profile = profileOf([
      { name: "Return", pascal: -30, station: "return_static" },
      { name: "Supply", pascal: 60, station: "supply_static" },
    ]);
    expect(profile.steps[0]?.y).toBeGreaterThan(profile.zero);
    expect(profile.steps[1]?.y).toBeLessThan(profile.zero);
    expect(profile.path.match(/[ML]/g)).toHaveLength(4);
  });

  it("has room for half-widths and limits on the history axes", () => {
    const axes = axesOf([{ at: 0, value: 100, plusMinus: 5 }], [90, null]);
    const [low = 0, high = 0] = axes.y.domain();
    expect(low).toBeLessThan(90);
    expect(high).toBeGreaterThan(105);
  });
});
