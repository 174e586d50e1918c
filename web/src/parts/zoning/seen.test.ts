import { describe, expect, it } from "vitest";
import { typedSi } from "../../units/units";
import type { Board, Look } from "./board";
import { fromBoard, fromLook } from "./fromBoard";
import { bodyOf, draftOf, keepDraft, NONE, type Seen, wrongIn } from "./seen";

const nothing = (): Seen => draftOf("v", "nothing");
const read = (text: string, kind: string) => typedSi(text, kind, "SI");
const zone = (more: Partial<NonNullable<Board["zones"]>[number]>) => ({
  number: 1,
  zone: "z1",
  name: "Shop",
  calls: false,
  indicator: "shut" as const,
  control: "answers" as const,
  held: false,
  ...more,
});
const board = (...zones: NonNullable<Board["zones"]>): Board => ({
  connected: true,
  board: "ZB-1",
  zones,
  volts: 24.1,
  supply_c: 13,
});
const rooms = ["a", "b"].map((branch) => ({
  branch,
  called: branch,
  zone: "z1",
  due: "open" as const,
  faint: false,
}));

describe("a test of zones", () => {
  it("says only what was looked at", () => {
    const body = bodyOf({ key: "alone:z1" }, { ...nothing(), air: { a: "air" } }, "watched", read);
    expect(body).toMatchObject({ test: "alone:z1", how: "watched", air: { a: "air" }, indicators: {} });
    expect(body).not.toHaveProperty("called");
    expect(body).not.toHaveProperty("static_pa");
  });

  it("says figures in SI, and that no zone calls", () => {
    const seen = {
      ...nothing(),
      called: NONE,
      figures: { static_pa: "0.5", volts: "23,9" },
      held: { a: "no" },
    };
    const us = (text: string, kind: string) => typedSi(text, kind, "US");
    const body = bodyOf({ key: "bypass" }, seen, "board", us);
    expect(body.called).toEqual([]);
    expect(body.static_pa).toBeCloseTo(124.5, 0);
    expect(body.held).toEqual({ a: false });
  });

  it("names a figure that is no number, and nothing else", () => {
    const seen = { ...nothing(), figures: { static_pa: "lots", volts: "", supply_c: "13" } };
    expect(Object.keys(wrongIn(seen, read))).toEqual(["static_pa"]);
  });

  it("keeps what is half typed until it is noted", () => {
    keepDraft("v", "all", { ...nothing(), note: "half" });
    expect(draftOf("v", "all").note).toBe("half");
    expect(draftOf("w", "all").note).toBe("");
    keepDraft("v", "all", undefined);
    expect(draftOf("v", "all").note).toBe("");
  });
});

describe("a connected board", () => {
  const asked = (...asks: string[]) => ({ asks, zone: "z1", rooms });

  it("puts in the indicators once nothing is early", () => {
    const shown = board(zone({ indicator: "open" }), zone({ zone: "z2", number: 2 }));
    expect(fromBoard(asked("indicators"), nothing(), shown, "SI").indicators).toEqual({
      z1: "open",
      z2: "shut",
    });
    expect(fromBoard(asked("indicators"), nothing(), shown, "SI", true).indicators).toEqual({});
  });

  it("puts in the voltage only while the dampers move", () => {
    expect(fromBoard(asked("volts"), nothing(), board(), "SI", true).figures.volts).toBe("24.1");
    expect(fromBoard(asked("volts"), nothing(), board(), "SI").figures.volts).toBeUndefined();
  });

  it("says which zone a control point calls, or none", () => {
    const other = board(zone({}), zone({ zone: "z2", number: 2, calls: true }));
    expect(fromBoard(asked("called"), nothing(), other, "SI").called).toBe("z2");
    expect(fromBoard(asked("called"), nothing(), board(zone({ control: "no_signal" })), "SI")).toMatchObject({
      called: NONE,
      control: "no_signal",
    });
  });

  it("walks only the rooms of the test", () => {
    const look: Look = {
      air: { a: "air", z: "none" },
      static_pa: 210,
      bypass: "part",
      held: { b: false, z: true },
    };
    const seen = fromLook(asked("air", "held", "noise", "static_pa"), nothing(), look, "SI");
    expect(seen.air).toEqual({ a: "air" });
    expect(seen.held).toEqual({ b: "no" });
    expect(seen.noise).toBe("loud");
    expect(seen.figures.static_pa).toBe("210");
    expect(seen.bypass).toBe("");
  });
});
