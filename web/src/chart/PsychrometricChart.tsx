import { line } from "d3-shape";
import { type KeyboardEvent, memo, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { useCalculation } from "../core/calculate";
import { useWidth } from "../shell/useWidth";
import { useUnits } from "../units/UnitSystem";
import { fromSi, inWords, number, type System, toSi, unitOf } from "../units/units";
import { type AirPoint, ellipse, type Scales, saturated, scales, sizeOf, type Window } from "./geometry";

export interface ChartLine {
  family: string;
  value: number;
  kind: string;
  dry_bulb_c: number[];
  humidity_ratio: number[];
}

export interface Cursor {
  dryBulb: number;
  ratio: number;
}

interface Given {
  lines: ChartLine[];
  families: string[];
  points: AirPoint[];
  window: Window;
  pressure: number;
  cursor: Cursor | undefined;
  move: (cursor: Cursor | undefined) => void;
}

/** Our own drawing. The lines are drawn once; only the cursor moves over them. */
export function PsychrometricChart({ lines, families, points, window, pressure, cursor, move }: Given) {
  const { system } = useUnits();
  const [place, width] = useWidth<HTMLElement>(770);
  const drawn = useMemo(() => scales(window, sizeOf(width)), [window, width]);
  const { size } = drawn;
  const shown = useMemo(
    () => lines.filter((each) => each.family === "saturation" || families.includes(each.family)),
    [lines, families],
  );
  const top = lines.find((each) => each.family === "saturation");
  const svg = useRef<SVGSVGElement>(null);
  const set = (dryBulb: number, ratio: number) => {
    const dry = Math.min(Math.max(dryBulb, window.low), window.high);
    move({ dryBulb: dry, ratio: Math.min(Math.max(ratio, 0), window.top, saturated(top, dry)) });
  };
  const point = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    const scale = size.width / box.width;
    set(
      drawn.x.invert((event.clientX - box.left) * scale),
      drawn.y.invert((event.clientY - box.top) * scale),
    );
  };
  const key = (event: KeyboardEvent) => {
    const here = cursor ?? { dryBulb: points[0]?.dryBulb ?? 20, ratio: points[0]?.ratio ?? 0.008 };
    const reach = event.shiftKey ? 5 : 1;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-0.5, 0],
      ArrowRight: [0.5, 0],
      ArrowUp: [0, 0.0002],
      ArrowDown: [0, -0.0002],
    };
    const step = steps[event.key];
    if (step) set(here.dryBulb + step[0] * reach, here.ratio + step[1] * reach);
    else if (event.key === "Enter") {
      const at = points.findIndex(
        (each) => Math.abs(each.dryBulb - here.dryBulb) < 1e-9 && Math.abs(each.ratio - here.ratio) < 1e-9,
      );
      const next = points[(at + 1) % points.length];
      if (next) move({ dryBulb: next.dryBulb, ratio: next.ratio });
    } else if (event.key === "Escape" && cursor) move(undefined);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <figure ref={place} className="panel mt-1 p-1">
      <svg
        ref={svg}
        viewBox={`0 0 ${size.width} ${size.height}`}
        className="block w-full touch-pan-y"
        role="application"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing that is read with the arrow keys
        tabIndex={0}
        aria-label="Psychrometric chart. Arrow keys move the cursor, Enter goes to the next state."
        onPointerDown={point}
        onPointerMove={(event) => (event.pointerType === "mouse" || event.buttons > 0) && point(event)}
        onKeyDown={key}
      >
        <Lines shown={shown} drawn={drawn} window={window} system={system} />
        <States points={points} drawn={drawn} />
        {cursor && (
          <g pointerEvents="none" className="stroke-base-content" strokeDasharray="2 3">
            <line
              x1={drawn.x(cursor.dryBulb)}
              x2={drawn.x(cursor.dryBulb)}
              y1={drawn.y(cursor.ratio)}
              y2={drawn.y(0)}
            />
            <line
              x1={drawn.x(cursor.dryBulb)}
              x2={drawn.x(window.high)}
              y1={drawn.y(cursor.ratio)}
              y2={drawn.y(cursor.ratio)}
            />
            <circle
              cx={drawn.x(cursor.dryBulb)}
              cy={drawn.y(cursor.ratio)}
              r="5"
              fill="none"
              strokeDasharray=""
            />
          </g>
        )}
      </svg>
      {cursor && <ReadOut cursor={cursor} pressure={pressure} />}
    </figure>
  );
}

const LOOKS: Record<string, { className: string; width: number; dash?: string }> = {
  saturation: { className: "stroke-base-content", width: 2.2 },
  relative_humidity: { className: "stroke-primary", width: 0.8 },
  wet_bulb: { className: "stroke-secondary", width: 0.8, dash: "6 3" },
  enthalpy: { className: "stroke-accent", width: 0.8, dash: "1.5 3" },
  specific_volume: { className: "stroke-info", width: 0.8, dash: "10 3 2 3" },
};

