import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { Choices, NumberField, TextField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, number, say, typedSi } from "../../units/units";
import {
  AIR,
  AS_CARD,
  BLADE,
  bodyOf,
  draftOf,
  FILTERS,
  fromLook,
  keepDraft,
  RUNS,
  SCREEN,
  type Seen,
  sameSettings,
  type Test,
  wrongIn,
} from "./seen";
import type { Control } from "./useFreshAir";
import {
  type Device,
  holdOnly,
  lookAround,
  releaseAll,
  startBoost,
  useAskedVentilator,
  useVentilator,
} from "./ventilator";

const WAIT_S = 120;
const HOUR_S = 3600;

/** What is looked at in one test. What is left open counts as not looked at. */
export function ProveTest({ test, card, done }: { test: Test; card: Control | undefined; done: () => void }) {
  const { page, record } = useVisit();
  const { system } = useUnits();
  const visit = String(page.id);
  const [seen, setSeen] = useState<Seen>(() => draftOf(visit, test.key));
  const [tried, setTried] = useState(false);
  const { data: device } = useVentilator();
  const release = useAskedVentilator((id: string, _: undefined) => releaseAll(id));
  const change = (part: Partial<Seen>) =>
    setSeen((known) => keepDraft(visit, test.key, { ...known, ...part }));
  const read = (text: string, kind: string) => typedSi(text, kind, system);
  const wrong = wrongIn(seen, read);
  const asks = new Set(test.asks);
  const keep = async () => {
    setTried(true);
    if (Object.keys(wrong).length > 0) return;
    const held = device?.connected && Object.keys(device.held ?? {}).length > 0;
    await record("ventilator_test", bodyOf(test, seen, held ? "control" : "watched", read), {
      phase: "as_left",
    });
    keepDraft(visit, test.key, undefined);
    if (held) release.mutate(undefined);
    done();
  };
  return (
    <form
      aria-label={test.title}
      className="space-y-4 border-base-300 border-t p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <p className="text-lg">{say(test.do, system)}</p>
      {device?.connected && <AtDevice test={test} card={card} device={device} seen={seen} change={change} />}
      <div className="grid gap-3 sm:grid-cols-2">
        {asks.has("as_card") && (
          <Choices
            label="Its settings"
            options={AS_CARD}
            value={seen.as_card}
            onChange={(as_card) => change({ as_card })}
          />
        )}
        {asks.has("fan") && (
          <Choices label="Its fan" options={RUNS} value={seen.fan} onChange={(fan) => change({ fan })} />
        )}
        {asks.has("damper") && (
          <Choices
            label="The damper's blade"
            options={BLADE}
            value={seen.damper}
            onChange={(damper) => change({ damper })}
          />
        )}
        {asks.has("blower") && (
          <Choices
            label="The system's blower"
            options={RUNS}
            value={seen.blower}
            onChange={(blower) => change({ blower })}
          />
        )}
        {(test.streams ?? []).map((each) => (
          <Choices
            key={each.stream}
            label={each.name}
            options={AIR}
            value={seen.air[each.stream]}
            onChange={(air) => change({ air: { ...seen.air, [each.stream]: air } })}
          />
        ))}
        {asks.has("again") && (
          <Choices
            label={test.key === "boost" ? "Its fan, after the boost" : "Its fan, after it was taken back"}
            options={RUNS}
            value={seen.again}
            onChange={(again) => change({ again })}
          />
        )}
        {asks.has("filters") && (
          <Choices
            label="Filters"
            options={FILTERS}
            value={seen.filters}
            onChange={(filters) => change({ filters })}
          />
        )}
        {asks.has("screen") && (
          <Choices
            label="Outdoor screen"
            options={SCREEN}
            value={seen.screen}
            onChange={(screen) => change({ screen })}
          />
        )}
        {asks.has("sensor") &&
          TEMPERATURES.map(({ name, label }) => (
            <NumberField
              key={name}
              label={label}
              kind="temperature"
              value={seen.figures[name] ?? ""}
              onChange={(text) => change({ figures: { ...seen.figures, [name]: text } })}
              wrong={tried ? wrong[name] : undefined}
            />
          ))}
        {asks.has("minutes") && (
          <TextField
            label="It ran in that hour, min"
            mode="decimal"
            value={seen.figures.minutes ?? ""}
            onChange={(minutes) => change({ figures: { ...seen.figures, minutes } })}
            wrong={tried ? wrong.minutes : undefined}
          />
        )}
      </div>
      <TextField
        label="Anything else (optional)"
        value={seen.note}
        onChange={(note) => change({ note })}
        most={400}
      />
      <button type="submit" className="btn btn-primary touch text-base">
        Note what I saw
      </button>
    </form>
  );
}

