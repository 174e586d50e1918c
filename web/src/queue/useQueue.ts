import { useSyncExternalStore } from "react";
import { nowThere } from "../api/clock";
import type { BodyOf, Kind, NewEntry, NewEntryOf, Phase } from "../api/entries";
import { core } from "../core/core";
import { Queue, type QueueState } from "./queue";

export const queue = new Queue();

if (typeof window !== "undefined") {
  window.addEventListener("online", () => queue.kick());
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "visible") queue.kick();
  });
}

export const useQueue = (): QueueState => useSyncExternalStore(queue.subscribe, queue.snapshot);

/** A new entry with its id and the device's time. */
export function newEntry<K extends Kind>(
  kind: K,
  body: BodyOf<K>,
  phase: Phase,
  more: { replaces?: string; reason?: string; at?: string } = {},
): NewEntryOf<K> {
  const judged = core.state === "ready" ? { core: core.version } : {};
  return { id: crypto.randomUUID(), kind, at: nowThere(), phase, body, ...judged, ...more };
}

/** Take an entry of any kind to a visit: safe on the device when this resolves. */
export async function take<K extends Kind>(visit: string, entry: NewEntryOf<K>): Promise<NewEntryOf<K>> {
  await queue.take(visit, [entry as NewEntry]);
  return entry;
}
