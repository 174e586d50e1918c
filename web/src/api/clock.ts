/** The device's clock against the server's: every answer says when it was given. */
import { useSyncExternalStore } from "react";

const KEPT = "fentro.clock";
const FAR_MS = 2 * 60_000;
/** Answers tell the time to the second, and take a while. */
const NEAR_MS = 5_000;

const kept = (): number => {
  try {
    return Number(localStorage.getItem(KEPT)) || 0;
  } catch {
    return 0;
  }
};

let off = typeof localStorage === "undefined" ? 0 : kept();
const listeners = new Set<() => void>();

/** Heard from the server that it is now so late. */
export function heard(date: string | null, now = Date.now()): void {
  const there = date ? Date.parse(date) : Number.NaN;
  if (Number.isNaN(there)) return;
  const found = there - now;
  const next = Math.abs(found) > FAR_MS ? found : 0;
  if (Math.abs(next - off) < NEAR_MS) return;
  off = next;
  try {
    if (off) localStorage.setItem(KEPT, String(off));
    else localStorage.removeItem(KEPT);
  } catch {
    // It is heard anew with the next answer.
  }
  for (const listener of listeners) listener();
}

/** Now, by the server's clock where the device's is more than two minutes off; ISO 8601. */
export const nowThere = (): string => new Date(Date.now() + off).toISOString();

/** By how many milliseconds the device's clock is behind the server's; 0 for as good as right. */
export const useClockOff = (): number =>
  useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => listeners.delete(changed);
    },
    () => off,
    () => 0,
  );
