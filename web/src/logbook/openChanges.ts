/** Temporary changes of a visit as the device knows them: what the server has, and what still waits here. */
import type { Schemas } from "../api/client";
import type { Waiting } from "../queue/store";
import { temporaryKinds } from "../units/units";
import { type Logged, ofKind, type Page } from "./logbook";

export interface OpenChange {
  id: string;
  what: string;
  kind: string;
  kindName: string;
  undo: string;
  at: string;
  by: string;
  handedTo: string;
  reason: string;
  waiting: boolean;
  /** The controller's point that the app holds. */
  point: string;
}

/** The ledger as it was worked out last, less what was undone or handed on here and still waits, with what was opened here. */
export function openChanges(page: Page, entries: Logged[]): OpenChange[] {
  const waiting = entries.filter((entry) => entry.waiting);
  const gone = new Set(ofKind(waiting, "undone").map((entry) => entry.body.change));
  const handed = new Map(ofKind(waiting, "handed_on").map((entry) => [entry.body.change, entry.body]));
  const unsent = new Set(waiting.map((entry) => entry.id));
  const there = (page.work_up.temporary ?? []).map((each) => ({
    id: each.entry,
    what: each.what,
    kind: each.kind,
    kindName: each.kind_name,
    undo: each.undo,
    at: each.at,
    by: each.by,
    handedTo: each.handed_to_name ?? "",
    reason: each.reason ?? "",
    waiting: unsent.has(each.entry),
    point: each.point ?? "",
  }));
  const known = new Set(there.map((each) => each.id));
  const opened = ofKind(waiting, "temporary").filter((entry) => !known.has(entry.id));
  const here = opened.map((entry) => ({
    id: entry.id,
    what: entry.body.what,
    kind: entry.body.kind ?? "other",
    kindName: temporaryKinds[entry.body.kind ?? "other"] ?? "",
    undo: entry.body.undo ?? "",
    at: entry.at,
    by: entry.by,
    handedTo: "",
    reason: "",
    waiting: true,
    point: "",
  }));
  return [...there, ...here]
    .filter((each) => !gone.has(each.id))
    .map((each) => {
      const to = handed.get(each.id);
      return to ? { ...each, handedTo: to.to_name, reason: to.reason } : each;
    });
}

/** Mine over all visits, counting what still waits on this device: opened here, undone here, handed on here. */
export function stillOpen<Row extends { entry: string; visit: string }>(
  rows: Row[],
  waiting: Waiting[],
): { entry: string; visit: string }[] {
  const letGo = new Set(
    waiting.flatMap(({ entry }) =>
      entry.kind === "undone" || entry.kind === "handed_on" ? [entry.body.change] : [],
    ),
  );
  const known = new Set(rows.map((row) => String(row.entry)));
  const here = waiting
    .filter((row) => row.entry.kind === "temporary" && !known.has(row.entry.id))
    .map((row) => ({ entry: row.entry.id, visit: row.visit }));
  return [...rows, ...here].filter((row) => !letGo.has(String(row.entry)));
}

type Line = Schemas["OpenChangeLine"];

/** The list over all visits once a visit was answered: what it closed is gone, what it opened is there. */
export function afterAnswer(rows: Line[], page: Page): Line[] {
  const open = new Map((page.work_up.temporary ?? []).map((each) => [each.entry, each]));
  const kept = rows.filter((row) => {
    const now = open.get(String(row.entry));
    return String(row.visit) !== String(page.id) || (now && (row.handed || !now.handed_to));
  });
  const known = new Set(rows.map((row) => String(row.entry)));
  const fresh = [...open.values()]
    .filter((each) => !known.has(each.entry) && !each.handed_to)
    .map((each) => ({
      entry: each.entry,
      visit: String(page.id),
      system: page.system.name,
      site: page.system.site,
      what: each.what,
      kind_name: each.kind_name,
      undo: each.undo,
      at: each.at,
      by: each.by,
      handed: false,
      reason: "",
    }));
  return [...kept, ...fresh];
}
