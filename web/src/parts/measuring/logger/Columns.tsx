import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { instrumentsQuery } from "../../../api/queries";
import { useVisit } from "../../../logbook/context";
import { SelectField, TextField } from "../../../shell/fields";
import { useUnits } from "../../../units/UnitSystem";
import { readable, readableOf, unitsOf } from "../../../units/units";
import { implausible, type Look, type Mapped, type Mapping, type Refused, unitFor } from "./file";

const FORMATS: { key: Mapping["time_format"]; name: string }[] = [
  { key: "iso", name: "year-month-day" },
  { key: "month_day", name: "month/day/year" },
  { key: "day_month", name: "day.month.year" },
  { key: "epoch_s", name: "seconds since 1970" },
  { key: "epoch_ms", name: "milliseconds since 1970" },
];

export function Times({
  look,
  mapping,
  change,
  offset,
  setOffset,
}: {
  look: Look;
  mapping: Mapping;
  change: (mapping: Mapping) => void;
  offset: number;
  setOffset: (offset: number) => void;
}) {
  const [hours, setHours] = useState(String(offset / 60));
  const sample = look.layout.columns
    .filter((column) => mapping.time_columns.includes(column.index))
    .map((column) => column.sample)
    .join(" ");
  return (
    <section className="panel grid gap-3 p-4 wide:grid-cols-3" aria-label="Times">
      <p>
        <span className="block text-sm quiet">First time in the file</span>
        <span className="reading font-semibold text-lg">{sample}</span>
      </p>
      <div>
        <SelectField
          label="Dates are written as"
          value={mapping.time_format}
          options={FORMATS}
          onChange={(key) => {
            const format = FORMATS.find((each) => each.key === key);
            if (format) change({ ...mapping, time_format: format.key });
          }}
        />
        {look.layout.time_unsure && (
          <span className="block text-sm">
            Day or month first? The file does not tell. Check the preview.
          </span>
        )}
      </div>
      <TextField
        label="Which clock did the logger keep? Hours from UTC; this device's stands here"
        mode="decimal"
        value={hours}
        onChange={(text) => {
          setHours(text);
          const typed = hoursOf(text);
          if (typed !== undefined) setOffset(Math.round(typed * 60));
        }}
        wrong={hoursOf(hours) === undefined ? "A number from −14 to 14." : ""}
      />
    </section>
  );
}

function hoursOf(text: string): number | undefined {
  const hours = Number(text.replace(",", ".").replace("−", "-"));
  return text.trim() && Math.abs(hours) <= 14 ? hours : undefined;
}

export function Columns({
  look,
  mapping,
  change,
  refused,
}: {
  look: Look;
  mapping: Mapping;
  change: (mapping: Mapping) => void;
  refused: Refused | undefined;
}) {
  const { system } = useUnits();
  return (
    <ul className="panel divide-y divide-base-300" aria-label="Columns">
      {look.layout.columns
        .filter((column) => !mapping.time_columns.includes(column.index))
        .map((column) => {
          const at = mapping.columns.findIndex((each) => each.index === column.index);
          const mapped = mapping.columns[at];
          const set = (next: Mapped | undefined) =>
            change({
              ...mapping,
              columns: [
                ...mapping.columns.filter((each) => each.index !== column.index),
                ...(next ? [next] : []),
              ],
            });
          const odd = implausible(column.typical, mapped);
          const wrong = at >= 0 && refused?.path.startsWith(`mapping.columns.${at}`);
          return (
            <li
              key={column.index}
              className={`grid items-center gap-2 p-3 wide:grid-cols-[1.2fr_1.3fr_5.5rem_1.2fr_5rem_1.1fr] ${wrong ? "outline-2 outline-error" : ""}`}
            >
              <div className="min-w-0">
                <p className="truncate font-semibold">{column.heading}</p>
                <p className="reading truncate text-sm quiet">{column.sample}</p>
                {odd && <p className="font-semibold text-sm text-warning-content">{odd}</p>}
                {mapped && !mapped.station && (
                  <p className="font-semibold text-sm">Which station was it at?</p>
                )}
                {mapped && !column.unit && (
                  <p className="text-sm">
                    No unit in the heading: {labelOf(mapped)} is assumed. Is that right?
                  </p>
                )}
              </div>
              <ColumnChoice
                heading={column.heading}
                fallback={{
                  index: column.index,
                  quantity: column.quantity ?? "",
                  unit: unitFor(column, system),
                  station: column.station ?? "",
                  point: 1,
                  instrument: null,
                }}
                mapped={mapped}
                set={set}
              />
            </li>
          );
        })}
    </ul>
  );
}

