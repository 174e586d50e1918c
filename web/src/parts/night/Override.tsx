import { Wind } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Choices } from "../../shell/fields";
import { useNow } from "../../shell/useNow";
import { when } from "../../shell/when";
import type { NightPage } from "./useNight";

const HOURS = { "1": "1 h", "2": "2 h", "4": "4 h", "8": "8 h" };

/** The occupant wants outdoor air now: for some hours, then it goes back by itself. */
export function Override({ night }: { night: NightPage }) {
  const { record, mayWrite } = useVisit();
  const [hours, setHours] = useState<keyof typeof HOURS>("1");
  const now = useNow(30_000);
  const until = night.override_until ? Date.parse(night.override_until) : 0;
  const running = until > now;
  const held = night.setup?.flush.hold;
  if (!mayWrite && !running) return null;
  return (
    <section aria-labelledby="override" className="panel space-y-2 p-4 print:hidden">
      <h2 id="override" className="font-semibold text-lg">
        Outdoor air now
      </h2>
      {running && night.override_until && (
        <p role="status">Noted: outdoor air until {when(night.override_until)}, then back by itself.</p>
      )}
      {!running && mayWrite && (
        <>
          {held && <p className="text-error">Something holds it shut tonight: see the limits below first.</p>}
          <div className="flex flex-wrap items-end gap-3">
            <Choices label="For" options={HOURS} value={hours} onChange={setHours} />
            <button
              type="button"
              className="btn touch"
              onClick={() => void record("outdoor_air_now", { hours: Number(hours) }, { phase: "as_found" })}
            >
              <Wind size={18} aria-hidden="true" /> Note the override
            </button>
          </div>
          <p className="quiet text-sm">
            Press it at the control; here it is written down with its end. Nothing is blown past that.
          </p>
        </>
      )}
    </section>
  );
}
