import { expect, test } from "vitest";
import { type Course, pathOf, within } from "./course";

const course: Course = [0, 10, 20, 30, 40].map((at) => [1_000 + at, 20 + at / 10]);

test("a window takes the samples between two shares of the span, its ends included", () => {
  expect(within(course, 0.25, 0.75).map(([at]) => at)).toEqual([1_010, 1_020, 1_030]);
  expect(within(course, 0, 1)).toEqual(course);
  expect(within([], 0, 1)).toEqual([]);
});

test("the line goes from the lower left to the upper right, lies in the middle when nothing moves, and leaves gaps open", () => {
  expect(pathOf(course, 100, 10)).toBe("M0.0 10.0L25.0 7.5L50.0 5.0L75.0 2.5L100.0 0.0");
  expect(
    pathOf(
      [
        [0, 3],
        [10, 3],
      ],
      100,
      10,
    ),
  ).toBe("M0.0 5.0L100.0 5.0");
  const gappy: Course = [...Array.from({ length: 30 }, (_, at): [number, number] => [at, 1]), [900, 2]];
  expect(pathOf(gappy, 100, 10).match(/M/g)).toHaveLength(2);
});
