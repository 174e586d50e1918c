/** Our temperature scale: slate, sand, clay. Told apart by lightness as well as hue. */
import { scaleLinear } from "d3-scale";

const scale = scaleLinear<string>()
  .domain([4, 14, 24, 34, 46])
  .range(["#3f5f73", "#8fabb5", "#e2d2ab", "#cf8a4f", "#a8452a"])
  .clamp(true);

export const tint = (celsius: number): string => scale(celsius);
