import { expect, test } from "vitest";
import { plateSi, plateTyped, siteSi, siteTyped, type Values } from "./plate";

const SITE = { name: "Mill", elevation_m: 829.9, barometer_pa: null, climate_zone: "5B" };

test("what nobody touched keeps its exact value, in either units, and what no field shows stays", () => {
  const plate = { maker: "Harrow", rated_total_w: 10_551.3, blower_table: [[1, 2]] };
  for (const units of ["US", "SI"] as const) {
    const wrong: Values = {};
    const typed = plateTyped("furnace_with_coil", plate, units);
    expect(plateSi("furnace_with_coil", typed, units, wrong, plate)).toEqual(plate);
    expect(siteSi(siteTyped(SITE, units), units, wrong, SITE)).toEqual(SITE);
    expect(wrong).toEqual({});
  }
});

test("a number typed counts in the units in use, an emptied field is left out, a wrong one is named", () => {
  const before = { rated_total_w: 10_551, maker: "Harrow" };
  const typed = { ...plateTyped("furnace_with_coil", before, "US"), rated_total_w: "4", maker: " " };
  expect(plateSi("furnace_with_coil", typed, "US", {}, before)).toEqual({
    rated_total_w: expect.closeTo(14_067.4, 0),
  });
  const wrong: Values = {};
  plateSi("furnace_with_coil", { rated_total_w: "four" }, "US", wrong);
  siteSi({ name: " ", elevation: "high" }, "US", wrong);
  expect(Object.keys(wrong).sort()).toEqual(["nameplate.rated_total_w", "site.elevation_m", "site.name"]);
});

test("a furnace has a coil until somebody says it has none", () => {
  expect(plateTyped("furnace_with_coil", {}, "SI").cooling_coil).toBe("yes");
  expect(plateSi("furnace_with_coil", {}, "SI", {})).toEqual({});
  expect(plateSi("furnace_with_coil", { cooling_coil: "no" }, "SI", {})).toEqual({ cooling_coil: false });
  expect(plateTyped("furnace_with_coil", { cooling_coil: false }, "SI").cooling_coil).toBe("no");
});

test("feet are feet", () => {
  expect(siteSi({ name: "Mill", elevation: "830" }, "US", {}).elevation_m).toBeCloseTo(252.98, 1);
  expect(siteSi({ name: "Mill", elevation: "830" }, "SI", {}).elevation_m).toBe(830);
});
