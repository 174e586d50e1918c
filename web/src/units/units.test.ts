import { describe, expect, it } from "vitest";
import { digits, inWords, number, say, show, toSi, unitOf, worked } from "./units";

describe("numbers", () => {
  it("are grouped, with a real minus and no negative zero", () => {
    expect(number(-1234567.891, 1)).toBe("−1,234,567.9");
    expect(number(-0.04, 1)).toBe("0.0");
    expect(number(999.96, 1)).toBe("1,000.0");
  });

  it("show no more digits than the half-width supports", () => {
    const total = { value: 35291, plus_minus: 2140, kind: "power" };
    expect(show(total, "SI")).toEqual({ value: "35.3", unit: "kW", plusMinus: "2.1" });
    expect(show(total, "US")).toEqual({ value: "120,400", unit: "Btu/h", plusMinus: "7,300" });
    expect(show({ value: 24.6, plus_minus: 0.3, kind: "temperature" }, "US").plusMinus).toBe("0.5");
    expect(show({ value: 10.8, plus_minus: 0.04, kind: "temperature_difference" }, "SI").plusMinus).toBe(
      "0.04",
    );
  });

  it("know the customary zero of enthalpy", () => {
    expect(show({ value: 51777, plus_minus: 0, kind: "enthalpy" }, "US").value).toBe("29.94");
    expect(toSi(7.68, unitOf("enthalpy", "US"))).toBeCloseTo(0, 6);
  });

  it("stand in sentences in the user's units", () => {
    const sentence = {
      text: "Split {split}, or {other}.",
      numbers: { split: { value: 10, kind: "temperature_difference" } },
    };
    expect(say(sentence, "SI")).toBe("Split 10.0 K, or {other}.");
    expect(say(sentence, "US")).toBe("Split 18.0 °F, or {other}.");
  });
});

describe("digits", () => {
  const length = unitOf("length", "SI");
  it.each([
    [1.6, 1],
    [2, 0],
    [1655.4, 0],
    [0.031, 2],
    [1e-9, 0],
    [0, 0],
  ])("of %s m say something", (shown, decimals) => {
    expect(digits(shown, length)).toBe(decimals);
  });
  it("of a working let the line be worked out again", () => {
    expect(number(24.60001, worked(24.60001, unitOf("temperature", "SI")))).toBe("24.6");
    expect(number(0.0115234567, worked(0.0115234567, unitOf("ratio", "SI")))).toBe("0.01152346");
    expect(inWords(1.6, "length", "SI")).toBe("1.6 m");
  });
});
