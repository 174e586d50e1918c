/** Fresh air of the open visit: what is known of it, as the core worked it out. */
import type { Schemas } from "../../api/client";
import { useVisit } from "../../logbook/context";

export type FreshAirPage = Schemas["VentilationPage"];
export type Control = Schemas["VentilatorControl"];
export type Ventilator = Schemas["Ventilator"];
export type Stage = Schemas["ControlColumn"]["stage"];

const NOTHING: FreshAirPage = {
  traverses: [],
  known: {},
  words: { text: "Say what the dwelling is: its floor and bedrooms.", numbers: {} },
};

/** The page; an empty one while nothing was said of fresh air here. */
export const useFreshAir = (): FreshAirPage => useVisit().shown.pages.ventilation ?? NOTHING;

export const STREAMS = { fresh: "Fresh air in", stale: "Stale air out" } as const;
export type Stream = keyof typeof STREAMS;

/** What a ventilator moves; the stream that counts for the dwelling first. */
export const streamsOf = (kind: Ventilator["kind"]): Stream[] =>
  kind === "balanced" ? ["fresh", "stale"] : kind === "exhaust" ? ["stale"] : ["fresh"];
