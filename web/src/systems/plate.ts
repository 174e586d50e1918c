/** Nameplate and site between what is typed, in the units in use, and what is kept, in SI. */
import type { PlateField } from "../units/tables";
import { tables } from "../units/tables.gen";
import { asTyped, typedSi, type System as Units } from "../units/units";
import type { NewSite } from "./making";

/** What stands in a form's fields, or what is wrong with them, by field. */
export type Values = Record<string, string>;
export type Nameplate = Record<string, unknown>;

export const plateFields = (kind: string): PlateField[] => tables.systems[kind]?.plate ?? [];

/** A system and its site, as they are kept. */
export interface Known {
  site: NewSite;
  name: string;
  kind: string;
  location: string;
  nameplate: Nameplate;
}

/** What the head of a visit or a system's page says of both. */
export function knownOf(head: Record<string, unknown>): Known {
  const { site, system } = head as { site: NewSite; system: Omit<Known, "site"> };
  return { ...system, site };
}

const YES_NO = (value: boolean): string => (value ? "yes" : "no");
const NO_NUMBER = "This must be a number.";

/** A nameplate as one would type it. */
export function plateTyped(kind: string, plate: Nameplate, units: Units): Values {
  return Object.fromEntries(
    plateFields(kind).flatMap((field): [string, string][] => {
      const value = plate[field.key];
      if (field.yes_no) return [[field.key, typeof value === "boolean" ? YES_NO(value) : field.yes_no]];
      if (value === undefined || value === null || value === "") return [];
      if (field.kind) return [[field.key, asTyped(Number(value), field.kind, units)]];
      return [[field.key, String(value)]];
    }),
  );
}

/**
 * What was typed, in SI; fields left open are left out. A field nobody touched keeps its exact value, and what the plate says
 * beyond this form's fields stays.
 */
export function plateSi(
  kind: string,
  typed: Values,
  units: Units,
  wrong: Values,
  before: Nameplate = {},
): Nameplate {
  const fields = plateFields(kind);
  const known = new Set(fields.map((field) => field.key));
  const stood = plateTyped(kind, before, units);
  const plate: Nameplate = Object.fromEntries(Object.entries(before).filter(([key]) => !known.has(key)));
  for (const field of fields) {
    const text = typed[field.key] ?? field.yes_no ?? "";
    if (text.trim() === "") continue;
    if (field.yes_no) {
      if (text !== field.yes_no) plate[field.key] = text === "yes";
    } else if (text === stood[field.key]) plate[field.key] = before[field.key];
    else if (!field.kind) plate[field.key] = text.trim();
    else {
      const value = typedSi(text, field.kind, units);
      if (value === undefined) wrong[`nameplate.${field.key}`] = NO_NUMBER;
      else plate[field.key] = value;
    }
  }
  return plate;
}

/** A site as one would type it. */
export const siteTyped = (site: NewSite, units: Units): Values => ({
  name: site.name,
  elevation: site.elevation_m ? asTyped(site.elevation_m, "length", units) : "",
  barometer: asTyped(site.barometer_pa, "barometric_pressure", units),
  zone: site.climate_zone,
});

/** What was typed of a site, in SI; what nobody touched keeps its exact value. */
export function siteSi(typed: Values, units: Units, wrong: Values, before?: NewSite): NewSite {
  const stood = before ? siteTyped(before, units) : {};
  const number = (key: string, kind: string, field: "elevation_m" | "barometer_pa"): number | null => {
    const text = typed[key] ?? "";
    if (before && text === stood[key]) return before[field];
    if (text.trim() === "") return null;
    const value = typedSi(text, kind, units);
    if (value === undefined) wrong[`site.${field}`] = NO_NUMBER;
    return value ?? null;
  };
  if ((typed.name ?? "").trim() === "") wrong["site.name"] = "Give the site a name.";
  return {
    name: (typed.name ?? "").trim(),
    elevation_m: number("elevation", "length", "elevation_m") ?? 0,
    barometer_pa: number("barometer", "barometric_pressure", "barometer_pa"),
    climate_zone: typed.zone ?? "",
  };
}
