import { useSyncExternalStore } from "react";
import { useVisit } from "../../logbook/context";
import { useAskAgain, useController } from "../../logbook/controller";
import { RunState } from "../../logbook/RunState";
import { testLineOf } from "../../logbook/running";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";

const AFTER_COIL = "after_coil_temperature";

const SHOWN = { return_temperature: "Return", [AFTER_COIL]: "After the coil", supply_temperature: "Supply" };

/** The test called and read by the controller itself, where one answers and shows the air after the coil. */
export function AtController({ test }: { test: string }) {
  const { page, mayWrite } = useVisit();
  const { system } = useUnits();
  const controller = useController().data;
  const line = testLineOf(String(page.id));
  const running = useSyncExternalStore(line.subscribe, line.snapshot, line.snapshot);
  const again = useAskAgain();
  if (!controller?.connected || !mayWrite) return null;
  if (!(controller.points ?? []).some((point) => point.key === AFTER_COIL))
    return (
      <p className="border-base-300 border-t p-4 quiet">
        The controller {controller.unit} shows no temperature after the coil: read the three by hand.
      </p>
    );
  const step = `drying/${test}`;
  const mine = running?.step === step ? running : undefined;
  const last = mine?.samples.at(-1)?.values;
  return (
    <div className="space-y-2 border-base-300 border-t bg-base-200/40 p-4">
      {mine && <RunState running={mine} />}
      {mine && last && (
        <dl className="flex flex-wrap gap-x-6">
          {Object.entries(SHOWN).map(([point, name]) => (
            <div key={point}>
              <dt className="text-sm quiet">{name}</dt>
              <dd className="reading font-semibold text-2xl">
                {last[point] === undefined ? "–" : inWords(last[point], "temperature", system)}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {line.busy ? (
        <button type="button" className="btn btn-error touch text-base" onClick={() => line.stop()}>
          Stop and release
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-primary touch text-base"
          onClick={() => line.start([step], "as_left", again)}
        >
          {`Run it at the controller ${controller.unit}`}
        </button>
      )}
      <p className="text-sm quiet">
        It holds sensors and setpoints, waits until the coil has settled, reads, and lets go. Everything held
        stands in the ledger. Or do it by hand:
      </p>
    </div>
  );
}
