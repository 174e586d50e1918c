/** The core's calculations by name: by the core on this device where it runs, by the server's where it does not yet. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import type { Quantity } from "../units/units";
import { fromEither } from "./core";

/** A calculation's result; what its inputs do not allow is refused with a sentence. */
export async function calculate<Result extends object>(
  name: string,
  inputs: Record<string, unknown>,
): Promise<Result> {
  const answer = await fromEither<{ result: unknown }>("calculation", { name, given: inputs }, () =>
    ask(api.POST("/api/v1/calculations/{name}", { params: { path: { name } }, body: inputs })),
  );
  return answer.result as Result;
}

/**
 * A calculation's result for some inputs; nothing while an input is missing. `kept`: on the device, too. `steady`: the last
 * result stays until the next is there.
 */
export function useCalculation<Result extends object = Record<string, Quantity>>(
  name: string,
  inputs: Record<string, unknown> | undefined,
  { kept = false, steady = false } = {},
) {
  return useQuery({
    queryKey: ["calculation", name, inputs],
    enabled: inputs !== undefined,
    meta: { transient: !kept },
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    ...(steady ? { placeholderData: keepPreviousData } : {}),
    queryFn: () => calculate<Result>(name, inputs ?? {}),
  });
}
