/** The logbook as the device knows it: what the server has, and what still waits here. */
import type { Schemas } from "../api/client";
import type { Kind, Logged, LoggedOf, Phase } from "../api/entries";
import type { Waiting } from "../queue/store";

export type { Kind, Logged, LoggedOf, Phase };
export type Page = Schemas["VisitPage"];
export type PhaseShown = Page["work_up"]["phases"][number];
export type Station = Page["work_up"]["path"]["stations"][number];
export type Result = PhaseShown["results"][number];
export type LoggedReading = LoggedOf<"reading">;

/** What a phase is called. */
export const PHASE_NAMES: Record<string, string> = { as_found: "As found", as_left: "As left" };

/** Server entries, then waiting ones that are not there yet, in the order they were taken. */
export function merged(page: Page, waiting: Waiting[]): Logged[] {
  const there = page.entries.map((entry): Logged => ({ ...entry, waiting: false }));
  const known = new Set(there.map((entry) => entry.id));
  const here = waiting
    .filter((row) => row.visit === page.id && !known.has(row.entry.id))
    .map(
      (row): Logged => ({
        by: "",
        reason: "",
        ...row.entry,
        replaces: row.entry.replaces ?? null,
        waiting: true,
      }),
    );
  return [...there, ...here];
}

/** The page as it is now: an answer brings only the entries that came after those known here. */
export function grown(known: Page | undefined, answer: Page): Page {
  if (!known || answer.after === 0) return answer;
  if (known.number > answer.number) return known;
  const there = new Set(known.entries.map((entry) => entry.id));
  return {
    ...answer,
    after: 0,
    entries: [...known.entries, ...answer.entries.filter((each) => !there.has(each.id))],
  };
}

/** Entries that count: not replaced by a later one, not a withdrawal. */
export function standing(entries: Logged[]): Logged[] {
  const gone = new Set(entries.flatMap((entry) => (entry.replaces ? [entry.replaces] : [])));
  return entries.filter((entry) => !gone.has(entry.id) && entry.kind !== "withdrawal");
}

/** Those of one kind, in their order. */
export function ofKind<K extends Kind>(entries: Logged[], kind: K): Extract<Logged, { kind: K }>[] {
  return entries.filter((entry): entry is Extract<Logged, { kind: K }> => entry.kind === kind);
}

/** Standing entries of one kind. */
export const standingOf = <K extends Kind>(entries: Logged[], kind: K): Extract<Logged, { kind: K }>[] =>
  ofKind(standing(entries), kind);

/** Every result of a phase: those of the job as a whole, and those on the pages of its parts. */
function resultsOf(phase: PhaseShown): Result[] {
  const { airflow, statics, leakage, moisture } = phase.pages;
  return [
    ...phase.results,
    ...(airflow?.methods ?? []),
    ...(statics?.drops ?? []).map((each) => each.drop),
    ...(leakage?.results ?? []),
    ...(moisture?.results ?? []),
  ];
}

/** A number of a phase by its key, wherever it stands. */
export const resultOf = (phase: PhaseShown, key: string | null | undefined): Result | undefined =>
  resultsOf(phase).find((each) => each.key === key);

/** Traverses of a phase, whichever part of the job they belong to. */
export const traversesOf = (phase: PhaseShown | undefined) => [
  ...(phase?.pages.airflow?.traverses ?? []),
  ...(phase?.pages.ventilation?.traverses ?? []),
];

export type Traverse = ReturnType<typeof traversesOf>[number];

/** The point of a reading; the first where none is said. */
export const pointOf = (entry: LoggedReading): number => entry.body.point ?? 1;

/** The reading that another of the same point and quantity takes the place of. */
export const readBefore = (
  readings: LoggedReading[],
  point: number,
  quantity: string,
): LoggedReading | undefined =>
  readings.find((entry) => pointOf(entry) === point && entry.body.quantity === quantity);

/** Standing readings of a station in a phase. */
export const readingsAt = (entries: Logged[], station: string, phase: Phase): LoggedReading[] =>
  standingOf(entries, "reading").filter((entry) => entry.phase === phase && entry.body.station === station);
