import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormText, filled, numberRule, Tick } from "../../shell/fields";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, typedSi } from "../../units/units";
import type { Zone } from "./useZones";

const NUMBERS = [
  { name: "least_open", label: "Dampers keep open while it does not call", kind: "share" },
  { name: "damper_va", label: "One damper draws", kind: "apparent_power" },
  { name: "cable_m", label: "Cable to its farthest damper", kind: "length" },
] as const;

/** A zone to make, or to change. */
export function ZoneForm({ zone, done }: { zone?: Zone; done: (id?: string) => void }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [wireless, setWireless] = useState(zone?.wireless ?? false);
  const [dump, setDump] = useState(zone?.dump ?? false);
  const { control, handleSubmit, watch } = useForm({
    defaultValues: {
      name: zone?.name ?? "",
      damper: zone?.damper ?? ("power" as const),
      control: zone?.control ?? "",
      least_open: asTypedExactly(zone?.least_open || null, "share", system),
      damper_va: asTypedExactly(zone?.damper_va, "apparent_power", system),
      cable_m: asTypedExactly(zone?.cable_m, "length", system),
    },
  });
  const inflatable = watch("damper") === "inflatable";
  const send = handleSubmit(async (form) => {
    const id = zone?.id ?? crypto.randomUUID();
    const numbers = NUMBERS.map(({ name, kind }) => [name, typedSi(form[name], kind, system)] as const);
    const given = Object.fromEntries(
      numbers.filter(([name, value]) => value !== undefined && !(name === "least_open" && inflatable)),
    );
    const kept = record("zone", {
      id,
      name: form.name.trim(),
      rooms: zone?.rooms ?? [],
      damper: form.damper as NonNullable<Zone["damper"]>,
      control: form.control.trim(),
      wireless,
      dump,
      ...given,
    });
    done(id);
    await kept;
  });
  return (
    <form
      onSubmit={send}
      noValidate
      className="panel space-y-3 p-4"
      aria-label={zone ? "Change the zone" : "A new zone"}
    >
      <FormText
        control={control}
        name="name"
        label="Name"
        rules={filled("Give the zone a name.")}
        most={80}
      />
      <FormChoices control={control} name="damper" label="Its dampers" options={tables.ducts.zone_dampers} />
      <FormText control={control} name="control" label="Where its control point is (optional)" most={80} />
      <Tick value={wireless} onChange={setWireless}>
        Wireless, with a battery
      </Tick>
      <Tick value={dump} onChange={setDump}>
        Takes what the others leave: always open
      </Tick>
      <div className="grid gap-3 sm:grid-cols-2">
        {NUMBERS.filter((field) => !(inflatable && field.name !== "cable_m")).map(({ name, label, kind }) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={`${label} (optional)`}
            kind={kind}
            rules={numberRule(
              kind,
              system,
              (si) =>
                name === "least_open"
                  ? (si >= 0 && si <= 0.5) || "0 to 50 %."
                  : si > 0 || "A number above zero.",
              { optional: true },
            )}
          />
        ))}
      </div>
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-primary touch text-base">
          {zone ? "Keep the change" : "Make the zone"}
        </button>
        <button type="button" className="btn touch" onClick={() => done()}>
          Leave it
        </button>
      </div>
    </form>
  );
}
