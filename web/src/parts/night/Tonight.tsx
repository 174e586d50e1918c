import { useMemo, useState } from "react";
import { useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, unitOf } from "../../units/units";
import { Afterwards } from "./Afterwards";
import { FitHouse } from "./FitHouse";
import { ForecastForm, useForecast } from "./Forecast";
import { NightCourse } from "./NightCourse";
import { Override } from "./Override";
import { Season } from "./Season";
import { SetupForm } from "./SetupForm";
import { blownOf, HELD, type Planned, type Setup, useNight } from "./useNight";

/** Tonight: from a forecast to when the damper opens, how cold it blows and how hard; beside the usual rules with their cost. */
export default function Tonight() {
  const night = useNight();
  return (
    <div className="space-y-5">
      {night.setup ? (
        <Plan setup={night.setup} room={night.room_c} />
      ) : (
        <p className="text-xl">Say what blows the night air, and what it may do.</p>
      )}
      {night.setup && <Override night={night} />}
      {night.setup && <Afterwards night={night} setup={night.setup} />}
      {night.setup && <Season setup={night.setup} />}
      {night.setup && <FitHouse night={night} setup={night.setup} />}
      <SetupForm night={night} key={night.setup_entry} />
      <p className="quiet">
        Not while there is smoke or pollen outside, not where an open way in is a risk, and never against the
        maker's instructions. A burner that draws its air from the rooms needs its draft checked with the
        damper open.
      </p>
    </div>
  );
}

function Plan({ setup, room }: { setup: Setup; room: number | null | undefined }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const forecast = useForecast(room ?? setup.cooling.setpoint_c);
  const [target, setTarget] = useState<number | undefined>();
  const given = forecast.given;
  const inputs = useMemo(
    () =>
      given ? { setup, forecast: given, ...(target === undefined ? {} : { target_c: target }) } : undefined,
    [given, setup, target],
  );
  const asked = useCalculation<Planned>("ventilation.tonight", inputs, { steady: true });
  const found = asked.data;
  const plan = found?.plan;
  return (
    <>
      {plan && (
        <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
          {plan.held ? (
            <p className="font-semibold text-2xl">{HELD[plan.held]}</p>
          ) : plan.start_hour == null ? (
            <p className="font-semibold text-2xl">Leave it shut tonight: the compressor is cheaper.</p>
          ) : (
            <>
              <div>
                <p className="quiet">Open the damper</p>
                <p className="reading font-semibold text-[38px] leading-[44px] sm:text-[52px] sm:leading-[56px]">
                  {hour(plan.start_hour)}–{hour(plan.stop_hour ?? 0)}
                </p>
              </div>
              <div>
                <p className="quiet">Blow down to</p>
                <Figure quantity={{ value: plan.target_c, plus_minus: 0, kind: "temperature" }} />
              </div>
              <div>
                <p className="quiet">Saves tomorrow</p>
                <p className="reading font-semibold text-[28px] leading-8">
                  {inWords(plan.saved_j, "energy", system)}
                </p>
                <p>{inWords(plan.saved_s, "hours", system)} less compressor</p>
              </div>
            </>
          )}
        </div>
      )}
      <ForecastForm forecast={forecast} />
      {found && plan && (
        <>
          <NightCourse found={found} setup={setup} />
          <Target setup={setup} target={target ?? plan.target_c} own={target !== undefined} put={setTarget} />
          <Rules found={found} />
          {found.typical && (
            <p className="quiet text-sm">
              Worked out for a typical house of {inWords(setup.floor_area_m2, "area", system)}, marked so:
              yours may hold more or less.
            </p>
          )}
          {mayWrite && plan.start_hour != null && given && (
            <button
              type="button"
              className="btn btn-primary touch text-base"
              onClick={() =>
                void record(
                  "night_planned",
                  {
                    high_c: given.high_c,
                    low_c: given.low_c,
                    room_c: given.room_c,
                    target_c: plan.target_c,
                    start_hour: plan.start_hour ?? 0,
                    stop_hour: plan.stop_hour ?? 0,
                    speeds: blownOf(plan.plan.speeds),
                    ...(given.dew_point_c === undefined ? {} : { dew_point_c: given.dew_point_c }),
                    saved_j: plan.saved_j,
                    planned_c: plan.plan.air_c,
                    forecast_c: found.outdoor_c,
                  },
                  { phase: "as_found" },
                )
              }
            >
              Note this plan
            </button>
          )}
        </>
      )}
      <Trouble error={asked.error} />
    </>
  );
}

const hour = (of: number): string => `${String(of).padStart(2, "0")}:00`;

/** The target moved by hand: what it would cost is seen at once. */
function Target({
  setup,
  target,
  own,
  put,
}: {
  setup: Setup;
  target: number;
  own: boolean;
  put: (target: number | undefined) => void;
}) {
  const { system } = useUnits();
  const unit = unitOf("temperature", system);
  const floor = setup.flush.floor_c ?? 20;
  const least = Math.ceil(fromSi(floor, unit) * 2) / 2;
  const most = Math.floor((fromSi(setup.cooling.setpoint_c, unit) - 0.1) * 2) / 2;
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-1">
      <label className="block w-full max-w-md">
        <span>
          Blow down to <span className="reading font-semibold">{inWords(target, "temperature", system)}</span>
          {own ? ", as you chose" : ", the cheapest"}
        </span>
        <input
          type="range"
          className="range range-primary range-lg my-2 w-full"
          min={least}
          max={most}
          step={0.5}
          value={Math.min(Math.max(fromSi(target, unit), least), most)}
          onChange={(event) => put(Number(event.target.value) * unit.factor + unit.offset)}
        />
      </label>
      {own && (
        <button type="button" className="btn touch" onClick={() => put(undefined)}>
          The cheapest again
        </button>
      )}
    </div>
  );
}

const RULES = [
  ["plan", "This plan"],
  ["by_difference", "Full speed while outdoors is much colder"],
  ["by_clock", "Full speed from 22 to 6 h"],
  ["without", "Damper shut"],
] as const;

/** What each way costs by tomorrow night. */
function Rules({ found }: { found: Planned }) {
  const { system } = useUnits();
  const most = Math.max(...RULES.map(([key]) => found.plan[key].fan_j + found.plan[key].compressor_j));
  return (
    <section aria-labelledby="rules">
      <h2 id="rules" className="font-semibold text-lg">
        Electricity until tomorrow midnight
      </h2>
      <ul className="space-y-2">
        {RULES.map(([key, name]) => {
          const { fan_j, compressor_j, wake_c } = found.plan[key];
          const share = (value: number) => `${(100 * value) / most}%`;
          return (
            <li key={key}>
              <p className="flex flex-wrap justify-between gap-x-4">
                <span className={key === "plan" ? "font-semibold" : ""}>{name}</span>
                <span className="reading">
                  {inWords(fan_j + compressor_j, "energy", system)}
                  <span className="quiet"> · {inWords(wake_c, "temperature", system)} at wake-up</span>
                </span>
              </p>
              <div className="flex h-3 overflow-hidden rounded-sm bg-base-200" aria-hidden="true">
                <span className="bg-primary" style={{ width: share(compressor_j) }} />
                <span className="bg-accent" style={{ width: share(fan_j) }} />
              </div>
            </li>
          );
        })}
      </ul>
      <p className="quiet mt-1 text-sm">
        <span className="inline-block h-3 w-3 bg-primary" aria-hidden="true" /> compressor{" "}
        <span className="inline-block h-3 w-3 bg-accent" aria-hidden="true" /> blower. Half the flow takes an
        eighth of the power.
      </p>
    </section>
  );
}
