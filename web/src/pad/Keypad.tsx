import { Delete } from "lucide-react";
import type { PadKey } from "./typed";

const ROWS: PadKey[][] = [
  ["7", "8", "9"],
  ["4", "5", "6"],
  ["1", "2", "3"],
  ["-", "0", "."],
];

/** Keys for a gloved thumb. */
export function Keypad({
  press,
  take,
  ready,
  label,
}: {
  press: (key: PadKey) => void;
  take: () => void;
  ready: boolean;
  label: string;
}) {
  return (
    <div className="short:col-start-2 short:row-span-4 short:row-start-1 short:mt-0 mt-2 grid grid-cols-4 gap-1.5">
      <div className="col-span-3 grid grid-cols-3 gap-1.5">
        {ROWS.flat().map((key) => (
          <button
            key={key}
            type="button"
            className="btn reading short:h-11 h-[56px] bg-base-200 px-0 font-semibold text-2xl"
            aria-label={key === "-" ? "minus" : key === "." ? "decimal point" : key}
            onClick={() => press(key)}
          >
            {key === "-" ? "±" : key}
          </button>
        ))}
      </div>
      <div className="grid short:grid-rows-[44px_1fr] grid-rows-[56px_1fr] gap-1.5">
        <button
          type="button"
          className="btn h-full bg-base-200 px-0"
          aria-label="delete last"
          onClick={() => press("back")}
        >
          <Delete size={24} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="btn btn-primary h-full px-1 text-lg leading-tight"
          disabled={!ready}
          onClick={take}
        >
          {label}
        </button>
      </div>
    </div>
  );
}
