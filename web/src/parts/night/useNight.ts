/** Night cooling of the open visit: what is known for a plan, and the plan as the core's calculation answers it. */
import type { Schemas } from "../../api/client";
import { useVisit } from "../../logbook/context";

export type NightPage = Schemas["NightPage"];
export type Setup = Schemas["NightSetup"];
export type Hold = NonNullable<Schemas["Flush"]["hold"]>;

export interface Course {
  speeds: number[];
  air_c: number[];
  mass_c: number[];
  fan_j: number;
  compressor_j: number;
  compressor_s: number;
  coldest_c: number;
  wake_c: number;
  too_warm_kh: number;
}

/** Of `ventilation.tonight`. */
export interface Planned {
  plan: {
    plan: Course;
    by_difference: Course;
    by_clock: Course;
    without: Course;
    target_c: number;
    start_hour: number | null;
    stop_hour: number | null;
    saved_j: number;
    saved_s: number;
    held: Hold;
    moist_h: number;
  };
  first_hour: number;
  outdoor_c: number[];
  typical: boolean;
}

export const HELD: Record<Exclude<Hold, "">, string> = {
  dew_point: "Leave it shut tonight: the air outside is too moist.",
  smoke: "Held shut: smoke outside.",
  security: "Held shut: an open way in is a risk.",
  pollen: "Held shut: pollen.",
};

export const useNight = (): NightPage => useVisit().shown.pages.night ?? {};

/** The blower's speeds from the hour in which it begins to the last in which it runs; an hour's pause between stays. */
export function blownOf(speeds: number[]): number[] {
  const first = speeds.findIndex((speed) => speed > 0);
  const last = speeds.findLastIndex((speed) => speed > 0);
  return first < 0 ? [] : speeds.slice(first, Math.min(last + 1, first + 24));
}
