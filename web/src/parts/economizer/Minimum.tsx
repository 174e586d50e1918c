import { type FormEvent, useState } from "react";
import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say, asTyped, typedSi } from "../../units/units";
import { useVisit } from "../../logbook/context";
import { NumberField, TextField } from "../../shell/fields";
import { type Page, WithEconomizer } from "./useEconomizer";

/** The minimum position by the share that was measured: set, wait, read, next position. */
export default function Minimum() {
  return <WithEconomizer>{(page) => <MinimumOf page={page} />}</WithEconomizer>;
}

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
            <p className="quiet">{walk.next.done ? "Minimum position found" : "Set the damper to"}</p>
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

function DamperForm({ page }: { page: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const next = page.walk.next;
  const [typed, setTyped] = useState({
    position: next ? asTyped(next.position, "share", system) : "",
    return_c: page.day_known ? asTyped(page.day.return_c, "temperature", system) : "",
    outdoor_c: page.day_known ? asTyped(page.day.outdoor_c, "temperature", system) : "",
    mixed_c: "",
    plus_minus_k: asTyped(0.3, "temperature_difference", system),
  });
  const [tried, setTried] = useState(false);
  if (!mayWrite) return null;
  const fields = [
    ["position", "Damper stands at", "share"],
    ["return_c", "Return air", "temperature"],
    ["outdoor_c", "Outdoor air", "temperature"],
    ["mixed_c", "Mixed air, average of several points", "temperature"],
    ["plus_minus_k", "Probe's error ±", "temperature_difference"],
  ] as const;
  const value = (name: keyof typeof typed, kind: string) => typedSi(typed[name], kind, system);
  const wrong = (name: keyof typeof typed, kind: string) => {
    const found = value(name, kind);
    if (found === undefined) return "A number, please.";
    if (name === "position" && (found < 0 || found > 1)) return "Between 0 and 100 %.";
    return name === "plus_minus_k" && found <= 0 ? "Above zero." : "";
  };
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (fields.some(([name, , kind]) => wrong(name, kind))) return;
    await record(
      "damper_read",
      Object.fromEntries(fields.map(([name, , kind]) => [name, value(name, kind)])),
      {
        phase: "as_found",
      },
    );
  };
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
      {fields.map(([name, label, kind]) => (
        <NumberField
          key={name}
          label={label}
          kind={kind}
          value={typed[name]}
          onChange={(text) => setTyped({ ...typed, [name]: text })}
          wrong={tried ? wrong(name, kind) : ""}
        />
      ))}
      <button type="submit" className="btn btn-primary touch text-base wide:self-end">
        Note this reading
      </button>
    </form>
  );
}

function NeedForm({ page }: { page: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const [typed, setTyped] = useState({
    required_m3s: page.need ? asTyped(page.need.required_m3s, "airflow", system) : "",
    supply_m3s: page.need ? asTyped(page.need.supply_m3s, "airflow", system) : "",
  });
  const [why, setWhy] = useState(page.need?.why ?? "");
  const [tried, setTried] = useState(false);
  if (!mayWrite) return null;
  const required = typedSi(typed.required_m3s, "airflow", system);
  const supply = typedSi(typed.supply_m3s, "airflow", system);
  const wrongRequired = required === undefined || required <= 0 ? "A flow above zero." : "";
  const wrongSupply =
    supply === undefined || supply <= 0
      ? "A flow above zero."
      : required !== undefined && required > supply
        ? "No less than the outdoor air."
        : "";
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (wrongRequired || wrongSupply) return;
    const body = { required_m3s: required, supply_m3s: supply, why: why.trim() };
    await record("outdoor_need", body, {
      phase: "as_found",
      ...(page.need_entry ? { replaces: page.need_entry } : {}),
    });
    setTried(false);
  };
  return (
    <form onSubmit={send} className="panel grid gap-3 p-4 wide:grid-cols-2" noValidate aria-labelledby="need">
      <h2 id="need" className="font-semibold text-lg wide:col-span-2">
        How much outdoor air is required
      </h2>
      <NumberField
        label="Outdoor air required"
        kind="airflow"
        value={typed.required_m3s}
        onChange={(text) => setTyped({ ...typed, required_m3s: text })}
        wrong={tried ? wrongRequired : ""}
      />
      <NumberField
        label="Supply air"
        kind="airflow"
        value={typed.supply_m3s}
        onChange={(text) => setTyped({ ...typed, supply_m3s: text })}
        wrong={tried ? wrongSupply : ""}
      />
      <TextField label="By which rule (optional)" value={why} onChange={setWhy} />
      <button type="submit" className="btn touch text-base wide:self-end">
        {page.need ? "Correct it" : "Note it"}
      </button>
    </form>
  );
}
