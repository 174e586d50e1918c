import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { SimulatedScene } from "../../logbook/SimulatedScene";
import { useUnits } from "../../units/UnitSystem";
import { inWords, number } from "../../units/units";
import { changeScene, type Device, releaseAll, useAskedVentilator, useVentilator } from "./ventilator";

const LOCKED: Record<string, string> = {
  low: "off: too cold outdoors",
  high: "off: too hot outdoors",
  dew: "off: too moist outdoors",
  humid: "off: the rooms are too moist",
};

/** The connected control: what it shows, what is held; or why there is none. */
export function DevicePanel() {
  const { mayWrite } = useVisit();
  const { data: device } = useVentilator();
  const release = useAskedVentilator((visit: string, _: undefined) => releaseAll(visit));
  const scene = useAskedVentilator(changeScene);
  if (!device) return null;
  const held = Object.keys(device.held ?? {}).length > 0;
  return (
    <section aria-labelledby="device" className="panel space-y-3 p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="device" className="font-semibold text-lg">
          Its control{device.name && ` ${device.name}`}
          {device.simulated && (
            <span className="quiet font-normal">, simulated, {number(device.speed ?? 1, 0)}× real time</span>
          )}
        </h2>
        {held && mayWrite && (
          <button type="button" className="btn touch" onClick={() => release.mutate(undefined)}>
            Let it go
          </button>
        )}
      </div>
      {device.connected ? <Shown device={device} /> : <p>{device.words}</p>}
      {(device.not_released ?? []).length > 0 && (
        <p role="alert">The control did not let go. It stays in the ledger.</p>
      )}
      <Trouble error={release.error} />
      {device.simulated && mayWrite && (
        <SimulatedScene name="ventilator" scene={device} change={scene.mutate} error={scene.error} />
      )}
    </section>
  );
}

function Shown({ device }: { device: Device }) {
  const { system } = useUnits();
  return (
    <ul className="flex flex-wrap gap-x-6 gap-y-1">
      <li>{device.fan ? "called" : "at rest"}</li>
      {device.locked && <li className="font-semibold">{LOCKED[device.locked] ?? "locked out"}</li>}
      {device.damper && <li>damper driven {device.damper}</li>}
      {device.outdoor_c != null && (
        <li>
          outdoors <span className="reading">{inWords(device.outdoor_c, "temperature", system)}</span>
        </li>
      )}
      {(device.boost_left_s ?? 0) > 0 && (
        <li>boost, {inWords(device.boost_left_s ?? 0, "duration", system)} left</li>
      )}
      {Object.keys(device.held ?? {}).length > 0 && <li className="badge badge-warning">held</li>}
    </ul>
  );
}
