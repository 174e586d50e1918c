import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormNumber, FormText, numberRule } from "../../shell/fields";
import { stamp } from "../../shell/when";
import { useUnits } from "../../units/UnitSystem";
import { inWords, type System, typedSi } from "../../units/units";
import type { ZoneLine } from "./useZones";
import { beginsAt, DAYS, minutesOf, slotsOf } from "./week";

const HOURS = [2, 4, 8];

/** When a zone is used, and what it is wanted at; another setpoint for some hours, which ends by itself. */
export function Timetable({ line }: { line: ZoneLine }) {
  const { mayWrite } = useVisit();
  const { system } = useUnits();
  const slots = line.slots ?? [];
  const override = (line.overrides ?? []).at(-1);
  return (
    <section aria-labelledby="week" className="panel space-y-3 p-4">
      <h2 id="week" className="font-semibold text-lg">
        {line.zone.name}: the week
      </h2>
      {slots.length > 0 && (
        <ul className="grid gap-1 sm:grid-cols-2">
          {slots.map((slot) => (
            <li key={slot.from_min}>
              <span className="reading">{beginsAt(slot)}</span> {words(slot, system)}
            </li>
          ))}
        </ul>
      )}
      {override && (
        <p>
          Until {stamp(override.until)}: {words(override, system)}. Then the week holds again.
        </p>
      )}
      {mayWrite && <Week line={line} />}
      {mayWrite && <Override line={line} />}
    </section>
  );
}

const words = (
  wanted: { cooling_setpoint_c?: number | null; heating_setpoint_c?: number | null },
  system: System,
): string => {
  const said = [
    wanted.cooling_setpoint_c != null &&
      `cool to ${inWords(wanted.cooling_setpoint_c, "temperature", system)}`,
    wanted.heating_setpoint_c != null &&
      `heat to ${inWords(wanted.heating_setpoint_c, "temperature", system)}`,
  ].filter(Boolean);
  return said.length > 0 ? said.join(", ") : "off";
};

const SETPOINTS = [
  ["cooling", "Cool to, in use"],
  ["heating", "Heat to, in use"],
  ["idle_cooling", "Cool to, otherwise (optional)"],
  ["idle_heating", "Heat to, otherwise (optional)"],
] as const;

function Week({ line }: { line: ZoneLine }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [days, setDays] = useState([0, 1, 2, 3, 4]);
  const [wrong, setWrong] = useState("");
  const { control, handleSubmit } = useForm({
    defaultValues: {
      from: "07:00",
      to: "18:00",
      cooling: "",
      heating: "",
      idle_cooling: "",
      idle_heating: "",
    },
  });
  const send = handleSubmit(async (form) => {
    const [from, to] = [minutesOf(form.from), minutesOf(form.to)];
    const si = (text: string) => typedSi(text, "temperature", system) ?? null;
    const [cooling, heating] = [si(form.cooling), si(form.heating)];
    if (from === undefined || to === undefined || from >= to)
      return setWrong("From and to as 07:00 and 18:00, in that order.");
    if (days.length === 0) return setWrong("Choose the days on which it is used.");
    if (cooling === null && heating === null) return setWrong("Give what it is wanted at in use.");
    if (cooling !== null && heating !== null && heating >= cooling)
      return setWrong("Heating must lie below cooling, or the unit does both in turn.");
    setWrong("");
    await record("zone_timetable", {
      zone: line.zone.id,
      slots: slotsOf({
        days,
        from,
        to,
        used: { cooling_setpoint_c: cooling, heating_setpoint_c: heating },
        idle: { cooling_setpoint_c: si(form.idle_cooling), heating_setpoint_c: si(form.idle_heating) },
      }),
    });
  });
  return (
    <form onSubmit={send} noValidate className="space-y-3" aria-label="In use">
      <fieldset className="flex flex-wrap gap-2">
        <legend className="mb-1">Used on</legend>
        {DAYS.map((day, number) => (
          <button
            key={day}
            type="button"
            aria-pressed={days.includes(number)}
            aria-label={day}
            className={`btn touch ${days.includes(number) ? "btn-neutral" : ""}`}
            onClick={() =>
              setDays((before) =>
                before.includes(number) ? before.filter((each) => each !== number) : [...before, number],
              )
            }
          >
            {day.slice(0, 3)}
          </button>
        ))}
      </fieldset>
      <div className="grid gap-3 sm:grid-cols-2">
        <FormText control={control} name="from" label="From" most={5} />
        <FormText control={control} name="to" label="To" most={5} />
        {SETPOINTS.map(([name, label]) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={label}
            kind="temperature"
            rules={numberRule(
              "temperature",
              system,
              (si) => (si >= 5 && si <= 40) || "No room is wanted at that.",
              {
                optional: true,
              },
            )}
          />
        ))}
      </div>
      {wrong && <p role="alert">{wrong}</p>}
      <button type="submit" className="btn touch">
        Keep the week
      </button>
    </form>
  );
}

function Override({ line }: { line: ZoneLine }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [hours, setHours] = useState(4);
  const { control, handleSubmit, reset } = useForm({ defaultValues: { cooling: "", why: "" } });
  const send = handleSubmit(async (form) => {
    const until = new Date(Date.now() + hours * 3_600_000).toISOString();
    const kept = record("zone_override", {
      zone: line.zone.id,
      until,
      cooling_setpoint_c: typedSi(form.cooling, "temperature", system) ?? null,
      why: form.why.trim(),
    });
    reset();
    await kept;
  });
  return (
    <form onSubmit={send} noValidate className="flex flex-wrap items-end gap-2" aria-label="Override">
      <FormNumber
        control={control}
        name="cooling"
        label="Cool to, for now"
        kind="temperature"
        rules={numberRule(
          "temperature",
          system,
          (si) => (si >= 5 && si <= 40) || "No room is wanted at that.",
          {
            words: "A temperature, please.",
          },
        )}
      />
      <fieldset className="flex gap-1">
        <legend className="mb-1">for</legend>
        {HOURS.map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={hours === each}
            className={`btn touch ${hours === each ? "btn-neutral" : ""}`}
            onClick={() => setHours(each)}
          >
            {each} h
          </button>
        ))}
      </fieldset>
      <button type="submit" className="btn touch">
        Set it; it ends by itself
      </button>
    </form>
  );
}
