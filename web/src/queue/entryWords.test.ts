import { describe, expect, it } from "vitest";
import { entryWords } from "./entryWords";

describe("an entry in words", () => {
  it("says what was read, where, and in which unit", () => {
    const body = { station: "return_grille", quantity: "dry_bulb", value: 75.2, unit: "degF" };
    expect(entryWords("reading", body)).toBe("Return grille, dry bulb: 75.2 °F");
  });

  it("says something of every entry, also of one that can't be read any more", () => {
    expect(entryWords("reading", { station: "moon", quantity: "glow", value: 3, unit: "lx" })).toBe(
      "Moon, glow: 3 lx",
    );
    expect(entryWords("note", { text: "Belt squeals" })).toBe("Note: Belt squeals");
    expect(entryWords("withdrawal", {})).toBe("An entry taken back");
    expect(entryWords("plan_setting", {})).toBe("Plan setting");
  });
});
