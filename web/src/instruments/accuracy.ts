/** An instrument's half-widths in words. */
import { number, readableOf, unitOf } from "../units/units";

type Accuracies = Record<string, { plus_minus: number; share?: number }>;

/** Decimals that show two digits of a half-width, none when it is large. */
const digitsOf = (width: number): number => Math.min(Math.max(1 - Math.floor(Math.log10(width)), 0), 4);

/** How well each quantity is read, in the units in use. */
export function accuracyWords(accuracy: Accuracies, system: "SI" | "US"): string {
  return Object.entries(accuracy)
    .map(([quantity, figure]) => {
      const { name, kind } = readableOf(quantity);
      const unit = unitOf(kind === "temperature" ? "temperature_difference" : kind, system);
      const fixed = figure.plus_minus / unit.factor;
      const share = (figure.share ?? 0) * 100;
      const parts = [
        share > 0 ? `${number(share, 0)} %` : "",
        fixed > 0 ? `${number(fixed, digitsOf(fixed))} ${unit.label}` : "",
      ];
      return `${name} ±${parts.filter(Boolean).join(" ±")}`;
    })
    .join(", ");
}

/** An ordinary class of instruments with its main figures. */
export const classWords = (made: { name: string; accuracy: Accuracies }, system: "SI" | "US"): string =>
  `${made.name}: ${accuracyWords(Object.fromEntries(Object.entries(made.accuracy).slice(0, 2)), system)}`;
