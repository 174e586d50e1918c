import { type FormEvent, useState } from "react";
import { Alarms } from "../../parts/economizer/Alarms";
import { ControllerPanel } from "../../parts/economizer/ControllerPanel";
import { Minimum } from "../../parts/economizer/Minimum";
import { ModeMap } from "../../parts/economizer/ModeMap";
import { Plan } from "../../parts/economizer/Plan";
import { PointsAudit } from "../../parts/economizer/PointsAudit";
import { Relief } from "../../parts/economizer/Relief";
import { Retrofit } from "../../parts/economizer/Retrofit";
import { type Section, Sections } from "../../shell/Sections";
import { useVisit } from "../../logbook/context";
import { standing } from "../../logbook/logbook";

const EMPTY = { what: "", was: "", now: "", why: "" };

const FIELDS: [keyof typeof EMPTY, string][] = [
  ["what", "What was changed"],
  ["was", "It was"],
  ["now", "It is now"],
  ["why", "Why"],
];

const SECTIONS: Section[] = [
  { key: "changes", name: "Changes", show: ChangesMade },
  { key: "plan", name: "Plan", show: Plan },
  { key: "minimum", name: "Minimum", show: Minimum },
  { key: "map", name: "Mode map", show: ModeMap },
  { key: "relief", name: "Relief", show: Relief },
  { key: "controller", name: "Controller", show: ControllerPanel },
  { key: "points", name: "Points", show: PointsAudit },
  { key: "alarms", name: "Alarms", show: Alarms },
  { key: "retrofit", name: "Retrofit", show: Retrofit },
];

/** Changes made; where the unit has outdoor-air dampers, also their plan, points, controller and alarms. */
export function SetUp() {
  const { page } = useVisit();
  return page.economizer ? <Sections label="Parts of Set up" sections={SECTIONS} /> : <ChangesMade />;
}

/** What was changed: what, from, to, why. */
function ChangesMade() {
  const { entries, record, mayWrite } = useVisit();
  const [form, setForm] = useState(EMPTY);
  const [tried, setTried] = useState(false);
  const changes = standing(entries).filter((entry) => entry.kind === "setting");
  const missing = (name: keyof typeof EMPTY) => tried && name !== "why" && !form[name].trim();
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (!form.what.trim() || !form.was.trim() || !form.now.trim()) return;
    await record("setting", form, { phase: "as_found" });
    setForm(EMPTY);
    setTried(false);
  };
  return (
    <div className="space-y-4">
      {changes.length > 0 && (
        <ul className="panel divide-y divide-base-300">
          {changes.map((change) => (
            <li key={change.id} className="p-3">
              <p className="font-semibold">{String(change.body.what)}</p>
              <p>
                was {String(change.body.was)}, now {String(change.body.now)}
              </p>
              {Boolean(change.body.why) && <p className="text-sm quiet">{String(change.body.why)}</p>}
            </li>
          ))}
        </ul>
      )}
      {mayWrite && (
        <form onSubmit={send} className="panel grid gap-3 p-4 wide:grid-cols-2" noValidate>
          {FIELDS.map(([name, label]) => (
            <label key={name} className="block">
              <span className="mb-1 block">{label}</span>
              <input
                className={`input touch w-full ${missing(name) ? "border-error" : ""}`}
                value={form[name]}
                maxLength={4000}
                aria-invalid={missing(name)}
                onChange={(event) => setForm({ ...form, [name]: event.target.value })}
              />
              {missing(name) && (
                <span role="alert" className="block">
                  Fill this in: a change says what, from and to.
                </span>
              )}
            </label>
          ))}
          <button
            type="submit"
            className="btn btn-primary touch text-base wide:col-span-2 wide:justify-self-start"
          >
            Write this change down
          </button>
        </form>
      )}
    </div>
  );
}
