/** Fetches ahead what a day without signal needs: open visits, their systems, instruments, what was found before. */
import type { QueryKey } from "@tanstack/react-query";
import { type Schemas, Unanswered } from "../api/client";
import {
  economizerQuery,
  historyQuery,
  instrumentsQuery,
  queries,
  systemQuery,
  visitQuery,
} from "../api/queries";

/** So many systems besides those of open visits are fetched ahead. */
const SYSTEMS = 30;
/** What was fetched less than so long ago is not fetched again. */
const FRESH_MS = 10 * 60_000;

interface Ahead {
  queryKey: QueryKey;
  fetch: () => Promise<unknown>;
}

/** What to fetch, in this order: instruments, each open visit with its system, then other systems of the day sheet. */
export function ahead(day: Schemas["DaySheet"]): Ahead[] {
  const fetch = queries.fetchQuery.bind(queries);
  const visits = [...day.open].sort((one, other) => Number(other.mine) - Number(one.mine));
  const visited = [...new Set(visits.map((visit) => String(visit.system.id)))];
  const others = day.systems.map((system) => String(system.id)).filter((id) => !visited.includes(id));
  const of = (query: { queryKey: QueryKey }, run: () => Promise<unknown>): Ahead => ({
    queryKey: query.queryKey,
    fetch: run,
  });
  const economizerOf = async (id: string, system: string) => {
    const { head } = await fetch(systemQuery(system));
    const { nameplate } = head.system as { nameplate: { economizer?: boolean } };
    if (nameplate.economizer) await fetch(economizerQuery(id));
  };
  const open = visits.flatMap((visit) => {
    const id = String(visit.id);
    const system = String(visit.system.id);
    return [
      of(visitQuery(id), () => fetch(visitQuery(id))),
      of(systemQuery(system), () => fetch(systemQuery(system))),
      ...(visit.system.kind === "packaged_rooftop"
        ? [of(economizerQuery(id), () => economizerOf(id, system))]
        : []),
      of(historyQuery(system), () => fetch(historyQuery(system))),
    ];
  });
  return [
    of(instrumentsQuery, () => fetch(instrumentsQuery)),
    ...open,
    ...others.slice(0, SYSTEMS).map((id) => of(systemQuery(id), () => fetch(systemQuery(id)))),
  ];
}

let running = false;

/** One after the other, so that what is looked at now is not held up. One that is refused holds up no other; without signal it stops. */
export async function fetchAhead(day: Schemas["DaySheet"]): Promise<void> {
  if (running) return;
  running = true;
  try {
    for (const each of ahead(day)) {
      const state = queries.getQueryState(each.queryKey);
      if (state?.data !== undefined && Date.now() - state.dataUpdatedAt < FRESH_MS && !state.isInvalidated)
        continue;
      try {
        await each.fetch();
      } catch (error) {
        // Without signal, or signed out: what is kept is kept.
        if (!(error instanceof Unanswered) || error.status === 0 || error.status === 401) return;
      }
    }
  } finally {
    running = false;
  }
}
