import { useUnits } from "../units/UnitSystem";
import { type Quantity, show } from "../units/units";

const SIZES = { small: "text-base", middle: "text-[28px] leading-8", large: "text-[52px] leading-[56px]" };

/** A number as it is read off: value large, unit and half-width beside it. */
export function Figure({ quantity, size = "middle" }: { quantity: Quantity; size?: keyof typeof SIZES }) {
  const { system } = useUnits();
  const shown = show(quantity, system);
  return (
    <span className="inline-flex flex-wrap items-baseline gap-x-1.5">
      <span className={`reading font-semibold ${SIZES[size]}`}>{shown.value}</span>
      <span className={size === "small" ? "text-sm" : "text-base"}>{shown.unit}</span>
      {shown.plusMinus && <span className="reading quiet text-sm">±{shown.plusMinus}</span>}
    </span>
  );
}
