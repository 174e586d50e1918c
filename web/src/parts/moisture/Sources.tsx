import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormNumber, numberRule } from "../../shell/fields";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, say, show, siOf, typedSi } from "../../units/units";
import type { MoisturePage } from "./page";

/** Where the water comes from: a balance in kilograms an hour, each source with its half-width. */
export function Sources({ moisture }: { moisture: MoisturePage }) {
  const { system } = useUnits();
  const brought = moisture.brought ?? [];
  const most = Math.max(...brought.map((each) => Math.abs(each.brings.value) + each.brings.plus_minus), 1e-9);
  return (
    <section aria-labelledby="sources" className="space-y-3">
      <h2 id="sources" className="font-semibold text-lg">
        Where the water comes from
      </h2>
      {moisture.sources_words && (
        <p className="flex items-start gap-2 font-semibold">
          {moisture.sources_mark && <VerdictMark mark={moisture.sources_mark as MarkName} />}
          {say(moisture.sources_words, system)}
        </p>
      )}
      {brought.length > 0 ? (
        <table className="table">
          <thead className="sr-only">
            <tr>
              <th>Source</th>
              <th>Water</th>
              <th>Share of the largest</th>
            </tr>
          </thead>
          <tbody>
            {brought.map(({ key, name, brings }) => {
              const figure = show(brings, system);
              const [low, high] = [brings.value - brings.plus_minus, brings.value + brings.plus_minus];
              return (
                <tr key={key} className={key === "unexplained" ? "font-semibold" : ""}>
                  <td>{name}</td>
                  <td className="reading whitespace-nowrap text-right">
                    {figure.value} {figure.unit} <span className="quiet">±{figure.plusMinus}</span>
                  </td>
                  <td className="w-1/3 max-sm:hidden">
                    <svg
                      viewBox="0 0 100 12"
                      className="h-4 w-full"
                      preserveAspectRatio="none"
                      aria-hidden="true"
                    >
                      <rect
                        x="0"
                        y="2"
                        height="8"
                        width={(Math.max(brings.value, 0) / most) * 100}
                        className={key === "unexplained" ? "fill-secondary" : "fill-primary"}
                      />
                      <rect
                        x={(Math.max(low, 0) / most) * 100}
                        y="5"
                        height="2"
                        width={((Math.max(high, 0) - Math.max(low, 0)) / most) * 100}
                        className="fill-base-content"
                      />
                    </svg>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : (
        <p className="quiet">
          Note what may bring water in. What the unit takes out, less what these bring, is what nobody has
          found yet.
        </p>
      )}
      <SourcesForm moisture={moisture} />
    </section>
  );
}

type Field = Exclude<keyof NonNullable<MoisturePage["sources"]>, symbol>;

const FIELDS: { name: Field; label: string; kind: string; least?: number; most: number }[] = [
  { name: "outdoor_m3s", label: "Outdoor air through the unit", kind: "airflow", most: 50 },
  { name: "infiltration_m3s", label: "Outdoor air through gaps and doors", kind: "airflow", most: 50 },
  { name: "occupants", label: "People in the room", kind: "ratio", most: 5000 },
  { name: "wet_area_m2", label: "Open water, wet floor", kind: "area", most: 5000 },
  { name: "water_c", label: "That water is", kind: "temperature", most: 60 },
  { name: "process_kg_per_s", label: "A process gives off", kind: "water_rate", most: 0.5 },
  { name: "blower_door_m3s", label: "Or: the building's leaks at 50 Pa", kind: "airflow", most: 50 },
  {
    name: "building_pa",
    label: "And its pressure against outdoors",
    kind: "pressure",
    least: -200,
    most: 200,
  },
];

function SourcesForm({ moisture }: { moisture: MoisturePage }) {
  const { record, mayWrite, entries, shown } = useVisit();
  const { system } = useUnits();
  const known = moisture.sources;
  const { control, handleSubmit } = useForm<Record<string, string>>({
    defaultValues: Object.fromEntries(
      FIELDS.map(({ name, kind }) => [name, asTypedExactly(known?.[name], kind, system)]),
    ),
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    const body: Record<string, number> = {};
    for (const { name, kind } of FIELDS) {
      if (typedSi(form[name] ?? "", kind, system) !== undefined)
        body[name] = siOf(form[name] ?? "", kind, system);
    }
    const noted = entries.find((each) => each.id === moisture.sources_entry);
    const corrects = noted && noted.phase === shown.phase ? { replaces: noted.id } : {};
    await record("water_sources", body, { phase: shown.phase as "as_found" | "as_left", ...corrects });
  });
  return (
    <details className="panel px-4">
      <summary className="touch flex cursor-pointer items-center font-semibold">
        What may bring water in
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2" aria-label="Water sources">
        {FIELDS.map(({ name, label, kind, least = 0, most }) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={label}
            kind={kind}
            rules={numberRule(
              kind,
              system,
              (si) =>
                (si >= least && si <= most) ||
                `${least ? inWords(least, kind, system) : "0"} to ${inWords(most, kind, system)}.`,
              { optional: true },
            )}
          />
        ))}
        <p className="text-sm sm:col-span-2">
          Outdoor air left empty: by the measured share. A leak in the return duct comes from its own test.
        </p>
        <button type="submit" className="btn btn-primary touch text-base sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}
