import type { Traverse } from "../../../logbook/logbook";
import { useUnits } from "../../../units/UnitSystem";
import { inWords } from "../../../units/units";

type Plan = Traverse["plan"];

const LONG_PX = 250;
const EDGE_PX = 34;

/** The duct from the front: holes, every point, what is read, where the probe goes next. A tap on a point reads it again. */
export function PlanDrawing({
  plan,
  values,
  at,
  choose,
}: {
  plan: Plan;
  values: Map<number, number>;
  at: number;
  choose: (point: number) => void;
}) {
  const { system } = useUnits();
  const round = plan.along === "";
  const [wide, high] = round
    ? [plan.duct.diameter_m ?? 1, plan.duct.diameter_m ?? 1]
    : [plan.duct.width_m ?? 1, plan.duct.height_m ?? 1];
  const scale = LONG_PX / Math.max(wide, high);
  const [w, h] = [wide * scale, high * scale];
  const x = (share: number) => EDGE_PX + share * w;
  const y = (share: number) => EDGE_PX + (1 - share) * h;
  const most = Math.max(...values.values(), 0.01);
  const here = plan.points.find((point) => point.number === at);
  const near = plan.points.filter((point) => point.hole === here?.hole);
  const wall = wallOf(plan, here?.hole);
  return (
    <svg
      viewBox={`0 0 ${w + 2 * EDGE_PX} ${h + 2 * EDGE_PX}`}
      width={w + 2 * EDGE_PX}
      height={h + 2 * EDGE_PX}
      className="max-w-full"
      role="img"
      aria-label={`Plan of ${plan.points.length} points; next is point ${at}`}
    >
      {round ? (
        <circle
          cx={x(0.5)}
          cy={y(0.5)}
          r={w / 2}
          className="fill-base-200 stroke-base-content"
          strokeWidth="2"
        />
      ) : (
        <rect
          x={x(0)}
          y={y(1)}
          width={w}
          height={h}
          className="fill-base-200 stroke-base-content"
          strokeWidth="2"
        />
      )}
      {here && wall && (
        <line
          x1={x(wall.x)}
          y1={y(wall.y)}
          x2={x(here.x)}
          y2={y(here.y)}
          className="stroke-accent"
          strokeWidth="4"
          strokeLinecap="round"
        />
      )}
      {plan.holes.map((hole) => {
        const place = wallOf(plan, hole.number);
        return (
          place && (
            <text
              key={hole.number}
              x={x(place.x) + (place.dx ?? 0)}
              y={y(place.y) + (place.dy ?? 0)}
              textAnchor="middle"
              dominantBaseline="middle"
              className={`text-[15px] ${hole.number === here?.hole ? "fill-base-content font-semibold" : "fill-base-content"}`}
            >
              {hole.number}
            </text>
          )
        );
      })}
      {plan.points.map((point) => {
        const value = values.get(point.number);
        const current = point.number === at;
        const same = near.includes(point);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the keypad and the order do the same without a pointer
          <g key={point.number} onClick={() => choose(point.number)} className="cursor-pointer">
            <circle cx={x(point.x)} cy={y(point.y)} r={14} fill="transparent" />
            <circle
              cx={x(point.x)}
              cy={y(point.y)}
              r={value === undefined ? 4.5 : 3.5 + 6 * Math.max(value / most, 0)}
              className={
                value !== undefined
                  ? "fill-primary"
                  : same
                    ? "fill-base-100 stroke-accent"
                    : "fill-base-100 stroke-base-content"
              }
              strokeWidth="2"
            />
            {current && (
              <circle
                cx={x(point.x)}
                cy={y(point.y)}
                r={13}
                fill="none"
                className="stroke-accent"
                strokeWidth="3"
              />
            )}
            <title>
              {`Point ${point.number}${value === undefined ? "" : `: ${inWords(value, "velocity", system)}`}`}
            </title>
          </g>
        );
      })}
    </svg>
  );
}

/** Where the probe enters for a hole, as shares, and which way its number stands off. */
export function wallOf(
  plan: Plan,
  hole: number | undefined,
): { x: number; y: number; dx?: number; dy?: number } | undefined {
  const own = plan.points.filter((point) => point.hole === hole);
  const shallow = own.reduce(
    (least, point) => (point.depth_m < least.depth_m ? point : least),
    own[0] ?? PLACEHOLDER,
  );
  if (shallow === PLACEHOLDER) return undefined;
  if (plan.along === "width") return { x: shallow.x, y: 1, dy: -17 };
  if (plan.along === "height") return { x: 0, y: shallow.y, dx: -17 };
  const [dx, dy] = [shallow.x - 0.5, shallow.y - 0.5];
  const reach = Math.hypot(dx, dy) || 1;
  return { x: 0.5 + dx / reach / 2, y: 0.5 + dy / reach / 2, dx: (17 * dx) / reach, dy: (-17 * dy) / reach };
}

const PLACEHOLDER = { number: 0, hole: 0, depth_m: 0, mark_m: 0, x: 0, y: 0 };
