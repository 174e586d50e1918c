/** The core's calculations by name. */
import { useQuery } from "@tanstack/react-query";
import type { Quantity } from "../units/units";
import { api, ask } from "./client";

/** A calculation's result; what its inputs do not allow is refused with a sentence. */
export async function calculate<Result extends object>(
  name: string,
  inputs: Record<string, unknown>,
): Promise<Result> {
  const answer = await ask(
    api.POST("/api/v1/calculations/{name}", { params: { path: { name } }, body: inputs }),
  );
  return answer.result as Result;
}

/** A calculation's result for some inputs; nothing while an input is missing. `kept`: on the device, too. */
export function useCalculation<Result extends object = Record<string, Quantity>>(
  name: string,
  inputs: Record<string, unknown> | undefined,
  { kept = false } = {},
) {
  return useQuery({
    queryKey: ["calculation", name, inputs],
    enabled: inputs !== undefined,
    meta: { transient: !kept },
    queryFn: () => calculate<Result>(name, inputs ?? {}),
  });
}
