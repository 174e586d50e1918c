import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { FileButton } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { inWords, number, type Quantity } from "../../units/units";
import type { Control, FreshAirPage, Ventilator } from "./useFreshAir";
import { YearMap } from "./YearMap";

interface Year {
  low_c: number | null;
  high_c: number | null;
  locked_h: number;
  missed_share: number;
  short_days: number;
  failed_days: number;
  missed_made_up_share: number;
  heating_j: number;
  cooling_j: number;
  drying_j: number;
  fan_j: number;
}

interface Found {
  weather: string;
  made_up: boolean;
  as_set: Year;
  none: Year;
  best: Year;
  cold_h: number;
  hot_h: number;
  moist_h: number;
  indoor_h: number;
  days: string[];
  missing: number;
  spared_j: Quantity;
}

/** What the lockouts cost over a year: hours, air that is missed, energy; and the pair that would be best here. */
export function LockoutYear({ fresh, ventilator }: { fresh: FreshAirPage; ventilator: Ventilator }) {
  const { page, question, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const [weather, setWeather] = useState("");
  const of = (stage: string) => (fresh.controls ?? []).find((each) => each.stage === stage)?.control;
  const control: Control = of("planned") ?? of("left") ?? of("found") ?? fresh.proposed ?? {};
  const need = (fresh.needs ?? []).find((each) => each.chosen);
  const flow = (fresh.streams ?? [])[0]?.flow;
  const { minutes_per_hour, low_c, high_c, dew_point_c, indoor_rh } = control;
  const zone = (question.head.site as { climate_zone?: string }).climate_zone ?? "";
  const pressure = page.work_up.pressure.value;
  const inputs = useMemo(
    () =>
      need?.enough && flow && (zone || weather)
        ? {
            running: {
              required_m3s: need.required.value,
              measured_m3s: flow.value,
              set_minutes: minutes_per_hour ?? 60,
              fan_power_w: ventilator.fan_power_w ?? 0,
              interlock_w: control.interlock ? (ventilator.interlock_w ?? 0) : 0,
              recovered_share: ventilator.recovered_share ?? 0,
            },
            lockouts: {
              ...(low_c == null ? {} : { low_c }),
              ...(high_c == null ? {} : { high_c }),
              ...(dew_point_c == null ? {} : { dew_point_c }),
              ...(indoor_rh == null ? {} : { indoor_rh }),
            },
            climate_zone: zone,
            weather,
            pressure_pa: pressure,
          }
        : undefined,
    [
      need,
      flow,
      minutes_per_hour,
      low_c,
      high_c,
      dew_point_c,
      indoor_rh,
      zone,
      pressure,
      weather,
      ventilator,
      control.interlock,
    ],
  );
  const asked = useCalculation<Found>("ventilation.year", inputs, { steady: true });
  const found = asked.data;
  return (
    <section aria-labelledby="lockouts" className="space-y-3">
      <h2 id="lockouts" className="font-semibold text-lg">
        Lockouts over a year
      </h2>
      {!inputs && (
        <p>
          {!zone && !weather
            ? "Set the site's climate zone in the office, or choose a weather file."
            : "Measure a flow that is enough first: then a year shows what lockouts cost."}
        </p>
      )}
      {found && (
        <>
          <YearMap days={found.days} />
          <div className="grid gap-3 sm:grid-cols-3">
            <Lot title={of("planned") ? "As planned" : "As set"} year={found.as_set} />
            <Lot title="Without lockouts" year={{ ...found.none, missed_share: 0 }} />
            <Lot title="Best pair here" year={found.best} limits>
              {mayWrite && (
                <button
                  type="button"
                  className="btn touch mt-1 print:hidden"
                  onClick={() => void record(...planOf(fresh, control, found.best))}
                >
                  Put it into the plan
                </button>
              )}
            </Lot>
          </div>
          <p className="quiet text-sm">
            {found.weather}
            {found.made_up && " (made up for the climate zone: for comparing, not for a bill)"}. Rooms heated
            to {inWords(20, "temperature", system)}, cooled to {inWords(24.5, "temperature", system)}.{" "}
            {found.missing > 0 && `${number(found.missing, 0)} h of the file have no value.`}
          </p>
        </>
      )}
      <FileButton types={[".epw", "text/plain"]} onChosen={async (file) => setWeather(await file.text())}>
        Weather file (EPW)
      </FileButton>
      <Trouble error={asked.error} />
    </section>
  );
}

function planOf(
  fresh: FreshAirPage,
  control: Control,
  best: Year,
): ["ventilator_control", Schemas["ControlSaid"], { phase: "as_found"; replaces?: string }] {
  const planned = (fresh.controls ?? []).find((each) => each.stage === "planned");
  const { low_c: _low, high_c: _high, ...rest } = planned?.control ?? fresh.proposed ?? control;
  return [
    "ventilator_control",
    {
      stage: "planned",
      control: {
        ...rest,
        ...(best.low_c == null ? {} : { low_c: best.low_c }),
        ...(best.high_c == null ? {} : { high_c: best.high_c }),
      },
    },
    { phase: "as_found", ...(planned?.entry ? { replaces: planned.entry } : {}) },
  ];
}

/** A year's energy needs no tenths. */
const kWh = (joules: number): string => `${number(joules / 3.6e6, 0)} kWh`;

function Lot({
  title,
  year,
  limits = false,
  children,
}: {
  title: string;
  year: Year;
  limits?: boolean;
  children?: React.ReactNode;
}) {
  const { system } = useUnits();
  const energy = year.heating_j + year.cooling_j + year.drying_j;
  return (
    <div className="panel p-3">
      <p className="font-semibold">{title}</p>
      {limits && (
        <p>
          {year.low_c == null ? "no low limit" : `off below ${inWords(year.low_c, "temperature", system)}`},{" "}
          {year.high_c == null ? "no high limit" : `off above ${inWords(year.high_c, "temperature", system)}`}
        </p>
      )}
      <p className="reading font-semibold text-[28px] leading-8">{kWh(energy)}</p>
      <p className="text-sm">
        a year: heating {kWh(year.heating_j)}, cooling {kWh(year.cooling_j)}, drying {kWh(year.drying_j)}, and
        fans {kWh(year.fan_j)}
      </p>
      <p>
        {number(year.locked_h, 0)} h locked out
        {!limits &&
          year.missed_share > 0 &&
          `; with fixed minutes ${inWords(year.missed_share, "share", system)} of the air is missed`}
      </p>
      <p>
        {year.failed_days === 0
          ? "Every day can make up for it."
          : `${year.failed_days} days can't make up for it.`}
      </p>
      {children}
    </div>
  );
}
