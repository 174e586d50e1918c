import { describe, expect, it } from "vitest";
import { cameIn } from "./when";

describe("when an entry came in", () => {
  it("is said where it is another time than the device's", () => {
    const at = "2026-07-01T10:00:00Z";
    expect(cameIn({ at })).toBe("");
    expect(cameIn({ at, received_at: "2026-07-01T10:04:00Z" })).toBe("");
    expect(cameIn({ at, received_at: "2026-07-03T09:00:00Z" })).toBe(
      ", came in 3 Jul 2026".replace("3 Jul", "Jul 3,"),
    );
    expect(cameIn({ at, received_at: "2026-06-30T09:00:00Z" })).toContain(", came in ");
  });
});
