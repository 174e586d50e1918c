import { useQuery } from "@tanstack/react-query";
import { instrumentsQuery } from "../../../api/queries";
import { useVisit } from "../../../logbook/context";
import { readable, readableOf, unitsOf } from "../../../units/units";
import type { Look, Mapped, Mapping, Refused } from "./file";

const FORMATS: [Mapping["time_format"], string][] = [
  ["iso", "year-month-day"],
  ["month_day", "month/day/year"],
  ["day_month", "day.month.year"],
  ["epoch_s", "seconds since 1970"],
  ["epoch_ms", "milliseconds since 1970"],
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
      <label className="block">
        <span className="mb-1 block text-sm">Dates are written as</span>
        <select
          className="select touch w-full"
          value={mapping.time_format}
          onChange={(event) =>
            change({ ...mapping, time_format: event.target.value as Mapping["time_format"] })
          }
        >
          {FORMATS.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
        {look.layout.time_unsure && (
          <span className="block text-sm">
            Day or month first? The file does not tell. Check the preview.
          </span>
        )}
      </label>
      <label className="block">
        <span className="mb-1 block text-sm">The logger's clock, hours from UTC</span>
        <input
          className="input touch reading w-full"
          inputMode="decimal"
          defaultValue={offset / 60}
          onChange={(event) => {
            const hours = Number(event.target.value.replace(",", ".").replace("−", "-"));
            if (!Number.isNaN(hours) && Math.abs(hours) <= 14) setOffset(Math.round(hours * 60));
          }}
        />
      </label>
    </section>
  );
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
          const wrong = at >= 0 && refused?.path.startsWith(`mapping.columns.${at}`);
          return (
            <li
              key={column.index}
              className={`grid items-center gap-2 p-3 wide:grid-cols-[1.2fr_1.3fr_5.5rem_1.2fr_5rem_1.1fr] ${wrong ? "outline-2 outline-error" : ""}`}
            >
              <div className="min-w-0">
                <p className="truncate font-semibold">{column.heading}</p>
                <p className="reading truncate text-sm quiet">{column.sample}</p>
              </div>
              <ColumnChoice
                heading={column.heading}
                fallback={{
                  index: column.index,
                  quantity: column.quantity ?? "",
                  unit: column.unit ?? "",
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
    <select
      aria-label={`${label} of ${heading}`}
      className="select touch w-full truncate pr-8 pl-2"
      value={value}
      disabled={off}
      onChange={(event) => pick(event.target.value)}
    >
      {options.map(([key, name]) => (
        <option key={key} value={key}>
          {name}
        </option>
      ))}
    </select>
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
    const station = able.some((each) => each.id === before) ? before : (able[0]?.id ?? "");
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
        mapped ? stations.map((station): [string, string] => [station.id, station.name]) : [["", "–"]],
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
