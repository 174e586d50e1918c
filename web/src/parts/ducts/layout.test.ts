import { describe, expect, it } from "vitest";
import { deviationTint, inOrder, layoutOf, ROW, shareTint } from "./layout";

const trunks = [
  { id: "one", after: "", flow: 0.4 },
  { id: "two", after: "one", flow: 0.2 },
];
const branches = [
  { id: "a", after: "one", flow: 0.2 },
  { id: "b", after: "two", flow: 0.1 },
  { id: "c", after: "two", flow: 0.1 },
];

describe("the duct tree drawn", () => {
  it("gives every branch a row of its own, in the order of the air", () => {
    const drawn = layoutOf(trunks, branches, false);
    expect(drawn.rows.map((row) => row.id)).toEqual(
      inOrder(trunks, branches).branches.map((each) => each.id),
    );
    expect(new Set(drawn.rows.map((row) => row.y)).size).toBe(3);
    expect(drawn.height).toBeGreaterThanOrEqual(3 * ROW);
  });

  it("is as wide as the air is much", () => {
    const widths = new Map(layoutOf(trunks, branches, false).rows.map((row) => [row.id, row.width]));
    expect(widths.get("a")).toBeGreaterThan(widths.get("b") ?? 0);
    expect(widths.get("b")).toBe(widths.get("c"));
  });

  it("draws a branch whose trunk is missing all the same", () => {
    const drawn = layoutOf([], [{ id: "x", after: "gone", flow: 0.1 }], true);
    expect(drawn.rows.map((row) => row.id)).toEqual(["x"]);
  });

  it("tints too little and too warm alike, too much and too cold alike, what was not read as neither", () => {
    expect(shareTint(0.5)).toBe(deviationTint(2));
    expect(shareTint(1.5)).toBe(deviationTint(-2));
    expect(shareTint(1)).toBe(deviationTint(0.3));
    expect(new Set([undefined, -2, 0, 2].map(deviationTint)).size).toBe(4);
  });
});
