/** A zone's week as one types it: a time in use each day, and what holds outside of it. */
import type { ZoneLine } from "./useZones";

type Slot = NonNullable<ZoneLine["slots"]>[number];

export const DAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const;

export interface InUse {
  days: number[];
  /** Minutes of the day. */
  from: number;
  to: number;
  used: Omit<Slot, "from_min">;
  idle: Omit<Slot, "from_min">;
}

/** "06:30" in minutes; undefined for what is no time. "24:00" is the day's end. */
export function minutesOf(text: string): number | undefined {
  const found = /^(\d{1,2}):?(\d{2})$/.exec(text.trim());
  if (!found) return undefined;
  const minutes = Number(found[1]) * 60 + Number(found[2]);
  return Number(found[2]) < 60 && minutes <= 1440 ? minutes : undefined;
}

/** The slots of a week: each day's time in use, and idle from its end on. */
export function slotsOf({ days, from, to, used, idle }: InUse): Slot[] {
  const slots: Slot[] = [];
  for (const day of [...days].sort((a, b) => a - b)) {
    slots.push({ from_min: day * 1440 + from, ...used });
    const end = (day * 1440 + to) % (7 * 1440);
    if (!(to === 1440 && from === 0 && days.includes((day + 1) % 7))) slots.push({ from_min: end, ...idle });
  }
  return slots.sort((a, b) => a.from_min - b.from_min);
}

/** A slot's beginning in words. */
export const beginsAt = (slot: Slot): string => {
  const minute = slot.from_min % 1440;
  const clock = `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
  return `${DAYS[Math.floor(slot.from_min / 1440)]?.slice(0, 3)} ${clock}`;
};
