import { useDeferredValue } from "react";
import { Unanswered } from "../api/client";
import { useCalculation } from "../core/calculate";
import { useVisit } from "../logbook/context";
import { useUnits } from "../units/UnitSystem";
import { inWords, say } from "../units/units";
import type { HumidityValue } from "./place";

const FIELD: Record<string, string> = {
  relative_humidity: "relative_humidity",
  wet_bulb: "wet_bulb_c",
  dew_point: "dew_point_c",
};

const SHOWN: [string, string, string][] = [
  ["wet_bulb_c", "Wet bulb", "temperature"],
  ["dew_point_c", "Dew point", "temperature"],
  ["humidity_ratio", "Humidity ratio", "humidity_ratio"],
  ["enthalpy_j_per_kg", "Enthalpy", "enthalpy"],
];

/** What follows from dry bulb and humidity while they are typed, worked out by the core for this site's pressure. */
export function Derived({
  dryBulb,
  humidity,
}: {
  dryBulb: number | undefined;
  humidity: HumidityValue | undefined;
}) {
  const { page } = useVisit();
  const { system } = useUnits();
  const air =
    dryBulb !== undefined && humidity !== undefined
      ? {
          dry_bulb_c: dryBulb,
          [FIELD[humidity.quantity] ?? ""]: humidity.value,
          pressure_pa: page.work_up.pressure.value,
        }
      : undefined;
  const asked = useDeferredValue(air);
  const query = useCalculation<Record<string, { value: number }>>("air.state", asked && { air: asked }, {
    steady: true,
  });
  if (!air)
    return <p className="text-sm quiet">Dry bulb and humidity together give enthalpy and dew point, here.</p>;
  if (query.error instanceof Unanswered) {
    const refusal = query.error.problem?.refusals?.[0];
    return (
      <p role="status">
        {refusal ? say(refusal.sentence, system) : "No connection: worked out once the server answers."}
      </p>
    );
  }
  const result = query.data;
  return (
    <dl className="grid grid-cols-2 gap-x-4 gap-y-1 wide:grid-cols-4">
      {SHOWN.map(([key, name, kind]) => {
        const given = result?.[key];
        return (
          <div key={key}>
            <dt className="text-sm quiet">{name}</dt>
            <dd className="reading font-semibold" data-testid={`derived-${key}`}>
              {given ? inWords(given.value, kind, system) : "…"}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
