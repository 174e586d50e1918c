import { describe, expect, it } from "vitest";
import type { Waiting } from "../queue/store";
import { putIn, symbols } from "../visit/formula";
import {
  grown,
  type Logged,
  type LoggedReading,
  merged,
  ofKind,
  type Page,
  type PhaseShown,
  pointOf,
  readingsAt,
  standing,
  standingOf,
  traversesOf,
} from "./logbook";

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

describe("an answer that brings only what came since", () => {
  const page = (number: number, after: number, ...ids: string[]): Page =>
    ({ id: "v", number, after, entries: ids.map((id) => reading(id, 24)) }) as unknown as Page;
  const ids = (given: Page): string[] => given.entries.map((entry) => String(entry.id));

  it("is put behind the entries known here, each once", () => {
    expect(ids(grown(page(2, 0, "a", "b"), page(4, 2, "c", "d")))).toEqual(["a", "b", "c", "d"]);
    expect(ids(grown(page(3, 0, "a", "b", "c"), page(4, 2, "c", "d")))).toEqual(["a", "b", "c", "d"]);
  });

  it("is taken whole when it is whole, and never puts an older page over a newer", () => {
    expect(ids(grown(page(2, 0, "a", "b"), page(3, 0, "a", "b", "c")))).toEqual(["a", "b", "c"]);
    const newer = page(5, 0, "a", "b", "c", "d", "e");
    expect(grown(newer, page(4, 2, "c", "d"))).toBe(newer);
    expect(ids(grown(undefined, page(1, 0, "a")))).toEqual(["a"]);
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

describe("entries by their kind", () => {
  const check = (id: string, item: string, more: object = {}): Logged => ({
    ...reading(id, 0),
    kind: "check",
    body: { item, done: true },
    ...more,
  });

  it("are told apart, and only standing ones count", () => {
    const entries: Logged[] = [
      reading("a", 24),
      check("b", "hazards"),
      check("c", "hazards", { replaces: "b" }),
    ];
    expect(ofKind(entries, "check").map((each) => each.id)).toEqual(["b", "c"]);
    expect(standingOf(entries, "check").map((each) => each.body.item)).toEqual(["hazards"]);
    expect(standingOf(entries, "note")).toEqual([]);
  });

  it("stand at point one where no point was said", () => {
    const said = reading("a", 24);
    expect(pointOf({ ...said, body: { ...said.body, point: 4 } })).toBe(4);
    const { point: _, ...unsaid } = said.body;
    expect(pointOf({ ...said, body: unsaid })).toBe(1);
  });
});

describe("traverses of a phase", () => {
  it("come from whichever part has them", () => {
    const of = (pages: object) => ({ pages }) as PhaseShown;
    const one = { station: "supply_traverse" };
    expect(traversesOf(undefined)).toEqual([]);
    expect(traversesOf(of({}))).toEqual([]);
    expect(traversesOf(of({ airflow: { traverses: [one] } }))).toEqual([one]);
    expect(traversesOf(of({ ventilation: { traverses: [one] } }))).toEqual([one]);
  });
});
