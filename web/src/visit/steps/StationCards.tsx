import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";
import { useVisit } from "../context";
import { type Phase, readingsAt } from "../logbook";

/** A card for each station: what was read, and a tap to read. */
export function StationCards({ phase }: { phase: Phase }) {
  const { page, entries, mayWrite, openStation } = useVisit();
  const { system } = useUnits();
  const found = page.work_up.phases.find((each) => each.phase === phase);
  return (
    <ul className="grid gap-3 wide:grid-cols-2">
      {page.work_up.path.stations.map((station) => {
        const result = found?.stations.find((each) => each.station === station.id);
        const waiting = readingsAt(entries, station.id, phase).filter((entry) => entry.waiting).length;
        const flow = result?.readings.find((reading) => reading.quantity === "airflow");
        const rh = result?.properties?.relative_humidity;
        const enthalpy = result?.properties?.enthalpy_j_per_kg;
        return (
          <li key={station.id}>
            <button
              type="button"
              disabled={!mayWrite}
              className="panel block h-full w-full p-3 text-left enabled:hover:border-primary"
              onClick={() => openStation(station.id)}
            >
              <span className="flex items-center justify-between">
                <span className="font-semibold text-lg">{station.name}</span>
                {waiting > 0 && (
                  <span className="rounded bg-warning px-1.5 text-warning-content">{waiting} waiting</span>
                )}
              </span>
              {result?.dry_bulb ? (
                <span className="mt-1 flex flex-wrap items-baseline gap-x-5">
                  <Figure quantity={result.dry_bulb} />
                  {rh && <Figure quantity={rh} size="small" />}
                  {enthalpy && (
                    <span className="reading quiet">{inWords(enthalpy.value, enthalpy.kind, system)}</span>
                  )}
                </span>
              ) : (
                <span className="mt-1 block quiet">{mayWrite ? "Tap to read" : "Not read"}</span>
              )}
              {flow && (
                <span className="mt-1 block">
                  Airflow <Figure quantity={flow.value} size="small" />
                </span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}
