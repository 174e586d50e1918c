import type { Schemas } from "../../api/client";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, number, unitOf } from "../../units/units";

type Point = Schemas["ChartPoint"];

const WIDTH = 260;
const HEIGHT = 170;
const LEFT = 44;
const BOTTOM = 30;

/** The model's chart with today's reading on it, and what the slope makes of the gauge's error. */
export function PortChart({ chart, line }: { chart: Point[]; line: Schemas["StreamLine"] }) {
  const { system } = useUnits();
  const points = [...chart].sort((one, other) => one.port_pa - other.port_pa);
  const [first, last] = [points[0], points[points.length - 1]];
  if (!first || !last) return null;
  const x = (pa: number) =>
    LEFT + ((pa - first.port_pa) / (last.port_pa - first.port_pa)) * (WIDTH - LEFT - 12);
  const y = (flow: number) => HEIGHT - BOTTOM - (flow / last.airflow_m3s) * (HEIGHT - BOTTOM - 12);
  const path = points
    .map((point, at) => `${at ? "L" : "M"}${x(point.port_pa)},${y(point.airflow_m3s)}`)
    .join("");
  const read = line.port_pa != null && line.flow ? { pa: line.port_pa, flow: line.flow } : undefined;
  const shown = (value: number, kind: string) => {
    const unit = unitOf(kind, system);
    return number(fromSi(value, unit), kind === "pressure" && system === "US" ? 2 : 0);
  };
  return (
    <figure className="w-full max-w-[300px] self-center">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img">
        <title>
          {read
            ? `Port chart: ${inWords(read.pa, "pressure", system)} is ${inWords(read.flow.value, "airflow", system)}`
            : "Port chart of this model"}
        </title>
        <path
          d={`M${LEFT},8V${HEIGHT - BOTTOM}H${WIDTH - 8}`}
          fill="none"
          stroke="currentColor"
          strokeOpacity="0.4"
        />
        <path d={path} fill="none" stroke="currentColor" strokeWidth="2.5" />
        {points.map((point) => (
          <circle
            key={point.port_pa}
            cx={x(point.port_pa)}
            cy={y(point.airflow_m3s)}
            r="3.5"
            fill="currentColor"
          />
        ))}
        {read && (
          <g className="text-primary">
            <path
              d={`M${x(read.pa)},${HEIGHT - BOTTOM}V${y(read.flow.value)}H${LEFT}`}
              fill="none"
              stroke="currentColor"
              strokeDasharray="4 3"
              strokeWidth="1.5"
            />
            <path
              d={`M${x(read.pa)},${y(read.flow.value - read.flow.plus_minus)}V${y(read.flow.value + read.flow.plus_minus)}`}
              stroke="currentColor"
              strokeWidth="4"
            />
            <circle cx={x(read.pa)} cy={y(read.flow.value)} r="6" fill="currentColor" />
          </g>
        )}
        <g className="reading" fontSize="12" fill="currentColor">
          <text x={LEFT - 4} y={y(last.airflow_m3s) + 4} textAnchor="end">
            {shown(last.airflow_m3s, "airflow")}
          </text>
          <text x={LEFT - 4} y={HEIGHT - BOTTOM} textAnchor="end">
            0
          </text>
          <text x={LEFT} y={HEIGHT - 12} textAnchor="middle">
            {shown(first.port_pa, "pressure")}
          </text>
          <text x={WIDTH - 10} y={HEIGHT - 12} textAnchor="end">
            {shown(last.port_pa, "pressure")} {unitOf("pressure", system).label}
          </text>
        </g>
      </svg>
      <figcaption className="quiet text-sm">
        Flow in {unitOf("airflow", system).label} by the drop across the ports.
      </figcaption>
    </figure>
  );
}
