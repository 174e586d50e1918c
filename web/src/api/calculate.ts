/** The core's calculations by name. */
import { useQuery } from "@tanstack/react-query";
import { api, ask } from "./client";
import type { Quantity } from "../units/units";

/** A calculation's result for some inputs; nothing while an input is missing. */
export function useCalculation<Result = Record<string, Quantity>>(
  name: string,
  inputs: Record<string, unknown> | undefined,
) {
  return useQuery({
    queryKey: ["calculation", name, inputs],
    enabled: inputs !== undefined,
    meta: { transient: true },
    queryFn: async () => {
      const answer = await ask(
        api.POST("/api/v1/calculations/{name}", { params: { path: { name } }, body: inputs ?? {} }),
      );
      return answer.result as unknown as Result;
    },
  });
}
