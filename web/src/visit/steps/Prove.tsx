import { Loops, Proof } from "../../parts/economizer/Proof";
import { type Section, Sections } from "../../shell/Sections";
import { useVisit } from "../../logbook/context";
import { standing } from "../../logbook/logbook";
import { Comparison } from "./Comparison";
import { StationCards } from "./StationCards";

const SECTIONS: Section[] = [
  { key: "readings", name: "Readings", show: Readings },
  { key: "tests", name: "Functional tests", show: Proof },
  { key: "loops", name: "Loops", show: Loops },
];

/** Measure again, as left; where the unit has outdoor-air dampers, also prove what they do. */
export function Prove() {
  const { page } = useVisit();
  return page.economizer ? <Sections label="Parts of Prove" sections={SECTIONS} /> : <Readings />;
}

/** Measure again, as left. */
function Readings() {
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