const Lines = memo(function Lines({
  shown,
  drawn,
  window,
  system,
}: {
  shown: ChartLine[];
  drawn: Scales;
  window: Window;
  system: System;
}) {
  const path = line<[number, number]>(
    ([dry]) => drawn.x(dry),
    ([, ratio]) => drawn.y(ratio),
  );
  const dry = unitOf("temperature", system);
  const wet = unitOf("humidity_ratio", system);
  const { size } = drawn;
  const dryTicks = ticks(fromSi(window.low, dry), fromSi(window.high, dry), Math.min(size.width / 60, 10));
  const wetTicks = ticks(0, fromSi(window.top, wet), 8);
  const [floor, right] = [size.height - size.bottom, size.width - size.right];
  return (
    <g className="text-[13px]">
      {dryTicks.map((tick) => {
        const x = drawn.x(toSi(tick, dry));
        return (
          <g key={tick}>
            <line x1={x} x2={x} y1={floor} y2={size.top} className="stroke-base-300" strokeWidth="0.7" />
            <text x={x} y={floor + 17} textAnchor="middle" className="reading fill-base-content">
              {number(tick, 0)}
            </text>
          </g>
        );
      })}
      {wetTicks.map((tick) => {
        const y = drawn.y(toSi(tick, wet));
        return (
          <g key={tick}>
            <line x1={size.left} x2={right} y1={y} y2={y} className="stroke-base-300" strokeWidth="0.7" />
            <text x={right + 7} y={y + 4} className="reading fill-base-content">
              {number(tick, 0)}
            </text>
          </g>
        );
      })}
      <text x={(size.left + right) / 2} y={size.height - 5} textAnchor="middle" className="fill-base-content">
        Dry bulb, {dry.label}
      </text>
      <text
        transform={`translate(${size.width - 8} ${(size.top + floor) / 2}) rotate(-90)`}
        textAnchor="middle"
        className="fill-base-content"
      >
        Humidity ratio, {wet.label}
      </text>
      {shown.map((each) => {
        const look = LOOKS[each.family] ?? { className: "stroke-base-300", width: 1 };
        const pairs = each.dry_bulb_c.map((value, index): [number, number] => [
          value,
          each.humidity_ratio[index] ?? 0,
        ]);
        const label = labelOf(each, pairs, drawn, system);
        return (
          <g key={`${each.family}/${each.value}`}>
            <path
              d={path(pairs) ?? undefined}
              fill="none"
              className={look.className}
              strokeWidth={look.width}
              strokeDasharray={look.dash}
            />
            {label && (
              <text
                x={label.x}
                y={label.y}
                textAnchor={label.anchor}
                className="reading fill-base-content stroke-base-100 text-[11px]"
                strokeWidth="3"
                paintOrder="stroke"
              >
                {label.text}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

/** A line's figure at the end where it stands free. */
function labelOf(each: ChartLine, pairs: [number, number][], drawn: Scales, system: System) {
  const unit = unitOf(each.kind, system);
  const first = pairs[0];
  const last = pairs.at(-1);
  if (!first || !last || each.family === "saturation") return undefined;
  const shown = number(
    fromSi(each.value, unit),
    each.family === "specific_volume" ? Math.min(unit.decimals, 2) : 0,
  );
  if (each.family === "relative_humidity") {
    if (Math.round(each.value * 10) % 2 !== 0) return undefined;
    const at = pairs[Math.max(pairs.length - 3, 0)] ?? last;
    return { text: `${shown} %`, x: drawn.x(at[0]) - 4, y: drawn.y(at[1]) + 4, anchor: "end" as const };
  }
  if (each.family === "wet_bulb") {
    return { text: shown, x: drawn.x(first[0]) - 4, y: drawn.y(first[1]) - 3, anchor: "end" as const };
  }
  if (each.family === "enthalpy") {
    return { text: shown, x: drawn.x(first[0]) - 24, y: drawn.y(first[1]) - 17, anchor: "end" as const };
  }
  return { text: shown, x: drawn.x(last[0]), y: drawn.y(last[1]) - 4, anchor: "middle" as const };
}

export function ticks(low: number, high: number, about: number): number[] {
  const rough = (high - low) / about;
  const step = [1, 2, 5, 10, 20, 50].find((each) => each >= rough) ?? 100;
  const found: number[] = [];
  for (let tick = Math.ceil(low / step) * step; tick <= high + 1e-9; tick += step) found.push(tick);
  return found;
}

/** What happens to the air: from which state to which. */
const PROCESSES: [string, string][] = [
  ["return", "mixed"],
  ["outdoor", "mixed"],
  ["mixed", "supply"],
  ["extract", "exhaust"],
];

const States = memo(function States({ points, drawn }: { points: AirPoint[]; drawn: Scales }) {
  const phases = [...new Set(points.map((point) => point.phase))];
  return (
    <g pointerEvents="none">
      {phases.map((phase) => {
        const own = points.filter((point) => point.phase === phase);
        const left = phase === "as_left";
        const at = (key: string) => own.find((point) => point.key === key);
        const ways = at("mixed") ? PROCESSES : ([...PROCESSES, ["return", "supply"]] as [string, string][]);
        return (
          <g key={phase} className={left ? "stroke-primary fill-primary" : "stroke-secondary fill-secondary"}>
            {ways.map(([from, to]) => {
              const [start, end] = [at(from), at(to)];
              return (
                start &&
                end && <Arrow key={`${from}/${to}`} start={start} end={end} drawn={drawn} dashed={!left} />
              );
            })}
            {own.map((point) => (
              <g key={point.key}>
                <path d={ellipse(point, drawn)} fillOpacity="0.18" strokeWidth="1" />
                <circle
                  cx={drawn.x(point.dryBulb)}
                  cy={drawn.y(point.ratio)}
                  r={left ? 5 : 4.5}
                  className={left ? "" : "fill-base-100"}
                  strokeWidth={left ? 1 : 2.5}
                />
              </g>
            ))}
          </g>
        );
      })}
      {named(points, drawn).map((label) => (
        <text
          key={label.key}
          x={label.x}
          y={label.y}
          className="fill-base-content stroke-base-100 font-semibold text-[14px]"
          strokeWidth="4"
          paintOrder="stroke"
        >
          {label.name}
        </text>
      ))}
    </g>
  );
});

/** Each state's name beside it, once for both phases when they lie close, moved down where it would cover another. */
export function named(points: AirPoint[], drawn: Scales) {
  const taken: { key: string; name: string; x: number; y: number }[] = [];
  for (const point of points) {
    const [x, y] = [drawn.x(point.dryBulb) + 11, drawn.y(point.ratio) - 8];
    if (taken.some((other) => other.name === point.name && Math.hypot(other.x - x, other.y - y) < 60))
      continue;
    let free = y;
    while (taken.some((other) => Math.abs(other.y - free) < 14 && Math.abs(other.x - x) < 90)) free += 15;
    taken.push({ key: `${point.phase}/${point.key}`, name: point.name, x, y: free });
  }
  return taken;
}

function Arrow({
  start,
  end,
  drawn,
  dashed,
}: {
  start: AirPoint;
  end: AirPoint;
  drawn: Scales;
  dashed: boolean;
}) {
  const [x1, y1, x2, y2] = [
    drawn.x(start.dryBulb),
    drawn.y(start.ratio),
    drawn.x(end.dryBulb),
    drawn.y(end.ratio),
  ];
  const long = Math.hypot(x2 - x1, y2 - y1);
  if (long < 14) return null;
  const [ux, uy] = [(x2 - x1) / long, (y2 - y1) / long];
  const [tx, ty] = [x2 - ux * 8, y2 - uy * 8];
  return (
    <>
      <line
        x1={x1 + ux * 7}
        y1={y1 + uy * 7}
        x2={tx}
        y2={ty}
        strokeWidth="2"
        strokeDasharray={dashed ? "7 4" : undefined}
      />
      <path
        d={`M${tx} ${ty}L${tx - ux * 10 - uy * 5} ${ty - uy * 10 + ux * 5}L${tx - ux * 10 + uy * 5} ${ty - uy * 10 - ux * 5}Z`}
        stroke="none"
      />
    </>
  );
}

const SHOWN: [string, string, string][] = [
  ["relative_humidity", "RH", "relative_humidity"],
  ["wet_bulb_c", "Wet bulb", "temperature"],
  ["dew_point_c", "Dew point", "temperature"],
  ["enthalpy_j_per_kg", "Enthalpy", "enthalpy"],
  ["specific_volume_m3_per_kg", "Volume", "specific_volume"],
];

/** The air under the cursor: place at once, the rest as the core works it out. */
function ReadOut({ cursor, pressure }: { cursor: Cursor; pressure: number }) {
  const { system } = useUnits();
  const [settled, setSettled] = useState(cursor);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(cursor), 120);
    return () => clearTimeout(timer);
  }, [cursor]);
  const air = { dry_bulb_c: settled.dryBulb, humidity_ratio: settled.ratio, pressure_pa: pressure };
  const { data } = useCalculation<Record<string, { value: number }>>("air.state", { air });
  const fresh = settled === cursor ? data : undefined;
  return (
    <figcaption
      aria-live="polite"
      className="flex flex-wrap gap-x-6 gap-y-1 border-base-300 border-t px-3 py-2 print:hidden"
    >
      <Pair name="Dry bulb" value={inWords(cursor.dryBulb, "temperature", system)} />
      <Pair name="Humidity ratio" value={inWords(cursor.ratio, "humidity_ratio", system)} />
      {SHOWN.map(([key, name, kind]) => {
        const given = fresh?.[key];
        return <Pair key={key} name={name} value={given ? inWords(given.value, kind, system) : "…"} />;
      })}
    </figcaption>
  );
}

function Pair({ name, value }: { name: string; value: string }) {
  return (
    <span className="whitespace-nowrap">
      <span className="text-sm quiet">{name}</span> <span className="reading font-semibold">{value}</span>
    </span>
  );
}
