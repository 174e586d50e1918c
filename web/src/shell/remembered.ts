/** Small choices kept on this device: a theme, units, an instrument. Where nothing may be kept they hold for the page. */

export function remember(key: string, value: string): void {
  try {
    localStorage.setItem(key, value);
  } catch {
    // A choice made again is no loss.
  }
}

export function remembered(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}
