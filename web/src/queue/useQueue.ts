import { useSyncExternalStore } from "react";
import { Queue, type QueueState } from "./queue";
import type { NewEntry } from "./store";

export const queue = new Queue();

if (typeof window !== "undefined") {
  window.addEventListener("online", () => queue.kick());
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "visible") queue.kick();
  });
}

export const useQueue = (): QueueState => useSyncExternalStore(queue.subscribe, queue.snapshot);

/** A new entry with its id and the device's time. */
export function newEntry(
  kind: string,
  body: Record<string, unknown>,
  phase: NewEntry["phase"],
  more: { replaces?: string; reason?: string; at?: string } = {},
): NewEntry {
  return { id: crypto.randomUUID(), kind, at: new Date().toISOString(), phase, body, ...more };
}
