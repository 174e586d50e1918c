/** A course of samples: which lie in a window, and the line that draws them. */
export type Course = [number, number][];

/** The part between two shares of the whole span, 0 to 1. */
export function within(course: Course, from: number, to: number): Course {
  const first = course[0]?.[0] ?? 0;
  const span = (course.at(-1)?.[0] ?? 0) - first;
  return course.filter(([at]) => at >= first + from * span && at <= first + to * span);
}

/** An SVG path through all samples, in a box; gaps of more than ten usual steps are left open. */
export function pathOf(course: Course, width: number, height: number): string {
  const [first, last] = [course[0]?.[0] ?? 0, course.at(-1)?.[0] ?? 1];
  const values = course.map(([, value]) => value);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const gap = (10 * (last - first)) / Math.max(course.length, 1);
  let before = first;
  return course
    .map(([at, value], index) => {
      const x = ((at - first) / Math.max(last - first, 1e-9)) * width;
      const y = high > low ? height - ((value - low) / (high - low)) * height : height / 2;
      const pen = index === 0 || at - before > gap ? "M" : "L";
      before = at;
      return `${pen}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}
