/** A logger's file as the server tells of it. */
import type { Schemas } from "../../../api/client";
import { readableOf, type System, unitOf } from "../../../units/units";

export type Look = Schemas["LoggerFile"];
export type Mapping = Schemas["FileMapping"];
export type Mapped = Mapping["columns"][number];

export interface Done {
  event: "done";
  mode: string;
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
      .filter((column) => column.quantity && column.station)
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
