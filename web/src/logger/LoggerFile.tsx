import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, useRef, useState } from "react";
import { csrfToken, type Schemas } from "../api/client";
import { instrumentsQuery } from "../api/queries";
import { ToolHead } from "../live/Probes";
import { clockTime } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { inWords, readable, readableOf, unitsOf } from "../units/units";
import { useVisit } from "../visit/context";

type Look = Schemas["LoggerFile"];
type Mapping = Schemas["FileMapping"];
type Mapped = Mapping["columns"][number];

interface Done {
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

interface Refused {
  event: "refused";
  detail: string;
  path: string;
}

type Event =
  | Done
  | Refused
  | { event: "progress"; lines: number; bad: number }
  | { event: "writing" | "stopped" };

const FORMATS: [Mapping["time_format"], string][] = [
  ["iso", "year-month-day"],
  ["month_day", "month/day/year"],
  ["day_month", "day.month.year"],
  ["epoch_s", "seconds since 1970"],
  ["epoch_ms", "milliseconds since 1970"],
];

/** A logger's CSV file into this visit: look, say what each column holds, check, bring in. */
export function LoggerFile() {
  const { page, openTool } = useVisit();
  const [file, setFile] = useState<File | undefined>();
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      const form = new FormData();
      form.append("file", chosen);
      const answer = await fetch(`/api/v1/visits/${String(page.id)}/logger-files/look`, {
        method: "POST",
        body: form,
        headers: { "X-CSRFToken": csrfToken() },
      });
      const told = await answer.json();
      if (!answer.ok) throw new Error(told.detail ?? "This file can't be read.");
      return told as Look;
    },
  });
  const choose = (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    setFile(chosen);
    look.reset();
    if (chosen) look.mutate(chosen);
  };
  return (
    <div className="space-y-4">
      <ToolHead title="Logger file" close={() => openTool(undefined)} />
      <label className="panel block p-4">
        <span className="mb-2 block">A CSV file of any logger. The same file twice adds nothing.</span>
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv"
          className="file-input touch w-full max-w-lg"
          onChange={choose}
        />
      </label>
      {look.isPending && <p role="status">Looking at the file…</p>}
      {look.isError && (
        <p role="alert" className="rounded border border-error p-2">
          {look.error instanceof TypeError
            ? "No connection: the file can be looked at once the server answers."
            : look.error.message}
        </p>
      )}
      {look.data && file && <Mapper key={file.name + file.size} file={file} look={look.data} />}
    </div>
  );
}

function Mapper({ file, look }: { file: File; look: Look }) {
  const { page } = useVisit();
  const known = useQueryClient();
  const [mapping, setMapping] = useState<Mapping>(() => look.mapping ?? suggested(look));
  const [offset, setOffset] = useState(-new Date().getTimezoneOffset());
  const [progress, setProgress] = useState<Event | undefined>();
  const stop = useRef<AbortController | undefined>(undefined);
  const running = progress?.event === "progress" || progress?.event === "writing";
  const done = progress?.event === "done" ? progress : undefined;

  const send = async (mode: "check" | "all" | "good") => {
    const form = new FormData();
    form.append("file", file);
    form.append("mapping", JSON.stringify(mapping));
    form.append("utc_offset_min", String(offset));
    form.append("mode", mode);
    const control = new AbortController();
    stop.current = control;
    setProgress({ event: "progress", lines: 0, bad: 0 });
    try {
      const answer = await fetch(`/api/v1/visits/${String(page.id)}/logger-files`, {
        method: "POST",
        body: form,
        headers: { "X-CSRFToken": csrfToken() },
        signal: control.signal,
      });
      if (!answer.ok || !answer.body) {
        const told = await answer.json();
        const refusal = told.refusals?.[0];
        setProgress({ event: "refused", detail: told.detail, path: refusal?.path ?? "" });
        return;
      }
      for await (const event of lines(answer.body)) setProgress(event);
      if (mode !== "check") void known.invalidateQueries({ queryKey: ["visit", String(page.id)] });
    } catch (error) {
      const stopped = error instanceof DOMException && error.name === "AbortError";
      setProgress(
        stopped
          ? { event: "stopped" }
          : {
              event: "refused",
              detail: "The connection broke. Nothing was brought in; try again.",
              path: "",
            },
      );
    }
  };
  const change = (next: Mapping) => {
    setMapping(next);
    setProgress(undefined);
  };
  return (
    <div className="space-y-4">
      {look.mapping && (
        <p role="status">A file with these headings was read before: its columns are filled in.</p>
      )}
      <Times look={look} mapping={mapping} change={change} offset={offset} setOffset={setOffset} />
      <Columns
        look={look}
        mapping={mapping}
        change={change}
        refused={progress?.event === "refused" ? progress : undefined}
      />
      {progress?.event === "refused" && (
        <p role="alert" className="rounded border-2 border-error p-2">
          {progress.detail}
        </p>
      )}
      {progress?.event === "stopped" && <p role="status">Stopped. Nothing was brought in.</p>}
      {running ? (
        <div className="panel flex flex-wrap items-center gap-4 p-4">
          <span className="loading loading-spinner" aria-hidden="true" />
          <span role="status">
            {progress?.event === "progress"
              ? `${progress.lines.toLocaleString("en-US")} lines read, ${progress.bad} bad`
              : "Writing…"}
          </span>
          <button type="button" className="btn touch" onClick={() => stop.current?.abort()}>
            Stop
          </button>
        </div>
      ) : (
        <div className="flex flex-wrap gap-2">
          <button
            type="button"
            className={`btn touch text-base ${done ? "" : "btn-primary"}`}
            onClick={() => void send("check")}
          >
            Check the file
          </button>
          {done?.mode === "check" && done.rows > 0 && (
            <button
              type="button"
              className="btn btn-primary touch text-base"
              onClick={() => void send(done.bad ? "good" : "all")}
            >
              {done.bad ? `Bring in the ${done.rows} good lines` : `Bring in all ${done.rows} lines`}
            </button>
          )}
          {done?.mode === "check" && done.bad > 0 && (
            <button type="button" className="btn touch text-base" onClick={() => void send("all")}>
              All or nothing
            </button>
          )}
        </div>
      )}
      {done && <Outcome done={done} mapping={mapping} />}
    </div>
  );
}

