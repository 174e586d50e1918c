import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { FormNumber, FormText, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, inWords, say, siOf, typedSi } from "../../units/units";
import { type Page, WithEconomizer } from "./useEconomizer";

/** The minimum position by the share that was measured: set, wait, read, next position. */
export default function Minimum() {
  return <WithEconomizer>{(page) => <MinimumOf page={page} />}</WithEconomizer>;
}

const HEADING = {
  set: "Set the damper to",
  read_apart: "Read it once more at",
  done: "Minimum position found",
  too_coarse: "Not settled yet; it is at",
  leaks_shut: "Leaks with the damper at",
  opens_short: "Too little with the damper at",
} as const;

function MinimumOf({ page }: { page: Page }) {
  const { system } = useUnits();
  const { walk } = page;
  return (
    <div className="space-y-4">
      <p className="quiet">
        A damper's position is not its share of outdoor air. Set it, wait until the mixed air is steady, read,
        and go where the next line says.
      </p>
      {walk.next && (
        <div className="panel grid gap-4 p-4 sm:grid-cols-3">
          <div>
            <p className="quiet">{HEADING[walk.next.advice]}</p>
            <Figure quantity={{ value: walk.next.position, plus_minus: 0, kind: "share" }} size="large" />
            {walk.next.done && <IntoThePlan position={walk.next.position} share={walk.next.wanted_share} />}
          </div>
          <div>
            <p className="quiet">Wanted share of outdoor air</p>
            <Figure quantity={{ value: walk.next.wanted_share, plus_minus: 0, kind: "share" }} />
          </div>
          <div>
            <p className="quiet">Mixed air to aim for now</p>
            <Figure quantity={{ value: walk.next.mixed_aim_c, plus_minus: 0, kind: "temperature" }} />
            {!page.day_known && (
              <p className="text-sm">Read outdoor and return air first: a mild day is assumed.</p>
            )}
          </div>
        </div>
      )}
      {walk.says && <p className="panel p-3">{say(walk.says, system)}</p>}
      {walk.trouble && <p className="panel p-3">{say(walk.trouble, system)}</p>}
      {walk.lines.length > 0 && (
        <ol className="panel divide-y divide-base-300">
          {walk.lines.map((line) => (
            <li key={line.entry} className="flex flex-wrap items-baseline gap-x-4 px-3 py-2">
              <span className="reading w-28">at {inWords(line.position, "share", system)}</span>
              {line.share && (
                <span>
                  outdoor share <Figure quantity={line.share} size="small" />
                </span>
              )}
              {line.trouble && <span className="text-sm">{say(line.trouble, system)}</span>}
            </li>
          ))}
        </ol>
      )}
      {page.need && <DamperForm page={page} key={walk.lines.length} />}
      <NeedForm page={page} key={page.need_entry} />
    </div>
  );
}

/** The position that was found goes into the plan, with its reason. */
function IntoThePlan({ position, share }: { position: number; share: number }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  if (!mayWrite) return null;
  const reason = `Gives the wanted share of ${inWords(share, "share", system)}, as measured`;
  return (
    <button
      type="button"
      className="btn touch mt-1"
      onClick={() =>
        void record("plan_setting", {
          setting: "minimum_position",
          stage: "planned",
          number: position,
          reason,
        })
      }
    >
      Put it into the plan
    </button>
  );
}

const READ_AT = [
  ["position", "Damper is at", "share"],
  ["return_c", "Return air", "temperature"],
  ["outdoor_c", "Outdoor air", "temperature"],
  ["mixed_c", "Mixed air, average of several points", "temperature"],
  ["plus_minus_k", "Probe's error ±", "temperature_difference"],
] as const;

function fits(name: (typeof READ_AT)[number][0], si: number): true | string {
  if (name === "position" && (si < 0 || si > 1)) return "Between 0 and 100 %.";
  return name !== "plus_minus_k" || si > 0 || "Above zero.";
}

function DamperForm({ page }: { page: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const next = page.walk.next;
  const { control, handleSubmit } = useForm({
    defaultValues: {
      position: next ? asTyped(next.position, "share", system) : "",
      return_c: page.day_known ? asTyped(page.day.return_c, "temperature", system) : "",
      outdoor_c: page.day_known ? asTyped(page.day.outdoor_c, "temperature", system) : "",
      mixed_c: "",
      plus_minus_k: asTyped(0.3, "temperature_difference", system),
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (typed) => {
    const read = {
      position: siOf(typed.position, "share", system),
      return_c: siOf(typed.return_c, "temperature", system),
      outdoor_c: siOf(typed.outdoor_c, "temperature", system),
      mixed_c: siOf(typed.mixed_c, "temperature", system),
      plus_minus_k: siOf(typed.plus_minus_k, "temperature_difference", system),
    };
    await record("damper_read", read, { phase: "as_found" });
  });
  return (
    <form
      onSubmit={send}
      className="panel grid gap-3 p-4 wide:grid-cols-2"
      noValidate
      aria-labelledby="damper-read"
    >
      <h2 id="damper-read" className="font-semibold text-lg wide:col-span-2">
        Read at this position
      </h2>
      {READ_AT.map(([name, label, kind]) => (
        <FormNumber
          key={name}
          control={control}
          name={name}
          label={label}
          kind={kind}
          rules={numberRule(kind, system, (si) => fits(name, si))}
        />
      ))}
      <button type="submit" className="btn btn-primary touch text-base wide:self-end">
        Note this reading
      </button>
    </form>
  );
}

const flow = (si: number): true | string => si > 0 || "A flow above zero.";

function NeedForm({ page }: { page: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const { control, handleSubmit, getValues } = useForm({
    defaultValues: {
      required: page.need ? asTyped(page.need.required_m3s, "airflow", system) : "",
      supply: page.need ? asTyped(page.need.supply_m3s, "airflow", system) : "",
      why: page.need?.why ?? "",
    },
  });
  if (!mayWrite) return null;
  const supplyFits = (si: number): true | string => {
    const required = typedSi(getValues("required"), "airflow", system);
    if (required !== undefined && required > si) return "No less than the outdoor air.";
    return flow(si);
  };
  const words = "A flow above zero.";
  const send = handleSubmit(async ({ required, supply, why }) => {
    const body = {
      required_m3s: siOf(required, "airflow", system),
      supply_m3s: siOf(supply, "airflow", system),
      why: why.trim(),
    };
    await record("outdoor_need", body, {
      phase: "as_found",
      ...(page.need_entry ? { replaces: page.need_entry } : {}),
    });
  });
  return (
    <form onSubmit={send} className="panel grid gap-3 p-4 wide:grid-cols-2" noValidate aria-labelledby="need">
      <h2 id="need" className="font-semibold text-lg wide:col-span-2">
        How much outdoor air is required
      </h2>
      <FormNumber
        control={control}
        name="required"
        label="Outdoor air required"
        kind="airflow"
        rules={numberRule("airflow", system, flow, { words })}
      />
      <FormNumber
        control={control}
        name="supply"
        label="Supply air"
        kind="airflow"
        rules={numberRule("airflow", system, supplyFits, { words })}
      />
      <FormText control={control} name="why" label="By which rule (optional)" />
      <button type="submit" className="btn touch text-base wide:self-end">
        {page.need ? "Correct it" : "Note it"}
      </button>
    </form>
  );
}
