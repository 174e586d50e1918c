import { useState } from "react";
import { useClockOff } from "../api/clock";

/** Said once: this device's clock is wrong, and what is done about it. */
export function ClockOff() {
  const off = useClockOff();
  const [seen, setSeen] = useState(0);
  if (off === 0 || off === seen) return null;
  const minutes = Math.round(Math.abs(off) / 60_000);
  const far = minutes < 120 ? `${minutes} minutes` : `${Math.round(minutes / 60)} hours`;
  return (
    <div role="status" className="panel mb-3 flex flex-wrap items-center gap-3 border-warning p-3">
      <p className="min-w-0 flex-1">
        This device's clock is {far} {off > 0 ? "behind" : "ahead of"} the server's. Times are written down by
        the server's clock. Set this one right.
      </p>
      <button type="button" className="btn touch" onClick={() => setSeen(off)}>
        Dismiss
      </button>
    </div>
  );
}
