/** What is being looked at in a test of zones: kept while it is typed, and made into an entry. */
import type { BodyOf } from "../../api/entries";
import type { ZoneTest } from "./useZones";

export const AIR = { air: "Air", little: "A little", none: "None" };
export const INDICATOR = { open: "Open", shut: "Shut", moving: "Moving", dark: "Dark" };
export const CONTROL = { answers: "Answers", no_signal: "No signal", battery: "Battery low" };
export const LEVER = { shut: "Shut", part: "Part open", open: "Open" };
export const NOISE = { quiet: "Quiet", noticeable: "Noticeable", loud: "Loud" };

type Body = BodyOf<"zone_test">;
export type Air = keyof typeof AIR;
export type Indicator = keyof typeof INDICATOR;

/** As the zone that calls: none of them. */
export const NONE = "none";

export interface Seen {
  air: Record<string, Air>;
  indicators: Record<string, Indicator>;
  held: Record<string, string>;
  /** Id of the zone that calls; `NONE` for none. */
  called: string | undefined;
  control: NonNullable<Body["control"]>;
  bypass: NonNullable<Body["bypass"]>;
  noise: NonNullable<Body["noise"]>;
  /** As typed. */
  figures: Record<string, string>;
  note: string;
}

const NOTHING: Seen = {
  air: {},
  indicators: {},
  held: {},
  called: undefined,
  control: "",
  bypass: "",
  noise: "",
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

const KINDS: Record<string, string> = { volts: "voltage", static_pa: "pressure", supply_c: "temperature" };

type Read = (text: string, kind: string) => number | undefined;

/** By figure: what is wrong with it as typed. */
export function wrongIn(seen: Seen, read: Read): Record<string, string> {
  return Object.fromEntries(
    Object.entries(seen.figures).flatMap(([name, text]) =>
      text.trim() && read(text, KINDS[name] ?? "") === undefined ? [[name, "This must be a number."]] : [],
    ),
  );
}

/** The entry's body: only what was looked at. */
export function bodyOf(test: Pick<ZoneTest, "key">, seen: Seen, how: "board" | "watched", read: Read): Body {
  const figures = Object.entries(seen.figures).flatMap(([name, text]) => {
    const value = text.trim() ? read(text, KINDS[name] ?? "") : undefined;
    return value === undefined ? [] : [[name, value] as const];
  });
  return {
    test: test.key,
    how,
    air: seen.air,
    indicators: seen.indicators,
    held: Object.fromEntries(Object.entries(seen.held).map(([room, held]) => [room, held === "yes"])),
    ...(seen.called !== undefined ? { called: seen.called === NONE ? [] : [seen.called] } : {}),
    control: seen.control,
    bypass: seen.bypass,
    noise: seen.noise,
    note: seen.note,
    ...Object.fromEntries(figures),
  };
}
