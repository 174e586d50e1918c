/** What the core's tables hold; written as `tables.gen.ts` by tools/generated.py. */
import type { components } from "../api/schema.gen";

export interface Unit {
  key: string;
  label: string;
  factor: number;
  offset: number;
  decimals: number;
}

export interface Readable {
  key: string;
  name: string;
  kind: string;
  possible: number[];
  usual: number[];
  humidity: boolean;
  not_above: string;
  /** As it stands on a narrow key. */
  on_a_key: string;
}

/** A controller's point as tests speak of it. `shown_as`: yes, count, or a number with its unit. */
export interface PointName {
  name: string;
  kind: string;
  shown_as: string;
  by_eye: boolean;
  on_off: boolean;
}

interface Ducts {
  /** The short list; `loss` is null where the sizes decide. */
  fittings: { key: string; name: string; shape: string; loss: number | null }[];
  walls: Record<string, string>;
  dampers: Record<string, string>;
  /** Kinds of entry about ducts, and those that zones stand on. */
  entries: string[];
  zone_entries: string[];
  zone_dampers: Record<string, string>;
  /** The furthest that a damper is turned to balance. */
  most_deg: number;
}

interface Economizer {
  points: Record<string, PointName>;
  modes: Record<string, string>;
  heating_below_c: number;
  cooling_from_c: number;
  loops: { key: string; name: string; setpoint: string }[];
  places: Record<string, string>;
  relief_ways: Record<string, { name: string; when: components["schemas"]["Sentence"] }>;
  hard_to_open_n: number;
  curves: Record<string, string>;
  /** Kinds of entries from which its pages follow. */
  entries: string[];
}

/** A field of a nameplate: a number of a kind, one of some choices, yes or no (and which where nobody says), or else text. */
export interface PlateField {
  key: string;
  label: string;
  /** What a visit lacks without it. */
  gives: string;
  kind?: string;
  choices?: Record<string, string>;
  yes_no?: string;
}

/** A kind of system: what the air passes in it, in order, and what its nameplate says. */
export interface SystemKind {
  name: string;
  elements: string[];
  plate: PlateField[];
}

export interface Tables {
  kinds: Record<string, { si: string; us: string; units: Record<string, Unit> }>;
  readable: Record<string, Readable>;
  humidity_choices: string[];
  usual_dry_bulb: Record<string, number[]>;
  temporary_kinds: Record<string, string>;
  /** Things to see, with the answers that may be given. */
  items: Record<string, Record<string, string>>;
  parts: Record<string, string>;
  match_s: number;
  /** So many points can be read at one station. */
  most_points: number;
  steady_window_s: number;
  /** Smallest and largest inside of a duct. */
  duct_m: number[];
  economizer: Economizer;
  ducts: Ducts;
  /** Uses of rooms, and how well air reaches people by where it comes in and goes out. */
  spaces: {
    uses: Record<string, string>;
    places: Record<string, { name: string; effectiveness: number }>;
  };
  systems: Record<string, SystemKind>;
  climate_zones: string[];
  /** Ordinary classes of instruments; accuracy by quantity. */
  accuracy_classes: Record<
    string,
    { name: string; kind: string; accuracy: Record<string, components["schemas"]["Accuracy"]> }
  >;
}
