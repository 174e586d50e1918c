import { Plus } from "lucide-react";
import { useState } from "react";
import { LiveValue, StateWords } from "../../live/LiveMark";
import { useChannelsAt } from "../../live/useLive";
import { useVisit } from "../../logbook/context";
import { type Phase, readingsAt, type Station } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { inWords, readableOf } from "../../units/units";

/** A card for each station of the air path and each that is used: what was read, and a tap to read. */
export function StationCards({ phase }: { phase: Phase }) {
  const { page, entries } = useVisit();
  const found = page.work_up.phases.find((each) => each.phase === phase);
  const used = new Set(found?.ribbon.more ?? []);
  const shown = page.work_up.path.stations.filter(
    (station) => station.core || used.has(station.id) || readingsAt(entries, station.id, phase).length > 0,
  );
  return (
    <ul className="grid gap-3 wide:grid-cols-2">
      {shown.map((station) => (
        <Card key={station.id} station={station} phase={phase} />
      ))}
    </ul>
  );
}

function Card({ station, phase }: { station: Station; phase: Phase }) {
  const { page, entries, mayWrite, openStation } = useVisit();
  const { system } = useUnits();
  const found = page.work_up.phases.find((each) => each.phase === phase);
  const result = found?.stations.find((each) => each.station === station.id);
  const channels = useChannelsAt(station.id);
  const waiting = readingsAt(entries, station.id, phase).filter((entry) => entry.waiting).length;
  const rh = result?.properties?.relative_humidity;
  const enthalpy = result?.properties?.enthalpy_j_per_kg;
  const values = Object.entries(result?.values ?? {});
  const read = result?.dry_bulb || values.length > 0;
  return (
    <li>
      <button
        type="button"
        disabled={!mayWrite}
        className="panel flex h-full w-full flex-col items-start justify-start p-3 text-left enabled:hover:border-primary"
        onClick={() => openStation(station.id)}
      >
        <span className="flex items-center justify-between gap-2">
          <span className="font-semibold text-lg">{station.name}</span>
          {result?.early && (
            <span className="rounded bg-base-200 px-1.5 text-sm" title="Read too soon">
              early
            </span>
          )}
          {waiting > 0 && (
            <span className="rounded bg-warning px-1.5 text-warning-content">{waiting} waiting</span>
          )}
        </span>
        {result?.dry_bulb && (
          <span className="mt-1 flex flex-wrap items-baseline gap-x-5">
            <Figure quantity={result.dry_bulb} />
            {rh && <Figure quantity={rh} size="small" />}
            {enthalpy && (
              <span className="reading quiet">{inWords(enthalpy.value, enthalpy.kind, system)}</span>
            )}
          </span>
        )}
        {values.map(([quantity, value]) => (
          <span key={quantity} className="mt-1 block">
            {readableOf(quantity).name}{" "}
            <Figure quantity={value} size={result?.dry_bulb ? "small" : "middle"} />
          </span>
        ))}
        {!read && <span className="mt-1 block quiet">{mayWrite ? "Tap to read" : "Not read"}</span>}
        {channels.length > 0 && (
          <span className="mt-2 flex flex-wrap items-baseline gap-x-4 border-base-300 border-t pt-1">
            {channels.map((channel) => (
              <span key={channel.key} className="inline-flex items-baseline gap-2">
                <LiveValue channel={channel} />
                {!channel.lost && channel === channels[0] && (
                  <span className="text-sm">
                    <StateWords channel={channel} />
                  </span>
                )}
              </span>
            ))}
          </span>
        )}
      </button>
    </li>
  );
}

const GROUPS: [string, string[]][] = [
  ["Air", ["air"]],
  ["Static pressure", ["static"]],
  ["Flow across a duct", ["traverse"]],
  ["Registers", ["register"]],
  ["Pipe and power", ["pipe", "electric"]],
];

/** The stations beyond those of the air path, on demand. */
export function MoreStations() {
  const { page, openStation, mayWrite } = useVisit();
  const [open, setOpen] = useState(false);
  const others = page.work_up.path.stations.filter((station) => !station.core);
  if (others.length === 0 || !mayWrite) return null;
  return (
    <section>
      <button type="button" className="btn touch" aria-expanded={open} onClick={() => setOpen(!open)}>
        <Plus size={18} aria-hidden="true" /> More stations ({others.length})
      </button>
      {open && (
        <div className="mt-2 space-y-3">
          {GROUPS.map(([name, kinds]) => {
            const here = others.filter((station) => kinds.includes(station.kind ?? "air"));
            if (here.length === 0) return null;
            return (
              <div key={name}>
                <h2 className="text-sm quiet">{name}</h2>
                <div className="mt-1 flex flex-wrap gap-2">
                  {here.map((station) => (
                    <button
                      key={station.id}
                      type="button"
                      className="btn touch"
                      onClick={() => openStation(station.id)}
                    >
                      {station.name}
                    </button>
                  ))}
                </div>
              </div>
            );
          })}
        </div>
      )}
    </section>
  );
}
