/** A site and a system made on this device: there at once, on the server when it can be. */
import type { Schemas } from "../api/client";
import { dayQuery, queries, systemQuery } from "../api/queries";
import { core } from "../core/core";
import { queue } from "../queue/useQueue";
import { tables } from "../units/tables.gen";

type Page = Schemas["SystemPage"];

/** What a unit is called until somebody can say more. */
export const NAMELESS = "Unit, not named yet";

export interface NewSite {
  name: string;
  elevation_m: number;
  barometer_pa: number | null;
  climate_zone: string;
}

export interface NewSystem {
  /** An own site, or the id of a known one with what is known of it. */
  site: NewSite & { id?: string };
  name: string;
  kind: string;
  location: string;
  nameplate: Record<string, unknown>;
}

const quantity = (value: number, kind: string) => ({ value, plus_minus: 0, kind });

/** Keep both here; what the core refuses is thrown with its field, and nothing is kept. */
export async function makeHere(given: NewSystem): Promise<string> {
  const { id: known, ...site } = given.site;
  const head = {
    format: "fentro.visit",
    version: 1,
    site,
    system: { name: given.name, kind: given.kind, nameplate: given.nameplate, location: given.location },
  };
  const visit = { id: "", purpose: "", opened_at: "", technician: "" };
  const worked = await core.ask<{ work_up: Schemas["VisitPage"]["work_up"] }>("visit", {
    head: { ...head, visit },
    entries: [],
    instruments: [],
  });
  const siteId = known ?? crypto.randomUUID();
  const id = crypto.randomUUID();
  if (!known)
    await queue.make({ id: siteId, what: "site", body: { id: siteId, ...site }, words: `Site ${site.name}` });
  const { name, kind, location, nameplate } = given;
  await queue.make({
    id,
    what: "system",
    body: { id, site: siteId, name, kind, location, nameplate },
    words: `System ${name}, ${site.name}`,
  });
  const line: Schemas["SystemLine"] = {
    id,
    name,
    site: site.name,
    site_id: siteId,
    kind,
    kind_name: tables.systems[kind]?.name ?? "",
    location,
  };
  const page: Page = {
    system: line,
    head,
    elevation: quantity(site.elevation_m, "length"),
    pressure: worked.work_up.pressure,
    climate_zone: site.climate_zone,
    plate: [],
    visits: [],
    more_visits: null,
    followed: false,
  };
  queries.setQueryData(systemQuery(id).queryKey, page);
  queries.setQueryData(dayQuery.queryKey, (day) => day && { ...day, systems: [...day.systems, line] });
  return id;
}
