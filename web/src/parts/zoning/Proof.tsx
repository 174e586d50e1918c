import { Repeat2 } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { BoardPanel } from "./BoardPanel";
import { Marked } from "./Marked";
import { TestForm } from "./TestForm";
import { type Page, type Proof, WithZones } from "./useZones";

/** Every zone alone and all together: what was seen at registers and board, and what all of it says. */
export default function ProofPage() {
  return <WithZones>{(zoning) => <Proved zoning={zoning} />}</WithZones>;
}

function Proved({ zoning }: { zoning: Page }) {
  const { system } = useUnits();
  const proof = zoning.proof;
  if (!proof) {
    return (
      <p className="text-lg">
        There are no zones to prove. Group rooms into zones under Set up, on the page Zones.
      </p>
    );
  }
  return (
    <div className="space-y-5">
      <header className="flex items-start gap-3">
        <span className="pt-1">
          <Marked mark={proof.mark} />
        </span>
        <div>
          <p className="font-semibold text-2xl leading-tight">{say(proof.words, system)}</p>
          <p className="quiet">
            {proof.done} of {proof.tests.length} tests done
          </p>
        </div>
      </header>
      <Suspects proof={proof} />
      <p className="border-accent border-l-4 bg-base-200 p-3">
        Board's power off before a hand goes to a blade, a linkage or a terminal. Blades pinch. Local code and
        the maker's instructions come first.
      </p>
      <Tests proof={proof} />
      <BoardPanel />
    </div>
  );
}

function Suspects({ proof }: { proof: Proof }) {
  const suspects = (proof.suspects ?? []).slice(0, 3);
  if (suspects.length === 0) return null;
  return (
    <section aria-labelledby="zone-suspects" className="panel p-4">
      <h2 id="zone-suspects" className="font-semibold text-lg">
        Look here first
      </h2>
      <ol className="mt-1 space-y-2">
        {suspects.map((each) => (
          <li key={each.name}>
            <p className="flex flex-wrap items-baseline gap-x-2">
              <span className="font-semibold">{each.name}</span>
              <span className="text-sm">{Math.round(each.sure.value * 100)} % sure</span>
            </p>
            <p>
              {each.do}
              {each.who !== "technician" && <span className="quiet"> By: {each.who}.</span>}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}

function Tests({ proof }: { proof: Proof }) {
  const { mayWrite } = useVisit();
  const { system } = useUnits();
  const next = proof.tests.find((test) => test.again) ?? proof.tests.find((test) => !test.seen);
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  return (
    <ol className="panel divide-y divide-base-300" aria-label="Tests of the zones">
      {proof.tests.map((test) => {
        const shown = chosen === test.key;
        return (
          <li key={test.key}>
            <button
              type="button"
              aria-expanded={shown}
              className="touch flex w-full items-center gap-3 px-3 py-2 text-left hover:bg-base-200"
              onClick={() => setChosen(shown ? undefined : test.key)}
            >
              <Marked mark={test.mark} />
              <span className="flex-1">
                <span className="block font-semibold">{test.title}</span>
                <span className="block text-sm">{say(test.words, system)}</span>
              </span>
              {test.again && (
                <span className="badge badge-neutral gap-1">
                  <Repeat2 size={14} aria-hidden="true" /> repeat
                </span>
              )}
              {!test.again && next?.key === test.key && <span className="badge badge-primary">next</span>}
            </button>
            {shown && mayWrite && <TestForm key={test.entry} test={test} done={() => setChosen(undefined)} />}
          </li>
        );
      })}
    </ol>
  );
}
