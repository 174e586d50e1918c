import { VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";
import type { Page } from "./useEconomizer";

/** From here on all can be told. */
const APART_K = 10;

const AIR_MOVES = {
  moves: "",
  stands:
    "The damper was driven open, and the mixed air stayed as it was: the blades do not move with it, or do not move at all. Power locked out, look at blades, shaft and linkage.",
  backwards:
    "The damper was driven open, and less outdoor air came in: it turns the wrong way. Power locked out, look which way the blades go.",
};

/** What the probe alone says of compressor and blades, whatever the unit's sensors show. */
export function ByProbe({ found }: { found: Page["points"]["by_probe"] }) {
  const { system } = useUnits();
  const stands = found?.air_moves === "stands";
  const told = [
    found?.cooled === false &&
      "Compressor on, and the supply air is no colder than the mixed air. Wait out its rest time and compare again. If it stays so, it does not run or does not cool: contactor and safeties are for a licensed person.",
    found?.air_moves && AIR_MOVES[found.air_moves],
    found?.open_when_shut &&
      !stands &&
      "Much outdoor air comes in with the damper shut: the blades are not shut. Power locked out, look at blades, seals and linkage.",
    found?.opens_short &&
      !stands &&
      "Too little outdoor air comes in with the damper open. Look for a slipped linkage, a blocked intake, or a return damper that does not shut; power locked out first.",
  ];
  return (
    <>
      {found?.alike && typeof found.apart_k === "number" && (
        <p className="panel flex items-start gap-2 p-3">
          <VerdictMark mark="too_close" />
          <span>
            Outdoor and return air were only{" "}
            <span className="reading">{inWords(found.apart_k, "temperature_difference", system)}</span> apart:
            little can be told of blades and sensors. Come back when they differ by{" "}
            <span className="reading">{inWords(APART_K, "temperature_difference", system)}</span>.
          </span>
        </p>
      )}
      {told
        .filter((each) => typeof each === "string" && each)
        .map((each) => (
          <p key={String(each)} className="panel flex items-start gap-2 p-3">
            <VerdictMark mark="off" />
            <span>{each}</span>
          </p>
        ))}
    </>
  );
}
