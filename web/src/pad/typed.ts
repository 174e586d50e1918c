/** What has been typed on the pad, key by key. */

export type PadKey = "0" | "1" | "2" | "3" | "4" | "5" | "6" | "7" | "8" | "9" | "." | "-" | "back" | "clear";

const LONGEST = 8;

export function press(typed: string, key: PadKey): string {
  switch (key) {
    case "clear":
      return "";
    case "back":
      return typed.slice(0, -1);
    case "-":
      return typed.startsWith("-") ? typed.slice(1) : `-${typed}`;
    case ".":
      if (typed.includes(".")) return typed;
      return /\d/.test(typed) ? `${typed}.` : `${typed}0.`;
    default:
      if (typed.replace(/[-.]/g, "").length >= LONGEST) return typed;
      return typed === "0" || typed === "-0" ? typed.replace("0", key) : typed + key;
  }
}

/** The number typed so far, or undefined when there is none. */
export function numberOf(typed: string): number | undefined {
  return /\d/.test(typed) ? Number(typed) : undefined;
}

/** A number as it stands in something pasted, as the pad would have it typed; undefined when there is none, or more than one. */
export function pasted(text: string): string | undefined {
  const found = text.trim().match(/^[^\d.,−-]*([−-]?\d+(?:[.,]\d+)?)\D*$/);
  const number = found?.[1]?.replace("−", "-").replace(",", ".");
  return number && number.replace(/[-.]/g, "").length <= LONGEST ? number : undefined;
}

/** The pad key for a key of a keyboard. */
export function padKey(key: string): PadKey | undefined {
  if (/^[0-9]$/.test(key)) return key as PadKey;
  if (key === "." || key === ",") return ".";
  if (key === "-" || key === "−") return "-";
  if (key === "Backspace") return "back";
  if (key === "Delete") return "clear";
  return undefined;
}
