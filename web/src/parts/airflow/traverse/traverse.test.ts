import { describe, expect, it } from "vitest";
import { wallOf } from "./PlanDrawing";

type Plan = Parameters<typeof wallOf>[0];

const at = (number: number, hole: number, depth_m: number, x: number, y: number) => ({
  number,
  hole,
  depth_m,
  mark_m: depth_m,
  x,
  y,
});

const plan = (along: string, points: ReturnType<typeof at>[]): Plan => ({ along, points }) as unknown as Plan;

describe("where the probe goes in", () => {
  it("is the top of the duct when the holes lie along its width", () => {
    const found = wallOf(plan("width", [at(1, 1, 0.3, 0.25, 0.1), at(2, 1, 0.1, 0.25, 0.7)]), 1);
    expect(found).toMatchObject({ x: 0.25, y: 1 });
  });

  it("is a side wall when they lie along its height", () => {
    const found = wallOf(plan("height", [at(1, 2, 0.1, 0.1, 0.6), at(2, 2, 0.3, 0.7, 0.6)]), 2);
    expect(found).toMatchObject({ x: 0, y: 0.6 });
  });

  it("is the rim of a round duct, on the line through its middle", () => {
    const found = wallOf(plan("", [at(1, 1, 0.01, 0.5, 0.93), at(2, 1, 0.19, 0.5, 0.07)]), 1);
    expect(found?.x).toBeCloseTo(0.5);
    expect(found?.y).toBeCloseTo(1);
    const slanted = wallOf(plan("", [at(1, 2, 0.01, 0.85, 0.7)]), 2);
    expect(Math.hypot((slanted?.x ?? 0) - 0.5, (slanted?.y ?? 0) - 0.5)).toBeCloseTo(0.5);
  });

  it("is nowhere for a hole that the plan has not", () => {
    expect(wallOf(plan("width", []), 3)).toBeUndefined();
  });
});
