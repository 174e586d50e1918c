import { Play } from "lucide-react";
import { useState } from "react";
import { clockTime } from "../../shell/when";
import { useVisit } from "../context";
import { standing } from "../logbook";

export function Settle() {
  const { entries, record, mayWrite } = useVisit();
  const [asked, setAsked] = useState(false);
  const last = standing(entries)
    .filter((entry) => entry.kind === "run")
    .at(-1);
  const running = last?.body.event === "started";
  const start = async () => {
    setAsked(false);
    await record("run", { event: "started" }, { phase: "as_found" });
  };
  return (
    <section className="panel p-4">
      {running && last ? (
        <p>
          The unit has been calling since <span className="reading font-semibold">{clockTime(last.at)}</span>.
          The clock is in the top bar: wait for ten minutes at least.
        </p>
      ) : (
        <p>
          Set the unit calling and note the moment. Readings in the first ten minutes are marked as early.
        </p>
      )}
      {mayWrite && (
        <div className="mt-3 flex gap-2">
          {running && !asked ? (
            <button type="button" className="btn touch" onClick={() => setAsked(true)}>
              It stopped and started again
            </button>
          ) : (
            <button type="button" className="btn btn-primary touch text-base" onClick={start}>
              <Play size={18} aria-hidden="true" /> {asked ? "Yes, it starts now" : "It starts now"}
            </button>
          )}
          {asked && (
            <button type="button" className="btn touch" onClick={() => setAsked(false)}>
              No
            </button>
          )}
        </div>
      )}
    </section>
  );
}
