import { useVisit } from "../context";
import { standing } from "../logbook";
import { Comparison } from "./Comparison";
import { StationCards } from "./StationCards";

/** Measure again, as left. */
export function Prove() {
  const { entries, openStep } = useVisit();
  const changed = standing(entries).some((entry) => entry.kind === "setting");
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
