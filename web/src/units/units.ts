/** Numbers in the user's units. One table from the core; no unit is known anywhere else in the interface. */
import type { components } from "../api/schema.gen";
import type { Readable, Unit } from "./tables";
import { tables } from "./tables.gen";

export type System = "SI" | "US";
export type Quantity = components["schemas"]["Quantity"];
export type Sentence = components["schemas"]["Sentence"];
export type Kind = string;

export type { Readable, Unit };

export const { kinds, readable } = tables;
export const humidityChoices = tables.humidity_choices;
export const usualDryBulb = tables.usual_dry_bulb;
export const temporaryKinds = tables.temporary_kinds;

export function readableOf(key: string): Readable {
  const found = readable[key];
  if (!found) throw new Error(`no readable quantity ${key}`);
  return found;
}

export function unitOf(kind: Kind, system: System): Unit {
  const row = kinds[kind];
  const unit = row?.units[system === "US" ? row.us : row.si];
  if (!unit) throw new Error(`no unit for ${kind}`);
  return unit;
}

export function namedUnit(kind: Kind, key: string): Unit {
  const unit = kinds[kind]?.units[key];
  if (!unit) throw new Error(`no unit ${key} for ${kind}`);
  return unit;
}

/** Every unit that a kind may be typed or read in. */
export const unitsOf = (kind: Kind): Unit[] => Object.values(kinds[kind]?.units ?? {});

export const toSi = (shown: number, unit: Unit): number => shown * unit.factor + unit.offset;
export const fromSi = (value: number, unit: Unit): number => (value - unit.offset) / unit.factor;

const MINUS = "−";

/** 1234.5 -> "1,234.5", with a real minus. */
export function number(value: number, decimals: number): string {
  const fixed = value.toFixed(decimals);
  const tidy = Number(fixed) === 0 ? (0).toFixed(decimals) : fixed;
  const [whole = "", part] = tidy.replace("-", "").split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ",");
  return `${tidy.startsWith("-") ? MINUS : ""}${grouped}${part === undefined ? "" : `.${part}`}`;
}

/**
 * Decimals to show a number of this unit with: the unit's own, and more where rounding would change it by more than a share of
 * itself; none more for what is nothing even then. As the core does it (`base/units.py`).
 */
export function digits(shown: number, unit: Unit, within = 0.05, more = 3): number {
  const round = (decimals: number) => Math.round(shown * 10 ** decimals) / 10 ** decimals;
  for (let decimals = unit.decimals; decimals < unit.decimals + more; decimals++) {
    if (Math.abs(round(decimals) - shown) <= within * Math.abs(shown)) return decimals;
  }
  return round(unit.decimals + more) ? unit.decimals + more : unit.decimals;
}

/** The same for the numbers of a working, so near that each line can be worked out again by hand. */
export const worked = (shown: number, unit: Unit): number => digits(shown, unit, 2e-6, 6);

export interface Shown {
  value: string;
  unit: string;
  plusMinus: string;
}

/**
 * A quantity as value, unit and half-width. Never more digits than the half-width supports (two of its own), never more
 * than the unit's; a half-width too small for the unit's decimals gets one more.
 */
export function show(quantity: Quantity, system: System): Shown {
  const unit = unitOf(quantity.kind, system);
  const value = fromSi(quantity.value, unit);
  const width = quantity.plus_minus / unit.factor;
  if (!(width > 0)) return { value: number(value, digits(value, unit)), unit: unit.label, plusMinus: "" };
  const supported = 1 - Math.floor(Math.log10(width));
  const decimals = Math.min(unit.decimals, supported);
  const small = width < 0.5 * 10 ** -unit.decimals ? 1 : 0;
  return { value: rounded(value, decimals), unit: unit.label, plusMinus: rounded(width, decimals + small) };
}

/** Rounded to so many decimals; below zero to tens, hundreds ... */
function rounded(value: number, decimals: number): string {
  if (decimals >= 0) return number(value, decimals);
  const step = 10 ** -decimals;
  return number(Math.round(value / step) * step, 0);
}

export function inWords(value: number, kind: Kind, system: System): string {
  const unit = unitOf(kind, system);
  const shown = fromSi(value, unit);
  return `${number(shown, digits(shown, unit))} ${unit.label}`.trim();
}

/** A sentence of the core with its numbers in the user's units. */
export function say(sentence: Sentence, system: System): string {
  return sentence.text
    .replace(/\{(\w+)\}/g, (whole, name: string) => {
      const given = sentence.numbers?.[name];
      return given ? inWords(given.value, given.kind, system) : whole;
    })
    .replace("w.c..", "w.c.");
}

/** What was typed as a number in the user's units, in SI; undefined for what is none. */
export function typedSi(text: string, kind: Kind, system: System): number | undefined {
  const si = siOf(text, kind, system);
  return text.trim() && Number.isFinite(si) ? si : undefined;
}

/** The same where a field's rule has let the number pass. */
export const siOf = (text: string, kind: Kind, system: System): number =>
  toSi(Number(text.trim().replace(",", ".").replace("−", "-")), unitOf(kind, system));

/** An SI value as one would type it. */
export function asTyped(value: number | null | undefined, kind: Kind, system: System): string {
  if (value === null || value === undefined) return "";
  const unit = unitOf(kind, system);
  return number(fromSi(value, unit), unit.decimals).replace(/,/g, "").replace("−", "-");
}

/** The same with as many decimals as the value needs, where a unit's own would change it: 8.5 m is no 9 m. */
export function asTypedExactly(value: number | null | undefined, kind: Kind, system: System): string {
  if (value === null || value === undefined) return "";
  const unit = unitOf(kind, system);
  const own = fromSi(value, unit);
  return number(own, digits(own, unit, 1e-4))
    .replaceAll(",", "")
    .replace(MINUS, "-");
}
