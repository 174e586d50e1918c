import { describe, expect, it } from "vitest";
import { axesOf } from "../history/scale";
import { frameOf } from "./cooling/fourWay";
import { profileOf } from "./statics/profile";
import type { PhaseShown } from "../logbook/logbook";
import { resultOf } from "../logbook/logbook";
import { tabsOf } from "../visit/steps/Parts";

const phase = (more: Partial<PhaseShown>): PhaseShown =>
  ({ phase: "as_found", results: [], rail: [], stations: [], mode: "cooling", ...more }) as PhaseShown;
const leak = { opened: [], begun: false, missing: [] };

describe("the parts of Work out", () => {
  it("has one part for a ventilator and no rise where nothing heats", () => {
    expect(tabsOf(phase({})).map((tab) => tab.part)).toEqual(["numbers"]);
    expect(tabsOf(phase({ leak })).map((tab) => tab.part)).not.toContain("heating");
  });

  it("leaves the split out while heating", () => {
    expect(tabsOf(phase({ leak, mode: "heating" })).map((tab) => tab.part)).not.toContain("split");
  });

  it("shows the gravest mark of each part, and how many causes stand", () => {
    const finding = (why_not: string | null) => ({ key: "x", why_not }) as never;
    const tabs = tabsOf(
      phase({
        leak: { ...leak, opened: [{ text: "warm", numbers: {} }] },
        findings: [finding(null), finding("no")],
        statics: { taps: [], drops: [{ mark: "watch" }, { mark: "off" }] as never },
      }),
    );
    expect(tabs.find((tab) => tab.part === "causes")?.says).toBe("1");
    expect(tabs.find((tab) => tab.part === "pressures")?.mark).toBe("off");
    expect(tabs.find((tab) => tab.part === "leak")?.mark).toBe("watch");
  });
});

describe("numbers by key", () => {
  it("finds a drop and a leak share as well as a result", () => {
    const shown = phase({
      results: [{ key: "split", name: "Split", quantity: null }],
      statics: { taps: [], drops: [{ drop: { key: "drop_filter", name: "Filter" } }] as never },
      leak: { ...leak, results: [{ key: "leak_share", name: "Share", quantity: null }] },
    });
    expect(["split", "drop_filter", "leak_share"].map((key) => resultOf(shown, key)?.key)).toEqual([
      "split",
      "drop_filter",
      "leak_share",
    ]);
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
