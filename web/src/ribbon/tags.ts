/** What hangs under the band at each station. */
import type { Channel, State } from "../live/types";
import { useLive } from "../live/useLive";
import { useVisit } from "../logbook/context";
import { type LoggedReading, readingsAt } from "../logbook/logbook";
import { useQueue } from "../queue/useQueue";
import { useUnits } from "../units/UnitSystem";
import { namedUnit, number, type Quantity, readableOf, type System, show } from "../units/units";

export interface Tag {
  station: string;
  name: string;
  dryBulb: string;
  humidity: string;
  plusMinus: string;
  waiting: number;
  trouble: boolean;
  needed: boolean;
  /** In the ribbon itself; the others stand below it when they are used. */
  core: boolean;
  /** Held while moving, or read too soon. */
  early: boolean;
  /** A probe hangs here: what it does, or that it is out of reach. */
  live: State | "lost" | undefined;
  /** Not in the air stream itself: outdoor air at the condenser. */
  apart: boolean;
}

/** Tags of every station, in the order of the air; readings still waiting are counted, and shown until worked out. */
export function useTags(): Tag[] {
  const { page, shown, entries } = useVisit();
  const { system } = useUnits();
  useQueue();
  const { picture } = useLive();
  const more = new Set(shown.ribbon.more ?? []);
  const stations = page.work_up.path.stations.filter(
    (station) =>
      station.core ||
      more.has(station.id) ||
      readingsAt(entries, station.id, shown.phase as "as_found").length > 0,
  );
  return stations.map((station) => {
    const result = shown.stations.find((each) => each.station === station.id);
    const waiting = readingsAt(entries, station.id, shown.phase as "as_found").filter(
      (entry) => entry.waiting,
    );
    const measured = result?.dry_bulb ? show(result.dry_bulb, system) : undefined;
    const rh = result?.properties?.relative_humidity;
    return {
      station: station.id,
      name: station.name,
      dryBulb: measured
        ? `${measured.value} ${measured.unit}`
        : (firstValue(result, system) ?? lastTyped(waiting)),
      humidity: rh ? `${show(rh, system).value} % RH` : "",
      plusMinus: measured?.plusMinus ? `±${measured.plusMinus}` : "",
      waiting: waiting.length,
      trouble: Boolean(result?.trouble),
      needed: station.needed ?? false,
      core: station.core ?? false,
      early: result?.early ?? false,
      live: liveState(picture?.channels.filter((channel) => channel.station === station.id) ?? []),
      apart: page.work_up.path.apart.includes(station.id),
    };
  });
}

function firstValue(
  result: { values?: Record<string, Quantity> } | undefined,
  system: System,
): string | undefined {
  const value = Object.values(result?.values ?? {})[0];
  if (!value) return undefined;
  const given = show(value, system);
  return `${given.value} ${given.unit}`;
}

/** The least steady of a station's probes speaks for it. */
export function liveState(channels: Channel[]): State | "lost" | undefined {
  if (channels.length === 0) return undefined;
  if (channels.some((channel) => channel.lost)) return "lost";
  const order: State[] = ["moving", "scattered", "too_short", "steady"];
  return order.find((state) => channels.some((channel) => channel.state === state));
}

function lastTyped(waiting: LoggedReading[]): string {
  const read = waiting.map((entry) => entry.body);
  const last = read.findLast((reading) => reading.quantity === "dry_bulb") ?? read.at(-1);
  if (!last) return "";
  const unit = namedUnit(readableOf(last.quantity).kind, last.unit);
  return `${number(last.value, unit.decimals)} ${unit.label}`;
}
