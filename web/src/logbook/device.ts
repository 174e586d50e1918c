/** What is asked of a device that is connected to the open visit. */
import { type QueryKey, useMutation, useQueryClient } from "@tanstack/react-query";
import { temporaryQuery, visitKey } from "../api/queries";
import { useVisit } from "./context";

/**
 * Something asked of a device; its answer is the device as it is then, kept under `key`. The ledger and the visit are asked
 * again, and what else depends on it (`also`). What is asked goes out one after another, in the order in which it was pressed.
 */
export function useAskedDevice<Given, Answer>(
  key: QueryKey,
  send: (visit: string, given: Given) => Promise<Answer>,
  also: readonly QueryKey[] = [],
) {
  const { page } = useVisit();
  const known = useQueryClient();
  const id = String(page.id);
  return useMutation({
    scope: { id: key.join(" ") },
    mutationFn: (given: Given) => send(id, given),
    onSuccess: (answer) => known.setQueryData(key, answer),
    onSettled: () => {
      for (const each of [visitKey(id), temporaryQuery.queryKey, ...also]) {
        void known.invalidateQueries({ queryKey: each });
      }
    },
  });
}

export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