/** JSON objects of a stream, one a line. */
async function* lines(body: ReadableStream<Uint8Array>): AsyncGenerator<Event> {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let rest = "";
  for (;;) {
    const { value, done } = await reader.read();
    rest += decoder.decode(value, { stream: !done });
    const parts = rest.split("\n");
    rest = parts.pop() ?? "";
    for (const part of parts) if (part) yield JSON.parse(part) as Event;
    if (done) return;
  }
}

function suggested(look: Look): Mapping {
  return {
    time_columns: look.layout.columns.filter((column) => column.is_time).map((column) => column.index),
    time_format: look.layout.time_format,
    columns: look.layout.columns
      .filter((column) => column.quantity && column.station)
      .map((column) => ({
        index: column.index,
        quantity: column.quantity ?? "",
        unit: column.unit ?? "",
        station: column.station ?? "",
        point: 1,
        instrument: null,
      })),
  };
}

function Times({
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

function Columns({
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

function Outcome({ done, mapping }: { done: Done; mapping: Mapping }) {
  const { system } = useUnits();
  const columns = mapping.columns;
  return (
    <section className="space-y-3" aria-label="What was found">
      <p className="text-lg" role="status">
        {done.mode === "check" ? (
          <>
            <span className="reading font-semibold">{done.rows.toLocaleString("en-US")}</span> good lines,{" "}
            <span className="reading font-semibold">{done.bad}</span> bad.
          </>
        ) : (
          <>
            Brought in: <span className="reading font-semibold">{done.added.toLocaleString("en-US")}</span>{" "}
            new values from {done.rows.toLocaleString("en-US")} lines
            {done.bad > 0 && `, ${done.bad} bad ones left out`}.
          </>
        )}
        {done.first && done.last && ` From ${stamp(done.first)} to ${stamp(done.last)}.`}
        {done.repeated > 0 && ` ${done.repeated} times stand twice: the first counts.`}
      </p>
      {done.gaps.length > 0 && (
        <p>
          <span className="font-semibold">Gaps:</span>{" "}
          {done.gaps
            .slice(0, 5)
            .map(([start, end]) => `${clockTime(start)} to ${clockTime(end)}`)
            .join(", ")}
          {done.gaps.length > 5 && ` and ${done.gaps.length - 5} more`}
        </p>
      )}
      {done.bad_lines.length > 0 && (
        <details className="panel p-3" open>
          <summary className="touch cursor-pointer font-semibold">Bad lines</summary>
          <ul className="mt-1 max-h-56 overflow-y-auto">
            {done.bad_lines.map((line) => (
              <li key={line.line}>
                <span className="reading quiet">{line.line}</span> {line.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
      {done.mode === "check" && done.preview.length > 0 && (
        <div className="panel overflow-x-auto p-3">
          <table className="w-full text-left">
            <thead>
              <tr className="text-sm quiet">
                <th className="pr-4 font-normal">Line</th>
                <th className="pr-4 font-normal">Time here</th>
                {columns.map((column) => (
                  <th key={column.index} className="pr-4 font-normal">
                    {readableOf(column.quantity).name}, {column.station}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="reading">
              {done.preview.map((row) => (
                <tr key={row.line} className="border-base-300 border-t">
                  <td className="pr-4 quiet">{row.line}</td>
                  <td className="pr-4">{stamp(row.at)}</td>
                  {row.values.map((value, index) => (
                    <td key={columns[index]?.index} className="pr-4">
                      {value === null
                        ? "–"
                        : inWords(value, readableOf(columns[index]?.quantity ?? "").kind, system)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

const stamp = (at: string): string =>
  new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "medium" });
