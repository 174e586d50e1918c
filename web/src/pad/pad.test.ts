import { describe, expect, it } from "vitest";
import { unitOf } from "../units/units";
import { slip } from "./slips";
import { numberOf, type PadKey, padKey, pasted, press } from "./typed";

const type = (keys: string): string => [...keys].reduce((typed, key) => press(typed, key as PadKey), "");

describe("typing", () => {
  it.each([
    ["24.6", "24.6"],
    ["2..4", "2.4"],
    [".5", "0.5"],
    ["007", "7"],
    ["12-", "-12"],
    ["12--", "12"],
    ["1234567890", "12345678"],
  ])("%s gives %s", (keys, typed) => expect(type(keys)).toBe(typed));

  it.each([
    ["24.6", "24.6"],
    [" 24,6 °C\n", "24.6"],
    ["RH: 45 %", "45"],
    ["−3.5", "-3.5"],
    ["24.6 45", undefined],
    ["1,234.5", undefined],
    ["warm", undefined],
    ["123456789", undefined],
  ])("pasted, %s gives %s", (text, number) => expect(pasted(text)).toBe(number));

  it("undoes a key, or all", () => {
    expect(press("24.6", "back")).toBe("24.");
    expect(press("24.6", "clear")).toBe("");
    expect(numberOf("-")).toBeUndefined();
    expect(numberOf("-0.")).toBe(-0);
  });

  it("takes a comma for a decimal point", () => {
    expect([padKey(","), padKey("−"), padKey("Backspace"), padKey("x")]).toEqual([
      ".",
      "-",
      "back",
      undefined,
    ]);
  });
});

const celsius = unitOf("temperature", "SI");
const fahrenheit = unitOf("temperature", "US");
const percent = unitOf("relative_humidity", "SI");
const at = (more: object) => ({
  quantity: "dry_bulb",
  station: "return",
  unit: celsius,
  system: "SI" as const,
  dryBulb: undefined,
  done: true,
  value: 24,
  ...more,
});

describe("slips", () => {
  it("lets ordinary values pass", () => {
    expect(slip(at({}))).toBeUndefined();
    expect(slip(at({ unit: fahrenheit, system: "US", value: 75.2 }))).toBeUndefined();
    expect(
      slip(at({ quantity: "relative_humidity", unit: percent, value: 55, dryBulb: 24 })),
    ).toBeUndefined();
  });

  it("catches a left-out decimal point and offers what was meant", () => {
    const found = slip(at({ value: 240 }));
    expect(found).toMatchObject({ possible: false, instead: "24.0" });
    expect(slip(at({ unit: fahrenheit, system: "US", value: 756 }))).toMatchObject({ instead: "75.6" });
  });

  it("asks about the unusual and lets it be overruled", () => {
    expect(slip(at({ value: 45 }))).toMatchObject({ possible: true });
    expect(slip(at({ station: "supply", value: 1 }))).toMatchObject({ possible: true });
  });

  it("does not complain about a number still growing", () => {
    expect(slip(at({ value: 2, done: false }))).toBeUndefined();
    expect(slip(at({ value: 240, done: false }))).toBeDefined();
  });

  it("never lets wet bulb or dew point stand above dry bulb", () => {
    const wet = slip(at({ quantity: "wet_bulb", value: 25, dryBulb: 24 }));
    expect(wet).toMatchObject({ possible: false });
    expect(wet?.text).toContain("24.0 °C");
    expect(slip(at({ quantity: "dew_point", value: 24, dryBulb: 24 }))).toBeUndefined();
    expect(slip(at({ quantity: "relative_humidity", unit: percent, value: 101 }))).toMatchObject({
      possible: false,
    });
  });
});
