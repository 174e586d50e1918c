import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { PAGES, roomier } from "../../memory.mjs";

/** A module with one memory of so many pages, and nothing else. */
const module = (...pages: number[]): Uint8Array =>
  new Uint8Array([0, 97, 115, 109, 1, 0, 0, 0, 5, 2 + pages.length, 1, 0, ...pages]);

describe("the memory that Python begins with", () => {
  it("is written into a module that stays a module", async () => {
    const { instance } = await WebAssembly.instantiate(new Uint8Array([...roomier(exported(480))]));
    expect((instance.exports.m as WebAssembly.Memory).buffer.byteLength).toBe(PAGES * 65_536);
  });

  it("fits the package in use, and touches nothing but the two bytes", () => {
    const file = readFileSync("node_modules/pyodide/pyodide.asm.wasm");
    const found = roomier(file);
    expect(found.length).toBe(file.length);
    let changed = 0;
    for (let at = 0; at < file.length; at += 1) if (file[at] !== found[at]) changed += 1;
    expect(changed).toBeGreaterThan(0);
    expect(changed).toBeLessThanOrEqual(2);
  });

  it("refuses a module that is built otherwise", () => {
    expect(() => roomier(module(5))).toThrow("begins with 5 pages");
    expect(() => roomier(module(0xff, 0x7f))).toThrow("pages");
    expect(() => roomier(new Uint8Array([0, 97, 115, 109, 1, 0, 0, 0]))).toThrow("no memory");
  });
});

/** The same with its memory exported as `m`. */
function exported(pages: number): Uint8Array {
  const plain = module((pages & 127) | 128, pages >> 7);
  return new Uint8Array([...plain, 7, 5, 1, 1, 109, 2, 0]);
}
