import { useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { useWidth } from "../../shell/useWidth";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, number, type Quantity, unitOf } from "../../units/units";
import type { MoisturePage } from "./page";

interface Reheated {
  heat_w: Quantity;
  low_c: Quantity;
  high_c: Quantity;
  felt: boolean;
  share: Quantity | null;
  course_c: number[];
}

const HEIGHT = 190;
const LEFT = 40;
const STRONGER = 1.6;

/** Supply air over half an hour with reheat: turned down, and only on or off. */
export function ReheatCourse({ moisture, pressure }: { moisture: MoisturePage; pressure: number }) {
  const { shown } = useVisit();
  const reheat = moisture.choice?.options.find((each) => each.option === "reheat");
  const path = moisture.options?.find((each) => each.key === "reheat")?.path;
  const room = path?.find((each) => each.key === "room");
  const coil = path?.find((each) => each.key === "coil");
  const flow = shown.results.find((each) => each.key === "airflow")?.quantity?.value;
  const given = (modulates: boolean) =>
    reheat && reheat.reheat_w > 50 && room && coil && flow
      ? {
          entering: {
            dry_bulb_c: room.dry_bulb_c,
            humidity_ratio: room.humidity_ratio,
            pressure_pa: pressure,
          },
          leaving: {
            dry_bulb_c: coil.dry_bulb_c,
            humidity_ratio: coil.humidity_ratio,
            pressure_pa: pressure,
          },
          airflow_m3s: flow,
          wanted_c: reheat.supply_c,
          rejected_w: reheat.total_w * (1 + 1 / (moisture.aim?.cop ?? 3.2)),
          ...(modulates ? {} : { full_heat_w: reheat.reheat_w * STRONGER, modulates }),
        }
      : undefined;
  const steady = useCalculation<Reheated>("moisture.reheat", given(true));
  const swinging = useCalculation<Reheated>("moisture.reheat", given(false));
  return steady.data && swinging.data && <Course steady={steady.data} swinging={swinging.data} />;
}

function Course({ steady, swinging }: { steady: Reheated; swinging: Reheated }) {
  const { system } = useUnits();
  const [box, width] = useWidth<HTMLElement>(640);
  const unit = unitOf("temperature", system);
  const lines = [
    { name: "on or off", values: swinging.course_c, dash: "6 4", className: "text-secondary" },
    { name: "turned down", values: steady.course_c, dash: "", className: "text-primary" },
  ];
  const all = lines.flatMap((line) => line.values).map((value) => fromSi(value, unit));
  const [least, most] = [Math.floor(Math.min(...all) - 1), Math.ceil(Math.max(...all) + 1)];
  const count = steady.course_c.length;
  const x = (at: number) => LEFT + (at / (count - 1)) * (width - LEFT - 90);
  const y = (celsius: number) => 8 + (1 - (fromSi(celsius, unit) - least) / (most - least)) * (HEIGHT - 36);
  return (
    <figure ref={box} className="panel py-3">
      <figcaption className="mb-1 px-3">
        <span className="font-semibold">Supply air with reheat, half an hour.</span>{" "}
        {swinging.felt
          ? `A coil that is only on or off swings it from ${inWords(swinging.low_c.value, "temperature", system)} to ${inWords(swinging.high_c.value, "temperature", system)}: the room feels that.`
          : "Even a coil that is only on or off swings it little here."}{" "}
        {steady.share &&
          `It takes ${inWords(steady.share.value, "share", system)} of the heat that the condenser would give off.`}
      </figcaption>
      <svg width={width} height={HEIGHT} role="img" className="block">
        <title>Supply air over time, reheat turned down against on or off</title>
        {[least, most].map((value) => (
          <text
            key={value}
            x={LEFT - 6}
            y={8 + (1 - (value - least) / (most - least)) * (HEIGHT - 36) + 4}
            fontSize="12"
            textAnchor="end"
            fill="currentColor"
            className="reading"
          >
            {number(value, 0)}
          </text>
        ))}
        {[0, 10, 20, 30].map((minute) => (
          <text
            key={minute}
            x={x((minute / 30) * (count - 1))}
            y={HEIGHT - 6}
            fontSize="12"
            textAnchor="middle"
            fill="currentColor"
            className="reading"
          >
            {minute} min
          </text>
        ))}
        {lines.map(({ name, values, dash, className }) => (
          <g key={name} className={className}>
            <path
              d={values
                .map((value, at) => `${at ? "L" : "M"}${x(at).toFixed(1)},${y(value).toFixed(1)}`)
                .join("")}
              fill="none"
              stroke="currentColor"
              strokeWidth="2.5"
              strokeDasharray={dash}
            />
            <text
              x={width - 84}
              y={y(values.at(-1) ?? 0) + (dash ? -6 : 14)}
              fontSize="12"
              fill="currentColor"
            >
              {name}
            </text>
          </g>
        ))}
      </svg>
    </figure>
  );
}
