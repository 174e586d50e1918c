import { VerdictMark } from "../../shell/VerdictMark";
import type { Page } from "./useEconomizer";

const AIR_MOVES = {
  moves: "",
  stands:
    "The damper was driven open, and the mixed air stayed as it was: the blades do not move with it, or do not move at all. Power locked out, look at blades, shaft and linkage.",
  backwards:
    "The damper was driven open, and less outdoor air came in: it turns the wrong way. Power locked out, look which way the blades go.",
};

/** What the probe alone says of compressor and blades, whatever the unit's sensors show. */
export function ByProbe({ found }: { found: Page["points"]["by_probe"] }) {
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
  return told
    .filter((each) => typeof each === "string" && each)
    .map((each) => (
      <p key={String(each)} className="panel flex items-start gap-2 p-3">
        <VerdictMark mark="off" />
        <span>{each}</span>
      </p>
    ));
}
