import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormNumber, FormSelect, numberRule } from "../../shell/fields";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, say, siOf, typedSi } from "../../units/units";
import { AirDrawing, type Way } from "./AirDrawing";
import { type MoisturePage, replacing, USUAL_AIM } from "./page";
import { ReheatCourse } from "./ReheatCourse";

const LOOKS: Record<string, Pick<Way, "className" | "dash">> = {
  plain: { className: "stroke-base-content" },
  less_air: { className: "stroke-info", dash: "6 3" },
  bypass: { className: "stroke-secondary", dash: "9 4" },
  reheat: { className: "stroke-primary", dash: "2 4" },
  both: { className: "stroke-accent", dash: "12 3 2 3" },
};

/** Drawn only where they are what it comes to: they add little to the picture. */
const IF_BEST = new Set(["less_air", "both"]);

/** The ways to dry this room at its load, side by side on one drawing, and the one with the least energy. */
export function Ways({ moisture, pressure }: { moisture: MoisturePage; pressure: number }) {
  const { system } = useUnits();
  const options = moisture.options ?? [];
  const { choice } = moisture;
  const shownWays = options.filter((each) => !IF_BEST.has(each.key) || each.key === choice?.best);
  return (
    <section aria-labelledby="ways" className="space-y-3">
      <h2 id="ways" className="font-semibold text-lg">
        How to dry this room
      </h2>
      {moisture.choice_words && (
        <p className="flex items-start gap-2 font-semibold text-lg">
          {choice && <VerdictMark mark={choice.best ? "holds" : "off"} />}
          {say(moisture.choice_words, system)}
        </p>
      )}
      {choice ? (
        <p>
          The room needs {inWords(choice.needed_c, "temperature", system)} at{" "}
          {inWords(choice.needed_ratio, "humidity_ratio", system)} blown in; its sensible heat ratio is{" "}
          {inWords(choice.sensible_heat_ratio, "ratio", system)}.
          {moisture.aim_by_unit &&
            " Its load is what the unit takes out now: right while the room's humidity neither rises nor falls."}
        </p>
      ) : (
        <p className="quiet">
          Read return, supply and airflow while it cools: then the ways are compared here.
        </p>
      )}
      {options.length > 0 && (
        <div className="grid items-start gap-4 2xl:grid-cols-[1fr_1.2fr]">
          <ul className="panel divide-y divide-base-300">
            {options.map((each) => (
              <li
                key={each.key}
                className={`grid grid-cols-[1.5rem_1fr] gap-x-3 px-3 py-2 ${
                  each.key === choice?.best ? "bg-base-200" : ""
                }`}
              >
                <VerdictMark mark={each.mark as MarkName} />
                <span className="font-semibold">
                  {each.name}
                  {each.key === choice?.best && (
                    <span className="ml-2 rounded bg-primary px-1.5 text-primary-content text-sm">
                      least energy
                    </span>
                  )}
                </span>
                <span className="col-start-2 text-sm">{say(each.words, system)}</span>
              </li>
            ))}
          </ul>
          <AirDrawing
            title="Cooling, bypass and reheat at the same supply temperature"
            pressure={pressure}
            ways={shownWays.map((each, index) => ({
              key: each.key,
              name: each.name,
              places: each.path,
              named: index === 0 ? (each.path[1]?.key === "entering" ? [0, 1] : [0]) : [],
              ...(LOOKS[each.key] ?? { className: "stroke-base-content" }),
            }))}
          />
        </div>
      )}
      {moisture.reheat_note && (
        <p className="border-info border-l-4 bg-base-200 p-3">{say(moisture.reheat_note, system)}</p>
      )}
      <ReheatCourse moisture={moisture} pressure={pressure} />
      <AimForm moisture={moisture} />
    </section>
  );
}

type Source = NonNullable<NonNullable<MoisturePage["aim"]>["reheat_source"]>;

const SOURCES = [
  { key: "", name: "None available" },
  { key: "hot_gas", name: "Hot refrigerant gas" },
  { key: "electric", name: "Electric" },
  { key: "hot_water", name: "Hot water" },
];

