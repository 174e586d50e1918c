import { scaleLinear } from "d3-scale";
import { useCalculation } from "../../core/calculate";
import { Trouble } from "../../logbook/controller";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, number, type System, unitOf } from "../../units/units";
import { type Page, WithEconomizer } from "./useEconomizer";

interface Point {
  outdoor_c: number;
  mode: string;
  position: number;
  outdoor_share: number;
  mixed_c: number;
  supply_c: number;
  stages: number;
}

interface Mapped {
  points: Point[];
  today: Point | null;
  free_from_c: { value: number };
  free_up_to_c: { value: number };
}

const { modes: MODES, heating_below_c, cooling_from_c } = tables.economizer;

/** Each mode its own hatch, so that it can be told without colour. */
const TINTS: Record<string, string> = {
  heating: "var(--color-accent)",
  minimum: "var(--color-base-300)",
  free: "var(--color-primary)",
  free_and_compressor: "var(--color-info)",
  compressor: "var(--color-secondary)",
};

const WIDTH = 760;
const EDGE = { left: 46, right: 12 };
const ROWS = { modes: 18, found: 40, damper: 66, air: 196, stages: 340, axis: 388 };

/** What the unit does at every outdoor temperature; as planned against as found; today marked. */
export default function ModeMap() {
  return <WithEconomizer>{(page) => <MapOf page={page} />}</WithEconomizer>;
}

function useMap(page: Page, which: "planned" | "as_found") {
  const body = {
    configuration: page[which],
    return_c: page.day.return_c,
    return_rh: page.day.return_rh,
    outdoor_rh: page.day.outdoor_rh,
    pressure_pa: page.day.pressure_pa,
    today_c: page.day.outdoor_c,
    reads: page.reads,
  };
  return useCalculation<Mapped>("economizer.mode_map", body, { kept: true });
}

function MapOf({ page }: { page: Page }) {
  const { system } = useUnits();
  const planned = useMap(page, "planned");
  const found = useMap(page, "as_found");
  if (planned.error) return <Trouble error={planned.error} />;
  if (!planned.data) return <p className="quiet">Drawing the map.</p>;
  const { today } = planned.data;
  return (
    <div className="space-y-3">
      {today && (
        <p className="panel p-3">
          <span className="quiet">
            {page.day_known ? "Today" : "On a mild day"}, {inWords(today.outdoor_c, "temperature", system)}{" "}
            outside:
          </span>{" "}
          <strong className="text-lg">{MODES[today.mode]}</strong>, damper at{" "}
          <span className="reading font-semibold">{inWords(today.position, "share", system)}</span>, mixed air{" "}
          <span className="reading">{inWords(today.mixed_c, "temperature", system)}</span>, supply{" "}
          <span className="reading">{inWords(today.supply_c, "temperature", system)}</span>
          {today.stages > 0 && <>, compressor {inWords(today.stages, "share", system)}</>}.
        </p>
      )}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a narrow screen scrolls it by keyboard too */}
      <figure className="panel overflow-x-auto p-2" tabIndex={0}>
        <MapDrawing planned={planned.data} found={found.data} system={system} />
        <figcaption className="flex flex-wrap gap-x-4 gap-y-1 px-1 pt-1 text-sm">
          {Object.entries(MODES).map(([key, name]) => (
            <span key={key} className="inline-flex items-center gap-1.5">
              <svg width="22" height="12" aria-hidden="true">
                <rect width="22" height="12" fill={TINTS[key]} fillOpacity={0.75} />
                <rect width="22" height="12" fill={`url(#hatch-${key})`} />
              </svg>
              {name}
            </span>
          ))}
          <span>Thick line planned, thin dashed line as found.</span>
        </figcaption>
      </figure>
      <p className="text-sm quiet">
        Steady operation. The rooms need heat below {inWords(heating_below_c, "temperature", system)} and
        cooling from {inWords(cooling_from_c, "temperature", system)} outside;{" "}
        {page.reads.length > 0
          ? "outdoor share as measured"
          : "an ordinary damper's curve until its share is measured"}
        .
      </p>
    </div>
  );
}

