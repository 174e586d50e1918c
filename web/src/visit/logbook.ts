/** The logbook as the device knows it: what the server has, and what still waits here. */
import type { Schemas } from "../api/client";
import type { NewEntry, Waiting } from "../queue/store";

export type Page = Schemas["VisitPage"];
export type Phase = NewEntry["phase"];

export interface Logged {
  id: string;
  kind: string;
  phase: Phase;
  at: string;
  by: string;
  body: Record<string, unknown>;
  replaces: string | null;
  reason: string;
  waiting: boolean;
}

export interface ReadingBody {
  station: string;
  quantity: string;
  value: number;
  unit: string;
  point: number;
  instrument: string | null;
}

/** Server entries, then waiting ones that are not there yet, in the order they were taken. */
export function merged(page: Page, waiting: Waiting[]): Logged[] {
  const there = page.entries.map((entry) => ({
    ...entry,
    id: String(entry.id),
    at: String(entry.at),
    phase: entry.phase as Phase,
    body: entry.body as Record<string, unknown>,
    replaces: entry.replaces ? String(entry.replaces) : null,
    waiting: false,
  }));
  const known = new Set(there.map((entry) => entry.id));
  const here = waiting
    .filter((row) => row.visit === String(page.id) && !known.has(row.entry.id))
    .map((row) => ({
      by: "",
      reason: "",
      ...row.entry,
      replaces: row.entry.replaces ?? null,
      waiting: true,
    }));
  return [...there, ...here];
}

/** Entries that count: not replaced by a later one, not a withdrawal. */
export function standing(entries: Logged[]): Logged[] {
  const gone = new Set(entries.flatMap((entry) => (entry.replaces ? [entry.replaces] : [])));
  return entries.filter((entry) => !gone.has(entry.id) && entry.kind !== "withdrawal");
}

export type PhaseShown = Page["work_up"]["phases"][number];

/** A number of a phase by its key, wherever it stands: results, ways to the airflow, drops, leak test. */
export function resultOf(phase: PhaseShown, key: string | null | undefined) {
  const all = [
    ...phase.results,
    ...(phase.airflow_methods ?? []),
    ...(phase.statics?.drops ?? []).map((each) => each.drop),
    ...(phase.leak?.results ?? []),
  ];
  return all.find((each) => each.key === key);
}

export const readingOf = (entry: Logged): ReadingBody => entry.body as unknown as ReadingBody;

/** Standing readings of a station in a phase. */
export function readingsAt(entries: Logged[], station: string, phase: Phase): Logged[] {
  return standing(entries).filter(
    (entry) => entry.kind === "reading" && entry.phase === phase && readingOf(entry).station === station,
  );
}
