import { describe, expect, it } from "vitest";
import { tint } from "./tint";

/** Relative luminance of an rgb() colour. */
function lightness(colour: string): number {
  const [r = 0, g = 0, b = 0] = (colour.match(/\d+/g) ?? []).map(Number);
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

describe("the temperature scale", () => {
  it("is told apart by lightness: cold dark, mild light, hot dark again", () => {
    expect(lightness(tint(13))).toBeLessThan(lightness(tint(24)) - 25);
    expect(lightness(tint(35))).toBeLessThan(lightness(tint(24)) - 40);
    expect(lightness(tint(4))).toBeLessThan(lightness(tint(13)));
  });

  it("stays at its ends", () => {
    expect(tint(-30)).toBe(tint(4));
    expect(tint(80)).toBe(tint(46));
  });
});
