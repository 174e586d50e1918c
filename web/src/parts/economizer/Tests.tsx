import { useEffect, useState, useSyncExternalStore } from "react";
import { useVisit } from "../../logbook/context";
import { useAskAgain, useController } from "../../logbook/controller";
import { ofKind } from "../../logbook/logbook";
import { testLineOf } from "../../logbook/running";
import { VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { Connection } from "./ControllerPanel";
import { Suspects } from "./Suspects";
import { TestBench } from "./TestBench";
import type { Page, Test } from "./useEconomizer";

const FINE = new Set(["holds", "watch"]);

const seenIn = (test: Test, phase: "as_found" | "as_left") =>
  phase === "as_left" ? test.as_left : test.as_found;

/** A list of tests: which are as due, which can run, and what each saw. */
export function Tests({ tests, page, words }: { tests: Test[]; page: Page; words: string }) {
  const { page: visit, mayWrite, entries } = useVisit();
  const { system } = useUnits();
  const controller = useController().data;
  const changed =
    ofKind(entries, "setting").length > 0 ||
    ofKind(entries, "configuration").some((entry) => entry.body.source === "loaded");
  const [chosen, setPhase] = useState<"as_found" | "as_left" | undefined>();
  const phase = chosen ?? (changed ? "as_left" : "as_found");
  const [open, setOpen] = useState<string | undefined>();
  const line = testLineOf(String(visit.id));
  const running = useSyncExternalStore(line.subscribe, line.snapshot, line.snapshot);
  const again = useAskAgain();
  const { busy } = line;
  const runnable = tests
    .filter((test) => !test.step.by_hand_only && !test.step.not_today)
    .map((test) => test.step.key);
  const active = busy ? running?.step : undefined;
  useEffect(() => {
    if (active) setOpen(active);
  }, [active]);
  const run = (steps: string[]) => line.start(steps, phase, again);
  const rest = tests.filter(
    (test) => runnable.includes(test.step.key) && !FINE.has(seenIn(test, phase)?.mark ?? ""),
  );
  const runAll = () => run(rest.length > 0 ? rest.map((test) => test.step.key) : runnable);
  const marks = tests.map((test) => seenIn(test, phase)?.mark ?? "not_measured");
  const fine = marks.filter((mark) => FINE.has(mark)).length;
  const off = marks.filter((mark) => mark === "off").length;
  return (
    <div className="space-y-4">
      <p className="quiet">
        {words} {page.day_known ? "" : "Outdoor and return air are not read yet: a mild day is assumed. "}
        Nothing counts as passed that was not seen.
      </p>
      {page.plan_trouble && (
        <p role="alert" className="panel border-error p-3">
          {say(page.plan_trouble, system)}
        </p>
      )}
      <Connection controller={controller} />
      <div className="flex flex-wrap items-center gap-3">
        <fieldset className="join">
          <legend className="sr-only">As found or as left</legend>
          {(["as_found", "as_left"] as const).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={phase === each}
              disabled={busy}
              className={`btn join-item touch ${phase === each ? "btn-neutral" : ""}`}
              onClick={() => setPhase(each)}
            >
              {each === "as_found" ? "As found" : "As left"}
            </button>
          ))}
        </fieldset>
        <p className="flex-1">
          <span className="reading font-semibold text-[28px] leading-8">
            {fine}/{tests.length}
          </span>{" "}
          as expected{off > 0 && <span className="font-semibold text-error">, {off} off</span>}
        </p>
        {mayWrite && controller?.connected && !busy && (
          <button type="button" className="btn btn-primary touch text-base" onClick={runAll}>
            {rest.length > 0 && rest.length < runnable.length
              ? `Go on with the other ${rest.length}`
              : "Run all that can run"}
          </button>
        )}
        {busy && (
          <button type="button" className="btn btn-error touch text-base" onClick={() => line.stop()}>
            Stop and release
          </button>
        )}
      </div>
      <Suspects page={page} />
      <ol className="panel divide-y divide-base-300" aria-label="Tests">
        {tests.map((test) => {
          const result = seenIn(test, phase);
          const shown = open === test.step.key;
          return (
            <li key={test.step.key}>
              <button
                type="button"
                aria-expanded={shown}
                className="touch flex w-full items-center gap-3 px-3 py-2 text-left hover:bg-base-200"
                onClick={() => setOpen(shown ? undefined : test.step.key)}
              >
                <VerdictMark mark={result?.mark ?? "not_measured"} />
                <span className="flex-1">
                  <span className="block font-semibold">{test.step.title}</span>
                  <span className="block text-sm">
                    {busy && running?.step === test.step.key
                      ? "Running"
                      : test.step.not_today
                        ? say(test.step.not_today, system)
                        : result
                          ? say(result.sentence, system)
                          : "Not seen yet"}
                  </span>
                </span>
              </button>
              {shown && (
                <TestBench
                  test={test}
                  phase={phase}
                  result={result ?? undefined}
                  running={running?.step === test.step.key ? running : undefined}
                  busy={busy}
                  connected={controller?.connected ?? false}
                  onRun={() => run([test.step.key])}
                />
              )}
            </li>
          );
        })}
      </ol>
    </div>
  );
}