/** The air that is wanted, and by which means. */
function AimForm({ moisture }: { moisture: MoisturePage }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const known = moisture.aim;
  const { control, handleSubmit } = useForm({
    defaultValues: {
      wanted_c: asTypedExactly(known?.wanted_c ?? USUAL_AIM.wanted_c, "temperature", system),
      wanted_rh: asTypedExactly(known?.wanted_rh ?? USUAL_AIM.wanted_rh, "relative_humidity", system),
      room_sensible_w: asTypedExactly(known?.room_sensible_w, "power", system),
      room_water_kg_per_s: asTypedExactly(known?.room_water_kg_per_s, "water_rate", system),
      reheat_source: known?.reheat_source ?? "",
      most_bypass: asTypedExactly(known?.most_bypass ?? USUAL_AIM.most_bypass, "share", system),
      cop: String(known?.cop ?? USUAL_AIM.cop),
      least_air: asTypedExactly(known?.least_air ?? USUAL_AIM.least_air, "share", system),
      room_m3: asTypedExactly(known?.room_m3, "volume", system),
      drift_ratio: asTypedExactly(known?.drift_ratio, "humidity_ratio", system),
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    const sensible = typedSi(form.room_sensible_w, "power", system);
    const water = typedSi(form.room_water_kg_per_s, "water_rate", system);
    const volume = typedSi(form.room_m3, "volume", system);
    const drift = typedSi(form.drift_ratio, "humidity_ratio", system);
    await record(
      "moisture_aim",
      {
        wanted_c: siOf(form.wanted_c, "temperature", system),
        wanted_rh: siOf(form.wanted_rh, "relative_humidity", system),
        ...(sensible === undefined ? {} : { room_sensible_w: sensible }),
        ...(water === undefined ? {} : { room_water_kg_per_s: water }),
        ...(form.reheat_source ? { reheat_source: form.reheat_source as Source } : {}),
        ...(volume === undefined ? {} : { room_m3: volume }),
        ...(drift === undefined ? {} : { drift_ratio: drift }),
        most_bypass: siOf(form.most_bypass, "share", system),
        cop: siOf(form.cop, "ratio", system),
        least_air: siOf(form.least_air, "share", system),
      },
      replacing(moisture),
    );
  });
  const rule = (kind: string, low: number, high: number, optional = false) =>
    numberRule(
      kind,
      system,
      (si) => (si >= low && si <= high) || `${inWords(low, kind, system)} to ${inWords(high, kind, system)}.`,
      { optional },
    );
  return (
    <details className="panel px-4">
      <summary className="touch flex cursor-pointer items-center font-semibold">
        Air wanted, load and means
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2" aria-label="Air wanted">
        <FormNumber
          control={control}
          name="wanted_c"
          label="Room, wanted"
          kind="temperature"
          rules={rule("temperature", 10, 40)}
        />
        <FormNumber
          control={control}
          name="wanted_rh"
          label="Relative humidity, wanted"
          kind="relative_humidity"
          rules={rule("relative_humidity", 0.2, 0.9)}
        />
        <FormNumber
          control={control}
          name="room_sensible_w"
          label="Heat that must leave (empty: as it carries now)"
          kind="power"
          rules={rule("power", 0, 2_000_000, true)}
        />
        <FormNumber
          control={control}
          name="room_water_kg_per_s"
          label="Water that must leave (empty: as it carries now)"
          kind="water_rate"
          rules={rule("water_rate", 0, 0.5, true)}
        />
        <FormNumber
          control={control}
          name="room_m3"
          label="The room's volume (optional)"
          kind="volume"
          rules={rule("volume", 5, 500_000, true)}
        />
        <FormNumber
          control={control}
          name="drift_ratio"
          label="It gets more humid in an hour by (optional)"
          kind="humidity_ratio"
          rules={rule("humidity_ratio", -0.02, 0.02, true)}
        />
        <FormSelect control={control} name="reheat_source" label="Reheat by" options={SOURCES} />
        <FormNumber
          control={control}
          name="most_bypass"
          label="Most that may pass around the coil"
          kind="share"
          rules={rule("share", 0, 0.6)}
        />
        <FormNumber
          control={control}
          name="least_air"
          label="Least air over the coil, of today's"
          kind="share"
          rules={rule("share", 0.4, 1)}
        />
        <FormNumber
          control={control}
          name="cop"
          label="Cooling for each unit of electricity"
          kind="ratio"
          rules={rule("ratio", 1, 10)}
        />
        <button type="submit" className="btn btn-primary touch text-base sm:col-span-2 sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}
