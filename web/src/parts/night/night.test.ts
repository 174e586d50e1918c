import { describe, expect, it } from "vitest";
import { wrongIn } from "./Forecast";
import { apart } from "./NightCourse";
import { blownOf } from "./useNight";

describe("a plan's speeds", () => {
  it("go from the first hour to the last, a pause between stays", () => {
    expect(blownOf([0, 0, 0.3, 0, 0.4, 0, 0])).toEqual([0.3, 0, 0.4]);
    expect(blownOf([0, 0])).toEqual([]);
    expect(blownOf(Array.from({ length: 40 }, () => 0.5))).toHaveLength(24);
  });
});

describe("a typed forecast", () => {
  const read = (text: string) => (text === "" || Number.isNaN(Number(text)) ? undefined : Number(text));
  const whole = { high_c: "34", low_c: "16", room_c: "24", dew_point_c: "" };
  it("needs its numbers, and no dew point", () => {
    expect(Object.values(wrongIn(whole, read)).every((wrong) => wrong === "")).toBe(true);
    expect(wrongIn({ ...whole, room_c: "warm", dew_point_c: "moist" }, read)).toMatchObject({
      room_c: "A number, please.",
      dew_point_c: "A number, please.",
    });
  });
  it("has no night that is warmer than the day", () => {
    expect(wrongIn({ ...whole, low_c: "36" }, read).low_c).toBe("Not above the day's high.");
  });
});

describe("labels at the end of lines", () => {
  it("are moved apart and keep their order", () => {
    expect(apart([10, 12, 60])).toEqual([10, 25, 60]);
  });
});
