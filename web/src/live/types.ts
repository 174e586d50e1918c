/** What the server sends of live probes; see fentro_server/measuring/live_state.py. */
import type { Sentence } from "../units/units";

export type State = "steady" | "moving" | "scattered" | "too_short";

export interface Evidence {
  seconds: number;
  samples: number;
  slope_per_10min: number;
  slope_plus_minus: number;
  scatter: number;
}

export interface Channel {
  key: string;
  instrument: string;
  name: string;
  serial: string;
  quantity: string;
  kind: string;
  /** "" is the hand. */
  station: string;
  point: number;
  lost: boolean;
  /** Null when lost: the last value must not pass for live. */
  value: number | null;
  mean: number | null;
  state: State;
  settles_in_s: number | null;
  held: Evidence;
  at: string | null;
  battery: number | null;
  low_battery: boolean;
  /** Since the last picture: seconds since 1970, SI value. */
  samples: [number, number][];
}

export interface Picture {
  connected: boolean;
  at: string | null;
  running_s: number | null;
  state: State;
  words: Sentence;
  channels: Channel[];
}

export const STATE_WORDS: Record<State, string> = {
  steady: "steady",
  moving: "still moving",
  scattered: "unquiet",
  too_short: "watching",
};
