import { useForm } from "react-hook-form";
import { useVisit } from "../../../logbook/context";
import { FormChoices, FormNumber, numberRule } from "../../../shell/fields";
import { tables } from "../../../units/tables.gen";
import { useUnits } from "../../../units/UnitSystem";
import { inWords, siOf, typedSi } from "../../../units/units";

const SHAPES = { rectangular: "Rectangular", round: "Round" };

const FIELDS = [
  { name: "width_m", label: "Width inside", kind: "depth", of: "rectangular" },
  { name: "height_m", label: "Height inside", kind: "depth", of: "rectangular" },
  { name: "diameter_m", label: "Diameter inside", kind: "depth", of: "round" },
  { name: "wall_m", label: "Wall the probe passes", kind: "depth", of: "" },
  { name: "after_m", label: "Straight duct before this plane", kind: "length", of: "" },
  { name: "before_m", label: "Straight duct after it", kind: "length", of: "" },
] as const;

type Form = Record<(typeof FIELDS)[number]["name"], string> & { shape: keyof typeof SHAPES };

const EMPTY: Form = {
  shape: "rectangular",
  width_m: "",
  height_m: "",
  diameter_m: "",
  wall_m: "",
  after_m: "",
  before_m: "",
};

const ZERO_OR_MORE = "This must be a number, zero or more.";

/** The duct's inside, and how much straight duct there is: where to hold the probe follows from it. */
export function DuctForm({
  station,
  done,
  waiting,
}: {
  station: string;
  done: () => void;
  waiting: boolean;
}) {
  const { record } = useVisit();
  const { system } = useUnits();
  const { control, handleSubmit, watch } = useForm<Form>({ defaultValues: EMPTY, shouldUnregister: true });
  const shape = watch("shape");
  const fields = FIELDS.filter((field) => field.of === "" || field.of === shape);
  const [least = 0, most = 0] = tables.duct_m;
  const inside = (si: number): true | string =>
    (si >= least && si <= most) ||
    `Between ${inWords(least, "depth", system)} and ${inWords(most, "depth", system)}. Check the unit.`;
  const send = handleSubmit((typed) => {
    const size =
      typed.shape === "round"
        ? { diameter_m: siOf(typed.diameter_m, "depth", system) }
        : {
            width_m: siOf(typed.width_m, "depth", system),
            height_m: siOf(typed.height_m, "depth", system),
          };
    const duct = {
      shape: typed.shape,
      ...size,
      wall_m: typedSi(typed.wall_m, "depth", system) ?? 0,
      after_m: typedSi(typed.after_m, "length", system) ?? null,
      before_m: typedSi(typed.before_m, "length", system) ?? null,
    };
    void record("plane", { station, duct }, { phase: "as_found" });
    done();
  });
  return (
    <form onSubmit={send} noValidate className="panel mt-3 space-y-3 p-4">
      <FormChoices control={control} name="shape" label="The duct is" options={SHAPES} />
      <div className="grid gap-3 sm:grid-cols-2 wide:grid-cols-3">
        {fields.map((field) => (
          <FormNumber
            key={field.name}
            control={control}
            name={field.name}
            label={field.label}
            kind={field.kind}
            rules={numberRule(field.kind, system, field.of ? inside : (si) => si >= 0 || ZERO_OR_MORE, {
              optional: !field.of,
              words: ZERO_OR_MORE,
              empty: "Measure this inside the duct.",
            })}
          />
        ))}
      </div>
      <p className="text-sm quiet">
        Straight duct may be left out; then nobody looked, and the plane is not judged.
      </p>
      <button type="submit" className="btn btn-primary touch text-base">
        Show where to hold the probe
      </button>
      {waiting && <p role="status">Kept here. The plan appears as soon as it is worked out.</p>}
    </form>
  );
}
