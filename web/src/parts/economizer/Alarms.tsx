import { TriangleAlert } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import type { BodyOf } from "../../api/entries";
import { useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { useController } from "../../logbook/controller";
import { FormChoices, FormNumber, FormText, filled } from "../../shell/fields";
import { VerdictMark } from "../../shell/VerdictMark";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, say, typedSi } from "../../units/units";
import { type Page, WithEconomizer } from "./useEconomizer";

type Alarm = Page["alarms"][number];

/** Alarms: what each locks out, how it clears, what to check in which order, and its cause before it is closed. */
export default function Alarms() {
  return <WithEconomizer>{(page) => <AlarmsOf page={page} />}</WithEconomizer>;
}

function AlarmsOf({ page }: { page: Page }) {
  const { record, mayWrite } = useVisit();
  const standing = useController().data?.alarms ?? [];
  const open = page.alarms.filter((alarm) => !alarm.closed);
  const fresh = standing.filter((alarm) => !open.some((each) => each.alarm === alarm.key));
  return (
    <div className="space-y-4">
      {fresh.map((alarm) => (
        <p key={alarm.key} className="panel flex flex-wrap items-center gap-3 border-error p-3">
          <span className="flex-1 font-semibold">At the controller now: {alarm.name}</span>
          {mayWrite && (
            <button
              type="button"
              className="btn btn-primary touch"
              onClick={() => void record("alarm", { alarm: alarm.key, words: "" })}
            >
              Take it up
            </button>
          )}
        </p>
      ))}
      {page.alarms.length === 0 && fresh.length === 0 && (
        <p className="panel p-3">
          No alarm was noted on this visit. If the controller shows one, choose it below.
        </p>
      )}
      <ul className="space-y-3">
        {page.alarms.map((alarm) => (
          <AlarmCard key={alarm.entry} alarm={alarm} />
        ))}
      </ul>
      {mayWrite && (
        <section aria-labelledby="new-alarm" className="panel p-4">
          <h2 id="new-alarm" className="mb-2 font-semibold text-lg">
            Note an alarm
          </h2>
          <div className="flex flex-wrap gap-2">
            {Object.entries(page.alarm_kinds ?? {}).map(([key, name]) => (
              <button
                key={key}
                type="button"
                className="btn touch"
                onClick={() => void record("alarm", { alarm: key, words: "" })}
              >
                {name}
              </button>
            ))}
          </div>
        </section>
      )}
    </div>
  );
}

function AlarmCard({ alarm }: { alarm: Alarm }) {
  const { system } = useUnits();
  const { mayWrite } = useVisit();
  const [checking, setChecking] = useState<number | undefined>();
  const done = (index: number) => alarm.done.filter((each) => each.check === index);
  return (
    <li className={`panel p-4 ${alarm.closed ? "" : "border-error"}`}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-semibold text-xl">{alarm.name}</span>
        <span className="rounded bg-base-200 px-1.5 text-sm">
          {alarm.closed
            ? "closed"
            : alarm.by_itself
              ? "clears by itself when its cause is gone"
              : "is reset by hand"}
        </span>
      </p>
      <p>{alarm.means}</p>
      <p className="mt-1 border-accent border-l-4 pl-2 font-semibold">{alarm.locks_out}</p>
      {alarm.caution && (
        <p className="mt-1 flex gap-2 text-sm">
          <TriangleAlert size={18} className="shrink-0 text-accent" aria-hidden="true" /> {alarm.caution}
        </p>
      )}
      <ol className="mt-2 space-y-1">
        {alarm.checks.map((check, index) => (
          <li key={check}>
            <div className="flex flex-wrap items-center gap-x-3">
              <span className="flex-1">
                {index + 1}. {check}
              </span>
              {mayWrite && !alarm.closed && (
                <button
                  type="button"
                  className="btn btn-ghost touch"
                  aria-expanded={checking === index}
                  onClick={() => setChecking(checking === index ? undefined : index)}
                >
                  Checked
                </button>
              )}
            </div>
            {done(index).map((each) => (
              <p key={each.entry} className="flex items-center gap-2 pl-4">
                <VerdictMark mark={each.good ? "holds" : "off"} size={18} />
                <span>
                  {each.found} {each.says && say(each.says, system)}
                </span>
              </p>
            ))}
            {checking === index && (
              <CheckForm
                alarm={alarm.entry}
                check={index}
                resistance={check.includes("resistance")}
                onDone={() => setChecking(undefined)}
              />
            )}
          </li>
        ))}
      </ol>
      {alarm.closed ? (
        <p className="mt-2 flex items-center gap-2">
          <VerdictMark mark={alarm.cause_found ? "holds" : "watch"} />
          <span>
            {alarm.cause_found ? "Cause" : "No cause found, it stays a finding"}: {alarm.cause}
          </span>
        </p>
      ) : (
        mayWrite && <CloseForm alarm={alarm.entry} />
      )}
    </li>
  );
}

