/** Times as people say them. */
const day = new Intl.DateTimeFormat("en", { day: "numeric", month: "short", year: "numeric" });
const clock = new Intl.DateTimeFormat("en", { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

export function when(moment: string, now = Date.now()): string {
  const at = new Date(moment);
  const today = new Date(now);
  if (at.toDateString() === today.toDateString()) return `today ${clock.format(at)}`;
  return day.format(at);
}

export const clockTime = (moment: string): string => clock.format(new Date(moment));
