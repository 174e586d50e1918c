/** Which value of which point comes next at a station, and what is already known there. */

import { type LoggedReading, pointOf } from "../logbook/logbook";
import { humidityChoices, namedUnit, readableOf, toSi, type Unit } from "../units/units";

export interface Place {
  point: number;
  quantity: string;
}

export const isHumidity = (quantity: string): boolean => humidityChoices.includes(quantity);

function has(readings: LoggedReading[], point: number, test: (quantity: string) => boolean): boolean {
  return readings.some((entry) => pointOf(entry) === point && test(entry.body.quantity));
}

/** The first thing not yet read here; `order`: what is read where there is no air state. */
export function firstOpen(readings: LoggedReading[], humidity: string, order: string[] = []): Place {
  if (order.length > 0) {
    const open = order.find((quantity) => !has(readings, 1, (read) => read === quantity));
    if (open) return { point: 1, quantity: open };
    return following({ point: 1, quantity: order[0] ?? "" }, humidity, readings, order);
  }
  for (let point = 1; ; point += 1) {
    if (!has(readings, point, (quantity) => quantity === "dry_bulb")) return { point, quantity: "dry_bulb" };
    if (!has(readings, point, isHumidity)) return { point, quantity: humidity };
  }
}

/** After dry bulb comes humidity of the same point, after that the next point. */
export function following(
  place: Place,
  humidity: string,
  readings: LoggedReading[],
  order: string[] = [],
): Place {
  if (order.length > 1) {
    return { ...place, quantity: order[order.indexOf(place.quantity) + 1] ?? order[0] ?? place.quantity };
  }
  if (order.length === 1) {
    const last = Math.max(place.point, ...readings.map((entry) => pointOf(entry)));
    return { point: last + 1, quantity: place.quantity };
  }
  if (place.quantity === "airflow" || place.quantity === "velocity") return place;
  if (place.quantity === "dry_bulb" && !has(readings, place.point, isHumidity)) {
    return { point: place.point, quantity: humidity };
  }
  const last = Math.max(place.point, ...readings.map((entry) => pointOf(entry)));
  return { point: last + 1, quantity: "dry_bulb" };
}

function siOf(entry: LoggedReading): number {
  const reading = entry.body;
  return toSi(reading.value, namedUnit(readableOf(reading.quantity).kind, reading.unit));
}

export function dryBulbAt(readings: LoggedReading[], point: number): number | undefined {
  const found = readings.find((entry) => pointOf(entry) === point && entry.body.quantity === "dry_bulb");
  return found && siOf(found);
}

export interface HumidityValue {
  quantity: string;
  value: number;
}

export function humidityAt(readings: LoggedReading[], point: number): HumidityValue | undefined {
  const found = readings.find((entry) => pointOf(entry) === point && isHumidity(entry.body.quantity));
  return found && { quantity: found.body.quantity, value: siOf(found) };
}

export function typedHumidity(
  quantity: string,
  value: number | undefined,
  unit: Unit,
): HumidityValue | undefined {
  return isHumidity(quantity) && value !== undefined ? { quantity, value: toSi(value, unit) } : undefined;
}
