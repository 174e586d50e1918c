import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { pause } from "../../logbook/device";
import { Choices, NumberField, TextField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { say, typedSi } from "../../units/units";
import { callZones, lookAround, releaseZones, setControl, useAskedBoard, useBoard } from "./board";
import { fromBoard, fromLook } from "./fromBoard";
import {
  AIR,
  bodyOf,
  CONTROL,
  draftOf,
  INDICATOR,
  keepDraft,
  LEVER,
  NOISE,
  NONE,
  type Seen,
  wrongIn,
} from "./seen";
import type { ZoneTest } from "./useZones";

const DUE: Record<string, string> = { open: "air", least: "a little", shut: "none" };

/** What is looked at in one test: register by register, the board, the gauge. What is left open counts as not looked at. */
export function TestForm({ test, done }: { test: ZoneTest; done: () => void }) {
  const { page, record } = useVisit();
  const { system } = useUnits();
  const visit = String(page.id);
  const [seen, setSeen] = useState<Seen>(() => draftOf(visit, test.key));
  const [tried, setTried] = useState(false);
  const { data: board } = useBoard();
  const release = useAskedBoard((id: string, _: undefined) => releaseZones(id));
  const change = (part: Partial<Seen>) => setSeen(keepDraft(visit, test.key, { ...seen, ...part }));
  const wrong = wrongIn(seen, (text, kind) => typedSi(text, kind, system));
  const asks = new Set(test.asks);
  const keep = async () => {
    setTried(true);
    if (Object.keys(wrong).length > 0) return;
    const how = board?.connected && board.zones?.some((zone) => zone.held) ? "board" : "watched";
    await record(
      "zone_test",
      bodyOf(test, seen, how, (text, kind) => typedSi(text, kind, system)),
    );
    keepDraft(visit, test.key, undefined);
    if (how === "board") release.mutate(undefined);
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
      {board?.connected && <ByBoard test={test} seen={seen} change={change} />}
      {asks.has("called") && (
        <>
          <Choices
            label="Its control point"
            options={CONTROL}
            value={seen.control}
            onChange={(control) => change({ control })}
          />
          <Choices
            label="The zone that calls at the board"
            options={{
              ...Object.fromEntries((test.zones ?? []).map((each) => [each.zone, each.name])),
              [NONE]: "none",
            }}
            value={seen.called}
            onChange={(called) => change({ called })}
          />
        </>
      )}
      {asks.has("indicators") && (
        <section aria-label="Indicators at the board" className="grid gap-3 sm:grid-cols-2">
          {(test.zones ?? []).map((each) => (
            <Choices
              key={each.zone}
              label={`Indicator: ${each.name} (${each.indicator} is due)`}
              options={INDICATOR}
              value={seen.indicators[each.zone]}
              onChange={(light) => change({ indicators: { ...seen.indicators, [each.zone]: light } })}
            />
          ))}
        </section>
      )}
      {asks.has("air") && (
        <section aria-label="Air at the registers" className="grid gap-3 sm:grid-cols-2">
          {(test.rooms ?? []).map((room) => (
            <Choices
              key={room.branch}
              label={`${room.called} (${DUE[room.due]} is due)`}
              options={AIR}
              value={seen.air[room.branch]}
              onChange={(air) => change({ air: { ...seen.air, [room.branch]: air } })}
            />
          ))}
        </section>
      )}
      {asks.has("held") && (
        <section aria-label="Bladders" className="grid gap-3 sm:grid-cols-2">
          {(test.rooms ?? []).map((room) => (
            <Choices
              key={room.branch}
              label={`${room.called}: after a minute`}
              options={{ yes: "Holds", no: "Falls" }}
              value={seen.held[room.branch]}
              onChange={(held) => change({ held: { ...seen.held, [room.branch]: held } })}
            />
          ))}
        </section>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        {FIGURES.filter(({ name }) => asks.has(name)).map(({ name, label, kind }) => (
          <NumberField
            key={name}
            label={label}
            kind={kind}
            value={seen.figures[name] ?? ""}
            onChange={(text) => change({ figures: { ...seen.figures, [name]: text } })}
            wrong={tried ? wrong[name] : undefined}
          />
        ))}
        {asks.has("bypass") && (
          <Choices
            label="The bypass's lever"
            options={LEVER}
            value={seen.bypass}
            onChange={(bypass) => change({ bypass })}
          />
        )}
        {asks.has("noise") && (
          <Choices
            label="Noise where people sit"
            options={NOISE}
            value={seen.noise}
            onChange={(noise) => change({ noise })}
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

const FIGURES = [
  { name: "volts", label: "Transformer while they move", kind: "voltage" },
  { name: "static_pa", label: "External static", kind: "pressure" },
  { name: "supply_c", label: "Supply air", kind: "temperature" },
] as const;

/** Calls the zones of this test at the board and takes over what it shows. A simulated house is walked, too. */
function ByBoard({
  test,
  seen,
  change,
}: {
  test: ZoneTest;
  seen: Seen;
  change: (part: Partial<Seen>) => void;
}) {
  const { page } = useVisit();
  const { system } = useUnits();
  const visit = String(page.id);
  const { data: board, refetch } = useBoard();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>();
  const call = useAskedBoard(callZones);
  if (!board?.connected || (test.kind === "hold" && !board.simulated)) return null;
  const doing = (work: () => Promise<void>) => async () => {
    setBusy(true);
    setError(undefined);
    await work().catch(setError);
    setBusy(false);
  };
  const calling = (test.zones ?? []).filter((zone) => zone.calls).map((zone) => zone.zone);
  const set = doing(async () => {
    await setControl(visit, { zone: test.zone ?? "", calls: true });
    const now = (await refetch()).data;
    await setControl(visit, { zone: test.zone ?? "", calls: false });
    if (now) change(fromBoard(test, seen, now, system));
  });
  const called = doing(async () => {
    const answer = await call.mutateAsync(calling);
    await pause(300);
    const moving = (await refetch()).data ?? answer;
    change(fromBoard(test, seen, moving, system, true));
  });
  const shown = doing(async () => {
    const now = (await refetch()).data;
    if (now) change(fromBoard(test, seen, now, system));
  });
  const walked = doing(async () => change(fromLook(test, seen, await lookAround(visit), system)));
  const moving = (board.zones ?? []).some((zone) => zone.held && zone.indicator === "moving");
  return (
    <div className="flex flex-wrap items-center gap-2">
      {test.kind === "control" ? (
        board.simulated && (
          <button type="button" className="btn touch" disabled={busy} onClick={() => void set()}>
            Set its control point, simulated
          </button>
        )
      ) : (
        <>
          {test.kind !== "hold" && (
            <>
              <button type="button" className="btn touch" disabled={busy} onClick={() => void called()}>
                Call it at the board
              </button>
              <button type="button" className="btn touch" disabled={busy} onClick={() => void shown()}>
                Take over the indicators
              </button>
            </>
          )}
          {board.simulated && (
            <button type="button" className="btn touch" disabled={busy} onClick={() => void walked()}>
              Walk the rooms, simulated
            </button>
          )}
        </>
      )}
      {moving && <span role="status">Dampers are moving: wait.</span>}
      <Trouble error={error} />
    </div>
  );
}
