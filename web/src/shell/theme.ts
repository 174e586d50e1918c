/** Roof for the sun, attic for the dark. Kept on the device. */
export type Theme = "roof" | "attic";

const KEPT = "fentro.theme";

export function currentTheme(): Theme {
  return localStorage.getItem(KEPT) === "attic" ? "attic" : "roof";
}

export function applyTheme(theme: Theme = currentTheme()): void {
  localStorage.setItem(KEPT, theme);
  document.documentElement.dataset.theme = theme;
}
