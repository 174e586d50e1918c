import { describe, expect, it } from "vitest";
import { apart } from "../night/NightCourse";
import { streamsOf } from "./useFreshAir";
import { wrongIn } from "./VentilatorForm";

describe("a port chart", () => {
  const point = (port_pa?: number, airflow_m3s?: number) => ({ port_pa, airflow_m3s });

  it("is right when flow rises with the drop, in any order, and may be left out", () => {
    expect(wrongIn([])).toBe("");
    expect(wrongIn([point(80, 0.08), point(20, 0.04)])).toBe("");
  });

  it("says what is wrong with it", () => {
    expect(wrongIn([point(20, 0.04)])).toContain("two points");
    expect(wrongIn([point(20, 0.04), point(undefined, 0.05)])).toContain("a drop and a flow");
    expect(wrongIn([point(20, 0.04), point(20, 0.05)])).toContain("same drop twice");
    expect(wrongIn([point(60, 0.04), point(20, 0.05)])).toContain("larger flow");
    expect(wrongIn([point(20, 0.05), point(60, 0.05)])).toContain("larger flow");
  });

  it("belongs to the streams of its ventilator", () => {
    expect(streamsOf("supply")).toEqual(["fresh"]);
    expect(streamsOf("exhaust")).toEqual(["stale"]);
    expect(streamsOf("balanced")).toEqual(["fresh", "stale"]);
  });
});

describe("labels at the end of lines", () => {
  it("stay where they are when there is room, and move down where there is none", () => {
    expect(apart([10, 60, 100])).toEqual([10, 60, 100]);
    expect(apart([50, 52, 49])).toEqual([64, 79, 49]);
  });
});