type Curve = NonNullable<BodyOf<"alarm_check">["curve"]>;

const NOTHING: { found: string; good: string; curve: Curve; ohm: string; reference: string } = {
  found: "",
  good: "yes",
  curve: "",
  ohm: "",
  reference: "",
};

function CheckForm({
  alarm,
  check,
  resistance,
  onDone,
}: {
  alarm: string;
  check: number;
  resistance: boolean;
  onDone: () => void;
}) {
  const { record } = useVisit();
  const { system } = useUnits();
  const { control, handleSubmit, watch } = useForm({ defaultValues: NOTHING });
  const [curve, reference] = watch(["curve", "reference"]);
  const send = handleSubmit(async (typed) => {
    await record("alarm_check", {
      alarm,
      check,
      found: typed.found.trim(),
      good: typed.good === "yes",
      ...(typed.curve
        ? {
            curve: typed.curve,
            resistance_ohm: typedSi(typed.ohm, "resistance", system) ?? null,
            reference_c: typedSi(typed.reference, "temperature", system) ?? null,
          }
        : {}),
    });
    onDone();
  });
  return (
    <form
      onSubmit={send}
      noValidate
      className="space-y-2 rounded bg-base-200/50 p-3"
      aria-label="What was found"
    >
      <FormText
        control={control}
        name="found"
        label="What you found"
        rules={filled("Write what you found.")}
      />
      <FormChoices
        control={control}
        name="good"
        label="In order?"
        options={{ yes: "In order", no: "Not in order" }}
      />
      {resistance && (
        <FormChoices
          control={control}
          name="curve"
          label="Sensor's curve"
          options={tables.economizer.curves}
        />
      )}
      {curve && (
        <div className="grid gap-3 sm:grid-cols-2">
          <FormNumber control={control} name="ohm" label="Resistance" kind="resistance" />
          <FormNumber control={control} name="reference" label="Probe beside it" kind="temperature" />
          <CurveSays curve={curve} celsius={typedSi(reference, "temperature", system)} />
        </div>
      )}
      <button type="submit" className="btn btn-primary touch">
        Note it
      </button>
    </form>
  );
}

/** The other way round: what resistance the sensor should have at the probe's temperature. */
function CurveSays({ curve, celsius }: { curve: string; celsius: number | undefined }) {
  const { system } = useUnits();
  const due = useDueResistance(curve, celsius);
  if (due === undefined) return null;
  return (
    <p className="text-sm">At this temperature it should have {asTyped(due, "resistance", system)} Ω.</p>
  );
}

function useDueResistance(curve: string, celsius: number | undefined): number | undefined {
  const found = useCalculation<{ resistance_ohm: { value: number } }>(
    "economizer.sensor_resistance",
    celsius === undefined ? undefined : { curve, temperature_c: celsius },
  );
  return found.data?.resistance_ohm.value;
}

function CloseForm({ alarm }: { alarm: string }) {
  const { record } = useVisit();
  const { control, handleSubmit } = useForm({ defaultValues: { cause: "", found: "yes" } });
  const send = handleSubmit(async ({ cause, found }) => {
    await record("alarm_closed", { alarm, cause: cause.trim(), found: found === "yes" });
  });
  return (
    <form
      onSubmit={send}
      noValidate
      className="mt-3 space-y-2 border-base-300 border-t pt-3"
      aria-label="Close this alarm"
    >
      <FormText
        control={control}
        name="cause"
        label="Cause, before it is closed"
        rules={filled("An alarm is closed with its cause; if none was found, say that.")}
      />
      <FormChoices
        control={control}
        name="found"
        label="Was the cause found?"
        options={{ yes: "Found", no: "Cleared, no cause found" }}
      />
      <button type="submit" className="btn touch">
        Close this alarm
      </button>
    </form>
  );
}
