import { describe, expect, it } from "vitest";
import { toAddress } from "./asked";

describe("what is asked, in the address", () => {
  it("keeps only what says something", () => {
    expect(toAddress({ words: "belt", kind: "notes", since: "2026-11-01", state: "open" })).toEqual({
      words: "belt",
      kind: "notes",
      since: "2026-11-01",
      state: "open",
    });
    expect(toAddress({ words: "  ", kind: undefined, site: "" })).toEqual({});
  });

  it("leaves out what cannot be asked", () => {
    expect(
      toAddress({ kind: "sorcery", state: "ajar", since: "soon", until: "2026-1-1", other: "x" }),
    ).toEqual({});
  });

  it("takes a serial number that the address read as a number", () => {
    expect(toAddress({ words: 22806 })).toEqual({ words: "22806" });
  });
});
