import { Unanswered } from "../api/client";
import { say } from "../units/units";

/** A refusal's sentence by the field it belongs to; "" is the form as a whole. */
export function refusalsOf(error: unknown, system: "SI" | "US"): Record<string, string> {
  if (!(error instanceof Unanswered)) return {};
  const found = error.problem?.refusals ?? [];
  if (found.length === 0) return { "": error.message };
  return Object.fromEntries(found.map((each) => [each.path, say(each.sentence, system)]));
}
