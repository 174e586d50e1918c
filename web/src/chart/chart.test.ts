import { describe, expect, it } from "vitest";
import { type AirPoint, ellipse, saturated, scales, sizeOf, windowOf } from "./geometry";
import { named, ticks } from "./PsychrometricChart";

const point = (more: Partial<AirPoint> = {}): AirPoint => ({
  key: "return",
  name: "Return",
  phase: "as_found",
  dryBulb: 24,
  ratio: 0.01,
  dryBulbWidth: 0.3,
  ratioWidth: 0.0004,
  correlation: 0,
  ...more,
});

const corners = (path: string): [number, number][] =>
  path
    .slice(1, -1)
    .split("L")
    .map((pair) => pair.split(" ").map(Number) as [number, number]);

describe("the chart's window", () => {
  it("holds every state with room around it", () => {
    const found = windowOf([point(), point({ dryBulb: 58, ratio: 0.021 }), point({ dryBulb: -12 })]);
    expect(found.low).toBeLessThanOrEqual(-15);
    expect(found.high).toBeGreaterThanOrEqual(60);
    expect(found.top).toBeGreaterThanOrEqual(0.023);
  });

  it("is never narrower than the core draws", () => {
    const found = windowOf([point({ dryBulb: 20 })]);
    expect(found.high - found.low).toBeGreaterThanOrEqual(30);
    expect(found.top).toBe(0.018);
  });

  it("stays within what the core takes", () => {
    const hot = windowOf([point({ dryBulb: 84, ratio: 0.2 })]);
    expect(hot.high).toBeLessThanOrEqual(85);
    expect(hot.top).toBeLessThanOrEqual(0.1);
    expect(windowOf([point({ dryBulb: -60 })]).low).toBeGreaterThanOrEqual(-55);
  });
});

describe("its size", () => {
  it.each([200, 274, 390, 770, 1400])("keeps letters readable at %i px", (width) => {
    const size = sizeOf(width);
    expect(size.width).toBe(Math.max(width, 212));
    expect(size.height).toBeLessThanOrEqual(470);
    expect(size.width - size.left - size.right).toBeGreaterThan(130);
  });

  it("puts warm right and humid up", () => {
    const { x, y } = scales({ low: 0, high: 40, top: 0.02 }, sizeOf(770));
    expect(x(30)).toBeGreaterThan(x(10));
    expect(y(0.015)).toBeLessThan(y(0.005));
    expect(x.invert(x(17.3))).toBeCloseTo(17.3);
  });
});

describe("the ellipse of a state", () => {
  const drawn = scales({ low: 0, high: 40, top: 0.02 }, sizeOf(770));

  it("reaches its half-widths and no further", () => {
    const outline = corners(ellipse(point(), drawn));
    const xs = outline.map(([x]) => x);
    const ys = outline.map(([, y]) => y);
    expect(Math.max(...xs)).toBeCloseTo(drawn.x(24.3), 0);
    expect(Math.min(...xs)).toBeCloseTo(drawn.x(23.7), 0);
    expect(Math.min(...ys)).toBeCloseTo(drawn.y(0.0104), 0);
  });

  it("leans with the correlation: at one it is a line", () => {
    const line = corners(ellipse(point({ correlation: 1 }), drawn));
    for (const [x, y] of line) {
      const share = (drawn.x.invert(x) - 24) / 0.3;
      expect(drawn.y.invert(y)).toBeCloseTo(0.01 + share * 0.0004, 4);
    }
  });

  it("never goes below dry air", () => {
    const low = corners(ellipse(point({ ratio: 0.0001, ratioWidth: 0.001 }), drawn));
    expect(Math.max(...low.map(([, y]) => y))).toBeLessThanOrEqual(drawn.y(0) + 0.06);
  });
});

describe("saturation under the cursor", () => {
  const line = { dry_bulb_c: [0, 10, 20], humidity_ratio: [0.004, 0.008, 0.015] };

  it("is read between the drawn points", () => {
    expect(saturated(line, 5)).toBeCloseTo(0.006);
    expect(saturated(line, 20)).toBeCloseTo(0.015);
    expect(saturated(line, -3)).toBe(0.004);
  });

  it("does not hold the cursor where nothing is drawn", () => {
    expect(saturated(line, 25)).toBe(Number.POSITIVE_INFINITY);
    expect(saturated(undefined, 5)).toBe(Number.POSITIVE_INFINITY);
  });
});

describe("figures and names", () => {
  it.each([
    [41, 104, 10, [50, 60, 70, 80, 90, 100]],
    [0, 18, 8, [0, 5, 10, 15]],
    [-5, 5, 5, [-4, -2, 0, 2, 4]],
  ])("ticks from %d to %d are round", (low, high, about, expected) => {
    expect(ticks(low, high, about)).toEqual(expected);
  });

  it("writes a name once where both phases lie close, and moves one that would cover another", () => {
    const drawn = scales({ low: 0, high: 40, top: 0.02 }, sizeOf(770));
    const close = named([point(), point({ phase: "as_left", dryBulb: 24.2 })], drawn);
    expect(close.map((label) => label.name)).toEqual(["Return"]);
    const [first, second] = named([point(), point({ name: "Mixed", dryBulb: 24.4 })], drawn);
    expect(Math.abs((first?.y ?? 0) - (second?.y ?? 0))).toBeGreaterThanOrEqual(14);
  });
});
