/** What waits on the device, in IndexedDB: entries not yet acknowledged, and the last answers for reading offline. */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Schemas } from "../api/client";
import type { NewEntry } from "../api/entries";

export interface Waiting {
  order?: number;
  person: string;
  /** Whose it is, in words. */
  name?: string;
  visit: string;
  entry: NewEntry;
  refusal?: Schemas["Refusal"];
  /** Why it was set aside: another closed the visit meanwhile, or the server fails on it. Both can be tried again. */
  aside?: "closed" | "failed";
}

/** A logger's file that was read on this device. */
export interface WaitingFile {
  visit: string;
  name: string;
  text: string;
  mapping: string;
  utc_offset_min: number;
  mode: string;
}

/** A photo, named by its hash. */
export interface WaitingPhoto {
  visit: string;
  sha256: string;
  blob: Blob;
}

/** Something made on this device that the server does not have yet; `id`: its name for good; `words`: in a list of what waits. */
export type Made = { id: string; words: string } & (
  | { what: "site" | "system" | "instrument" | "visit"; body: Record<string, unknown> }
  | { what: "logger_file"; body: WaitingFile }
  | { what: "photo"; body: WaitingPhoto }
);

/** It, and whose it is. */
export type Making = Made & { order?: number; person: string; refusal?: Schemas["Refusal"] };

interface Shape extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { person: string } };
  making: { key: number; value: Making; indexes: { person: string } };
  kept: { key: string; value: unknown };
}

let opened: Promise<IDBPDatabase<Shape>> | undefined;

function database(): Promise<IDBPDatabase<Shape>> {
  opened ??= open().catch((error: unknown) => {
    // Tried again by whoever needs it next: room may have been made.
    opened = undefined;
    throw error;
  });
  return opened;
}

async function open(): Promise<IDBPDatabase<Shape>> {
  return openDB<Shape>("fentro", 2, {
    upgrade(db, before) {
      if (before < 1) {
        const waiting = db.createObjectStore("waiting", { keyPath: "order", autoIncrement: true });
        waiting.createIndex("person", "person");
        db.createObjectStore("kept");
      }
      const making = db.createObjectStore("making", { keyPath: "order", autoIncrement: true });
      making.createIndex("person", "person");
    },
    blocking: (_before, _wanted, event) => {
      // A newer page of this device waits to open it: this one lets go, and opens it anew when it needs it.
      (event.target as IDBDatabase).close();
      opened = undefined;
    },
  });
}

export const device = {
  /** Resolves once the entries are safely on the device; rejects when it can't keep them. */
  async put(rows: Waiting[]): Promise<void> {
    const done = (await database()).transaction("waiting", "readwrite", { durability: "strict" });
    await Promise.all([...rows.map((row) => done.store.add(row)), done.done]);
  },
};

export const makings = {
  async put(row: Making): Promise<number> {
    const done = (await database()).transaction("making", "readwrite", { durability: "strict" });
    const order = await done.store.put(row);
    await done.done;
    return order;
  },
  async of(person: string): Promise<Making[]> {
    return (await database()).getAllFromIndex("making", "person", person);
  },
  async remove(order: number): Promise<void> {
    await (await database()).delete("making", order);
  },
};

/** How much waits on this device, by whose it is. */
export async function waitingByPerson(): Promise<{ person: string; name: string; count: number }[]> {
  const rows = await (await database()).getAll("waiting");
  const found = new Map<string, { person: string; name: string; count: number }>();
  for (const row of rows) {
    const one = found.get(row.person) ?? { person: row.person, name: row.name ?? "", count: 0 };
    found.set(row.person, { ...one, name: row.name ?? one.name, count: one.count + 1 });
  }
  return [...found.values()];
}

/** Whether this device keeps anything at all: tried, not guessed. */
export async function keeps(): Promise<boolean> {
  try {
    await keep("tried", Date.now());
    return true;
  } catch {
    return false;
  }
}

/** Everything of a person that waits, in the order it was taken. */
export async function waitingOf(person: string): Promise<Waiting[]> {
  return (await database()).getAllFromIndex("waiting", "person", person);
}

export async function remove(orders: number[]): Promise<void> {
  const done = (await database()).transaction("waiting", "readwrite");
  await Promise.all([...orders.map((order) => done.store.delete(order)), done.done]);
}

export async function change(row: Waiting): Promise<void> {
  await (await database()).put("waiting", row);
}

export async function keep(key: string, value: unknown): Promise<void> {
  await (await database()).put("kept", value, key);
}

export async function kept<T>(key: string): Promise<T | undefined> {
  return (await (await database()).get("kept", key)) as T | undefined;
}

export async function forget(key: string): Promise<void> {
  await (await database()).delete("kept", key);
}

/** Keep some rows and forget others, at once or not at all. */
export async function keepAll(rows: [string, unknown][], gone: string[]): Promise<void> {
  const done = (await database()).transaction("kept", "readwrite");
  await Promise.all([
    ...rows.map(([key, value]) => done.store.put(value, key)),
    ...gone.map((key) => done.store.delete(key)),
    done.done,
  ]);
}

const under = (prefix: string): IDBKeyRange => IDBKeyRange.bound(prefix, `${prefix}\uffff`);

/** Every row whose key begins so. */
export async function keptUnder<T>(prefix: string): Promise<[string, T][]> {
  const done = (await database()).transaction("kept", "readonly");
  const [keys, values] = await Promise.all([
    done.store.getAllKeys(under(prefix)),
    done.store.getAll(under(prefix)),
  ]);
  return keys.map((key, index) => [key, values[index] as T]);
}

export async function forgetUnder(prefix: string): Promise<void> {
  await (await database()).delete("kept", under(prefix));
}
