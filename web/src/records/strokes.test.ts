import { describe, expect, it } from "vitest";
import { drawnOn, isDrawn, MOST_POINTS, type Point, pointIn, type Strokes } from "./strokes";

describe("a drawn signature", () => {
  it("keeps every point inside the box, to a thousandth", () => {
    expect(pointIn(150.06, 45, 300, 90)).toEqual([0.5, 0.5]);
    expect(pointIn(-20, 400, 300, 90)).toEqual([0, 1]);
    expect(pointIn(1, 1, 0, 0)).toEqual([1, 1]);
  });

  it("grows by points that are apart, on its last line only", () => {
    const begun: Strokes = [[[0.1, 0.1]], [[0.2, 0.2]]];
    expect(drawnOn(begun, [0.2, 0.201])).toBe(begun);
    expect(drawnOn(begun, [0.3, 0.2])).toEqual([
      [[0.1, 0.1]],
      [
        [0.2, 0.2],
        [0.3, 0.2],
      ],
    ]);
    expect(drawnOn([], [0.3, 0.2])).toEqual([]);
  });

  it("ends somewhere", () => {
    const long = Array.from({ length: MOST_POINTS - 20 }, (_, at): Point => [at % 2, (at % 100) / 100]);
    let strokes: Strokes = [long];
    for (let at = 0; at < 50; at += 1) strokes = drawnOn(strokes, [(at + 1) % 2, (at % 100) / 100]);
    expect(strokes.flat().length).toBeGreaterThan(MOST_POINTS - 5);
    expect(strokes.flat().length).toBeLessThanOrEqual(MOST_POINTS);
  });

  it("is more than a dot", () => {
    expect(isDrawn([])).toBe(false);
    expect(isDrawn([[[0.5, 0.5]]])).toBe(false);
    expect(
      isDrawn([
        [
          [0.1, 0.5],
          [0.2, 0.4],
          [0.3, 0.6],
        ],
      ]),
    ).toBe(true);
  });
});
