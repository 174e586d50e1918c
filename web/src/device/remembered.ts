/** Small choices kept on this device: a theme, units, an instrument. Where nothing may be kept they hold for the page. */

/** For good, or as long as this page is open. */
type HowLong = "device" | "page";

const storage = (howLong: HowLong): Storage => (howLong === "device" ? localStorage : sessionStorage);

export function remember(key: string, value: string, howLong: HowLong = "device"): void {
  try {
    storage(howLong).setItem(key, value);
  } catch {
    // A choice made again is no loss.
  }
}

export function remembered(key: string, howLong: HowLong = "device"): string | null {
  try {
    return storage(howLong).getItem(key);
  } catch {
    return null;
  }
}
