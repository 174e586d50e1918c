/** Slips caught at the key. Limits come from the core's table; this only says when one is passed. */
import {
  fromSi,
  inWords,
  number,
  type Readable,
  readableOf,
  type System,
  toSi,
  type Unit,
  usualDryBulb,
} from "../units/units";

export interface Slip {
  text: string;
  /** Can be taken all the same. */
  possible: boolean;
  /** What was perhaps meant, as it would be typed. */
  instead?: string;
}

export interface Typed {
  quantity: string;
  station: string;
  value: number;
  unit: Unit;
  system: System;
  /** Dry bulb of the same point, SI, if read. */
  dryBulb: number | undefined;
  /** True on "take": then a value still growing is judged too. */
  done: boolean;
}

export function slip(typed: Typed): Slip | undefined {
  const readable = readableOf(typed.quantity);
  const value = toSi(typed.value, typed.unit);
  const [least = 0, most = 0] = readable.possible;
  const growing = !typed.done;
  if (readable.not_above && typed.dryBulb !== undefined && value > typed.dryBulb + 1e-9) {
    const dry = inWords(typed.dryBulb, "temperature", typed.system);
    return {
      text: `${readable.name} can't be above dry bulb (${dry}). Check both readings.`,
      possible: false,
      ...meant(typed, readable),
    };
  }
  if (value > most + 1e-9 || (value < least - 1e-9 && !(growing && typed.value >= 0))) {
    return { text: outside(readable, typed, [least, most]), possible: false, ...meant(typed, readable) };
  }
  const [low, high] = usual(readable, typed.station);
  if (value > high || (value < low && !growing)) {
    return {
      text: `${words(typed)} is unusual for ${readable.name.toLowerCase()} here. Check the decimal point and the unit.`,
      possible: true,
      ...meant(typed, readable),
    };
  }
  return undefined;
}

function outside(readable: Readable, typed: Typed, [least, most]: [number, number]): string {
  const low = inWords(least, readable.kind, typed.system);
  const high = inWords(most, readable.kind, typed.system);
  return `${words(typed)} is not possible: ${readable.name.toLowerCase()} lies between ${low} and ${high}.`;
}

const words = (typed: Typed): string => `${number(typed.value, decimalsOf(typed.value))} ${typed.unit.label}`;

const decimalsOf = (value: number): number => Math.min(3, String(value).split(".")[1]?.length ?? 0);

function usual(readable: Readable, station: string): [number, number] {
  const here = readable.key === "dry_bulb" ? usualDryBulb[station] : undefined;
  const [low = 0, high = 0] = here ?? readable.usual;
  return [low, high];
}

/** A decimal point left out: a tenth of it would be usual here. */
function meant(typed: Typed, readable: Readable): { instead?: string } {
  if (!Number.isInteger(typed.value) || Math.abs(typed.value) < 10) return {};
  const tenth = typed.value / 10;
  const value = toSi(tenth, typed.unit);
  const [low, high] = usual(readable, typed.station);
  const above = readable.not_above && typed.dryBulb !== undefined && value > typed.dryBulb;
  if (value < low || value > high || above) return {};
  return { instead: String(fromSi(value, typed.unit).toFixed(1)) };
}
