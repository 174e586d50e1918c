/** What waits on the device, in IndexedDB: entries not yet acknowledged, and the last answers for reading offline. */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Schemas } from "../api/client";
import type { NewEntry } from "../api/entries";

export interface Waiting {
  order?: number;
  person: string;
  visit: string;
  entry: NewEntry;
  refusal?: Schemas["Refusal"];
  /** Why it was set aside: another closed the visit meanwhile, or the server fails on it. Both can be tried again. */
  aside?: "closed" | "failed";
}

interface Shape extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { person: string } };
  kept: { key: string; value: unknown };
}

let opened: Promise<IDBPDatabase<Shape>> | undefined;

function database(): Promise<IDBPDatabase<Shape>> {
  opened ??= openDB<Shape>("fentro", 1, {
    upgrade(db) {
      const waiting = db.createObjectStore("waiting", { keyPath: "order", autoIncrement: true });
      waiting.createIndex("person", "person");
      db.createObjectStore("kept");
    },
  });
  return opened;
}

export const device = {
  /** Resolves once the entries are safely on the device; rejects when it can't keep them. */
  async put(rows: Waiting[]): Promise<void> {
    const done = (await database()).transaction("waiting", "readwrite", { durability: "strict" });
    await Promise.all([...rows.map((row) => done.store.add(row)), done.done]);
  },
};

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
