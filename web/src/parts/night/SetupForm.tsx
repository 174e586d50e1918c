import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormNumber, FormSelect, FormText, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, siOf } from "../../units/units";
import type { Hold, NightPage } from "./useNight";

const FIELDS = [
  { name: "full_m3s", label: "Full flow of night air", kind: "airflow", low: 0.01, high: 50 },
  { name: "full_w", label: "The blower draws then", kind: "electric_power", low: 1, high: 50_000 },
  { name: "floor_c", label: "Never colder in the rooms than", kind: "temperature", low: 10, high: 30 },
  {
    name: "dew_point_limit_c",
    label: "Nothing in over a dew point of",
    kind: "temperature",
    low: -10,
    high: 30,
  },
  { name: "setpoint_c", label: "Cooling setpoint", kind: "temperature", low: 15, high: 35 },
  { name: "capacity_w", label: "The compressor cools", kind: "power", low: 500, high: 500_000 },
  { name: "floor_area_m2", label: "Floor area", kind: "area", low: 40, high: 5000 },
] as const;

const HOURS = [
  { name: "from_hour", label: "Not before, h" },
  { name: "wake_hour", label: "Wake-up, h" },
  { name: "until_hour", label: "Shut at the latest, h" },
] as const;

const HOLDS = [
  { key: "", name: "Nothing" },
  { key: "smoke", name: "Smoke outside" },
  { key: "pollen", name: "Pollen" },
  { key: "security", name: "An open way in is a risk" },
];

const hourRule = {
  validate: (text: string) => (/^\d{1,2}$/.test(text.trim()) && Number(text) <= 23) || "An hour, 0 to 23.",
};

/** What blows the night air, what it may do, and the compressor that it spares. */
export function SetupForm({ night }: { night: NightPage }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const { flush, cooling } = night.setup ?? {};
  const known: Record<string, number | null | undefined> = {
    full_m3s: flush?.full_m3s ?? night.full_m3s,
    full_w: flush?.full_w,
    floor_c: flush?.floor_c ?? 20,
    dew_point_limit_c: flush?.dew_point_limit_c ?? 15,
    setpoint_c: cooling?.setpoint_c ?? 24.5,
    capacity_w: cooling?.capacity_w ?? night.capacity_w,
    floor_area_m2: night.setup?.floor_area_m2 ?? night.floor_area_m2,
  };
  const { control, handleSubmit, getValues } = useForm<Record<string, string>>({
    defaultValues: {
      ...Object.fromEntries(
        FIELDS.map(({ name, kind }) => [name, asTypedExactly(known[name], kind, system)]),
      ),
      from_hour: String(flush?.from_hour ?? 20),
      wake_hour: String(flush?.wake_hour ?? 7),
      until_hour: String(flush?.until_hour ?? 9),
      hold: flush?.hold ?? "",
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    const si = (name: (typeof FIELDS)[number]["name"]) =>
      siOf(form[name] ?? "", FIELDS.find((field) => field.name === name)?.kind ?? "ratio", system);
    await record(
      "night_setup",
      {
        flush: {
          full_m3s: si("full_m3s"),
          full_w: si("full_w"),
          floor_c: si("floor_c"),
          dew_point_limit_c: si("dew_point_limit_c"),
          from_hour: Number(form.from_hour),
          wake_hour: Number(form.wake_hour),
          until_hour: Number(form.until_hour),
          hold: form.hold as Hold,
        },
        cooling: { setpoint_c: si("setpoint_c"), capacity_w: si("capacity_w") },
        floor_area_m2: si("floor_area_m2"),
        ...(night.setup?.house ? { house: night.setup.house } : {}),
      },
      { phase: "as_found", ...(night.setup_entry ? { replaces: night.setup_entry } : {}) },
    );
  });
  return (
    <details className="panel px-4" open={!night.setup}>
      <summary className="touch flex cursor-pointer items-center font-semibold">
        Blower, damper and limits
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2">
        {FIELDS.map(({ name, label, kind, low, high }) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={label}
            kind={kind}
            rules={numberRule(kind, system, (si) => {
              if (si < low || si > high) return "Not possible: check the unit.";
              const setpoint = siOf(getValues("setpoint_c") ?? "", "temperature", system);
              return name !== "floor_c" || !(si >= setpoint) || "Below the cooling setpoint.";
            })}
          />
        ))}
        {HOURS.map(({ name, label }) => (
          <FormText key={name} control={control} name={name} label={label} mode="numeric" rules={hourRule} />
        ))}
        <FormSelect control={control} name="hold" label="What holds it shut tonight" options={HOLDS} />
        <button type="submit" className="btn btn-primary touch text-base sm:col-span-2 sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}
