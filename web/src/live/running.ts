/** Since when a unit runs on a visit of this person: kept on the device, so that the clock goes on on every page. */
import { useSyncExternalStore } from "react";
import { remember, remembered } from "../device/remembered";

export interface Running {
  visit: string;
  system: string;
  since: string;
}

const KEY = "fentro.running";
const listeners = new Set<() => void>();
let known: { text: string | null; value: Running | undefined } = { text: null, value: undefined };

function current(): Running | undefined {
  const text = remembered(KEY);
  if (text !== known.text) known = { text, value: text ? (JSON.parse(text) as Running) : undefined };
  return known.value;
}

/** What a visit's page knows: it runs since then, or not (any more). */
export function noteRunning(visit: string, running: Running | undefined): void {
  const before = current();
  if (running) {
    const text = JSON.stringify(running);
    if (text === known.text) return;
    remember(KEY, text);
  } else if (before?.visit === visit) localStorage.removeItem(KEY);
  else return;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  window.addEventListener("storage", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("storage", listener);
  };
};

export const useRunning = (): Running | undefined => useSyncExternalStore(subscribe, current);
