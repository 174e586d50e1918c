import { inWords, type System } from "../../units/units";

/** Names of points as the tests speak of them. */
export const POINT_NAMES: Record<string, [string, string]> = {
  damper_position: ["Outdoor damper", "share"],
  damper_command: ["Damper command", "share"],
  outdoor_share: ["Outdoor-air share", "share"],
  compressor: ["Compressor", "share"],
  fan: ["Fan", "share"],
  relief: ["Relief", "share"],
  building_pressure: ["Building pressure", "pressure"],
  alarming: ["Alarm shown", "yes"],
  overrides: ["Overrides left", "count"],
  damper_change: ["Damper command moves by", "share"],
  outdoor_temperature: ["Outdoor sensor", "temperature"],
  outdoor_humidity: ["Outdoor humidity", "relative_humidity"],
  return_temperature: ["Return sensor", "temperature"],
  return_humidity: ["Return humidity", "relative_humidity"],
  mixed_temperature: ["Mixed-air sensor", "temperature"],
  supply_temperature: ["Supply sensor", "temperature"],
  room_temperature: ["Room sensor", "temperature"],
  occupied: ["Occupied", "yes"],
};

export function valueWords(value: number, kind: string, system: System): string {
  if (kind === "yes") return value >= 0.5 ? "yes" : "no";
  if (kind === "count") return String(Math.round(value));
  return inWords(value, kind, system);
}

export function dueWords(
  low: number | null | undefined,
  high: number | null | undefined,
  kind: string,
  system: System,
): string {
  const shown = (value: number) => valueWords(value, kind, system);
  if (kind === "yes") return typeof low === "number" ? "yes" : "no";
  if (kind === "count") return "none";
  if (typeof low === "number" && typeof high === "number") return `${shown(low)} to ${shown(high)}`;
  return typeof low === "number"
    ? `at least ${shown(low)}`
    : typeof high === "number"
      ? `at most ${shown(high)}`
      : "";
}
