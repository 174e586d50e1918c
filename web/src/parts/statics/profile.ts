/** The static pressure along the air path as a line: taps in order, with the zero of the room at both ends. */
export interface Step {
  name: string;
  pascal: number;
  station: string;
}

export interface Placed extends Step {
  x: number;
  y: number;
}

export interface Profile {
  steps: Placed[];
  zero: number;
  path: string;
}

export const SIZE = { width: 720, height: 250, left: 20, right: 20, top: 34, bottom: 66 };

export function profileOf(taps: Step[], width: number = SIZE.width): Profile {
  const values = taps.map((tap) => tap.pascal);
  const low = Math.min(0, ...values);
  const high = Math.max(0, ...values);
  const span = high - low || 1;
  const yOf = (pascal: number) =>
    SIZE.top + ((high - pascal) / span) * (SIZE.height - SIZE.top - SIZE.bottom);
  const across = width - SIZE.left - SIZE.right;
  const steps = taps.map((tap, index) => ({
    ...tap,
    x: SIZE.left + (across * (index + 1)) / (taps.length + 1),
    y: yOf(tap.pascal),
  }));
  const points = [{ x: SIZE.left, y: yOf(0) }, ...steps, { x: width - SIZE.right, y: yOf(0) }];
  const path = points.map((point, index) => `${index === 0 ? "M" : "L"}${point.x} ${point.y}`).join("");
  return { steps, zero: yOf(0), path };
}
