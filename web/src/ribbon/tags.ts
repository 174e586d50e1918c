/** What hangs under the band at each station. */
import { useQueue } from "../queue/useQueue";
import { useUnits } from "../units/UnitSystem";
import { namedUnit, number, readableOf, show } from "../units/units";
import { useVisit } from "../visit/context";
import { type Logged, readingOf, readingsAt } from "../visit/logbook";

export interface Tag {
  station: string;
  name: string;
  dryBulb: string;
  humidity: string;
  plusMinus: string;
  waiting: number;
  trouble: boolean;
  needed: boolean;
  /** Not in the air stream itself: outdoor air at the condenser. */
  apart: boolean;
}

/** Tags of every station, in the order of the air; readings still waiting are counted, and shown until worked out. */
export function useTags(): Tag[] {
  const { page, shown, entries } = useVisit();
  const { system } = useUnits();
  useQueue();
  return page.work_up.path.stations.map((station) => {
    const result = shown.stations.find((each) => each.station === station.id);
    const waiting = readingsAt(entries, station.id, shown.phase as "as_found").filter(
      (entry) => entry.waiting,
    );
    const measured = result?.dry_bulb ? show(result.dry_bulb, system) : undefined;
    const rh = result?.properties?.relative_humidity;
    return {
      station: station.id,
      name: station.name,
      dryBulb: measured ? `${measured.value} ${measured.unit}` : lastTyped(waiting),
      humidity: rh ? `${show(rh, system).value} % RH` : "",
      plusMinus: measured?.plusMinus ? `±${measured.plusMinus}` : "",
      waiting: waiting.length,
      trouble: Boolean(result?.trouble),
      needed: station.needed,
      apart: page.work_up.path.apart.includes(station.id),
    };
  });
}

function lastTyped(waiting: Logged[]): string {
  const last = waiting.map(readingOf).findLast((reading) => reading.quantity === "dry_bulb");
  if (!last) return "";
  const unit = namedUnit(readableOf("dry_bulb").kind, last.unit);
  return `${number(last.value, unit.decimals)} ${unit.label}`;
}