function MapDrawing({
  planned,
  found,
  system,
}: {
  planned: Mapped;
  found: Mapped | undefined;
  system: System;
}) {
  const unit = unitOf("temperature", system);
  const shown = (celsius: number) => fromSi(celsius, unit);
  const x = scaleLinear([shown(-20), shown(45)], [EDGE.left, WIDTH - EDGE.right]);
  const share = scaleLinear([0, 1], [ROWS.air - 18, ROWS.damper + 4]);
  const air = scaleLinear([shown(0), shown(40)], [ROWS.stages - 22, ROWS.air + 12]).clamp(true);
  const stage = scaleLinear([0, 1], [ROWS.axis - 12, ROWS.stages + 4]);
  const line = (points: Point[], value: (point: Point) => number) =>
    points
      .map(
        (point, index) =>
          `${index ? "L" : "M"}${x(shown(point.outdoor_c)).toFixed(1)} ${value(point).toFixed(1)}`,
      )
      .join("");
  const ticks = x.ticks(8);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 412`}
      className="w-full min-w-[760px]"
      role="img"
      aria-label={inOneSentence(planned, system)}
    >
      <defs>
        {Object.keys(MODES).map((key, index) => (
          <pattern
            key={key}
            id={`hatch-${key}`}
            width={6 + index * 2}
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${index * 40})`}
          >
            {index !== 1 && (
              <line
                x1="0"
                y1="0"
                x2="0"
                y2="6"
                stroke="var(--color-base-100)"
                strokeWidth="1.4"
                strokeOpacity={0.6}
              />
            )}
          </pattern>
        ))}
      </defs>
      <Band points={planned.points} y={ROWS.modes} height={20} label="planned" x={(c) => x(shown(c))} />
      {found && (
        <Band points={found.points} y={ROWS.found} height={10} label="as found" x={(c) => x(shown(c))} />
      )}
      {ticks.map((tick) => (
        <g key={tick}>
          <line
            x1={x(tick)}
            x2={x(tick)}
            y1={ROWS.damper}
            y2={ROWS.axis - 12}
            stroke="var(--color-base-300)"
          />
          <text x={x(tick)} y={ROWS.axis + 6} textAnchor="middle" className="tick">
            {number(tick, 0)}
          </text>
        </g>
      ))}
      <text x={WIDTH - EDGE.right} y={ROWS.axis + 22} textAnchor="end" className="tick">
        Outdoor air, {unit.label}
      </text>
      <Axis y={share} ticks={[0, 0.5, 1]} tell={(value) => `${value * 100}`} />
      <text x={EDGE.left + 4} y={ROWS.damper + 10} className="tick">
        % damper (line), outdoor share (dots)
      </text>
      {found && <path d={line(found.points, (p) => share(p.position))} {...thin} />}
      <path
        d={line(planned.points, (p) => share(p.outdoor_share))}
        fill="none"
        stroke="var(--color-info)"
        strokeWidth="2.5"
        strokeDasharray="1 5"
        strokeLinecap="round"
      />
      <path
        d={line(planned.points, (p) => share(p.position))}
        fill="none"
        stroke="var(--color-primary)"
        strokeWidth="3"
      />
      <Axis y={air} ticks={air.ticks(4)} tell={(value) => number(value, 0)} />
      <text x={EDGE.left + 4} y={ROWS.air + 8} className="tick">
        {unit.label} supply (line), mixed (dashes)
      </text>
      {found && <path d={line(found.points, (p) => air(shown(p.supply_c)))} {...thin} />}
      <path
        d={line(planned.points, (p) => air(shown(p.mixed_c)))}
        fill="none"
        stroke="var(--color-secondary)"
        strokeWidth="2"
        strokeDasharray="7 4"
      />
      <path
        d={line(planned.points, (p) => air(shown(p.supply_c)))}
        fill="none"
        stroke="var(--color-accent)"
        strokeWidth="3"
      />
      <Axis y={stage} ticks={[0, 1]} tell={(value) => `${value * 100}`} />
      <text x={EDGE.left + 4} y={ROWS.stages + 2} className="tick">
        % compressor
      </text>
      <path
        d={line(planned.points, (p) => stage(p.stages))}
        fill="none"
        stroke="var(--color-base-content)"
        strokeWidth="2"
      />
      {planned.today && (
        <g>
          <line
            x1={x(shown(planned.today.outdoor_c))}
            x2={x(shown(planned.today.outdoor_c))}
            y1={ROWS.modes - 4}
            y2={ROWS.axis - 12}
            stroke="var(--color-base-content)"
            strokeWidth="2"
            strokeDasharray="4 3"
          />
          <text
            x={x(shown(planned.today.outdoor_c))}
            y={ROWS.modes - 7}
            textAnchor="middle"
            className="tick"
            fontWeight={700}
          >
            today
          </text>
        </g>
      )}
    </svg>
  );
}

const thin = {
  fill: "none",
  stroke: "var(--color-base-content)",
  strokeWidth: 1.5,
  strokeDasharray: "5 4",
  strokeOpacity: 0.75,
};

function Axis({
  y,
  ticks,
  tell,
}: {
  y: (value: number) => number;
  ticks: number[];
  tell: (value: number) => string;
}) {
  return (
    <>
      {ticks.map((tick) => (
        <g key={tick}>
          <line
            x1={EDGE.left}
            x2={WIDTH - EDGE.right}
            y1={y(tick)}
            y2={y(tick)}
            stroke="var(--color-base-300)"
          />
          <text x={EDGE.left - 6} y={y(tick) + 4} textAnchor="end" className="tick">
            {tell(tick)}
          </text>
        </g>
      ))}
    </>
  );
}

/** Runs of one mode as blocks. */
export function runsOf(points: Point[]): { mode: string; from: number; to: number }[] {
  const runs: { mode: string; from: number; to: number }[] = [];
  for (const point of points) {
    const last = runs.at(-1);
    if (last && last.mode === point.mode) last.to = point.outdoor_c;
    else runs.push({ mode: point.mode, from: last?.to ?? point.outdoor_c, to: point.outdoor_c });
  }
  return runs;
}

function Band({
  points,
  y,
  height,
  label,
  x,
}: {
  points: Point[];
  y: number;
  height: number;
  label: string;
  x: (celsius: number) => number;
}) {
  return (
    <g>
      {runsOf(points).map((run) => (
        <g key={`${run.mode}${run.from}`}>
          <rect
            x={x(run.from)}
            y={y}
            width={Math.max(x(run.to) - x(run.from), 1)}
            height={height}
            fill={TINTS[run.mode]}
            fillOpacity={0.75}
          />
          <rect
            x={x(run.from)}
            y={y}
            width={Math.max(x(run.to) - x(run.from), 1)}
            height={height}
            fill={`url(#hatch-${run.mode})`}
          />
        </g>
      ))}
      <text
        x={EDGE.left - 4}
        y={y + height - 2}
        textAnchor="end"
        fontSize={11}
        fill="var(--color-base-content)"
      >
        {label === "planned" ? "plan" : "found"}
      </text>
    </g>
  );
}

function inOneSentence(planned: Mapped, system: System): string {
  const runs = runsOf(planned.points)
    .map((run) => `${MODES[run.mode]} up to ${inWords(run.to, "temperature", system)}`)
    .join(", ");
  return `Modes by outdoor temperature, as planned: ${runs}.`;
}
