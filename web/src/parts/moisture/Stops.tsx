import { useMutation } from "@tanstack/react-query";
import { calculate, useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { FileButton } from "../../shell/fields";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords, type Quantity } from "../../units/units";
import { DriftForm } from "./DriftForm";

interface AfterStops {
  mark: MarkName;
  stops: number;
  wet_stops: number;
  share: Quantity;
  run_share: Quantity;
  excess_humidity_ratio: Quantity;
  drift_ratio: Quantity;
}

interface PartLoad {
  net_kg_per_s: Quantity;
  least_run_min: Quantity;
}

const HELD_KG_PER_W = 0.08 / 1000;

/** Does the fan give the water back after each stop? From a logger's samples of supply and return. */
export function Stops({ pressure }: { pressure: number }) {
  const { system } = useUnits();
  const { shown } = useVisit();
  const look = useMutation({
    networkMode: "always",
    mutationFn: async (file: File) =>
      calculate<AfterStops>("moisture.after_stops", { text: await file.text(), pressure_pa: pressure }),
  });
  const found = look.data;
  const water = (shown.pages.moisture?.results ?? []).find((each) => each.key === "coil_water")?.quantity;
  const total = shown.results.find((each) => each.key === "total")?.quantity;
  const load = useCalculation<PartLoad>(
    "moisture.part_load",
    found && water && water.value > 0 && found.run_share.value > 0
      ? {
          run_share: Math.min(found.run_share.value, 1),
          water_kg_per_s: water.value,
          holds_kg: Math.min(Math.max(total?.value ?? 0, 0) * HELD_KG_PER_W, 100),
          fan_runs_on: found.mark !== "holds",
        }
      : undefined,
  );
  return (
    <section aria-labelledby="stops" className="space-y-2">
      <h2 id="stops" className="font-semibold text-lg">
        After each stop
      </h2>
      {found ? (
        <p className="flex items-start gap-2 font-semibold">
          <VerdictMark mark={found.mark} />
          {found.mark === "holds"
            ? `After ${found.stops} stops the supply never stayed wetter than the return: the water stays out.`
            : `After ${found.wet_stops} of ${found.stops} stops the fan blew the coil's water back: ${inWords(found.share.value, "share", system)} of what it had taken out. Let the fan stop with the compressor, where the maker allows it.`}
        </p>
      ) : (
        <p className="quiet">
          A fan that runs through the pauses takes up the coil's water again. A logger's table shows it: time,
          supply and return temperature and humidity, a line every two minutes or closer.
        </p>
      )}
      {found && (
        <p className="quiet">
          It ran {inWords(found.run_share.value, "share", system)} of the time; at most the supply was{" "}
          {inWords(Math.max(found.excess_humidity_ratio.value, 0), "humidity_ratio", system)} wetter than the
          return. The return {found.drift_ratio.value < 0 ? "lost" : "gained"}{" "}
          {inWords(Math.abs(found.drift_ratio.value), "humidity_ratio", system)} in an hour: with the room's
          volume that is part of its load.
        </p>
      )}
      {found && <DriftForm drift={found.drift_ratio.value} />}
      {load.data && (
        <p>
          At this share of the time about{" "}
          <span className="reading font-semibold">
            {inWords(load.data.net_kg_per_s.value, "water_rate", system)}
          </span>{" "}
          stay out
          {load.data.least_run_min.value > 0.5 &&
            `; a run of less than ${Math.round(load.data.least_run_min.value)} min dries nothing`}
          .
        </p>
      )}
      <FileButton types={[".csv", "text/csv", "text/plain"]} onChosen={(file) => look.mutate(file)}>
        Samples (CSV)
      </FileButton>
      <Trouble error={look.error} />
    </section>
  );
}
