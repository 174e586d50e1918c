import { expect, test } from "vitest";
import { fitted, hashOf } from "./small";

test("a photo keeps its shape, is never made larger, and never vanishes", () => {
  expect(fitted(4000, 3000)).toEqual([1600, 1200]);
  expect(fitted(3000, 4000)).toEqual([1200, 1600]);
  expect(fitted(640, 480)).toEqual([640, 480]);
  expect(fitted(100_000, 1)).toEqual([1600, 1]);
});

test("its name is its SHA-256", async () => {
  expect(await hashOf(new Blob(["abc"]))).toBe(
    "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad",
  );
});
