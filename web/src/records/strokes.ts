/** A signature as it is drawn: lines of points between 0 and 1. */
export type Point = [number, number];
export type Strokes = Point[][];

const NEAR = 0.004;
export const MOST_POINTS = 3500;

const thousandths = (value: number): number => Math.round(Math.min(1, Math.max(0, value)) * 1000) / 1000;

/** A place in the box as a point, wherever the finger is. */
export const pointIn = (x: number, y: number, width: number, height: number): Point => [
  thousandths(x / Math.max(width, 1)),
  thousandths(y / Math.max(height, 1)),
];

const pointsOf = (strokes: Strokes): number => strokes.reduce((sum, line) => sum + line.length, 0);

/** The drawing with one more point on its last line; points too near to the last one add nothing. */
export function drawnOn(strokes: Strokes, point: Point): Strokes {
  const line = strokes.at(-1);
  const last = line?.at(-1);
  if (!line || !last || pointsOf(strokes) >= MOST_POINTS) return strokes;
  if (Math.hypot(point[0] - last[0], point[1] - last[1]) < NEAR) return strokes;
  return [...strokes.slice(0, -1), [...line, point]];
}

/** Lines of one point are dots that a thumb left: no signature is made of them alone. */
export const isDrawn = (strokes: Strokes): boolean => strokes.some((line) => line.length > 2);
