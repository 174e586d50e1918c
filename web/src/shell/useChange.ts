import { useMutation, useQueryClient } from "@tanstack/react-query";

/** A change, after which these lists are asked for anew. */
export function useChange<T>(lists: string[], change: (given: T) => Promise<unknown>) {
  const known = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => Promise.all(lists.map((list) => known.invalidateQueries({ queryKey: [list] }))),
  });
}
