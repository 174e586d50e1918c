import { useState } from "react";
import { useCalculation } from "../../core/calculate";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { inWords, type Quantity } from "../../units/units";
import type { Setup } from "./useNight";

interface Table {
  lines: {
    high_c: number;
    target_c: number | null;
    start_hour: number | null;
    stop_hour: number | null;
    most_speed: number;
    saved_j: number;
  }[];
  differential_k: Quantity;
}

/** For a control that is set once a season: by the day's high. */
export function Season({ setup }: { setup: Setup }) {
  const { system } = useUnits();
  const [open, setOpen] = useState(false);
  const { data } = useCalculation<Table>("ventilation.season", open ? { setup } : undefined);
  return (
    <section aria-labelledby="season" className="space-y-2">
      <h2 id="season" className="font-semibold text-lg">
        Settings for a season
      </h2>
      {!open && (
        <button type="button" className="btn touch" onClick={() => setOpen(true)}>
          Work them out
        </button>
      )}
      {data && (
        <>
          <p>
            Worth it while outdoors is at least{" "}
            <span className="reading font-semibold">
              {inWords(data.differential_k.value, "temperature_difference", system)}
            </span>{" "}
            colder than the rooms.
          </p>
          <WideTable label="Settings by the day's high">
            <table className="table">
              <thead>
                <tr>
                  <th scope="col">Day's high</th>
                  <th scope="col">Down to</th>
                  <th scope="col">Hours</th>
                  <th scope="col">Blower, at most</th>
                  <th scope="col">Saves</th>
                </tr>
              </thead>
              <tbody>
                {data.lines.map((line) => (
                  <tr key={line.high_c} className="reading">
                    <td>{inWords(line.high_c, "temperature", system)}</td>
                    <td>{line.target_c == null ? "shut" : inWords(line.target_c, "temperature", system)}</td>
                    <td>{line.start_hour == null ? "–" : `${line.start_hour}–${line.stop_hour} h`}</td>
                    <td>{inWords(line.most_speed, "share", system)}</td>
                    <td>{inWords(line.saved_j, "energy", system)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </WideTable>
        </>
      )}
    </section>
  );
}
