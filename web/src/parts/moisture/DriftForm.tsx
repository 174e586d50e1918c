import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { NumberField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, typedSi } from "../../units/units";
import { replacing, USUAL_AIM } from "./page";

const SMALLEST_M3 = 5;
const LARGEST_M3 = 500_000;
const MOST_DRIFT = 0.02;

/** The drift that the samples showed, taken into the room's load with its volume: nothing is typed over. */
export function DriftForm({ drift }: { drift: number }) {
  const { shown, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const moisture = shown.pages.moisture;
  const aim = moisture?.aim;
  const [typed, setTyped] = useState(asTypedExactly(aim?.room_m3, "volume", system));
  const [tried, setTried] = useState(false);
  if (!mayWrite || Math.abs(drift) > MOST_DRIFT) return null;
  const taken = aim?.room_m3 && aim.drift_ratio === drift;
  if (taken) return <p className="quiet">Counted into the room's load, above.</p>;
  const volume = typedSi(typed, "volume", system);
  const fits = volume !== undefined && volume >= SMALLEST_M3 && volume <= LARGEST_M3;
  const limits = `${inWords(SMALLEST_M3, "volume", system)} to ${inWords(LARGEST_M3, "volume", system)}.`;
  return (
    <form
      noValidate
      aria-label="Drift of the room"
      className="flex flex-wrap items-start gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        setTried(true);
        if (fits)
          void record(
            "moisture_aim",
            { ...USUAL_AIM, ...aim, room_m3: volume, drift_ratio: drift },
            replacing(moisture),
          );
      }}
    >
      <NumberField
        label="The room's volume"
        kind="volume"
        value={typed}
        onChange={setTyped}
        wrong={tried && !fits ? limits : ""}
      />
      <button type="submit" className="btn touch mt-6 text-base">
        Count it into the room's load
      </button>
    </form>
  );
}
