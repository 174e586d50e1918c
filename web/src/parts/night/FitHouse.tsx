import { useMutation } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { calculate } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { FileButton } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { inWords, number, type Quantity } from "../../units/units";
import type { NightPage, Setup } from "./useNight";

interface Samples {
  first_hour: number;
  outdoor_c: number[];
  room_c: number[];
  gaps: number;
}

interface Fitted {
  house: Schemas["House"];
  mass_times: Quantity;
  outside_times: Quantity;
  mass_plus_minus: Quantity;
  outside_plus_minus: Quantity;
  misfit_k: Quantity;
  hours: number;
}

/** The house as its own samples show it, in place of a typical one. */
export function FitHouse({ night, setup }: { night: NightPage; setup: Setup }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const fit = useMutation({
    networkMode: "always",
    mutationFn: async (file: File) => {
      const read = await calculate<Samples>("ventilation.read_samples", { text: await file.text() });
      const fitted = await calculate<Fitted>("ventilation.fit_house", {
        floor_area_m2: setup.floor_area_m2,
        first_hour: read.first_hour,
        outdoor_c: read.outdoor_c,
        room_c: read.room_c,
      });
      return { fitted, gaps: read.gaps };
    },
  });
  const put = async (house: Schemas["House"] | null) => {
    const { house: _, ...rest } = setup;
    await record(
      "night_setup",
      { ...rest, ...(house ? { house } : {}) },
      { phase: "as_found", ...(night.setup_entry ? { replaces: night.setup_entry } : {}) },
    );
  };
  const found = fit.data?.fitted;
  if (!mayWrite && !setup.house) return null;
  return (
    <section aria-labelledby="fit" className="space-y-2">
      <h2 id="fit" className="font-semibold text-lg">
        The house's own samples
      </h2>
      {setup.house ? (
        <p>This plan rests on the house's own samples.</p>
      ) : (
        <p className="quiet">
          A logger's table of a day or more, with the damper shut and nothing cooling: a time, outdoor air and
          the rooms. Then the plan is for this house, not for a typical one.
        </p>
      )}
      {found && (
        <p>
          It holds <span className="reading font-semibold">{number(found.mass_times.value, 1)}</span> times
          the heat of a typical house of its size (±{inWords(found.mass_plus_minus.value, "share", system)}),
          and loses <span className="reading font-semibold">{number(found.outside_times.value, 1)}</span>{" "}
          times as much to outdoors (±{inWords(found.outside_plus_minus.value, "share", system)}). The model
          follows {found.hours} h within {inWords(found.misfit_k.value, "temperature_difference", system)}.
        </p>
      )}
      {mayWrite && (
        <div className="flex flex-wrap gap-2">
          <FileButton types={[".csv", "text/csv", "text/plain"]} onChosen={(file) => fit.mutate(file)}>
            Samples (CSV)
          </FileButton>
          {found && (
            <button
              type="button"
              className="btn btn-primary touch text-base"
              onClick={() => void put(found.house).then(() => fit.reset())}
            >
              Plan with this house
            </button>
          )}
          {setup.house && (
            <button type="button" className="btn touch" onClick={() => void put(null)}>
              A typical house again
            </button>
          )}
        </div>
      )}
      <Trouble error={fit.error} />
    </section>
  );
}
