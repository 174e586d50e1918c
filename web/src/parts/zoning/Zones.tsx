import { Plus } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { Combinations } from "./Combinations";
import { Options } from "./Options";
import { Timetable } from "./Timetable";
import { type Page, WithZones, type ZoneLine } from "./useZones";
import { ZoneForm } from "./ZoneForm";

/** Rooms grouped into zones, what every combination of them does to the air, and what to do about it. */
export default function Zones() {
  return <WithZones>{(zoning) => <Grouped zoning={zoning} />}</WithZones>;
}

function Grouped({ zoning }: { zoning: Page }) {
  const { mayWrite, record } = useVisit();
  const { system } = useUnits();
  const zones = zoning.zones ?? [];
  const rooms = zoning.rooms ?? [];
  const [chosen, setChosen] = useState<string>();
  const [form, setForm] = useState<string>();
  const at = zones.find((line) => line.zone.id === chosen) ?? zones[0];
  const names = new Map(zones.map((line) => [line.zone.id, line.zone.name]));
  const put = (branch: string) => {
    if (!at || !mayWrite) return;
    const mine = at.zone.rooms ?? [];
    const then = mine.includes(branch) ? mine.filter((each) => each !== branch) : [...mine, branch];
    void record("zone", { ...at.zone, rooms: then });
  };
  if (rooms.length === 0) {
    return (
      <p className="text-lg">Note the branches first, on the page Ducts. Then group their rooms here.</p>
    );
  }
  const wrong = zones.find((line) => line.zone.id === form)?.zone;
  return (
    <div className="space-y-4">
      {zones.length === 0 && (
        <p className="text-lg">
          A zone is rooms that one control point commands: any rooms, on any floors. Make the first zone, then
          tap its rooms.
        </p>
      )}
      {zones.length > 0 && (
        <div className="grid gap-3 sm:grid-cols-2 wide:grid-cols-3">
          {zones.map((line) => (
            <ZoneCard
              key={line.zone.id}
              line={line}
              chosen={line === at}
              choose={() => setChosen(line.zone.id)}
              change={() => setForm(line.zone.id)}
            />
          ))}
        </div>
      )}
      {mayWrite && form === undefined && (
        <button type="button" className="btn btn-primary touch text-base" onClick={() => setForm("new")}>
          <Plus size={18} aria-hidden="true" /> Zone
        </button>
      )}
      {form !== undefined && (
        <ZoneForm
          key={form}
          {...(wrong ? { zone: wrong } : {})}
          done={(id) => {
            setForm(undefined);
            if (id) setChosen(id);
          }}
        />
      )}
      {at && (
        <section aria-labelledby="rooms">
          <h2 id="rooms" className="font-semibold text-lg">
            Rooms of {at.zone.name}
          </h2>
          {mayWrite && (
            <p className="quiet">Tap a room to put it in, or to take it out. A room is in one zone.</p>
          )}
          <ul className="mt-2 grid grid-cols-2 gap-2 wide:grid-cols-4">
            {rooms.map((room) => (
              <li key={room.branch}>
                <button
                  type="button"
                  aria-pressed={room.zone === at.zone.id}
                  className={`btn touch h-auto w-full flex-col items-start gap-0 px-3 py-1.5 text-left font-normal ${
                    room.zone === at.zone.id ? "btn-neutral" : ""
                  }`}
                  onClick={() => put(room.branch)}
                >
                  <span>{room.called}</span>
                  <span className="text-sm opacity-80">{names.get(room.zone) ?? "always open"}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {zoning.trouble && zones.length > 0 && <p className="font-semibold">{say(zoning.trouble, system)}</p>}
      {zoning.proposal && <p className="text-2xl leading-snug">{say(zoning.proposal, system)}</p>}
      <Combinations zoning={zoning} />
      <Options zoning={zoning} />
      {at && <Timetable key={at.zone.id} line={at} />}
    </div>
  );
}

function ZoneCard({
  line,
  chosen,
  choose,
  change,
}: {
  line: ZoneLine;
  chosen: boolean;
  choose: () => void;
  change: () => void;
}) {
  const { mayWrite, record } = useVisit();
  const zone = line.zone;
  const count = zone.rooms?.length ?? 0;
  return (
    <div className={`panel p-3 ${chosen ? "border-2 border-primary" : ""}`}>
      <button type="button" className="block w-full text-left" aria-pressed={chosen} onClick={choose}>
        <span className="font-semibold text-lg">{zone.name}</span>
        <span className="block text-sm quiet">
          {count === 1 ? "1 room" : `${count} rooms`} · {tables.ducts.zone_dampers[zone.damper ?? "power"]}
          {zone.dump ? " · takes what is left" : ""}
        </span>
        {line.alone && (
          <span className="mt-1 block">
            <Figure quantity={line.alone} /> <span className="text-sm">alone</span>
          </span>
        )}
      </button>
      {mayWrite && (
        <div className="mt-1 flex gap-4">
          <button type="button" className="link touch" onClick={change}>
            Change
          </button>
          <button
            type="button"
            className="link touch"
            onClick={() => void record("zone_gone", { id: zone.id })}
          >
            Take out
          </button>
        </div>
      )}
    </div>
  );
}
