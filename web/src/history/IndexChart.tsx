import type { Schemas } from "../api/client";
import { useWidth } from "../shell/useWidth";
import { monthOf } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { fromSi, unitOf } from "../units/units";
import { AXES, axesOf, type Dot } from "./scale";

type System = Schemas["HistorySystem"];
type Index = Schemas["HistoryIndex"];

interface Placed {
  x: number;
  y: number;
  filled: boolean;
}

/** One sign a system, told apart by shape first. */
export const SHAPES = [
  ({ x, y, filled }: Placed) => <circle cx={x} cy={y} r={6} {...ink("var(--color-primary)", filled)} />,
  ({ x, y, filled }: Placed) => (
    <rect x={x - 4.5} y={y - 4.5} width={9} height={9} {...ink("var(--color-secondary)", filled)} />
  ),
  ({ x, y, filled }: Placed) => <path d={`M${x} ${y - 6}l6 11h-12z`} {...ink("var(--color-info)", filled)} />,
  ({ x, y, filled }: Placed) => (
    <path d={`M${x} ${y - 6}l6 6l-6 6l-6 -6z`} {...ink("var(--color-accent)", filled)} />
  ),
];

const ink = (colour: string, filled: boolean) => ({
  fill: filled ? colour : "var(--color-base-100)",
  stroke: colour,
  strokeWidth: 2,
});

interface Marked extends Dot {
  filled: boolean;
  key: string;
}

/** As found counts as superseded where the same visit was left otherwise. */
function dotsOf(system: System, key: string): Marked[] {
  const left = new Set(
    system.visits.filter((visit) => visit.phase === "as_left").map((visit) => String(visit.visit)),
  );
  return system.visits.flatMap((visit) => {
    const value = visit.values[key];
    if (!value) return [];
    const superseded = visit.phase === "as_found" && left.has(String(visit.visit));
    return [
      {
        at: Date.parse(String(visit.at)),
        value: value.value,
        plusMinus: value.plus_minus,
        filled: !superseded,
        key: String(visit.visit) + visit.phase,
      },
    ];
  });
}

/** One number over time, with half-widths, the limits where there are some, and sister systems on the same axes. */
export function IndexChart({ index, own, sisters }: { index: Index; own: System; sisters: System[] }) {
  const { system } = useUnits();
  const unit = unitOf(index.kind, system);
  const inUnit = (value: number | null) => (value === null ? null : fromSi(value, unit));
  const series = [own, ...sisters].map((each) =>
    dotsOf(each, index.key).map((dot) => ({
      ...dot,
      value: fromSi(dot.value, unit),
      plusMinus: dot.plusMinus / unit.factor,
    })),
  );
  const [low, high] = [inUnit(index.low), inUnit(index.high)];
  const [place, width] = useWidth<HTMLDivElement>(AXES.width);
  const axes = axesOf(series.flat(), [low, high], undefined, width);
  const ticks = axes.y.ticks(4);
  const tell = axes.y.tickFormat(4);
  const edge = width - AXES.right;
  return (
    <div ref={place} className="mt-1">
      <svg
        width={width}
        height={AXES.height}
        className="max-w-full"
        role="img"
        aria-label={`${index.name} over ${series[0]?.length ?? 0} measurements; the table below has the numbers`}
      >
        {low !== null || high !== null ? (
          <rect
            x={AXES.left}
            width={edge - AXES.left}
            y={high === null ? AXES.top : axes.y(high)}
            height={
              (low === null ? AXES.height - AXES.bottom : axes.y(low)) -
              (high === null ? AXES.top : axes.y(high))
            }
            fill="var(--color-success)"
            fillOpacity={0.14}
          />
        ) : null}
        {ticks.map((tick) => (
          <g key={tick}>
            <line
              x1={AXES.left}
              x2={edge}
              y1={axes.y(tick)}
              y2={axes.y(tick)}
              stroke="var(--color-base-300)"
            />
            <text
              x={AXES.left - 6}
              y={axes.y(tick) + 4}
              textAnchor="end"
              fontSize={12}
              fill="var(--color-base-content)"
            >
              {tell(tick).replace("-", "−")}
            </text>
          </g>
        ))}
        {axes.x.ticks(width < 320 ? 2 : 4).map((tick) => (
          <text
            key={tick.getTime()}
            x={axes.x(tick)}
            y={AXES.height - 8}
            textAnchor="middle"
            fontSize={12}
            fill="var(--color-base-content)"
          >
            {monthOf(tick)}
          </text>
        ))}
        {[...series.entries()].reverse().map(([which, dots]) => {
          const Shape = SHAPES[which % SHAPES.length];
          return dots.map((dot) => (
            <g key={dot.key} opacity={which === 0 ? 1 : 0.75}>
              <line
                x1={axes.x(dot.at)}
                x2={axes.x(dot.at)}
                y1={axes.y(dot.value - dot.plusMinus)}
                y2={axes.y(dot.value + dot.plusMinus)}
                stroke="var(--color-base-content)"
                strokeOpacity={0.6}
                strokeWidth={1.5}
              />
              {Shape && <Shape x={axes.x(dot.at)} y={axes.y(dot.value)} filled={dot.filled} />}
            </g>
          ));
        })}
      </svg>
    </div>
  );
}
