import { describe, expect, it } from "vitest";
import type { Waiting } from "../queue/store";
import { putIn, symbols } from "../visit/formula";
import { type Logged, type LoggedReading, merged, type Page, readingsAt, standing } from "./logbook";

const reading = (id: string, value: number, more: { replaces?: string } = {}): LoggedReading => ({
  id,
  kind: "reading",
  phase: "as_found",
  at: "2026-07-01T10:00:00Z",
  by: "",
  body: { station: "return", quantity: "dry_bulb", value, unit: "degC", point: 1, instrument: null },
  replaces: null,
  reason: "",
  waiting: false,
  ...more,
});

describe("the logbook on the device", () => {
  it("counts what is not replaced or taken back", () => {
    const entries: Logged[] = [
      reading("a", 42),
      reading("b", 24, { replaces: "a" }),
      reading("c", 23),
      { ...reading("d", 0), kind: "withdrawal", body: {}, replaces: "c" },
    ];
    expect(standing(entries).map((entry) => entry.id)).toEqual(["b"]);
    expect(readingsAt(entries, "return", "as_found")).toHaveLength(1);
    expect(readingsAt(entries, "return", "as_left")).toHaveLength(0);
  });

  it("lays waiting entries over the server's, each once", () => {
    const page = { id: "v", entries: [reading("a", 24)] } as unknown as Page;
    const wait = (id: string, visit = "v"): Waiting => ({ person: "p", visit, entry: reading(id, 25) });
    const all = merged(page, [wait("a"), wait("b"), wait("c", "other")]);
    expect(all.map((entry) => [entry.id, entry.waiting])).toEqual([
      ["a", false],
      ["b", true],
    ]);
  });
});

const text = (tokens: { text: string; sub?: string }[]): string =>
  tokens.map((token) => token.text + (token.sub ? `[${token.sub}]` : "")).join("");

describe("formulas", () => {
  it("are written as people write them", () => {
    expect(text(symbols("60 * m * (h_r - h_s)"))).toBe("60 × m × (h[r] − h[s])");
    expect(symbols("(1 - 2.25577e-5 * z) ** 5.2559").at(-1)).toEqual({ text: "5.2559", sup: true });
    expect(text(symbols("dT / 2"))).toBe("ΔT ÷ 2");
  });

  it("take the numbers in the user's units", () => {
    const numbers = { T_r: { value: 20, kind: "temperature" }, T_s: { value: -20, kind: "temperature" } };
    expect(text(putIn("T_r - T_s", numbers, "US"))).toBe("68.0 − (−4.0)");
  });
});
