/** Times as people say them. */
const day = new Intl.DateTimeFormat("en", { day: "numeric", month: "short", year: "numeric" });
const clock = new Intl.DateTimeFormat("en", { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

export function when(moment: string, now = Date.now()): string {
  const at = new Date(moment);
  const today = new Date(now);
  if (at.toDateString() === today.toDateString()) return `today ${clock.format(at)}`;
  return day.format(at);
}

/** A day without an hour, given as year-month-day. */
export const dayOf = (iso: string): string => day.format(new Date(`${iso}T12:00:00`));

const month = new Intl.DateTimeFormat("en", { month: "short", year: "numeric" });

export const monthOf = (at: Date): string => month.format(at);

const second = new Intl.DateTimeFormat("en", {
  hour: "2-digit",
  minute: "2-digit",
  second: "2-digit",
  hourCycle: "h23",
});

/** Day and clock to the second, as a logger's line has it. */
export const stamp = (moment: string): string => {
  const at = new Date(moment);
  return `${day.format(at)} ${second.format(at)}`;
};

const APART_MS = 5 * 60_000;

/** When an entry came in, where that is another time than the device's: it was away, or its clock is wrong. */
export function cameIn({ at, received_at }: { at: string; received_at?: string }): string {
  if (!received_at || Math.abs(Date.parse(received_at) - Date.parse(at)) < APART_MS) return "";
  return `, came in ${when(received_at)}`;
}

export const clockTime = (moment: string): string => clock.format(new Date(moment));
