import { TriangleAlert } from "lucide-react";
import type { Schemas } from "../api/client";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";

/** Why a visit can't be worked out, in its line of a list. */
export function Trouble({ visit }: { visit: Schemas["VisitLine"] }) {
  const { system } = useUnits();
  if (!visit.trouble) return null;
  return (
    <p className="mt-2 flex items-center gap-2">
      <TriangleAlert size={18} className="shrink-0 text-error" aria-hidden="true" />
      {say(visit.trouble, system)}
    </p>
  );
}
