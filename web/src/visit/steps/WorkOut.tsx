import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { useVisit } from "../context";
import type { Page } from "../logbook";
import { PHASE_NAMES, PhaseSwitch } from "../Rail";
import { Comparison } from "./Comparison";

type Result = Page["work_up"]["phases"][number]["results"][number];

const LARGE = ["split", "total"];

export function WorkOut() {
  const { shown, page } = useVisit();
  const large = shown.results.filter((result) => LARGE.includes(result.key));
  const rest = shown.results.filter((result) => !LARGE.includes(result.key));
  return (
    <div className="space-y-4">
      {page.work_up.phases.length > 1 && (
        <div className="flex items-center gap-3 wide:hidden">
          <PhaseSwitch />
          <span className="sr-only">{PHASE_NAMES[shown.phase]}</span>
        </div>
      )}
      {shown.results.length === 0 && (
        <p>For this kind of system the states at each station are worked out; see the cards under Measure.</p>
      )}
      <ul className="grid gap-3 wide:grid-cols-2">
        {large.map((result) => (
          <ResultCard key={result.key} result={result} size="large" />
        ))}
      </ul>
      <ul className="grid gap-3 sm:grid-cols-2 xl:grid-cols-4">
        {rest.map((result) => (
          <ResultCard key={result.key} result={result} size="middle" />
        ))}
      </ul>
      <Comparison />
    </div>
  );
}

function ResultCard({ result, size }: { result: Result; size: "middle" | "large" }) {
  const { openWorking } = useVisit();
  const { system } = useUnits();
  return (
    <li>
      <button
        type="button"
        className="panel block h-full w-full p-3 text-left hover:border-primary"
        title="Working (w)"
        onClick={() => openWorking(result.key)}
      >
        <span className="block quiet">{result.name}</span>
        {result.quantity ? (
          <Figure quantity={result.quantity} size={size} />
        ) : (
          <span className="block">
            {result.remark
              ? say(result.remark, system)
              : `Missing: ${(result.missing ?? []).join(", ").toLowerCase()}`}
          </span>
        )}
        {result.quantity && result.remark && (
          <span className="block text-sm">{say(result.remark, system)}</span>
        )}
      </button>
    </li>
  );
}
