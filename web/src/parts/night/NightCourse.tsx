import { useWidth } from "../../shell/useWidth";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, number, unitOf } from "../../units/units";
import type { Planned, Setup } from "./useNight";

const HEIGHT = 260;
const LEFT = 40;
const FOOT = 60;

/** The night hour by hour: outdoors, rooms and their mass as lines, the blower as steps below. */
export function NightCourse({ found, setup }: { found: Planned; setup: Setup }) {
  const { system } = useUnits();
  const [box, width] = useWidth<HTMLElement>(640);
  const unit = unitOf("temperature", system);
  const { plan } = found.plan;
  const hours = found.outdoor_c.length;
  const lines = [
    { name: "outdoors", values: found.outdoor_c, dash: "2 4", className: "text-info" },
    { name: "walls, floor", values: plan.mass_c.slice(0, hours), dash: "8 4", className: "" },
    { name: "the rooms", values: plan.air_c.slice(0, hours), dash: "", className: "text-primary" },
  ];
  const all = lines.flatMap((line) => line.values).map((value) => fromSi(value, unit));
  const [least, most] = [Math.floor(Math.min(...all)), Math.ceil(Math.max(...all))];
  const x = (hour: number) => LEFT + (hour / (hours - 1)) * (width - LEFT - 80);
  const y = (value: number) =>
    10 + (1 - (fromSi(value, unit) - least) / Math.max(most - least, 1)) * (HEIGHT - FOOT - 20);
  const path = (values: number[]) =>
    values.map((value, at) => `${at ? "L" : "M"}${x(at).toFixed(1)},${y(value).toFixed(1)}`).join("");
  const steps = width < 500 ? 6 : 3;
  const ticks = Array.from({ length: hours }, (_, at) => at).filter(
    (at) => (found.first_hour + at) % steps === 0,
  );
  const floor = setup.flush.floor_c ?? 20;
  const ends = apart(lines.map((line) => y(line.values[hours - 1] ?? 0)));
  return (
    <figure ref={box}>
      <svg width={width} height={HEIGHT} role="img" className="block">
        <title>
          {plan.speeds.some((speed) => speed > 0)
            ? `The rooms fall to ${inWords(plan.coldest_c, "temperature", system)} in the night`
            : "The damper stays shut"}
        </title>
        {ticks.map((at) => (
          <g key={at}>
            <path d={`M${x(at)},8V${HEIGHT - 22}`} stroke="currentColor" strokeOpacity="0.12" />
            <text
              x={x(at)}
              y={HEIGHT - 6}
              fontSize="12"
              textAnchor="middle"
              fill="currentColor"
              className="reading"
            >
              {(found.first_hour + at) % 24} h
            </text>
          </g>
        ))}
        {[least, most].map((value) => (
          <text
            key={value}
            x={LEFT - 6}
            y={10 + (1 - (value - least) / Math.max(most - least, 1)) * (HEIGHT - FOOT - 20) + 4}
            fontSize="12"
            textAnchor="end"
            fill="currentColor"
            className="reading"
          >
            {number(value, 0)}
          </text>
        ))}
        <path
          d={`M${LEFT},${y(floor)}H${width - 80}`}
          stroke="currentColor"
          strokeOpacity="0.5"
          strokeDasharray="1 5"
        />
        {plan.speeds.map((speed, at) =>
          speed > 0 ? (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place
              key={at}
              x={x(at)}
              y={HEIGHT - 22 - speed * (FOOT - 26)}
              width={Math.max(x(1) - x(0) - 1, 2)}
              height={speed * (FOOT - 26)}
              className="fill-accent"
            />
          ) : null,
        )}
        {lines.map(({ name, values, dash, className }, index) => (
          <g key={name} className={className}>
            <path
              d={path(values)}
              fill="none"
              stroke="currentColor"
              strokeWidth="2.5"
              strokeDasharray={dash}
            />
            <text x={width - 76} y={(ends[index] ?? 0) + 4} fontSize="12" fill="currentColor">
              {name}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="quiet text-sm">
        Temperatures in {unit.label}; the dotted line is the comfort floor. Bars below: the blower's share of
        full flow, at most {inWords(Math.max(...plan.speeds), "share", system)}.
      </figcaption>
    </figure>
  );
}

/** Labels moved apart where they would stand over each other. */
export function apart(places: number[], room = 15): number[] {
  const order = places.map((place, at) => ({ place, at })).sort((one, other) => one.place - other.place);
  for (let n = 1; n < order.length; n += 1) {
    const [before, here] = [order[n - 1], order[n]];
    if (before && here && here.place - before.place < room) here.place = before.place + room;
  }
  const found = [...places];
  for (const { place, at } of order) found[at] = place;
  return found;
}
