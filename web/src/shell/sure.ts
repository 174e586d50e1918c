/** How sure, 0 to 1, in words: never wholly, for there is always what nobody has thought of. */
export function sureWords(sure: number): string {
  return `${Math.min(99, Math.round(sure * 100))} % sure`;
}
