import { useEffect, useRef } from "react";
import type uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Due, Sample } from "../../logbook/running";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, unitOf } from "../../units/units";

const HEIGHT_PX = 150;

interface Line {
  point: string;
  name: string;
  colour: string;
  dash: number[];
}

/** Told apart by dash as well as by colour. */
const CHARTS: { title: string; kind: string; lines: Line[] }[] = [
  {
    title: "Damper, compressor, outdoor share",
    kind: "share",
    lines: [
      { point: "damper_position", name: "damper", colour: "--color-primary", dash: [] },
      { point: "compressor", name: "compressor", colour: "--color-secondary", dash: [9, 4] },
      { point: "outdoor_share", name: "outdoor share", colour: "--color-info", dash: [2, 4] },
    ],
  },
  {
    title: "Sensors",
    kind: "temperature",
    lines: [
      { point: "mixed_temperature", name: "mixed", colour: "--color-primary", dash: [] },
      { point: "supply_temperature", name: "supply", colour: "--color-accent", dash: [9, 4] },
      { point: "outdoor_temperature", name: "outdoor", colour: "--color-info", dash: [2, 4] },
      { point: "return_temperature", name: "return", colour: "--color-secondary", dash: [12, 3, 2, 3] },
    ],
  },
];

/** A test's course: what is due lies as a band behind the line it belongs to. */
export function RunChart({
  samples,
  version,
  expected,
}: {
  samples: Sample[];
  version: number;
  expected: Due[];
}) {
  return (
    <div className="grid gap-2 2xl:grid-cols-2">
      {CHARTS.map((chart) => (
        <OneChart key={chart.title} {...chart} samples={samples} version={version} expected={expected} />
      ))}
    </div>
  );
}

function OneChart({
  title,
  kind,
  lines,
  samples,
  version,
  expected,
}: (typeof CHARTS)[number] & { samples: Sample[]; version: number; expected: Due[] }) {
  const { system } = useUnits();
  const place = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | undefined>(undefined);
  const unit = unitOf(kind, system);
  const due = useRef<Due[]>([]);
  due.current = expected.filter((each) => each.point === lines[0]?.point);
  const rows = useRef<uPlot.AlignedData>([[]]);
  rows.current = columns(samples, lines, (value) => fromSi(value, unit));

  useEffect(() => {
    let gone = false;
    let watch: ResizeObserver | undefined;
    const box = place.current;
    if (!box) return;
    void import("uplot").then(({ default: Plot }) => {
      if (gone) return;
      const ink = getComputedStyle(box);
      const colour = (name: string) => ink.getPropertyValue(name).trim();
      const axis = { stroke: colour("--color-base-content"), grid: { stroke: colour("--color-base-300") } };
      const options: uPlot.Options = {
        width: box.clientWidth,
        height: HEIGHT_PX,
        legend: { show: false },
        cursor: { show: false },
        scales: {
          x: { time: false },
          ...(kind === "share" ? { y: { range: [-3, 103] as [number, number] } } : {}),
        },
        axes: [
          { ...axis, size: 30, values: (_, ticks) => ticks.map((tick) => `${tick} s`) },
          { ...axis, size: 46 },
        ],
        series: [
          {},
          ...lines.map((line) => ({
            label: line.name,
            stroke: colour(line.colour),
            width: 2,
            dash: line.dash,
            points: { show: false },
          })),
        ],
        hooks: { drawAxes: [(chart) => paintBand(chart, due.current, unit, colour("--color-success"))] },
      };
      plot.current = new Plot(options, rows.current, box);
      watch = new ResizeObserver(() => plot.current?.setSize({ width: box.clientWidth, height: HEIGHT_PX }));
      watch.observe(box);
    });
    return () => {
      gone = true;
      watch?.disconnect();
      plot.current?.destroy();
      plot.current = undefined;
    };
  }, [kind, lines, unit]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the samples change in place; the version tells when
  useEffect(() => {
    const frame = requestAnimationFrame(() => plot.current?.setData(rows.current));
    return () => cancelAnimationFrame(frame);
  }, [version, unit]);

  return (
    <figure className="panel p-2" aria-label={`${title} over time`}>
      <figcaption className="flex flex-wrap items-center gap-x-4 px-1 text-sm">
        <span className="font-semibold">
          {title}, {unit.label}
        </span>
        {lines.map((line) => (
          <span key={line.point} className="inline-flex items-center gap-1.5">
            <svg width="28" height="6" aria-hidden="true">
              <path
                d="M0 3H28"
                stroke={`var(${line.colour})`}
                strokeWidth="2.5"
                strokeDasharray={line.dash.join(" ")}
              />
            </svg>
            {line.name}
          </span>
        ))}
      </figcaption>
      <div ref={place} style={{ height: HEIGHT_PX }} />
    </figure>
  );
}

function paintBand(chart: uPlot, due: Due[], unit: { factor: number; offset: number }, colour: string): void {
  const { ctx, bbox } = chart;
  for (const each of due) {
    const edge = (value: number | null | undefined, other: number) =>
      typeof value === "number" ? chart.valToPos((value - unit.offset) / unit.factor, "y", true) : other;
    const top = edge(each.high, bbox.top);
    const bottom = edge(each.low, bbox.top + bbox.height);
    ctx.save();
    ctx.globalAlpha = 0.18;
    ctx.fillStyle = colour;
    ctx.fillRect(
      bbox.left,
      Math.max(top, bbox.top),
      bbox.width,
      Math.max(bottom - Math.max(top, bbox.top), 3),
    );
    ctx.restore();
  }
}

/** Time and one column a line; a value that is not there leaves a gap. */
export function columns(
  samples: Sample[],
  lines: { point: string }[],
  convert: (value: number) => number,
): uPlot.AlignedData {
  return [
    samples.map((sample) => sample.at_s),
    ...lines.map((line) =>
      samples.map((sample) => {
        const value = sample.values[line.point];
        return value === undefined || value < -50 || value > 110 ? null : convert(value);
      }),
    ),
  ] as uPlot.AlignedData;
}
