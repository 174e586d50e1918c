/** What is being looked at in a test of a ventilator: kept while it is typed, and made into an entry. */

import type { Schemas } from "../../api/client";
import type { BodyOf } from "../../api/entries";
import type { Control, Stream } from "./useFreshAir";
import type { Look } from "./ventilator";

export type Test = Schemas["VentilatorTestLine"];
type Body = BodyOf<"ventilator_test">;

export const RUNS = { runs: "Runs", stands: "Is stopped" };
export const AIR = { right: "The right way", wrong: "The wrong way", little: "A little", none: "None" };
export const BLADE = { open: "Open", shut: "Shut" };
export const FILTERS = { clean: "Clean", dirty: "Dirty", blocked: "Blocked" };
export const SCREEN = { clear: "Clear", clogged: "Clogged", missing: "Missing" };
export const AS_CARD = { yes: "As on the card", no: "Something differs" };
export const FIGURES = { shown_c: "temperature", probe_c: "temperature", minutes: "minutes" } as const;

type Runs = keyof typeof RUNS | "";

export interface Seen {
  as_card: keyof typeof AS_CARD | "";
  fan: Runs;
  blower: Runs;
  damper: keyof typeof BLADE | "";
  air: Partial<Record<Stream, keyof typeof AIR>>;
  again: Runs;
  filters: keyof typeof FILTERS | "";
  screen: keyof typeof SCREEN | "";
  /** As typed. */
  figures: Partial<Record<keyof typeof FIGURES, string>>;
  note: string;
}

export const NOTHING: Seen = {
  as_card: "",
  fan: "",
  blower: "",
  damper: "",
  air: {},
  again: "",
  filters: "",
  screen: "",
  figures: {},
  note: "",
};

/** Half-filled tests outlive a look at another page. */
const drafts = new Map<string, Seen>();

export const draftOf = (visit: string, test: string): Seen => drafts.get(`${visit}/${test}`) ?? NOTHING;

export function keepDraft(visit: string, test: string, seen: Seen | undefined): Seen {
  if (seen) drafts.set(`${visit}/${test}`, seen);
  else drafts.delete(`${visit}/${test}`);
  return seen ?? NOTHING;
}

type Read = (text: string, kind: string) => number | undefined;

const typedFigure = (name: keyof typeof FIGURES, text: string, read: Read): number | undefined => {
  if (!text.trim()) return undefined;
  if (FIGURES[name] !== "minutes") return read(text, FIGURES[name]);
  const minutes = Number(text.replace(",", "."));
  return Number.isNaN(minutes) || minutes < 0 || minutes > 60 ? undefined : minutes;
};

/** By figure: what is wrong with it as typed. */
export function wrongIn(seen: Seen, read: Read): Partial<Record<keyof typeof FIGURES, string>> {
  const wrong: Partial<Record<keyof typeof FIGURES, string>> = {};
  for (const name of Object.keys(FIGURES) as (keyof typeof FIGURES)[]) {
    const text = seen.figures[name] ?? "";
    if (text.trim() && typedFigure(name, text, read) === undefined)
      wrong[name] = name === "minutes" ? "A number from 0 to 60." : "This must be a number.";
  }
  return wrong;
}

/** The entry's body: only what was looked at. */
export function bodyOf(test: Pick<Test, "key">, seen: Seen, how: "control" | "watched", read: Read): Body {
  const figures = (Object.keys(FIGURES) as (keyof typeof FIGURES)[]).flatMap((name) => {
    const value = typedFigure(name, seen.figures[name] ?? "", read);
    return value === undefined ? [] : [[name, value] as const];
  });
  return {
    test: test.key,
    how,
    ...(seen.as_card ? { as_card: seen.as_card === "yes" } : {}),
    fan: seen.fan,
    blower: seen.blower,
    damper: seen.damper,
    air: seen.air as Body["air"] & object,
    again: seen.again,
    filters: seen.filters,
    screen: seen.screen,
    note: seen.note,
    ...Object.fromEntries(figures),
  };
}

/** What a walk around a simulated ventilator puts into the form: only what the test asks for. */
export function fromLook(test: Pick<Test, "asks" | "streams">, seen: Seen, look: Look): Seen {
  const asks = new Set(test.asks);
  const streams = (test.streams ?? []).map((each) => each.stream);
  return {
    ...seen,
    ...(asks.has("fan") ? { fan: look.fan } : {}),
    ...(asks.has("blower") ? { blower: look.blower } : {}),
    ...(asks.has("damper") ? { damper: look.damper } : {}),
    ...(asks.has("air")
      ? { air: Object.fromEntries(streams.map((stream) => [stream, look.air[stream]])) as Seen["air"] }
      : {}),
    ...(asks.has("filters") ? { filters: look.filters } : {}),
    ...(asks.has("screen") ? { screen: look.screen } : {}),
  };
}

/** Whether a control is set as the card says: every value that the card has, and none besides. */
export function sameSettings(card: Control, found: Control): boolean {
  const names: (keyof Control)[] = [
    "minutes_per_hour",
    "low_c",
    "high_c",
    "dew_point_c",
    "indoor_rh",
    "boost_min",
    "filter_months",
  ];
  const near = (one: unknown, other: unknown) =>
    (one ?? null) === (other ?? null) ||
    (typeof one === "number" && typeof other === "number" && Math.abs(one - other) < 0.06);
  return (
    names.every((name) => near(card[name], found[name])) &&
    (card.interlock ?? false) === (found.interlock ?? false)
  );
}
