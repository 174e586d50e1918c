/** Roof for the sun, attic for the dark. Kept on the device. */
import { remember, remembered } from "../device/remembered";
export type Theme = "roof" | "attic";

const KEPT = "fentro.theme";

export function currentTheme(): Theme {
  return remembered(KEPT) === "attic" ? "attic" : "roof";
}

export function applyTheme(theme: Theme = currentTheme()): void {
  remember(KEPT, theme);
  document.documentElement.dataset.theme = theme;
}
