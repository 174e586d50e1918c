import { type FormEvent, useState } from "react";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, number, toSi, unitOf } from "../../units/units";
import { useVisit } from "../../logbook/context";
import { standing } from "../../logbook/logbook";

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

type Typed = Record<string, string>;

/** The return run outside the rooms: its wall takes up heat that is no leak. */
export function ReturnDuctForm() {
  const { entries, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const noted = standing(entries).findLast((entry) => entry.kind === "return_duct");
  const start: Typed = {};
  for (const field of FIELDS) {
    const value = noted?.body[field.name];
    start[field.name] =
      typeof value === "number" ? number(fromSi(value, unitOf(field.kind, system)), field.decimals) : "";
  }
  const [typed, setTyped] = useState<Typed>(start);
  const [where, setWhere] = useState(String(noted?.body.where ?? "spread"));
  const [tried, setTried] = useState(false);
  if (!mayWrite) return null;
  const value = (name: string) => Number((typed[name] ?? "").replace(",", "."));
  const wrong = (field: (typeof FIELDS)[number]) => {
    const text = (typed[field.name] ?? "").trim();
    if (!text) return field.needed ? "Fill this in." : "";
    return value(field.name) > 0 ? "" : "A number above zero.";
  };
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (FIELDS.some((field) => wrong(field))) return;
    const body: Record<string, unknown> = { where };
    for (const field of FIELDS) {
      if (typed[field.name]?.trim()) body[field.name] = toSi(value(field.name), unitOf(field.kind, system));
    }
    await record("return_duct", body, noted ? { replaces: noted.id } : {});
    setTried(false);
  };
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
        <label key={field.name} className="block">
          <span className="mb-1 block">
            {field.label}, {unitOf(field.kind, system).label}
          </span>
          <input
            className={`input touch reading w-full ${tried && wrong(field) ? "border-error" : ""}`}
            inputMode="decimal"
            value={typed[field.name]}
            aria-invalid={tried && Boolean(wrong(field))}
            onChange={(event) => setTyped({ ...typed, [field.name]: event.target.value })}
          />
          {tried && wrong(field) && (
            <span role="alert" className="block">
              {wrong(field)}
            </span>
          )}
        </label>
      ))}
      <fieldset className="wide:col-span-2">
        <legend className="mb-1">Where would it leak?</legend>
        <div className="flex flex-wrap gap-2">
          {(
            [
              ["spread", "Along the run: half the static acts"],
              ["near_unit", "Near the unit: all of it acts"],
            ] as const
          ).map(([key, label]) => (
            <button
              key={key}
              type="button"
              aria-pressed={where === key}
              className={`btn touch ${where === key ? "btn-neutral" : ""}`}
              onClick={() => setWhere(key)}
            >
              {label}
            </button>
          ))}
        </div>
      </fieldset>
      <button type="submit" className="btn btn-primary touch text-base wide:justify-self-start">
        {noted ? "Correct the run" : "Note the run"}
      </button>
    </form>
  );
}
