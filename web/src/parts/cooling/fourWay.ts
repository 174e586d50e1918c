/** Where the four-way drawing puts things: split against target upwards, cooling against target to the right. */
import { scaleLinear } from "d3-scale";

export interface Spot {
  split: number;
  capacity: number;
  splitWidth: number;
  capacityWidth: number;
}

export interface Frame {
  x: (share: number) => number;
  y: (kelvin: number) => number;
  width: number;
  height: number;
}

export const MARGIN = { left: 46, right: 12, top: 12, bottom: 40 };

/** A frame that holds every spot and always the middle field with some room around it. */
export function frameOf(spots: Spot[], width: number, height: number): Frame {
  const most = Math.max(6, ...spots.map((spot) => Math.abs(spot.split) + spot.splitWidth + 0.5));
  const least = Math.min(0.55, ...spots.map((spot) => spot.capacity - spot.capacityWidth - 0.03));
  const top = Math.max(1.3, ...spots.map((spot) => spot.capacity + spot.capacityWidth + 0.03));
  return {
    x: scaleLinear([least, top], [MARGIN.left, width - MARGIN.right]),
    y: scaleLinear([-most, most], [height - MARGIN.bottom, MARGIN.top]),
    width,
    height,
  };
}
