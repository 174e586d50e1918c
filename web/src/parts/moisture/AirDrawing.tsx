import { useId, useMemo } from "react";
import { scales, sizeOf, type Window } from "../../chart/geometry";
import { type ChartLine, ticks } from "../../chart/PsychrometricChart";
import { useCalculation } from "../../core/calculate";
import { useWidth } from "../../shell/useWidth";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, number, toSi, unitOf } from "../../units/units";

export interface Place {
  name: string;
  dry_bulb_c: number;
  humidity_ratio: number;
}

/** The way of the air through one thing: told apart by dash and by the words at its end. */
export interface Way {
  key: string;
  name: string;
  places: Place[];
  dash?: string;
  className: string;
  /** The place whose name stands beside it. */
  named?: number[];
}

const LETTER = 7.5;

/** Ways of the air over the saturation line: to the left it cools, downwards it dries. */
export function AirDrawing({ ways, pressure, title }: { ways: Way[]; pressure: number; title: string }) {
  const { system } = useUnits();
  const [box, width] = useWidth<HTMLElement>(640);
  const tip = useId();
  const window_ = useMemo(() => around(ways.flatMap((way) => way.places)), [ways]);
  const size = sizeOf(width);
  const drawn = scales(window_, { ...size, height: Math.min(size.height, 360) });
  drawn.y.domain([window_.floor, window_.top]);
  const query = useCalculation<{ lines: ChartLine[] }>("air.chart", {
    low_c: window_.low,
    high_c: window_.high,
    highest_ratio: window_.top,
    pressure_pa: pressure,
    system,
  });
  const top = query.data?.lines.find((line) => line.family === "saturation");
  const [dry, wet] = [unitOf("temperature", system), unitOf("humidity_ratio", system)];
  const at = (place: Place) =>
    `${drawn.x(place.dry_bulb_c).toFixed(1)},${drawn.y(place.humidity_ratio).toFixed(1)}`;
  const floor = drawn.size.height - drawn.size.bottom;
  const right = drawn.size.width - drawn.size.right;
  const highest = Math.max(...ways.flatMap((way) => way.places.map((place) => place.humidity_ratio)));
  /** Where no way of the air passes: those that start at the right go left and down from there. */
  const beside = (place: Place, index: number) => {
    const [x, y] = [drawn.x(place.dry_bulb_c), drawn.y(place.humidity_ratio)];
    const isRight = x > drawn.size.width * 0.6;
    if (isRight && place.humidity_ratio === highest)
      return { x: Math.min(x + 30, right), y: y - 12, textAnchor: "end" as const };
    if (isRight && x + 9 + place.name.length * LETTER < right)
      return { x: x + 9, y: y + 5, textAnchor: "start" as const };
    return {
      x: x + (isRight ? -9 : 9),
      y: y + (index ? 17 : -9),
      textAnchor: isRight ? ("end" as const) : ("start" as const),
    };
  };
  return (
    <figure ref={box} className="panel p-1">
      <svg
        viewBox={`0 0 ${drawn.size.width} ${drawn.size.height}`}
        className="block w-full text-[13px]"
        role="img"
      >
        <title>{title}</title>
        <defs>
          <marker
            id={tip}
            viewBox="0 0 8 8"
            refX="7"
            refY="4"
            markerWidth="4.5"
            markerHeight="4.5"
            orient="auto"
          >
            <path d="M0 0 8 4 0 8z" fill="context-stroke" />
          </marker>
        </defs>
        {ticks(fromSi(window_.low, dry), fromSi(window_.high, dry), Math.min(drawn.size.width / 70, 9)).map(
          (tick) => (
            <text
              key={tick}
              x={drawn.x(toSi(tick, dry))}
              y={floor + 17}
              textAnchor="middle"
              className="reading fill-base-content"
            >
              {number(tick, 0)}
            </text>
          ),
        )}
        {ticks(fromSi(window_.floor, wet) + 1e-3, fromSi(window_.top, wet), 6).map((tick) => (
          <g key={tick}>
            <line
              x1={drawn.size.left}
              x2={right}
              y1={drawn.y(toSi(tick, wet))}
              y2={drawn.y(toSi(tick, wet))}
              className="stroke-base-300"
              strokeWidth="0.7"
            />
            <text x={right + 7} y={drawn.y(toSi(tick, wet)) + 4} className="reading fill-base-content">
              {number(tick, 0)}
            </text>
          </g>
        ))}
        <text
          x={(drawn.size.left + right) / 2}
          y={drawn.size.height - 6}
          textAnchor="middle"
          className="fill-base-content"
        >
          Dry bulb, {dry.label}
        </text>
        <text
          transform={`translate(${drawn.size.width - 8} ${(drawn.size.top + floor) / 2}) rotate(-90)`}
          textAnchor="middle"
          className="fill-base-content"
        >
          Humidity ratio, {wet.label}
        </text>
        {top && (
          <path
            d={top.dry_bulb_c
              .map((value, index) => [value, top.humidity_ratio[index] ?? 0] as const)
              .filter(([, ratio]) => ratio >= window_.floor)
              .map(
                ([value, ratio], index) =>
                  `${index ? "L" : "M"}${drawn.x(value).toFixed(1)},${drawn.y(ratio).toFixed(1)}`,
              )
              .join("")}
            fill="none"
            className="stroke-base-content"
            strokeWidth="2.2"
          />
        )}
        {ways.map((way) => (
          <g key={way.key} className={way.className} strokeLinejoin="round">
            {way.places.slice(1).map((place, index) => {
              const from = way.places[index];
              return (
                from && (
                  <path
                    key={place.name}
                    d={`M${at(from)}L${at(place)}`}
                    fill="none"
                    strokeWidth="2.5"
                    strokeDasharray={way.dash}
                    markerEnd={`url(#${tip})`}
                  />
                )
              );
            })}
            {way.places.map((place) => (
              <circle
                key={place.name}
                cx={drawn.x(place.dry_bulb_c)}
                cy={drawn.y(place.humidity_ratio)}
                r="3.5"
                className="fill-base-100"
                strokeWidth="2"
              />
            ))}
          </g>
        ))}
        {named(ways).map(({ place, key }, index) => (
          <text
            key={key}
            {...beside(place, index)}
            className="fill-base-content stroke-base-100"
            strokeWidth="3.5"
            paintOrder="stroke"
          >
            {place.name}
          </text>
        ))}
      </svg>
      {ways.length > 1 && (
        <figcaption>
          <ul className="flex flex-wrap gap-x-5 px-2 pb-1 text-sm">
            {ways.map((way) => (
              <li key={way.key} className="flex items-center gap-2">
                <svg width="34" height="10" aria-hidden="true" className={way.className}>
                  <path d="M1 5H33" strokeWidth="2.5" strokeDasharray={way.dash} />
                </svg>
                {way.name}
              </li>
            ))}
          </ul>
        </figcaption>
      )}
    </figure>
  );
}

/** Names that are said once, whichever ways share the place. */
function named(ways: Way[]): { key: string; place: Place }[] {
  const found = new Map<string, Place>();
  for (const way of ways)
    for (const index of way.named ?? way.places.map((_, at) => at)) {
      const place = way.places[index];
      if (place && !found.has(place.name)) found.set(place.name, place);
    }
  return [...found].map(([key, place]) => ({ key, place }));
}

/** Room around every place, in steps of five degrees and two grams; the ground is drawn only where it is near. */
export function around(places: Place[]): Window & { floor: number } {
  const dry = places.map((place) => place.dry_bulb_c);
  const ratio = places.map((place) => place.humidity_ratio);
  const low = Math.max(Math.floor((Math.min(...dry) - 3) / 5) * 5, -55);
  const high = Math.min(Math.max(Math.ceil((Math.max(...dry) + 3) / 5) * 5, low + 15), 85);
  const top = Math.ceil((Math.max(...ratio) + 0.0025) / 0.002) * 0.002;
  const floor = Math.max(Math.floor((Math.min(...ratio) - 0.0025) / 0.002) * 0.002, 0);
  return { low, high, top: Number(Math.min(top, 0.1).toFixed(3)), floor: Number(floor.toFixed(3)) };
}
