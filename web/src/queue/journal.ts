/**
 * What was taken a moment ago, written down before the database has it: a page that is closed or loaded anew in between finds
 * it again. A row goes once the database has it.
 */
import type { Waiting } from "./store";

const PREFIX = "fentro.taken.";

export const journal = {
  /** Whether this device lets anything be written down. */
  works(): boolean {
    try {
      localStorage.setItem(`${PREFIX}tried`, "1");
      localStorage.removeItem(`${PREFIX}tried`);
      return true;
    } catch {
      return false;
    }
  },
  /** False where this device forbids it, or has no room. */
  add(rows: Waiting[]): boolean {
    try {
      for (const row of rows) localStorage.setItem(PREFIX + row.entry.id, JSON.stringify(row));
      return true;
    } catch {
      return false;
    }
  },
  remove(rows: Waiting[]): void {
    try {
      for (const row of rows) localStorage.removeItem(PREFIX + row.entry.id);
    } catch {
      // Storage is forbidden: nothing was written either.
    }
  },
  /** A person's rows that the database may not have, by the time they were taken. */
  of(person: string): Waiting[] {
    try {
      const rows = Object.keys(localStorage)
        .filter((key) => key.startsWith(PREFIX))
        .map((key) => JSON.parse(localStorage.getItem(key) ?? "null") as Waiting | null)
        .filter((row): row is Waiting => row?.person === person);
      return rows.sort((one, other) => one.entry.at.localeCompare(other.entry.at));
    } catch {
      return [];
    }
  },
};
