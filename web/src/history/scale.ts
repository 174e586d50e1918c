/** Scales of the history drawings: time across, the value upwards, always room for half-widths and limits. */
import { scaleLinear, scaleTime } from "d3-scale";

export interface Dot {
  at: number;
  value: number;
  plusMinus: number;
}

export const AXES = { width: 380, height: 170, left: 52, right: 14, top: 10, bottom: 26 };

export function axesOf(
  dots: Dot[],
  limits: (number | null)[],
  span?: [number, number],
  width: number = AXES.width,
) {
  const times = dots.map((dot) => dot.at);
  const first = span?.[0] ?? Math.min(...times);
  const last = span?.[1] ?? Math.max(...times);
  const pad = Math.max((last - first) * 0.06, 86_400_000);
  const known = limits.filter((limit): limit is number => limit !== null);
  const low = Math.min(...dots.map((dot) => dot.value - dot.plusMinus), ...known);
  const high = Math.max(...dots.map((dot) => dot.value + dot.plusMinus), ...known);
  const room = (high - low) * 0.08 || Math.abs(high) * 0.1 || 1;
  return {
    x: scaleTime([first - pad, last + pad], [AXES.left, width - AXES.right]),
    y: scaleLinear([low - room, high + room], [AXES.height - AXES.bottom, AXES.top]).nice(4),
  };
}
