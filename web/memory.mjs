/**
 * With how much memory Python begins on a device. Its package begins with 480 pages of 64 KiB and grows as it is asked; the core
 * kept loaded (snapshot.mjs) must fit into what it begins with, and all parts of the job need more than that.
 */

/** Pages of 64 KiB: what Python grows to by its first step of a fifth, so that a snapshot has just this size. */
export const PAGES = 576;

export const BYTES = PAGES * 65_536;

const MEMORY_SECTION = 5;

/** The same WebAssembly module with a memory that begins with `PAGES`; the number takes two bytes before and after. */
export function roomier(module) {
  const found = Buffer.from(module);
  let at = 8;
  const number = () => {
    let value = 0;
    let shift = 0;
    let byte = 0;
    do {
      byte = found[at++];
      value += (byte & 127) << shift;
      shift += 7;
    } while (byte & 128);
    return value;
  };
  while (at < found.length) {
    const section = found[at++];
    const size = number();
    const end = at + size;
    if (section !== MEMORY_SECTION) {
      at = end;
      continue;
    }
    if (number() !== 1) throw new Error("Python has another number of memories than one: look at memory.mjs.");
    at += 1;
    const place = at;
    const begins = number();
    if (at - place !== 2 || begins > PAGES) throw new Error(`Python begins with ${begins} pages: look at memory.mjs.`);
    found[place] = (PAGES & 127) | 128;
    found[place + 1] = PAGES >> 7;
    return found;
  }
  throw new Error("Python's module has no memory of its own: look at memory.mjs.");
}
