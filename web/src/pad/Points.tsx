import { Undo2 } from "lucide-react";
import { useVisit } from "../logbook/context";
import { type LoggedReading, pointOf } from "../logbook/logbook";
import { Figure } from "../shell/Figure";
import { useUnits } from "../units/UnitSystem";
import { readableOf, say } from "../units/units";
import { asTyped, inUnits } from "./asTyped";

/** What has been read at this station: each value can be read again or taken back; average and spread beside. */
export function Points({
  station,
  readings,
  correct,
  takeBack,
}: {
  station: string;
  readings: LoggedReading[];
  correct: (entry: LoggedReading) => void;
  takeBack: (entry: LoggedReading) => void;
}) {
  const { shown } = useVisit();
  const { system } = useUnits();
  const result = shown.stations.find((each) => each.station === station);
  if (readings.length === 0) {
    return (
      <p className="quiet">
        Nothing read here yet. Across a big duct, read several points: air in it is layered.
      </p>
    );
  }
  const sorted = [...readings].sort((a, b) => pointOf(a) - pointOf(b));
  return (
    <div>
      {result?.trouble && (
        <p role="alert" className="mb-2 rounded border border-error p-2">
          {say(result.trouble, system)}
        </p>
      )}
      {result?.dry_bulb && (
        <div className="mb-2 flex flex-wrap items-baseline gap-x-6 gap-y-1">
          <span>
            <span className="text-sm quiet">
              {(result.points ?? 0) > 1 ? `Average of ${result.points} ` : "Dry bulb "}
            </span>
            <Figure quantity={result.dry_bulb} />
          </span>
          {result.spread && (
            <span>
              <span className="text-sm quiet">Spread </span>
              <Figure quantity={result.spread} size="small" />
            </span>
          )}
        </div>
      )}
      {result?.remark && <p className="mb-2 border-warning border-l-4 pl-2">{say(result.remark, system)}</p>}
      <ul className="panel divide-y divide-base-300">
        {sorted.map((entry) => (
          <PointLine key={entry.id} entry={entry} correct={correct} takeBack={takeBack} />
        ))}
      </ul>
    </div>
  );
}

function PointLine({
  entry,
  correct,
  takeBack,
}: {
  entry: LoggedReading;
  correct: (entry: LoggedReading) => void;
  takeBack: (entry: LoggedReading) => void;
}) {
  const reading = entry.body;
  const { system } = useUnits();
  const name = readableOf(reading.quantity).name;
  const [value, typed] = [inUnits(entry, system), asTyped(entry)];
  const { page } = useVisit();
  const known = page.work_up.phases
    .flatMap((phase) => phase.stations.flatMap((station) => station.readings))
    .find((each) => each.entry === entry.id);
  return (
    <li className="flex items-center">
      <button
        type="button"
        className="touch flex min-w-0 flex-1 items-center gap-3 px-3 text-left hover:bg-base-200"
        aria-label={`Read again: point ${pointOf(entry)}, ${name}, ${value}`}
        onClick={() => correct(entry)}
      >
        <span className="w-5 quiet">{pointOf(entry)}</span>
        <span className="min-w-0 flex-1">
          <span className="block truncate leading-tight">{name}</span>
          <span className="block text-sm quiet leading-tight">
            {[
              known && (known.instrument || "instrument not named"),
              known?.overdue && "calibration overdue",
              known?.held && "held",
              known?.early && "early",
              value !== typed && `typed ${typed}`,
            ]
              .filter(Boolean)
              .join(", ")}
          </span>
        </span>
        {entry.waiting && (
          <span className="rounded bg-warning px-1.5 text-sm text-warning-content">waits</span>
        )}
        <span className="reading font-semibold">{value}</span>
      </button>
      <button
        type="button"
        className="btn btn-ghost touch"
        aria-label={`Take back: point ${pointOf(entry)}, ${name}, ${value}`}
        onClick={() => takeBack(entry)}
      >
        <Undo2 size={18} aria-hidden="true" />
      </button>
    </li>
  );
}
