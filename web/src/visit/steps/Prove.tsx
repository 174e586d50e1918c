import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { Comparison } from "./Comparison";
import { StationCards } from "./StationCards";
import { StepPages } from "./StepPages";

/** Measure again, as left; where the unit has outdoor-air dampers, also prove what they do. */
export function Prove() {
  return (
    <StepPages step="prove" label="Parts of Prove" own={{ key: "readings", name: "Readings" }}>
      <Readings />
    </StepPages>
  );
}

/** Measure again, as left. */
function Readings() {
  const { entries, openStep } = useVisit();
  const changed = standingOf(entries, "setting").length > 0;
  return (
    <div className="space-y-4">
      {!changed && (
        <p className="panel p-4">
          Nothing was changed yet, so there is nothing to prove. Changes are written down under{" "}
          <button type="button" className="link" onClick={() => openStep("set_up")}>
            Set up
          </button>
          . You may still read again here, as left.
        </p>
      )}
      <StationCards phase="as_left" />
      <Comparison />
    </div>
  );
}
