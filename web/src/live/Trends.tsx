import { useEffect, useRef } from "react";
import type uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { useVisit } from "../logbook/context";
import { useUnits } from "../units/UnitSystem";
import { fromSi, readableOf, unitOf } from "../units/units";
import { useLive } from "./useLive";

const HEIGHT_PX = 190;
/** Told apart by dash as well as by colour. */
const LINES: { colour: string; dash: number[] }[] = [
  { colour: "--color-primary", dash: [] },
  { colour: "--color-accent", dash: [9, 4] },
  { colour: "--color-info", dash: [2, 4] },
  { colour: "--color-secondary", dash: [12, 3, 2, 3] },
];

/** How one quantity moved at every station with a probe, drawn as it comes in. */
export function Trends({ quantity = "dry_bulb" }: { quantity?: string }) {
  const { stream, picture, version } = useLive();
  const { page } = useVisit();
  const { system } = useUnits();
  const place = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | undefined>(undefined);
  const unit = unitOf(readableOf(quantity).kind, system);
  const channels = (picture?.channels ?? []).filter(
    (channel) => channel.quantity === quantity && channel.station !== "",
  );
  const shape = channels.map((channel) => channel.key).join("|");
  const names = channels.map((channel) => {
    const station = page.work_up.path.stations.find((each) => each.id === channel.station)?.name;
    return `${station ?? channel.station}${channel.point > 1 ? ` ${channel.point}` : ""}`;
  });
  const named = names.join("|");

  useEffect(() => {
    let gone = false;
    const box = place.current;
    if (!box || shape === "") return;
    void import("uplot").then(({ default: Plot }) => {
      if (gone) return;
      const ink = getComputedStyle(box);
      const colour = (name: string) => ink.getPropertyValue(name).trim();
      const axis = { stroke: colour("--color-base-content"), grid: { stroke: colour("--color-base-300") } };
      const series = named.split("|").map((label, index) => {
        const line = LINES[index % LINES.length] ?? { colour: "--color-primary", dash: [] };
        return { label, stroke: colour(line.colour), width: 2, dash: line.dash, points: { show: false } };
      });
      const options: uPlot.Options = {
        width: box.clientWidth,
        height: HEIGHT_PX,
        legend: { show: false },
        cursor: { show: false },
        axes: [
          { ...axis, size: 30 },
          { ...axis, size: 46 },
        ],
        series: [{}, ...series],
      };
      plot.current = new Plot(options, [[], ...series.map(() => [])], box);
      const watch = new ResizeObserver(() => {
        plot.current?.setSize({ width: box.clientWidth, height: HEIGHT_PX });
      });
      watch.observe(box);
    });
    return () => {
      gone = true;
      plot.current?.destroy();
      plot.current = undefined;
    };
  }, [shape, named]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the trends change in place; the version tells when
  useEffect(() => {
    if (plot.current && stream)
      plot.current.setData(aligned(shape.split("|"), stream.trends, (v) => fromSi(v, unit)));
  }, [version, shape, stream, unit]);

  if (channels.length === 0) return null;
  return (
    <figure className="panel p-2" aria-label={`${readableOf(quantity).name} over time`}>
      <figcaption className="flex flex-wrap items-center gap-x-4 px-1 text-sm">
        <span className="font-semibold">
          {readableOf(quantity).name}, {unit.label}
        </span>
        {names.map((name, index) => {
          const line = LINES[index % LINES.length] ?? LINES[0];
          return (
            <span key={name} className="inline-flex items-center gap-1.5">
              <svg width="28" height="6" aria-hidden="true">
                <path
                  d="M0 3H28"
                  stroke={`var(${line?.colour})`}
                  strokeWidth="2.5"
                  strokeDasharray={line?.dash.join(" ")}
                />
              </svg>
              {name}
            </span>
          );
        })}
      </figcaption>
      <div ref={place} style={{ height: HEIGHT_PX }} />
    </figure>
  );
}

/** Every moment of any channel once, each channel's value there or nothing. */
export function aligned(
  keys: string[],
  trends: Map<string, { times: number[]; values: number[] }>,
  convert: (value: number) => number,
): uPlot.AlignedData {
  const moments = [...new Set(keys.flatMap((key) => trends.get(key)?.times ?? []))].sort((a, b) => a - b);
  const columns = keys.map((key) => {
    const trend = trends.get(key);
    let at = 0;
    return moments.map((moment) => {
      if (!trend || trend.times[at] !== moment) return undefined;
      const value = trend.values[at];
      at += 1;
      return value === undefined ? undefined : convert(value);
    });
  });
  return [moments, ...columns] as uPlot.AlignedData;
}
