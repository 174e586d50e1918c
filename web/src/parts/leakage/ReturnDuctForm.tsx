import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { FormChoices, FormNumber, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, number, siOf, typedSi, unitOf } from "../../units/units";

const FIELDS = [
  { name: "length_m", label: "Length of the run", kind: "length", decimals: 1, needed: true },
  { name: "perimeter_m", label: "All round it (perimeter)", kind: "length", decimals: 2, needed: true },
  {
    name: "resistance_m2k_per_w",
    label: "Insulation",
    kind: "thermal_resistance",
    decimals: 2,
    needed: true,
  },
  {
    name: "limit_m3s_per_m2",
    label: "Most that may leak at 25 Pa (optional)",
    kind: "leakage_rate",
    decimals: 1,
    needed: false,
  },
  {
    name: "floor_area_m2",
    label: "Floor it serves, for the limit (optional)",
    kind: "area",
    decimals: 0,
    needed: false,
  },
] as const;

const WHERE = { spread: "Along the run: half the static acts", near_unit: "Near the unit: all of it acts" };

/** The return run outside the rooms: its wall takes up heat that is no leak. */
export function ReturnDuctForm() {
  const { entries, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const noted = standingOf(entries, "return_duct").at(-1);
  const typed = (name: (typeof FIELDS)[number]["name"]) => {
    const field = FIELDS.find((each) => each.name === name);
    const value = noted?.body[name];
    return field && typeof value === "number"
      ? number(fromSi(value, unitOf(field.kind, system)), field.decimals)
      : "";
  };
  const { control, handleSubmit } = useForm({
    defaultValues: {
      length_m: typed("length_m"),
      perimeter_m: typed("perimeter_m"),
      resistance_m2k_per_w: typed("resistance_m2k_per_w"),
      limit_m3s_per_m2: typed("limit_m3s_per_m2"),
      floor_area_m2: typed("floor_area_m2"),
      where: noted?.body.where ?? "spread",
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    await record(
      "return_duct",
      {
        where: form.where,
        length_m: siOf(form.length_m, "length", system),
        perimeter_m: siOf(form.perimeter_m, "length", system),
        resistance_m2k_per_w: siOf(form.resistance_m2k_per_w, "thermal_resistance", system),
        ...given("limit_m3s_per_m2", typedSi(form.limit_m3s_per_m2, "leakage_rate", system)),
        ...given("floor_area_m2", typedSi(form.floor_area_m2, "area", system)),
      },
      noted ? { replaces: noted.id } : {},
    );
  });
  return (
    <form
      onSubmit={send}
      className="panel grid gap-3 p-4 wide:grid-cols-2"
      noValidate
      aria-labelledby="return-run"
    >
      <h2 id="return-run" className="font-semibold text-lg wide:col-span-2">
        The return run
      </h2>
      {FIELDS.map((field) => (
        <FormNumber
          key={field.name}
          control={control}
          name={field.name}
          label={field.label}
          kind={field.kind}
          rules={numberRule(field.kind, system, (si) => si > 0 || ABOVE_ZERO, {
            optional: !field.needed,
            words: ABOVE_ZERO,
            empty: "Fill this in.",
          })}
        />
      ))}
      <div className="wide:col-span-2">
        <FormChoices control={control} name="where" label="Where would it leak?" options={WHERE} />
      </div>
      <button type="submit" className="btn btn-primary touch text-base wide:justify-self-start">
        {noted ? "Correct the run" : "Note the run"}
      </button>
    </form>
  );
}

const ABOVE_ZERO = "A number above zero.";

const given = (name: string, value: number | undefined) => (value === undefined ? {} : { [name]: value });