const TEMPERATURES = [
  { name: "shown_c", label: "The control shows" },
  { name: "probe_c", label: "The probe beside its sensor" },
] as const;

/**
 * Does a test at the connected control. What it shows of fan and damper is what it wants, not what is: that is looked at, by
 * the technician, or by a walk around a simulated one.
 */
function AtDevice({
  test,
  card,
  device,
  seen,
  change,
}: {
  test: Test;
  card: Control | undefined;
  device: Device;
  seen: Seen;
  change: (part: Partial<Seen>) => void;
}) {
  const { page } = useVisit();
  const { system } = useUnits();
  const visit = String(page.id);
  const [since, setSince] = useState<{ at: number; ran: number } | undefined>();
  const [error, setError] = useState<unknown>();
  const hold = useAskedVentilator(holdOnly);
  const boost = useAskedVentilator((id: string, _: undefined) => startBoost(id));
  const asks = new Set(test.asks);
  const clock = device.time_s ?? 0;
  const gone = since === undefined ? undefined : clock - since.at;
  const waiting = gone !== undefined && gone < WAIT_S;
  const began = (now: Device) => setSince({ at: now.time_s ?? 0, ran: now.run_s ?? 0 });
  const walk = (into: (look: Awaited<ReturnType<typeof lookAround>>) => Partial<Seen>) => {
    setError(undefined);
    lookAround(visit)
      .then((look) => change(into(look)))
      .catch(setError);
  };
  const setUp = (points: Record<string, number>) => hold.mutateAsync(points).then(began, () => undefined);
  const takesBack = Object.keys(test.then ?? {}).length > 0;
  const counts = asks.has("minutes");
  return (
    <div className="flex flex-wrap items-center gap-2">
      {asks.has("as_card") && card && device.settings && (
        <button
          type="button"
          className="btn touch"
          onClick={() => change({ as_card: sameSettings(card, device.settings as Control) ? "yes" : "no" })}
        >
          Compare with its control
        </button>
      )}
      {asks.has("sensor") && (
        <button
          type="button"
          className="btn touch"
          onClick={() =>
            void hold.mutateAsync({}).then(
              (now) =>
                change({
                  figures: { ...seen.figures, shown_c: asTypedExactly(now.outdoor_c, "temperature", system) },
                }),
              () => undefined,
            )
          }
        >
          Take over what it shows
        </button>
      )}
      {asks.has("sensor") && device.simulated && (
        <button
          type="button"
          className="btn touch"
          onClick={() =>
            walk((look) => ({
              figures: { ...seen.figures, probe_c: asTypedExactly(look.probe_c, "temperature", system) },
            }))
          }
        >
          Hold a probe there, simulated
        </button>
      )}
      {(Object.keys(test.hold ?? {}).length > 0 || counts) && (
        <button
          type="button"
          className="btn touch"
          disabled={hold.isPending}
          onClick={() => void setUp(test.hold ?? {})}
        >
          {counts
            ? "Start counting"
            : test.key === "boost"
              ? "Free it from lockouts"
              : "Set it up at its control"}
        </button>
      )}
      {test.key === "boost" && (
        <button
          type="button"
          className="btn touch"
          onClick={() => void boost.mutateAsync(undefined).then(began, () => undefined)}
        >
          Start a boost
        </button>
      )}
      {device.simulated && !asks.has("sensor") && !counts && !asks.has("as_card") && (
        <button
          type="button"
          className="btn touch"
          disabled={waiting}
          onClick={() => walk((look) => fromLook(test, seen, look))}
        >
          Look around, simulated
        </button>
      )}
      {takesBack && (
        <button
          type="button"
          className="btn touch"
          disabled={hold.isPending}
          onClick={() => void setUp(test.then ?? {})}
        >
          Take it back
        </button>
      )}
      {device.simulated && asks.has("again") && (
        <button
          type="button"
          className="btn touch"
          disabled={waiting || (test.key === "boost" && (device.boost_left_s ?? 0) > 0)}
          onClick={() => walk((look) => ({ again: look.fan }))}
        >
          Look again, simulated
        </button>
      )}
      {counts && since && gone !== undefined && (
        <button
          type="button"
          className="btn touch"
          disabled={gone < HOUR_S}
          onClick={() => {
            const minutes = (((device.run_s ?? 0) - since.ran) / gone) * 60;
            change({ figures: { ...seen.figures, minutes: number(minutes, 1) } });
          }}
        >
          {gone < HOUR_S ? `Counting, ${number(gone / 60, 0)} of 60 min` : "Take over the minutes"}
        </button>
      )}
      {waiting && !counts && (
        <span role="status">Fan and damper come or go: wait {number(WAIT_S - (gone ?? 0), 0)} s.</span>
      )}
      <Trouble error={error ?? hold.error ?? boost.error} />
    </div>
  );
}
