/** A proof as a page shows it: what it says, where to look first, test by test. */
import { Repeat2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import { sureWords } from "../shell/sure";
import { type MarkName, VerdictMark } from "../shell/VerdictMark";
import { useUnits } from "../units/UnitSystem";
import { type Sentence, say } from "../units/units";
import { useVisit } from "./context";

interface Test {
  key: string;
  title: string;
  words: Sentence;
  mark: string;
  again?: boolean;
  seen?: unknown;
  entry?: string;
}

interface Suspect {
  name: string;
  do: string;
  who: string;
  sure: { value: number };
}

interface Shown<One extends Test> {
  tests: One[];
  mark: string;
  words: Sentence;
  done?: number;
  suspects?: Suspect[];
}

/** What all tests say together, and how many are done. */
export function ProofHead<One extends Test>({ proof }: { proof: Shown<One> }) {
  const { system } = useUnits();
  return (
    <header className="flex items-start gap-3">
      <span className="pt-1">
        <VerdictMark mark={proof.mark as MarkName} size={18} />
      </span>
      <div>
        <p className="font-semibold text-2xl leading-tight">{say(proof.words, system)}</p>
        <p className="quiet">
          {proof.done ?? 0} of {proof.tests.length} tests done
        </p>
      </div>
    </header>
  );
}

const MOST_SUSPECTS = 3;

/** Likely causes of what the tests showed. */
export function Suspects({ suspects }: { suspects: Suspect[] | undefined }) {
  const shown = (suspects ?? []).slice(0, MOST_SUSPECTS);
  if (shown.length === 0) return null;
  return (
    <section aria-labelledby="suspects" className="panel p-4">
      <h2 id="suspects" className="font-semibold text-lg">
        Look here first
      </h2>
      <ol className="mt-1 space-y-2">
        {shown.map((each) => (
          <li key={each.name}>
            <p className="flex flex-wrap items-baseline gap-x-2">
              <span className="font-semibold">{each.name}</span>
              <span className="text-sm">{sureWords(each.sure.value)}</span>
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

/** Every test with its verdict; the one that is opened shows its form. `label`: of the list. */
export function Tests<One extends Test>({
  tests,
  label,
  form,
}: {
  tests: One[];
  label: string;
  form: (test: One, done: () => void) => ReactNode;
}) {
  const { mayWrite } = useVisit();
  const { system } = useUnits();
  const next = tests.find((test) => test.again) ?? tests.find((test) => !test.seen);
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  return (
    <ol className="panel divide-y divide-base-300" aria-label={label}>
      {tests.map((test) => {
        const shown = chosen === test.key;
        return (
          <li key={test.key}>
            <button
              type="button"
              aria-expanded={shown}
              className="touch flex w-full items-center gap-3 px-3 py-2 text-left hover:bg-base-200"
              onClick={() => setChosen(shown ? undefined : test.key)}
            >
              <VerdictMark mark={test.mark as MarkName} size={18} />
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
            {shown && mayWrite && <div key={test.entry}>{form(test, () => setChosen(undefined))}</div>}
          </li>
        );
      })}
    </ol>
  );
}
