import { type FormEvent, useState } from "react";
import { useVisit } from "../../logbook/context";
import { Choices, NumberField, TextField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, inWords, say, typedSi } from "../../units/units";
import { type Page, type Setting, WithEconomizer } from "./useEconomizer";
import { YearHours } from "./YearHours";

type Value = NonNullable<Setting["as_found"]>;
type Stage = "as_found" | "planned" | "as_left";

const STAGES: Record<Stage, string> = { as_found: "As found", planned: "Planned", as_left: "As left" };

/** The settings plan: changeover first, then every setting as found, planned, as left. */
export default function Plan() {
  return <WithEconomizer>{(page) => <PlanOf page={page} />}</WithEconomizer>;
}

function PlanOf({ page }: { page: Page }) {
  const { system } = useUnits();
  const [open, setOpen] = useState<string | undefined>();
  return (
    <div className="space-y-5">
      <YearHours page={page} />
      <section aria-labelledby="settings">
        <h2 id="settings" className="font-semibold text-lg">
          Settings
        </h2>
        {page.fights && (
          <p role="alert" className="panel mt-1 border-error p-3">
            The plan fights itself: {say(page.fights, system)}
          </p>
        )}
        <ul className="panel mt-2 divide-y divide-base-300">
          <li className="hidden gap-x-3 px-3 py-2 text-sm quiet wide:grid wide:grid-cols-[1.5fr_1fr_1fr_1fr]">
            <span>Setting</span>
            <span>As found</span>
            <span>Planned</span>
            <span>As left</span>
          </li>
          {page.settings.map((setting) => (
            <li key={setting.key}>
              <button
                type="button"
                aria-expanded={open === setting.key}
                className="touch grid w-full grid-cols-3 items-center gap-x-3 px-3 py-1.5 text-left hover:bg-base-200 wide:grid-cols-[1.5fr_1fr_1fr_1fr]"
                onClick={() => setOpen(open === setting.key ? undefined : setting.key)}
              >
                <span className="col-span-3 font-semibold wide:col-span-1">{setting.name}</span>
                <Cell value={setting.as_found} of="as found" />
                <Cell value={setting.planned} of="planned" strong />
                <Cell value={setting.as_left} of="as left" />
              </button>
              {open === setting.key && <Editor setting={setting} onDone={() => setOpen(undefined)} />}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function Cell({ value, of, strong }: { value: Value | null | undefined; of: string; strong?: boolean }) {
  const { system } = useUnits();
  if (!value)
    return (
      <span className="quiet">
        –<span className="sr-only"> {of}</span>
      </span>
    );
  return (
    <span className={strong ? "font-semibold" : ""}>
      {value.number ? (
        <span className="reading">{inWords(value.number.value, value.number.kind, system)}</span>
      ) : (
        value.text?.split(":")[0]
      )}
    </span>
  );
}

function Editor({ setting, onDone }: { setting: Setting; onDone: () => void }) {
  const { record, mayWrite, page } = useVisit();
  const { system } = useUnits();
  const [stage, setStage] = useState<Stage>("planned");
  const words = Object.keys(setting.choices).length > 0;
  const start = setting[stage] ?? setting.proposed ?? setting.as_found;
  const [typed, setTyped] = useState<string | undefined>();
  const [reason, setReason] = useState("");
  const [tried, setTried] = useState(false);
  const proposed = setting.proposed;
  const shown =
    typed ??
    (words
      ? keyOf(setting, start?.text)
      : start?.number
        ? asTyped(start.number.value, kindOf(setting), system)
        : (start?.text ?? ""));
  const value = words
    ? undefined
    : setting.kind === "count"
      ? Number(shown)
      : typedSi(shown, kindOf(setting), system);
  const wrongValue =
    tried && (words ? !shown : value === undefined || Number.isNaN(value)) ? "A number, please." : "";
  const wrongReason =
    tried && stage === "planned" && !reason.trim() ? "Say why: a plan without a reason is a guess." : "";
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (
      (words ? !shown : value === undefined || Number.isNaN(value)) ||
      (stage === "planned" && !reason.trim())
    )
      return;
    await record(
      "plan_setting",
      {
        setting: setting.key,
        stage,
        reason: reason.trim(),
        ...(words ? { text: shown } : { number: value }),
      },
      { phase: stage === "as_left" ? "as_left" : "as_found" },
    );
    onDone();
  };
  const last = [setting.planned, setting.as_left, setting.as_found].filter((each) => each?.reason);
  return (
    <form
      onSubmit={send}
      className="space-y-3 bg-base-200/50 p-3"
      noValidate
      aria-label={`Set: ${setting.name}`}
    >
      {last.map((each) => (
        <p key={each?.entry} className="text-sm">
          Written down: {each?.reason}
        </p>
      ))}
      {proposed?.why && (
        <p className="text-sm">
          For this site:{" "}
          <strong>
            {proposed.number
              ? inWords(proposed.number.value, proposed.number.kind, system)
              : (setting.choices[proposed.text ?? ""] ?? proposed.text)}
          </strong>
          . {say(proposed.why, system)}
        </p>
      )}
      {mayWrite && !page.work_up.closed && (
        <>
          <Choices
            label="Which"
            options={STAGES}
            value={stage}
            onChange={(key) => {
              setStage(key as Stage);
              setTyped(undefined);
            }}
          />
          {words ? (
            <Choices label="Set to" options={setting.choices} value={shown} onChange={setTyped} />
          ) : setting.kind === "count" ? (
            <TextField label="Set to" value={shown} onChange={setTyped} wrong={wrongValue} />
          ) : (
            <NumberField
              label="Set to"
              kind={kindOf(setting)}
              value={shown}
              onChange={setTyped}
              wrong={wrongValue}
            />
          )}
          <TextField
            label={stage === "planned" ? "Why" : "Why (optional)"}
            value={reason}
            onChange={setReason}
            wrong={wrongReason}
          />
          <div className="flex gap-2">
            <button type="submit" className="btn btn-primary touch text-base">
              Write it down
            </button>
            <button type="button" className="btn btn-ghost touch" onClick={onDone}>
              Leave it
            </button>
          </div>
        </>
      )}
    </form>
  );
}

const kindOf = (setting: Setting): string => setting.kind || "ratio";

/** The value behind the words of a choice. */
function keyOf(setting: Setting, text: string | undefined): string {
  if (!text) return "";
  return Object.entries(setting.choices).find(([key, words]) => key === text || words === text)?.[0] ?? "";
}
