/** Keeps the last answers of the API on the device, per person, and starts the worker that keeps the interface. */
import type { PersistedClient, Persister } from "@tanstack/react-query-persist-client";
import * as store from "../queue/store";

type Kept = PersistedClient["clientState"]["queries"][number];
type Head = Omit<PersistedClient, "clientState">;

const HEAD = "answers";
const EACH = "answer ";

/** When each answer was written last: only what has changed since is written again. */
const written = new Map<string, number>();

const did = (): boolean => true;
const didNot = (): boolean => false;

/** One row an answer: a day's visits are large, and with every reading only one of them changes. */
export const persister: Persister = {
  persistClient: async ({ clientState, ...head }: PersistedClient) => {
    const now = new Map(clientState.queries.map((query) => [EACH + query.queryHash, query]));
    const fresh = [...now].filter(([key, query]) => written.get(key) !== query.state.dataUpdatedAt);
    const gone = [...written.keys()].filter((key) => !now.has(key));
    const rows: [string, unknown][] = [...fresh, [HEAD, head]];
    if (!(await store.keepAll(rows, gone).then(did, didNot))) return;
    for (const [key, query] of fresh) written.set(key, query.state.dataUpdatedAt);
    for (const key of gone) written.delete(key);
  },
  restoreClient: async () => {
    // A device that keeps nothing has nothing to bring back.
    const head = await store.kept<Head>(HEAD).catch(() => undefined);
    if (!head) return undefined;
    const rows = await store.keptUnder<Kept>(EACH);
    for (const [key, query] of rows) written.set(key, query.state.dataUpdatedAt);
    return { ...head, clientState: { queries: rows.map(([, query]) => query), mutations: [] } };
  },
  removeClient: async () => {
    written.clear();
    await store.forgetUnder(EACH).then(did, didNot);
    await store.forget(HEAD).then(did, didNot);
  },
};

/** Everything that was ever answered, also where asking again failed since: without signal it is all there is. */
export const dehydrateOptions = {
  shouldDehydrateQuery: (query: { state: { data?: unknown }; meta?: Record<string, unknown> }): boolean =>
    query.state.data !== undefined && query.meta?.transient !== true,
};

export function startWorker(): void {
  if (import.meta.env.PROD && "serviceWorker" in navigator) {
    navigator.serviceWorker.register("/sw.js").catch(() => {
      // Without the worker everything works but a reload without signal.
    });
  }
}