const labelOf = (mapped: Mapped): string =>
  unitsOf(readableOf(mapped.quantity).kind).find((unit) => unit.key === mapped.unit)?.label ?? "";

function ColumnChoice({
  heading,
  fallback,
  mapped,
  set,
}: {
  heading: string;
  fallback: Mapped;
  mapped: Mapped | undefined;
  set: (next: Mapped | undefined) => void;
}) {
  const { page } = useVisit();
  const { data } = useQuery(instrumentsQuery);
  const quantity = mapped?.quantity ?? "";
  const stations = page.work_up.path.stations.filter(
    (station) => !quantity || station.quantities.includes(quantity),
  );
  const select = (
    label: string,
    value: string,
    options: [string, string][],
    pick: (value: string) => void,
    off = false,
  ) => (
    <SelectField
      label={`${label} of ${heading}`}
      quiet
      value={value}
      disabled={off}
      onChange={pick}
      options={options.map(([key, name]) => ({ key, name }))}
    />
  );
  const pickQuantity = (next: string) => {
    if (!next) {
      set(undefined);
      return;
    }
    const units = unitsOf(readableOf(next).kind);
    const unit = units.find((each) => each.key === fallback.unit) ?? units[0];
    const able = page.work_up.path.stations.filter((station) => station.quantities.includes(next));
    const before = mapped?.station || fallback.station;
    const station = able.some((each) => each.id === before)
      ? before
      : able.length === 1
        ? (able[0]?.id ?? "")
        : "";
    set({ ...fallback, ...mapped, quantity: next, unit: unit?.key ?? "", station });
  };
  return (
    <>
      {select(
        "What",
        quantity,
        [
          ["", "leave out"],
          ...Object.values(readable).map((each): [string, string] => [each.key, each.name]),
        ],
        pickQuantity,
      )}
      {select(
        "Unit",
        mapped?.unit ?? "",
        quantity
          ? unitsOf(readableOf(quantity).kind).map((unit): [string, string] => [unit.key, unit.label])
          : [["", "–"]],
        (unit) => mapped && set({ ...mapped, unit }),
        !mapped,
      )}
      {select(
        "Station",
        mapped?.station ?? "",
        mapped
          ? [
              ...(mapped.station ? [] : [["", "choose"] as [string, string]]),
              ...stations.map((station): [string, string] => [station.id, station.name]),
            ]
          : [["", "–"]],
        (station) => mapped && set({ ...mapped, station }),
        !mapped,
      )}
      {select(
        "Point",
        String(mapped?.point ?? 1),
        [1, 2, 3, 4, 5, 6, 7, 8].map((each): [string, string] => [String(each), `pt ${each}`]),
        (point) => mapped && set({ ...mapped, point: Number(point) }),
        !mapped,
      )}
      {select(
        "Instrument",
        mapped?.instrument ?? "",
        [
          ["", "not listed"],
          ...(data ?? [])
            .filter((each) => each.quantities.includes(quantity))
            .map((each): [string, string] => [String(each.id), each.name]),
        ],
        (instrument) => mapped && set({ ...mapped, instrument: instrument || null }),
        !mapped,
      )}
    </>
  );
}
