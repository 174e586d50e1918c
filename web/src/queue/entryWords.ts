import { namedUnit, readableOf } from "../units/units";

const WORDS: Record<string, string> = {
  withdrawal: "An entry taken back",
  closing: "Visit closed",
  reopening: "Visit reopened",
};

const spoken = (key: unknown): string => {
  const words = String(key).replaceAll("_", " ");
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}`;
};

function unitWords(quantity: unknown, unit: unknown): string {
  try {
    return namedUnit(readableOf(String(quantity)).kind, String(unit)).label;
  } catch {
    return String(unit);
  }
}

/** An entry in a few words, whatever its kind, also one that can't be read any more. */
export function entryWords(kind: string, body: object): string {
  const said = body as Record<string, unknown>;
  if (kind === "reading") {
    const what = spoken(said.quantity).toLowerCase();
    return `${spoken(said.station)}, ${what}: ${said.value} ${unitWords(said.quantity, said.unit)}`;
  }
  if (kind === "note") return `Note: ${said.text}`;
  return WORDS[kind] ?? spoken(kind);
}
