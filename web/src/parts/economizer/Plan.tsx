import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormText, filled, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, inWords, say, siOf } from "../../units/units";
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
  const { control, handleSubmit, watch, setValue } = useForm<Form>({
    defaultValues: { stage: "planned", value: startOf(setting, "planned", system), reason: "" },
  });
  const stage = watch("stage");
  const { proposed } = setting;
  const words = Object.keys(setting.choices).length > 0;
  const kind = kindOf(setting);
  const send = handleSubmit(async (typed) => {
    const value = setting.kind === "count" ? Number(typed.value) : siOf(typed.value, kind, system);
    await record(
      "plan_setting",
      {
        setting: setting.key,
        stage: typed.stage,
        reason: typed.reason.trim(),
        ...(words ? { text: typed.value } : { number: value }),
      },
      { phase: typed.stage === "as_left" ? "as_left" : "as_found" },
    );
    onDone();
  });
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
          <FormChoices
            control={control}
            name="stage"
            label="Which"
            options={STAGES}
            onChosen={(next) => setValue("value", startOf(setting, next, system))}
          />
          {words ? (
            <FormChoices
              control={control}
              name="value"
              label="Set to"
              options={setting.choices}
              rules={filled("Choose one.")}
            />
          ) : setting.kind === "count" ? (
            <FormText
              control={control}
              name="value"
              label="Set to"
              rules={{ validate: (text) => /^\s*\d+\s*$/.test(text) || "A number, please." }}
            />
          ) : (
            <FormNumber
              control={control}
              name="value"
              label="Set to"
              kind={kind}
              rules={numberRule(kind, system)}
            />
          )}
          <FormText
            control={control}
            name="reason"
            label={stage === "planned" ? "Why" : "Why (optional)"}
            {...(stage === "planned"
              ? { rules: filled("Say why: a plan without a reason is a guess.") }
              : {})}
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
function keyOf(setting: Setting, text: string | null | undefined): string {
  if (!text) return "";
  return Object.entries(setting.choices).find(([key, words]) => key === text || words === text)?.[0] ?? "";
}

interface Form {
  stage: Stage;
  value: string;
  reason: string;
}

/** What stands in the field at first: what is written down for the stage, what is proposed, what was found. */
function startOf(setting: Setting, stage: string, system: "SI" | "US"): string {
  const written = { as_found: setting.as_found, planned: setting.planned, as_left: setting.as_left };
  const start = written[stage as Stage] ?? setting.proposed ?? setting.as_found;
  if (Object.keys(setting.choices).length > 0) return keyOf(setting, start?.text);
  return start?.number ? asTyped(start.number.value, kindOf(setting), system) : (start?.text ?? "");
}
