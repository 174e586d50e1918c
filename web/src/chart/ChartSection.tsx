import { Printer } from "lucide-react";
import { useMemo, useState } from "react";
import { useCalculation } from "../core/calculate";
import { useVisit } from "../logbook/context";
import type { Page } from "../logbook/logbook";
import { PHASE_NAMES } from "../logbook/logbook";
import { Tick } from "../shell/fields";
import { useUnits } from "../units/UnitSystem";
import { inWords } from "../units/units";
import { type AirPoint, windowOf } from "./geometry";
import { type ChartLine, type Cursor, PsychrometricChart } from "./PsychrometricChart";

const FAMILIES: [string, string][] = [
  ["relative_humidity", "Relative humidity"],
  ["wet_bulb", "Wet bulb"],
  ["enthalpy", "Enthalpy"],
  ["specific_volume", "Volume"],
];

const NO_LINES: ChartLine[] = [];

/** The states of this visit, as found and as left, on a chart for this site's pressure. */
export function ChartSection() {
  const { page } = useVisit();
  const { system } = useUnits();
  const points = useMemo(() => pointsOf(page), [page]);
  const [families, setFamilies] = useState(["relative_humidity", "wet_bulb"]);
  const [cursor, setCursor] = useState<Cursor | undefined>();
  const window_ = useMemo(() => windowOf(points), [points]);
  const pressure = page.work_up.pressure.value;
  const given = {
    low_c: window_.low,
    high_c: window_.high,
    highest_ratio: window_.top,
    pressure_pa: pressure,
    system,
  };
  const query = useCalculation<{ lines: ChartLine[] }>("air.chart", points.length > 0 ? given : undefined);
  const lines = query.data?.lines ?? NO_LINES;
  if (points.length === 0) return null;
  const print = () => {
    document.body.classList.add("printing-chart");
    window.print();
    document.body.classList.remove("printing-chart");
  };
  return (
    <section aria-labelledby="chart" className="chart-print">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id="chart" className="font-semibold text-lg">
          Air states on the chart
        </h2>
        <p className="text-sm quiet">
          For {inWords(pressure, "barometric_pressure", system)}, this site's pressure
        </p>
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-x-4 print:hidden">
        {FAMILIES.map(([key, name]) => (
          <Tick
            key={key}
            value={families.includes(key)}
            onChange={(shown) =>
              setFamilies(shown ? [...families, key] : families.filter((each) => each !== key))
            }
          >
            {name}
          </Tick>
        ))}
        <button type="button" className="btn btn-ghost touch ml-auto" onClick={print}>
          <Printer size={18} aria-hidden="true" /> Print
        </button>
      </div>
      {query.isError && (
        <p role="alert">The chart's lines come from the server, which does not answer now.</p>
      )}
      <PsychrometricChart
        lines={lines}
        families={families}
        points={points}
        window={window_}
        pressure={pressure}
        cursor={cursor}
        move={setCursor}
      />
      <Legend points={points} />
    </section>
  );
}

function Legend({ points }: { points: AirPoint[] }) {
  const phases = [...new Set(points.map((point) => point.phase))];
  return (
    <ul className="mt-1 flex flex-wrap gap-x-5 text-sm">
      {phases.map((phase) => (
        <li key={phase} className="flex items-center gap-1.5">
          <svg width="18" height="18" aria-hidden="true">
            {phase === "as_left" ? (
              <circle cx="9" cy="9" r="6" className="fill-primary" />
            ) : (
              <circle cx="9" cy="9" r="5.5" className="fill-base-100 stroke-secondary" strokeWidth="3" />
            )}
          </svg>
          {PHASE_NAMES[phase]}
        </li>
      ))}
      <li>Ellipse: where the air may lie, 95 %</li>
      <li className="print:hidden">Tap, or use the arrow keys, to read any point</li>
    </ul>
  );
}

function pointsOf(page: Page): AirPoint[] {
  return page.work_up.phases.flatMap((phase) =>
    phase.stations.flatMap((station): AirPoint[] => {
      const ratio = station.properties?.humidity_ratio;
      const place = page.work_up.path.stations.find((each) => each.id === station.station);
      if (!station.dry_bulb || !ratio || !place) return [];
      return [
        {
          key: station.station,
          name: place.name,
          phase: phase.phase,
          dryBulb: station.dry_bulb.value,
          ratio: ratio.value,
          dryBulbWidth: station.dry_bulb.plus_minus,
          ratioWidth: ratio.plus_minus,
          correlation: station.correlation ?? 0,
        },
      ];
    }),
  );
}
