import { useState } from "react";
import { useCalculation } from "../../core/calculate";
import { Trouble } from "../../logbook/controller";
import { Figure } from "../../shell/Figure";
import { NumberField } from "../../shell/fields";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import type { Quantity } from "../../units/units";
import { asTyped, inWords, say, typedSi } from "../../units/units";
import { type Page, WithEconomizer } from "./useEconomizer";

const { relief_ways, hard_to_open_n } = tables.economizer;

/** The extra air must leave: which way, how large an opening, what it does to a door. */
export default function Relief() {
  return <WithEconomizer>{(page) => <ReliefOf page={page} />}</WithEconomizer>;
}

function ReliefOf({ page }: { page: Page }) {
  const { system } = useUnits();
  const [flow, setFlow] = useState(page.need ? asTyped(page.need.supply_m3s, "airflow", system) : "");
  const [pressure, setPressure] = useState(asTyped(page.planned.relief_opens_pa, "pressure", system));
  const [door, setDoor] = useState({
    width: asTyped(0.91, "door", system),
    height: asTyped(2.13, "door", system),
    handle: asTyped(0.07, "door", system),
  });
  const v = typedSi(flow, "airflow", system);
  const p = typedSi(pressure, "pressure", system);
  const width = typedSi(door.width, "door", system);
  const height = typedSi(door.height, "door", system);
  const handle = typedSi(door.handle, "door", system);
  const area = useCalculation<{ opening_area_m2: Quantity }>(
    "economizer.relief_area",
    v !== undefined && p !== undefined ? { airflow_m3s: v, drop_pa: p } : undefined,
  );
  const force = useCalculation<{ force_n: Quantity }>(
    "economizer.door_force",
    width && height && handle !== undefined && p !== undefined
      ? { door_width_m: width, door_height_m: height, drop_pa: p, handle_from_edge_m: handle }
      : undefined,
  );
  const pushes = force.data?.force_n.value ?? 0;
  return (
    <div className="space-y-4">
      <p className="quiet">
        Outdoor air that comes in must go out again, or doors stand open and the outdoor damper starves.
      </p>
      <ul className="grid gap-2 xl:grid-cols-3">
        {Object.entries(relief_ways).map(([key, way]) => (
          <li
            key={key}
            className={`panel p-3 ${page.planned.relief === key ? "border-2 border-primary" : ""}`}
          >
            <p className="font-semibold">
              {way.name}
              {page.planned.relief === key && (
                <span className="ml-2 rounded bg-base-200 px-1.5 font-normal text-sm">in the plan</span>
              )}
            </p>
            <p className="text-sm">{say(way.when, system)}</p>
          </li>
        ))}
      </ul>
      <section className="panel grid gap-3 p-4 sm:grid-cols-2" aria-labelledby="opening">
        <h2 id="opening" className="font-semibold text-lg sm:col-span-2">
          Opening it needs
        </h2>
        <NumberField
          label="Air that must leave"
          kind="airflow"
          value={flow}
          onChange={setFlow}
          wrong={v === undefined ? "A flow above zero." : ""}
        />
        <NumberField
          label="Building pressure, most"
          kind="pressure"
          value={pressure}
          onChange={setPressure}
          wrong={p === undefined ? "A pressure above zero." : ""}
        />
        <div className="sm:col-span-2">
          {area.data ? (
            <>
              <Figure quantity={{ ...area.data.opening_area_m2, kind: "opening" }} size="large" />
              <p className="text-sm quiet">Free area: what a screen or louver blocks comes on top.</p>
            </>
          ) : (
            <p className="quiet">Say how much air must leave.</p>
          )}
          <Trouble error={area.error} />
        </div>
      </section>
      <section className="panel grid gap-3 p-4 sm:grid-cols-3" aria-labelledby="door">
        <h2 id="door" className="font-semibold text-lg sm:col-span-3">
          What this pressure does to a door
        </h2>
        <NumberField
          label="Door's width"
          kind="door"
          value={door.width}
          onChange={(text) => setDoor({ ...door, width: text })}
        />
        <NumberField
          label="Door's height"
          kind="door"
          value={door.height}
          onChange={(text) => setDoor({ ...door, height: text })}
        />
        <NumberField
          label="Handle from its edge"
          kind="door"
          value={door.handle}
          onChange={(text) => setDoor({ ...door, handle: text })}
        />
        <div className="sm:col-span-3">
          {force.data && (
            <>
              <Figure quantity={{ ...force.data.force_n, kind: "force" }} />
              <p className={pushes > hard_to_open_n ? "font-semibold text-error" : "text-sm quiet"}>
                {pushes > hard_to_open_n
                  ? "Too much: this door is hard to open. Lower the pressure; exits come first."
                  : `Added at the handle. Over ${inWords(hard_to_open_n, "force", system)} a door is hard to open; local code rules.`}
              </p>
            </>
          )}
          <Trouble error={force.error} />
        </div>
      </section>
    </div>
  );
}
