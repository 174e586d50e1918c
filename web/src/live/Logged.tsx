import { useMutation, useQuery } from "@tanstack/react-query";
import { ChartSpline } from "lucide-react";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import type { BodyOf } from "../api/entries";
import { loggedQuery } from "../api/queries";
import { calculate } from "../core/calculate";
import { useVisit } from "../logbook/context";
import { type LoggedReading, readBefore } from "../logbook/logbook";
import { clockTime, when } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { fromSi, inWords, type Quantity, readableOf, unitOf } from "../units/units";
import { type Course, pathOf, within } from "./course";

type Series = Omit<Schemas["LoggedSeries"], "course"> & { course: number[][] };

/** What was logged at this station: look at its course, choose a stretch of it, take its average as the reading. */
export function LoggedHere({
  station,
  quantities,
  readings,
}: {
  station: string;
  quantities: string[];
  readings: LoggedReading[];
}) {
  const { page } = useVisit();
  const { data } = useQuery(loggedQuery(String(page.id)));
  const here = (data ?? []).filter((each) => each.station === station && quantities.includes(each.quantity));
  if (here.length === 0) return null;
  return (
    <details className="panel p-3" open={here.some((each) => each.origin === "file")}>
      <summary className="touch flex cursor-pointer items-center gap-2 font-semibold">
        <ChartSpline size={18} aria-hidden="true" /> Logged data
      </summary>
      <ul className="space-y-4">
        {here.map((each) => (
          <li key={each.id}>
            <OneSeries series={each} readings={readings} />
          </li>
        ))}
      </ul>
    </details>
  );
}

const WIDTH = 600;
const HEIGHT = 90;
const STEPS = 200;
/** To begin with: the last tenth, by when most units have settled. */
const LAST = 0.9;

interface Judged {
  mean: Quantity;
  state: string;
  evidence: NonNullable<BodyOf<"reading">["held"]>;
}

const STATES: Record<string, string> = {
  steady: "steady",
  moving: "still moving",
  scattered: "unquiet",
  too_short: "short: under three minutes",
};

function OneSeries({ series, readings }: { series: Series; readings: LoggedReading[] }) {
  const { page, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const [from, setFrom] = useState(LAST * STEPS);
  const [to, setTo] = useState(STEPS);
  const { kind, name } = readableOf(series.quantity);
  const course = series.course as Course;
  const first = Date.parse(series.first);
  const span = Date.parse(series.last) - first;
  const moment = (step: number) => new Date(first + (step / STEPS) * span).toISOString();

  const average = useMutation({
    mutationFn: async () => {
      const samples = await stretch(String(page.id), series, moment(from), moment(to)).catch(() =>
        within(course, from / STEPS, to / STEPS),
      );
      const [begin, end] = [samples[0]?.[0] ?? 0, samples.at(-1)?.[0] ?? 0];
      const judged = await calculate<Judged>("measuring.steadiness", {
        times_s: samples.map(([at]) => at - begin),
        values: samples.map(([, value]) => value),
        quantity: series.quantity,
        window_s: Math.max(end - begin, 1),
      });
      return { ...judged, mean: { ...judged.mean, kind }, at: new Date(end * 1000).toISOString() };
    },
  });
  const found = average.data;
  const take = useMutation({
    mutationFn: async () => {
      if (!found) return;
      const unit = unitOf(kind, system);
      const before = readBefore(readings, series.point, series.quantity);
      const body = {
        station: series.station,
        quantity: series.quantity,
        value: Number(fromSi(found.mean.value, unit).toFixed(unit.decimals + 1)),
        unit: unit.key,
        point: series.point,
        instrument: series.instrument_id ?? null,
        held: found.evidence,
      };
      const again = before ? { replaces: before.id, reason: "average of logged data" } : {};
      await record("reading", body, { ...again, at: found.at });
    },
    onSuccess: () => average.reset(),
  });
  const move = (change: () => void) => {
    change();
    average.reset();
    take.reset();
  };
  const title = `${name}${series.point > 1 ? `, point ${series.point}` : ""}`;
  const values = course.map(([, value]) => value);
  return (
    <section aria-label={`Logged: ${title}`} className="space-y-1">
      <p>
        <span className="font-semibold">{title}</span>{" "}
        <span className="text-sm quiet">
          {series.instrument || (series.origin === "file" ? "from a file" : "live")},{" "}
          {series.count.toLocaleString("en-US")} values, {when(series.first)}
        </span>
      </p>
      <div className="grid grid-cols-[auto_1fr] gap-x-2">
        <div className="flex flex-col justify-between text-right text-sm">
          <span>{inWords(Math.max(...values), kind, system)}</span>
          <span>{inWords(Math.min(...values), kind, system)}</span>
        </div>
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="h-24 w-full border-base-300 border-b border-l"
          role="img"
          aria-label={`Course of ${title}`}
        >
          <rect
            x={(from / STEPS) * WIDTH}
            width={((to - from) / STEPS) * WIDTH}
            y="0"
            height={HEIGHT}
            className="fill-base-300"
          />
          <path
            d={pathOf(course, WIDTH, HEIGHT)}
            className="fill-none stroke-primary"
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
      </div>
      {mayWrite && (
        <>
          <div className="grid gap-x-4 wide:grid-cols-2">
            <Slider
              label="From"
              words={clockTime(moment(from))}
              value={from}
              low={0}
              high={to - 1}
              set={(next) => move(() => setFrom(next))}
            />
            <Slider
              label="To"
              words={clockTime(moment(to))}
              value={to}
              low={from + 1}
              high={STEPS}
              set={(next) => move(() => setTo(next))}
            />
          </div>
          {found ? (
            <div className="flex flex-wrap items-center gap-3">
              <span className="reading font-semibold text-2xl">
                {inWords(found.mean.value, kind, system)}
              </span>
              <span>{STATES[found.state] ?? found.state}</span>
              <button
                type="button"
                className="btn btn-primary touch"
                disabled={take.isPending}
                onClick={() => take.mutate()}
              >
                Take as the reading
              </button>
            </div>
          ) : (
            <button
              type="button"
              className="btn touch"
              disabled={average.isPending}
              onClick={() => average.mutate()}
            >
              Average of this stretch
            </button>
          )}
          {average.isError && <p role="alert">There are no values in this stretch. Make it longer.</p>}
          {take.isSuccess && <p role="status">Taken as the reading.</p>}
        </>
      )}
    </section>
  );
}

/** The samples themselves, where the server answers; the thinned course is the second best. */
async function stretch(visit: string, series: Series, first: string, last: string): Promise<Course> {
  const path = { visit_id: visit, series_id: series.id };
  const found = await ask(
    api.GET("/api/v1/visits/{visit_id}/logged/{series_id}", { params: { path, query: { first, last } } }),
  );
  return found.times_s.map((at, index): [number, number] => [at, found.values[index] ?? Number.NaN]);
}

function Slider({
  label,
  words,
  value,
  low,
  high,
  set,
}: {
  label: string;
  words: string;
  value: number;
  low: number;
  high: number;
  set: (value: number) => void;
}) {
  return (
    <label className="block">
      {label} <span className="reading">{words}</span>
      <input
        type="range"
        className="range range-primary my-2 block w-full"
        min={low}
        max={high}
        value={value}
        aria-valuetext={words}
        onChange={(event) => set(Number(event.target.value))}
      />
    </label>
  );
}
