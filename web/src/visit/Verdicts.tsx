import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { ChevronRight, Dot } from "lucide-react";
import { useVisit } from "../logbook/context";
import { PHASE_NAMES, type PhaseShown, resultOf } from "../logbook/logbook";
import { stepOf } from "../parts";
import { Figure } from "../shell/Figure";
import { MARK_WORDS, type MarkName, VerdictMark } from "../shell/VerdictMark";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";

type Line = PhaseShown["verdicts"][number];

/** What stands, gravest first; each line opens its working. */
export function Verdicts({ onChosen }: { onChosen?: () => void }) {
  const { page, shown } = useVisit();
  return (
    <div>
      <div className="flex items-center justify-between px-4 pt-3 pb-1">
        <h2 className="font-semibold">Results</h2>
        {page.work_up.phases.length > 1 ? <PhaseSwitch /> : <span className="quiet text-sm">as found</span>}
      </div>
      {shown.verdicts.length === 0 && (
        <p className="px-4 py-2">
          {shown.results.length === 0
            ? "Nothing to judge on this kind of system yet. The air at each station stands under Measure."
            : "Nothing yet. Read return and supply air, and it appears here."}
        </p>
      )}
      <ul className="divide-y divide-base-300">
        {shown.verdicts.map((line) => (
          <VerdictLine key={line.key} line={line} onChosen={onChosen} />
        ))}
      </ul>
    </div>
  );
}

function VerdictLine({ line, onChosen }: { line: Line; onChosen?: () => void }) {
  const { shown, openWorking, openSection } = useVisit();
  const { system } = useUnits();
  const result = resultOf(shown, line.result);
  const { opens } = line;
  const mark = line.mark as MarkName | null;
  const body = (
    <>
      <span className="flex items-start gap-2.5">
        {mark ? <VerdictMark mark={mark} /> : <Dot size={22} className="shrink-0 quiet" aria-hidden="true" />}
        <span className="min-w-0 flex-1">
          {mark && <span className="block font-semibold">{MARK_WORDS[mark]}</span>}
          <span className="block">{say(line.sentence, system)}</span>
        </span>
        {(line.result || opens) && (
          <ChevronRight size={18} className="mt-1 shrink-0 quiet" aria-hidden="true" />
        )}
      </span>
      {result?.quantity && (
        <span className="mt-1 block pl-8">
          <Figure quantity={result.quantity} />
        </span>
      )}
      {(line.notes ?? []).map((note) => (
        <span key={note.text} className="mt-1 block border-secondary border-l-2 pl-2 text-sm wide:ml-8">
          {say(note, system)}
        </span>
      ))}
    </>
  );
  if (!line.result && !opens) return <li className="px-4 py-3">{body}</li>;
  return (
    <li>
      <button
        type="button"
        className="block w-full px-4 py-3 text-left hover:bg-base-200"
        title={opens ? "See more" : "Working (w)"}
        onClick={() => {
          if (opens) openSection(opens, stepOf(opens) ?? "work_out");
          else openWorking(line.result ?? undefined);
          onChosen?.();
        }}
      >
        {body}
      </button>
    </li>
  );
}

/** As found or as left, where there are both. */
export function PhaseSwitch() {
  const { page, shown } = useVisit();
  const { visitId } = useParams({ from: "/inside/visits/$visitId" });
  const search = useSearch({ from: "/inside/visits/$visitId" });
  const navigate = useNavigate();
  return (
    <fieldset className="join">
      <legend className="sr-only">Phase shown</legend>
      {page.work_up.phases.map((phase) => (
        <button
          key={phase.phase}
          type="button"
          aria-pressed={phase.phase === shown.phase}
          className={`btn join-item touch px-2 ${phase.phase === shown.phase ? "btn-neutral" : ""}`}
          onClick={() =>
            void navigate({
              to: "/visits/$visitId",
              params: { visitId },
              search: { ...search, phase: phase.phase as "as_found" | "as_left" },
              replace: true,
            })
          }
        >
          {PHASE_NAMES[phase.phase]}
        </button>
      ))}
    </fieldset>
  );
}
