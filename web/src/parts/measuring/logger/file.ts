/** A logger's file as the server tells of it. */
import type { Schemas } from "../../../api/client";
import { readableOf, type System, toSi, unitOf, unitsOf, usualDryBulb } from "../../../units/units";

export type Look = Schemas["LoggerFile"];
export type Mapping = Schemas["FileMapping"];
export type Mapped = Mapping["columns"][number];

export interface Done {
  event: "done";
  mode: string;
  /** It was read on this device, and waits there. */
  waits?: boolean;
  rows: number;
  bad: number;
  added: number;
  repeated: number;
  first: string | null;
  last: string | null;
  bad_lines: { line: number; reason: string }[];
  gaps: [string, string][];
  preview: { line: number; at: string; values: (number | null)[] }[];
}

export interface Refused {
  event: "refused";
  detail: string;
  path: string;
}

export type Event =
  | Done
  | Refused
  | { event: "progress"; lines: number; bad: number }
  | { event: "writing" | "stopped" };

/** The unit a heading names; else the one in use, which is to be asked about. */
export const unitFor = (column: Look["layout"]["columns"][number], system: System): string =>
  column.unit || (column.quantity ? unitOf(readableOf(column.quantity).kind, system).key : "");

export function suggested(look: Look, system: System): Mapping {
  return {
    time_columns: look.layout.columns.filter((column) => column.is_time).map((column) => column.index),
    time_format: look.layout.time_format,
    columns: look.layout.columns
      .filter((column) => column.quantity)
      .map((column) => ({
        index: column.index,
        quantity: column.quantity ?? "",
        unit: unitFor(column, system),
        station: column.station ?? "",
        point: 1,
        instrument: null,
      })),
  };
}

/** What the first lines show, in the unit chosen, where that is nothing one meets at such a place. */
export function implausible(
  typical: number | null | undefined,
  mapped: Mapped | undefined,
): string | undefined {
  if (typical === null || typical === undefined || !mapped?.quantity) return undefined;
  const { kind, usual, name } = readableOf(mapped.quantity);
  const unit = unitsOf(kind).find((each) => each.key === mapped.unit);
  if (!unit) return undefined;
  const here = mapped.quantity === "dry_bulb" ? usualDryBulb[mapped.station] : undefined;
  const [low, high] = (here ?? usual) as [number, number];
  const fits = (value: number) => value >= low && value <= high;
  if (fits(toSi(typical, unit))) return undefined;
  const other = unitsOf(kind).find((each) => each.key !== unit.key && fits(toSi(typical, each)));
  const words = `${Math.round(typical * 100) / 100} ${unit.label} is not a usual ${name.toLowerCase()}.`;
  return other
    ? `${words} As ${other.label} it would be. Check the unit.`
    : `${words} Check what this column holds.`;
}
