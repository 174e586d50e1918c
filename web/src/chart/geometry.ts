/** Where things lie on the psychrometric chart. Plain numbers; drawing is PsychrometricChart's. */
import { scaleLinear } from "d3-scale";

export interface Size {
  width: number;
  height: number;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** As large as its place, so that its letters stay readable on a phone. */
export function sizeOf(width: number): Size {
  const wide = Math.max(width, 212);
  return {
    width: wide,
    height: Math.round(Math.min(wide * 0.95, 470)),
    left: wide > 500 ? 44 : 14,
    right: 62,
    top: 18,
    bottom: 40,
  };
}

export interface AirPoint {
  key: string;
  name: string;
  phase: string;
  dryBulb: number;
  ratio: number;
  /** 95 % half-widths and the correlation of their errors. */
  dryBulbWidth: number;
  ratioWidth: number;
  correlation: number;
}

export interface Window {
  low: number;
  high: number;
  top: number;
}

/** Wide enough for every state with room around it, in steps of five degrees and two grams. */
export function windowOf(points: AirPoint[]): Window {
  const dry = points.map((point) => point.dryBulb);
  const low = Math.max(Math.floor((Math.min(10, ...dry) - 3) / 5) * 5, -55);
  const high = Math.min(Math.max(Math.ceil((Math.max(35, ...dry) + 3) / 5) * 5, low + 30), 85);
  const top = Math.min(
    Math.ceil((Math.max(0.016, ...points.map((point) => point.ratio)) + 0.002) / 0.002) * 0.002,
    0.1,
  );
  return { low, high, top: Number(top.toFixed(3)) };
}

export function scales({ low, high, top }: Window, size: Size) {
  return {
    size,
    x: scaleLinear([low, high], [size.left, size.width - size.right]),
    y: scaleLinear([0, top], [size.height - size.bottom, size.top]),
  };
}

export type Scales = ReturnType<typeof scales>;

/** The half-width as an ellipse: every pair of errors as likely as the half-widths at their ends. */
export function ellipse(point: AirPoint, { x, y }: Scales, steps = 48): string {
  const lean = Math.max(-1, Math.min(1, point.correlation));
  const across = Math.sqrt(1 - lean * lean);
  const parts: string[] = [];
  for (let step = 0; step < steps; step += 1) {
    const turn = (2 * Math.PI * step) / steps;
    const dry = point.dryBulb + point.dryBulbWidth * Math.cos(turn);
    const ratio = point.ratio + point.ratioWidth * (lean * Math.cos(turn) + across * Math.sin(turn));
    parts.push(`${x(dry).toFixed(1)} ${y(Math.max(ratio, 0)).toFixed(1)}`);
  }
  return `M${parts.join("L")}Z`;
}

/** Humidity ratio of the saturation line at a dry bulb, from its drawn points. */
export function saturated(
  line: { dry_bulb_c: number[]; humidity_ratio: number[] } | undefined,
  dryBulb: number,
): number {
  if (!line || line.dry_bulb_c.length === 0) return Number.POSITIVE_INFINITY;
  const at = line.dry_bulb_c.findIndex((each) => each >= dryBulb);
  if (at < 0) return Number.POSITIVE_INFINITY;
  const [x1, y1] = [line.dry_bulb_c[at] ?? 0, line.humidity_ratio[at] ?? 0];
  if (at === 0) return y1;
  const [x0, y0] = [line.dry_bulb_c[at - 1] ?? 0, line.humidity_ratio[at - 1] ?? 0];
  return x1 === x0 ? y1 : y0 + ((y1 - y0) * (dryBulb - x0)) / (x1 - x0);
}
