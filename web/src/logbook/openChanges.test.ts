import { describe, expect, it } from "vitest";
import type { Logged, Page } from "../logbook/logbook";
import type { Waiting } from "../queue/store";
import { afterAnswer, openChanges, stillOpen } from "./openChanges";

const change = (entry: string, more = {}) => ({
  entry,
  what: `Change ${entry}`,
  kind: "jumper",
  kind_name: "Jumper",
  undo: "",
  at: "2026-07-01T10:00:00Z",
  by: "Oona",
  handed_to: "",
  handed_to_name: "",
  reason: "",
  ...more,
});
const page = (...temporary: object[]): Page =>
  ({ id: "v", system: { name: "Unit", site: "Mill" }, work_up: { temporary } }) as unknown as Page;
const waits = (kind: string, body: object, id = "new"): Logged =>
  ({ id, kind, body, at: "2026-07-01T11:00:00Z", by: "", waiting: true }) as unknown as Logged;
const queued = (kind: string, body: object, id = "new"): Waiting =>
  ({ visit: "v", entry: { id, kind, body } }) as unknown as Waiting;
const line = (entry: string, more = {}) => ({
  entry,
  visit: "v",
  system: "Unit",
  site: "Mill",
  what: "",
  kind_name: "",
  undo: "",
  at: "",
  by: "",
  handed: false,
  reason: "",
  ...more,
});

describe("temporary changes on the device", () => {
  it("counts what was opened here and waits, and not what was undone here", () => {
    const entries = [
      waits("temporary", { what: "Hole", kind: "test_hole" }),
      waits("undone", { change: "a" }, "u"),
    ];
    expect(openChanges(page(change("a"), change("b")), entries).map((each) => each.what)).toEqual([
      "Change b",
      "Hole",
    ]);
  });

  it("shows to whom one was handed, before the server knows", () => {
    const entries = [waits("handed_on", { change: "a", to: "p", to_name: "Pat", reason: "rain" })];
    expect(openChanges(page(change("a")), entries)[0]).toMatchObject({ handedTo: "Pat", reason: "rain" });
  });

  it("keeps the count of all visits right without signal", () => {
    const rows = [line("a"), line("b")];
    expect(stillOpen(rows, [queued("undone", { change: "a" })])).toHaveLength(1);
    expect(stillOpen(rows, [queued("handed_on", { change: "b" })])).toHaveLength(1);
    expect(stillOpen(rows, [queued("temporary", { what: "x" })])).toHaveLength(3);
    expect(stillOpen([line("new")], [queued("temporary", { what: "x" })])).toHaveLength(1);
  });

  it("follows an answer without asking again: gone, new, handed away, handed to me, other visits", () => {
    const rows = [
      line("gone"),
      line("stays"),
      line("mine", { handed: true }),
      line("far", { visit: "w" }),
      line("away"),
    ];
    const answer = page(
      change("stays"),
      change("new"),
      change("mine", { handed_to: "me" }),
      change("away", { handed_to: "pat" }),
    );
    expect(afterAnswer(rows, answer).map((each) => each.entry)).toEqual(["stays", "mine", "far", "new"]);
  });
});
