import type { PointName } from "../../units/tables";
import { tables } from "../../units/tables.gen";
import { inWords, type System } from "../../units/units";

/** A point as the tests speak of it; one that the core does not know stands by its key. */
export const known = (point: string): PointName =>
  tables.economizer.points[point] ?? {
    name: point,
    kind: "share",
    shown_as: "",
    by_eye: false,
    on_off: false,
  };

/** How its value is said: yes or no, a count, or a kind of quantity. */
export function shownAs(point: string, kind?: string): string {
  const found = tables.economizer.points[point];
  return found?.shown_as || found?.kind || kind || "share";
}

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
