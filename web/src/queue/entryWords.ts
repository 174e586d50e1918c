/** An entry in a few words, whatever its kind. */
export function entryWords(kind: string, body: object): string {
  const said = body as Record<string, unknown>;
  if (kind === "reading") return `${said.station}: ${said.value} ${said.unit}`;
  if (kind === "note") return `Note: ${said.text}`;
  return kind.replaceAll("_", " ");
}
