/** What is looked for, as it stands in the page's address: it can be kept and handed on. */
export interface Asked {
  words?: string | undefined;
  kind?: string | undefined;
  site?: string | undefined;
  person?: string | undefined;
  since?: string | undefined;
  until?: string | undefined;
  state?: string | undefined;
}

export const KINDS: Record<string, string> = {
  systems: "Systems",
  sites: "Sites",
  visits: "Visits",
  notes: "Notes",
  people: "People",
};

const NAMES = ["words", "kind", "site", "person", "since", "until", "state"] as const;
const DAY = /^\d{4}-\d\d-\d\d$/;

/** Only what says something, and only what can be asked. */
export function toAddress(given: Record<string, unknown>): Asked {
  const found: Asked = {};
  for (const name of NAMES) {
    const value = given[name];
    const text = typeof value === "string" ? value : typeof value === "number" ? String(value) : "";
    if (text.trim() === "") continue;
    if ((name === "since" || name === "until") && !DAY.test(text)) continue;
    if (name === "kind" && !(text in KINDS)) continue;
    if (name === "state" && text !== "open" && text !== "closed") continue;
    found[name] = text;
  }
  return found;
}
