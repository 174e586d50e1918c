import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, siOf } from "../../units/units";
import type { MoisturePage } from "./page";

/** Condensate caught: its weight, for how long, and whether the pan was wet through before. */
export function BucketForm({ moisture }: { moisture: MoisturePage }) {
  const { record, mayWrite, shown } = useVisit();
  const { system } = useUnits();
  const known = moisture.condensate;
  const { control, handleSubmit } = useForm({
    defaultValues: {
      condensate_kg: asTypedExactly(known?.condensate_kg, "water_mass", system),
      minutes: known ? String(known.minutes) : "10",
      plus_minus_kg: asTypedExactly(known?.plus_minus_kg ?? 0.05, "water_mass", system),
      settled: known?.settled === false ? "no" : "yes",
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    await record(
      "condensate",
      {
        condensate_kg: siOf(form.condensate_kg, "water_mass", system),
        minutes: siOf(form.minutes, "ratio", system),
        plus_minus_kg: siOf(form.plus_minus_kg, "water_mass", system),
        settled: form.settled === "yes",
      },
      {
        phase: shown.phase as "as_found" | "as_left",
        ...(moisture.condensate_entry ? { replaces: moisture.condensate_entry } : {}),
      },
    );
  });
  return (
    <details className="panel px-4" open={false}>
      <summary className="touch flex cursor-pointer items-center font-semibold">
        {known ? "Correct the bucket" : "Note a bucket"}
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2" aria-label="Bucket">
        <FormNumber
          control={control}
          name="condensate_kg"
          label="Water caught, without the bucket"
          kind="water_mass"
          rules={numberRule("water_mass", system, (si) => (si >= 0 && si <= 200) || "Between 0 and 200 kg.")}
        />
        <FormNumber
          control={control}
          name="minutes"
          label="Minutes"
          kind="ratio"
          rules={numberRule("ratio", system, (si) => (si >= 1 && si <= 1440) || "1 to 1440 minutes.")}
        />
        <FormNumber
          control={control}
          name="plus_minus_kg"
          label="The scale is right to ±"
          kind="water_mass"
          rules={numberRule("water_mass", system, (si) => (si > 0 && si <= 10) || "More than nothing.")}
        />
        <FormChoices
          control={control}
          name="settled"
          label="Did the pan run over before you began?"
          options={{ yes: "Yes, it ran", no: "No, it was still filling" }}
        />
        <p className="text-sm sm:col-span-2">
          Power off before you open a panel; keep the drain's trap filled afterwards.
        </p>
        <button type="submit" className="btn btn-primary touch text-base sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}
