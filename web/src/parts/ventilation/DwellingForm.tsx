import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormText, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, siOf, typedSi } from "../../units/units";
import type { FreshAirPage } from "./useFreshAir";

const EDITIONS = { "2010": "2010 and before", "2013": "2013 and after" };

/** A rule for a whole number between two; empty is allowed where `optional`. */
const whole = (low: number, high: number, optional = false) => ({
  validate: (text: string) => {
    if (!text.trim()) return optional || "A whole number.";
    const given = Number(text);
    return (
      (/^\d+$/.test(text.trim()) && given >= low && given <= high) || `A whole number, ${low} to ${high}.`
    );
  },
});

/** The dwelling as the standard sees it. */
export function DwellingForm({ fresh }: { fresh: FreshAirPage }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const { dwelling, edition } = fresh.known;
  const { control, handleSubmit, getValues } = useForm({
    defaultValues: {
      area: asTypedExactly(dwelling?.floor_area_m2, "area", system),
      bedrooms: dwelling ? String(dwelling.bedrooms) : "",
      people: dwelling?.people ? String(dwelling.people) : "",
      edition: edition ?? "2013",
      door: asTypedExactly(dwelling?.blower_door_m3s, "airflow", system),
      height: asTypedExactly(dwelling?.height_m, "length", system),
      weather: asTypedExactly(dwelling?.weather_factor, "ratio", system),
    },
  });
  if (!mayWrite) return null;
  const withDoor = {
    validate: (text: string) =>
      !getValues("door").trim() || Number(text.replace(",", ".")) > 0 || "The leakage counts only with this.",
  };
  const send = handleSubmit(async (form) => {
    const door = typedSi(form.door, "airflow", system);
    await record(
      "dwelling",
      {
        dwelling: {
          floor_area_m2: siOf(form.area, "area", system),
          bedrooms: Number(form.bedrooms),
          ...(form.people.trim() ? { people: Number(form.people) } : {}),
          ...(door === undefined
            ? {}
            : {
                blower_door_m3s: door,
                height_m: siOf(form.height, "length", system),
                weather_factor: siOf(form.weather, "ratio", system),
              }),
        },
        edition: form.edition === "2010" ? "2010" : "2013",
      },
      { phase: "as_found", ...(fresh.dwelling_entry ? { replaces: fresh.dwelling_entry } : {}) },
    );
  });
  return (
    <details className="panel px-4" open={!dwelling}>
      <summary className="touch flex cursor-pointer items-center font-semibold">The dwelling</summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2">
        <FormNumber
          control={control}
          name="area"
          label="Floor area"
          kind="area"
          rules={numberRule("area", system, (si) => (si >= 10 && si <= 2000) || "No dwelling is that size.", {
            words: "The floor that is heated or cooled.",
          })}
        />
        <FormText control={control} name="bedrooms" label="Bedrooms" mode="numeric" rules={whole(0, 20)} />
        <FormText
          control={control}
          name="people"
          label="People, where more than bedrooms + 1 (optional)"
          mode="numeric"
          rules={whole(1, 60, true)}
        />
        <FormChoices
          control={control}
          name="edition"
          label="Edition that the code there asks for"
          options={EDITIONS}
        />
        <p className="quiet sm:col-span-2">
          Was it tested with a blower door? Then leaks count in the later edition.
        </p>
        <FormNumber
          control={control}
          name="door"
          label="Leakage at 50 Pa (optional)"
          kind="airflow"
          rules={numberRule("airflow", system, (si) => si > 0 || "A flow above zero.", { optional: true })}
        />
        <FormNumber
          control={control}
          name="height"
          label="Height, lowest floor to highest ceiling"
          kind="length"
          rules={withDoor}
        />
        <FormText
          control={control}
          name="weather"
          label="Weather factor of the place, by the standard's table"
          mode="decimal"
          rules={withDoor}
        />
        <button type="submit" className="btn btn-primary touch text-base sm:col-span-2 sm:justify-self-start">
          Keep the dwelling
        </button>
      </form>
    </details>
  );
}
