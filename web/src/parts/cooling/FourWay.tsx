import { useQuery } from "@tanstack/react-query";
import { historyQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { useWidth } from "../../shell/useWidth";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, number, say, unitOf } from "../../units/units";
import { type Frame, frameOf, MARGIN, type Spot } from "./fourWay";

type Four = NonNullable<NonNullable<PhaseShown["pages"]["cooling"]>["four_way"]>;

/** Wider than this nothing is gained. */
const WIDTH = 576;
/** Narrower than this the words of a field are broken once more. */
const NARROW = 400;
const HEIGHT = 330;

/** Split and cooling read together: one field for each meaning, this visit's point with its doubt, earlier visits faint. */
export function FourWay({ four }: { four: Four }) {
  const { page, shown } = useVisit();
  const { system } = useUnits();
  const history = useQuery(historyQuery(String(page.system.id)));
  const earlier = (history.data?.system.visits ?? []).flatMap((visit) =>
    visit.split && visit.capacity && !(String(visit.visit) === String(page.id) && visit.phase === shown.phase)
      ? [{ ...spotOf(visit.split, visit.capacity), at: String(visit.at) }]
      : [],
  );
  const here = spotOf(four.split, four.capacity);
  const [place, width] = useWidth<HTMLElement>(460, WIDTH);
  const frame = frameOf([here, ...earlier], width, HEIGHT);
  const unit = unitOf("temperature_difference", system);
  return (
    <figure ref={place}>
      <svg width={width} height={HEIGHT} className="max-w-full" role="img" aria-label={labelOf(four, system)}>
        <Fields frame={frame} four={four} />
        <Axes frame={frame} unitLabel={unit.label} shownOf={(kelvin) => fromSi(kelvin, unit)} />
        {earlier.map((spot) => (
          <circle
            key={spot.at + String(spot.split)}
            cx={frame.x(spot.capacity)}
            cy={frame.y(spot.split)}
            r={4}
            fill="none"
            stroke="var(--color-base-content)"
            strokeOpacity={0.6}
          />
        ))}
        <g stroke="var(--color-primary)" strokeWidth={2.5}>
          <line
            x1={frame.x(here.capacity - here.capacityWidth)}
            x2={frame.x(here.capacity + here.capacityWidth)}
            y1={frame.y(here.split)}
            y2={frame.y(here.split)}
          />
          <line
            x1={frame.x(here.capacity)}
            x2={frame.x(here.capacity)}
            y1={frame.y(here.split - here.splitWidth)}
            y2={frame.y(here.split + here.splitWidth)}
          />
          <circle
            cx={frame.x(here.capacity)}
            cy={frame.y(here.split)}
            r={7}
            fill="var(--color-primary)"
            stroke="none"
          />
        </g>
      </svg>
      <figcaption className="text-sm">
        {four.reading
          ? say(four.reading, system)
          : "The point's doubt reaches over an edge: not clear yet which of the fields it is."}
        <span className="quiet">
          {" "}
          Both targets are those at the nameplate's airflow.
          {earlier.length > 0 && ` Open circles: ${earlier.length} earlier.`}
        </span>
      </figcaption>
    </figure>
  );
}

type Given = { value: number; plus_minus: number };

function spotOf(split: Given, capacity: Given): Spot {
  return {
    split: split.value,
    capacity: capacity.value,
    splitWidth: split.plus_minus,
    capacityWidth: capacity.plus_minus,
  };
}

function labelOf(four: Four, system: "SI" | "US"): string {
  const said = four.reading ? say(four.reading, system) : "not clear yet";
  return `Split against target and cooling against target: ${said}`;
}

const FIELD_WORDS: { side: string; low: boolean; lines: string[]; narrow?: string[] }[] = [
  { side: "high", low: true, lines: ["too little", "air"] },
  {
    side: "high",
    low: false,
    lines: ["read again:", "drier air or less flow"],
    narrow: ["read again:", "drier air", "or less flow"],
  },
  {
    side: "low",
    low: true,
    lines: ["charge, compressor,", "heat leaking in"],
    narrow: ["charge,", "compressor,", "heat", "leaking in"],
  },
  { side: "low", low: false, lines: ["more air", "than rated"] },
];

function Fields({ frame, four }: { frame: Frame; four: Four }) {
  const edge = frame.x(1 - four.tolerance_capacity);
  const full = frame.x(1 + four.tolerance_capacity);
  const [top, bottom] = [frame.y(four.tolerance_split), frame.y(-four.tolerance_split)];
  const right = frame.width - MARGIN.right;
  return (
    <g>
      <rect
        x={edge}
        y={top}
        width={full - edge}
        height={bottom - top}
        fill="var(--color-success)"
        fillOpacity={0.16}
      />
      <g stroke="var(--color-base-content)" strokeOpacity={0.35} strokeDasharray="3 4">
        <line x1={MARGIN.left} x2={right} y1={top} y2={top} />
        <line x1={MARGIN.left} x2={right} y1={bottom} y2={bottom} />
        <line x1={edge} x2={edge} y1={MARGIN.top} y2={frame.height - MARGIN.bottom} />
      </g>
      {FIELD_WORDS.map((field) => {
        const x = field.low ? (MARGIN.left + edge) / 2 : (edge + right) / 2;
        const lines = frame.width < NARROW ? (field.narrow ?? field.lines) : field.lines;
        const y =
          field.side === "high"
            ? MARGIN.top + 20
            : frame.height - MARGIN.bottom - 14 - 16 * (lines.length - 1);
        return (
          <text
            key={field.lines[0]}
            x={x}
            y={y}
            textAnchor="middle"
            fontSize={13}
            fill="var(--color-base-content)"
          >
            {lines.map((line, index) => (
              <tspan key={line} x={x} dy={index === 0 ? 0 : 16}>
                {line}
              </tspan>
            ))}
          </text>
        );
      })}
      <text
        x={(edge + full) / 2}
        y={bottom - 6}
        textAnchor="middle"
        fontSize={13}
        fill="var(--color-base-content)"
      >
        as it should be
      </text>
    </g>
  );
}

function Axes({
  frame,
  unitLabel,
  shownOf,
}: {
  frame: Frame;
  unitLabel: string;
  shownOf: (kelvin: number) => number;
}) {
  const bottom = frame.height - MARGIN.bottom;
  const ink = { fontSize: 12, fill: "var(--color-base-content)" };
  return (
    <g>
      <g stroke="var(--color-base-content)" strokeOpacity={0.7}>
        <line x1={MARGIN.left} x2={MARGIN.left} y1={MARGIN.top} y2={bottom} />
        <line x1={MARGIN.left} x2={frame.width - MARGIN.right} y1={bottom} y2={bottom} />
      </g>
      {[-5, 0, 5].map((kelvin) => (
        <text key={kelvin} x={MARGIN.left - 6} y={frame.y(kelvin) + 4} textAnchor="end" {...ink}>
          {kelvin > 0 ? "+" : ""}
          {number(shownOf(kelvin) - shownOf(0), 0)}
        </text>
      ))}
      {[0.6, 0.8, 1, 1.2].map((share) => (
        <text key={share} x={frame.x(share)} y={bottom + 16} textAnchor="middle" {...ink}>
          {number(share * 100, 0)} %
        </text>
      ))}
      <text x={frame.width - MARGIN.right} y={bottom + 33} textAnchor="end" {...ink}>
        cooling against target
      </text>
      <text x={13} y={MARGIN.top} textAnchor="end" transform={`rotate(-90 13 ${MARGIN.top})`} {...ink}>
        split less target, {unitLabel}
      </text>
    </g>
  );
}
