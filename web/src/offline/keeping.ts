/** Keeps the last answers of the API on the device, per person, and starts the worker that keeps the interface. */
import type { PersistedClient, Persister } from "@tanstack/react-query-persist-client";
import { forget, keep, kept } from "../queue/store";

const ANSWERS = "answers";

export const persister: Persister = {
  persistClient: (client: PersistedClient) => keep(ANSWERS, client),
  restoreClient: () => kept<PersistedClient>(ANSWERS),
  removeClient: () => forget(ANSWERS),
};

export function startWorker(): void {
  if (import.meta.env.PROD && "serviceWorker" in navigator) {
    navigator.serviceWorker.register("/sw.js").catch(() => {
      // Without the worker everything works but a reload without signal.
    });
  }
}
