import { Figure } from "../shell/Figure";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { useVisit } from "./context";
import type { PhaseShown } from "./logbook";

type Result = PhaseShown["results"][number];

/** A number of the visit; a tap opens its working. */
export function ResultButton({ result, size }: { result: Result; size: "middle" | "large" }) {
  const { openWorking } = useVisit();
  const { system } = useUnits();
  return (
    <button
      type="button"
      className="touch block w-full text-left"
      title="Working (w)"
      onClick={() => openWorking(result.key)}
    >
      <span className="block quiet">{result.name}</span>
      {result.quantity && <Figure quantity={result.quantity} size={size} />}
      {result.remark && <span className="block text-sm">{say(result.remark, system)}</span>}
    </button>
  );
}
