/** Days of a week, and appointments by day, by the clock of this device. */
import type { Schemas } from "../api/client";

export type Appointment = Schemas["AppointmentLine"];

const two = (value: number): string => String(value).padStart(2, "0");

/** A day as year-month-day, here. */
export const dayKey = (at: Date): string =>
  `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;

/** The Monday of a day's week, so many weeks on. */
export function monday(of: Date, weeks = 0): Date {
  const back = (of.getDay() + 6) % 7;
  return new Date(of.getFullYear(), of.getMonth(), of.getDate() - back + 7 * weeks, 12);
}

/** Seven days from one on; by the calendar, as a day may have 23 hours. */
export const daysFrom = (first: Date, count = 7): Date[] =>
  Array.from(
    { length: count },
    (_, index) => new Date(first.getFullYear(), first.getMonth(), first.getDate() + index, 12),
  );

export function byDay(appointments: Appointment[]): Map<string, Appointment[]> {
  const found = new Map<string, Appointment[]>();
  for (const each of appointments) {
    const key = dayKey(new Date(each.starts_at));
    found.set(key, [...(found.get(key) ?? []), each]);
  }
  return found;
}

/** A day and an hour as typed here, as a moment; undefined where one is missing. */
export function momentOf(day: string, hour: string): string | undefined {
  const at = new Date(`${day}T${hour}`);
  return day && hour && !Number.isNaN(at.getTime()) ? at.toISOString() : undefined;
}
