/** Begins a visit on this device: it is there at once, worked out here, and goes to the server when it can. */
import { type Schemas, Unanswered } from "../api/client";
import { nowThere } from "../api/clock";
import { dayQuery, queries, sessionQuery, systemQuery, visitKey } from "../api/queries";
import { core } from "../core/core";
import { queue } from "../queue/useQueue";
import type { Page } from "./logbook";

/** Said where a visit can neither be begun by the server nor here. */
export const NOT_HERE =
  "The server can't be reached, and this device does not have what it needs to begin a visit alone. Open the day sheet once with signal.";

/** A visit to a system that this device knows. It is kept here when this resolves. */
export async function beginHere(system: string, id: string): Promise<void> {
  const known = queries.getQueryData(systemQuery(system).queryKey);
  const person = queries.getQueryData(sessionQuery.queryKey)?.person;
  if (!known || !person || core.state !== "ready") throw new Unanswered(0, undefined);
  const opened_at = nowThere();
  const visit = { id, purpose: "", opened_at, technician: person.name };
  const head = { ...known.head, visit };
  const question = { head, entries: [], instruments: [] };
  const worked = await core.ask<Pick<Page, "work_up" | "left_out" | "core">>("visit", question);
  const page: Page = {
    id,
    system: known.system,
    technician: person.name,
    purpose: "",
    opened_at,
    closed_at: null,
    may_write: true,
    after: 0,
    number: 0,
    head,
    entries: [],
    ...worked,
  };
  queries.setQueryData(visitKey(id), page);
  queries.setQueryData(dayQuery.queryKey, (day) => day && { ...day, open: [lineOf(page), ...day.open] });
  await queue.make({
    id,
    what: "visit",
    body: { id, system, purpose: "", opened_at },
    words: `Visit to ${known.system.name}, ${known.system.site}`,
  });
}

/** The visit's line on the day sheet. */
function lineOf(page: Page): Schemas["VisitLine"] {
  const step = page.work_up.route.find((each) => each.id === page.work_up.next_step);
  return {
    id: page.id,
    system: page.system,
    technician: page.technician,
    mine: true,
    purpose: page.purpose,
    opened_at: page.opened_at,
    closed_at: null,
    next_step: page.work_up.next_step,
    next_step_name: step?.name ?? "",
    left: step?.left ?? [],
    numbers: [],
    worst: null,
    trouble: null,
  };
}
