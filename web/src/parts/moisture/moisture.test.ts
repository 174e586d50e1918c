import { describe, expect, it } from "vitest";
import { around } from "./AirDrawing";

const place = (dry_bulb_c: number, humidity_ratio: number) => ({ name: "", dry_bulb_c, humidity_ratio });

describe("the window of a drawing of air", () => {
  it("has room around every place", () => {
    const found = around([place(24, 0.0109), place(9, 0.0068)]);
    expect(found.low).toBeLessThan(9 - 2);
    expect(found.high).toBeGreaterThan(24 + 2);
    expect(found.floor).toBeLessThan(0.0068 - 0.002);
    expect(found.top).toBeGreaterThan(0.0109 + 0.002);
  });

  it("never goes below dry air, nor narrower than it can be read", () => {
    const found = around([place(20, 0.0005)]);
    expect(found.floor).toBe(0);
    expect(found.high - found.low).toBeGreaterThanOrEqual(15);
  });

  it("stays within what the chart's lines are drawn for", () => {
    const found = around([place(-54, 0), place(84, 0.2)]);
    expect(found.low).toBe(-55);
    expect(found.high).toBe(85);
    expect(found.top).toBe(0.1);
  });
});
