import { useState } from "react";
import { useForm } from "react-hook-form";
import { Amend } from "../../logbook/Amend";
import { useVisit } from "../../logbook/context";
import { type LoggedOf, standingOf } from "../../logbook/logbook";
import { FormText, filled } from "../../shell/fields";
import { StepPages } from "./StepPages";

const EMPTY = { what: "", was: "", now: "", why: "" };

const FIELDS: [keyof typeof EMPTY, string][] = [
  ["what", "What was changed"],
  ["was", "It was"],
  ["now", "It is now"],
  ["why", "Why"],
];

/** Changes made; where the unit has outdoor-air dampers, also their plan, points, controller and alarms. */
export function SetUp() {
  return (
    <StepPages step="set_up" label="Parts of Set up" own={{ key: "changes", name: "Changes" }}>
      <ChangesMade />
    </StepPages>
  );
}

/** What was changed: what, from, to, why. */
function ChangesMade() {
  const { entries, mayWrite } = useVisit();
  const changes = standingOf(entries, "setting");
  const [correcting, setCorrecting] = useState<string | undefined>();
  const wrong = changes.find((change) => change.id === correcting);
  return (
    <div className="space-y-4">
      {changes.length > 0 && (
        <ul className="panel divide-y divide-base-300">
          {changes.map((change) => (
            <li key={change.id} className="p-3">
              <p className="font-semibold">
                {change.body.what}
                <Amend entry={change} name={change.body.what} correct={() => setCorrecting(change.id)} />
              </p>
              <p>
                was {change.body.was}, now {change.body.now}
              </p>
              {change.body.why && <p className="text-sm quiet">{change.body.why}</p>}
            </li>
          ))}
        </ul>
      )}
      {mayWrite && <ChangeForm key={wrong?.id} wrong={wrong} done={() => setCorrecting(undefined)} />}
    </div>
  );
}

/** A change to write down; `wrong`: the one that this corrects. */
function ChangeForm({ wrong, done }: { wrong: LoggedOf<"setting"> | undefined; done: () => void }) {
  const { record } = useVisit();
  const { control, handleSubmit, reset } = useForm({ defaultValues: { ...EMPTY, ...wrong?.body } });
  const send = handleSubmit(async (change) => {
    const instead = wrong ? { replaces: wrong.id, reason: "corrected" } : {};
    const kept = record("setting", change, { phase: wrong?.phase ?? "as_found", ...instead });
    reset(EMPTY);
    done();
    await kept;
  });
  return (
    <form onSubmit={send} className="panel grid gap-3 p-4 wide:grid-cols-2" noValidate>
      {FIELDS.map(([name, label]) => (
        <FormText
          key={name}
          control={control}
          name={name}
          label={label}
          {...(name === "why" ? {} : { rules: filled("Fill this in: a change says what, from and to.") })}
        />
      ))}
      <button
        type="submit"
        className="btn btn-primary touch text-base wide:col-span-2 wide:justify-self-start"
      >
        {wrong ? "Write it down instead" : "Write this change down"}
      </button>
    </form>
  );
}
