import { expect, it } from "vitest";

import { sureWords } from "./sure";

it("is said in whole percent, and never as certain", () => {
  expect([0.014, 0.345, 0.99, 0.9999, 1].map(sureWords)).toEqual([
    "1 % sure",
    "35 % sure",
    "99 % sure",
    "99 % sure",
    "99 % sure",
  ]);
});
