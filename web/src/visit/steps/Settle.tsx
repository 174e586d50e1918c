import { Play } from "lucide-react";
import { useState } from "react";
import { ProbeList } from "../../live/Probes";
import { Trends } from "../../live/Trends";
import { useLive } from "../../live/useLive";
import { useVisit } from "../../logbook/context";
import { standing } from "../../logbook/logbook";
import { OneOf } from "../../logbook/OneOf";
import { useNow } from "../../shell/useNow";
import { clockTime } from "../../shell/when";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";

const ALREADY_S = 20 * 60;
const HEATER = "heater";
const SETTLED_S = 10 * 60;

export function Settle() {
  const { entries, record, mayWrite, page } = useVisit();
  const { on } = useLive();
  const now = useNow();
  const [asked, setAsked] = useState(false);
  const last = standing(entries)
    .filter((entry) => entry.kind === "run")
    .at(-1);
  const running = last?.body.event === "started";
  const ran = last ? (now - new Date(last.at).getTime()) / 1000 + Number(last.body.already_s ?? 0) : 0;
  const start = async (already: number) => {
    setAsked(false);
    await record("run", { event: "started", already_s: already }, { phase: "as_found" });
  };
  return (
    <div className="space-y-3">
      <section className="panel p-4">
        {running && last ? (
          <p>
            {Number(last.body.already_s) > 0
              ? "Noted as running for a good while at "
              : "The unit has been calling since "}
            <span className="reading font-semibold">{clockTime(last.at)}</span>.{" "}
            {ran >= SETTLED_S
              ? "It has run long enough: read once the readings stand still."
              : "The clock is in the top bar: wait for ten minutes at least."}
          </p>
        ) : (
          <p>
            Set the unit calling and note the moment. Readings in the first ten minutes are marked as early,
            and give no hard verdict.
          </p>
        )}
        {mayWrite && (
          <div className="mt-3 flex flex-wrap gap-2">
            {running && !asked ? (
              <button type="button" className="btn touch" onClick={() => setAsked(true)}>
                It stopped and started again
              </button>
            ) : (
              <button type="button" className="btn btn-primary touch text-base" onClick={() => void start(0)}>
                <Play size={18} aria-hidden="true" /> {asked ? "Yes, it starts now" : "It starts now"}
              </button>
            )}
            {!running && (
              <button type="button" className="btn touch" onClick={() => void start(ALREADY_S)}>
                It has run for twenty minutes or more
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
      {page.work_up.diagnosed && (
        <section className="panel p-4" aria-labelledby="stage">
          <h2 id="stage" className="font-semibold text-lg">
            Which stage does it run on?
          </h2>
          <p className="mt-1">
            The nameplate's figures are those of the full stage: have it called, where you can.
          </p>
          <OneOf item="stage" legend="Stage that runs" />
        </section>
      )}
      {page.work_up.diagnosed && page.work_up.path.stations.some((station) => station.id === HEATER) && (
        <section className="panel p-4" aria-labelledby="auxiliary">
          <h2 id="auxiliary" className="font-semibold text-lg">
            What heats the air?
          </h2>
          <p className="mt-1">
            While it cools, pass this by. The heat to expect depends on it: shut the electric heater off at
            the thermostat to judge the compressor.
          </p>
          <OneOf item="auxiliary" legend="What gives the heat" />
        </section>
      )}
      {on && (
        <>
          <WholeVisit />
          <Trends />
          <ProbeList />
        </>
      )}
    </div>
  );
}

/** What still moves, and for about how long. */
export function WholeVisit() {
  const { picture } = useLive();
  const { system } = useUnits();
  if (!picture?.connected || !picture.channels.some((channel) => channel.station !== "")) return null;
  return (
    <p
      className={`rounded border-l-4 px-3 py-2 text-lg ${
        picture.state === "steady" ? "border-success bg-base-200" : "border-warning bg-base-200"
      }`}
      role="status"
    >
      {say(picture.words, system)}
    </p>
  );
}
