import type { LoggedReading } from "../logbook/logbook";
import { inWords, namedUnit, number, readableOf, type System, toSi, unitOf } from "../units/units";

/** A reading as it was typed. */
export function asTyped(entry: LoggedReading): string {
  const reading = entry.body;
  const unit = namedUnit(readableOf(reading.quantity).kind, reading.unit);
  const typed = String(reading.value).split(".")[1]?.length ?? 0;
  return `${number(reading.value, Math.max(unit.decimals, typed))} ${unit.label}`;
}

/** A reading in the user's units; as typed where that is the unit it was typed in. */
export function inUnits(entry: LoggedReading, system: System): string {
  const reading = entry.body;
  const { kind } = readableOf(reading.quantity);
  if (unitOf(kind, system).key === reading.unit) return asTyped(entry);
  return inWords(toSi(reading.value, namedUnit(kind, reading.unit)), kind, system);
}
