import { ArrowLeft } from "lucide-react";
import { useVisit } from "../logbook/context";
import { type Page, resultOf } from "../logbook/logbook";
import { Figure } from "../shell/Figure";
import { useUnits } from "../units/UnitSystem";
import { inWords, say } from "../units/units";
import { putIn, symbols, type Token } from "./formula";

type Result = Page["work_up"]["phases"][number]["results"][number];
type Line = NonNullable<Result["lines"]>[number];

/** How a number came about: each line as one would write it, and where its doubt comes from. */
export function WorkingBench({ result: key }: { result: string }) {
  const { shown, openWorking } = useVisit();
  const { system } = useUnits();
  const result = resultOf(shown, key);
  return (
    <div>
      <div className="flex items-center gap-2">
        <button type="button" className="btn btn-ghost touch" onClick={() => openWorking(undefined)}>
          <ArrowLeft size={20} aria-hidden="true" /> Back
        </button>
        <h1 className="font-semibold text-xl">Working: {result?.name ?? "this number"}</h1>
      </div>
      {result ? (
        <div className="mt-3 grid gap-6 2xl:grid-cols-[1fr_320px]">
          <div>
            {result.quantity && <Figure quantity={result.quantity} size="large" />}
            {result.remark && <p className="mt-1">{say(result.remark, system)}</p>}
            {(result.missing ?? []).length > 0 && <p>Still missing: {result.missing?.join(", ")}.</p>}
            {(result.contributions ?? []).length > 0 && <Contributions result={result} />}
            <ol className="mt-4 space-y-2">
              {linesOf(result, shown.results).map((line, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other identity and never move
                <WorkingLine key={index} line={line} />
              ))}
            </ol>
          </div>
        </div>
      ) : (
        <p className="mt-3">This number is not worked out in this visit yet.</p>
      )}
    </div>
  );
}

/** A capacity's parts share one working, kept with the total. */
function linesOf(result: Result, all: Result[]): Line[] {
  const own = result.lines ?? [];
  if (own.length > 0) return own;
  const shared = ["sensible", "latent", "shr", "water", "water_per_day"].includes(result.key);
  return (shared && all.find((each) => each.key === "total")?.lines) || [];
}

function Contributions({ result }: { result: Result }) {
  return (
    <section className="mt-4" aria-label="Where the doubt comes from">
      <h3 className="font-semibold">Where the ± comes from</h3>
      <ul className="mt-1 space-y-1.5">
        {(result.contributions ?? []).map((each) => (
          <li
            key={each.label}
            className="grid grid-cols-[1fr_3rem] items-center gap-x-3 wide:grid-cols-[15rem_1fr_3rem]"
          >
            <span className="col-span-2 wide:col-span-1">{each.label}</span>
            <span className="h-3 rounded-sm bg-base-200" aria-hidden="true">
              <span
                className="block h-3 rounded-sm bg-secondary"
                style={{ width: `${Math.round(each.share * 100)}%` }}
              />
            </span>
            <span className="reading text-right">{Math.round(each.share * 100)} %</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function WorkingLine({ line }: { line: Line }) {
  const { system } = useUnits();
  const formula = system === "US" ? line.formula_us : line.formula;
  return (
    <li className="panel px-4 py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3 className="font-semibold">{sentenceCase(line.name)}</h3>
        <span className="reading font-semibold text-xl">
          {inWords(line.result.value, line.result.kind, system)}
        </span>
      </div>
      <p className="mt-1 text-lg">
        <Formula tokens={symbols(line.symbol)} /> = <Formula tokens={symbols(formula)} />
      </p>
      <p className="reading mt-0.5 text-lg">
        = <Formula tokens={putIn(formula, line.numbers, system)} />
      </p>
      <p className="mt-1 flex flex-wrap gap-x-4 text-sm quiet">
        {Object.entries(line.numbers).map(([symbol, given]) => (
          <span key={symbol}>
            <Formula tokens={symbols(symbol)} /> {inWords(given.value, given.kind, system)}
          </span>
        ))}
        {line.source && <span>Source: {line.source}</span>}
      </p>
      {line.remark && <p className="mt-1 text-sm">{line.remark}</p>}
    </li>
  );
}

function Formula({ tokens }: { tokens: Token[] }) {
  return (
    <>
      {tokens.map((token, index) => {
        const text = (
          <>
            {token.text}
            {token.sub && <sub>{token.sub}</sub>}
          </>
        );
        // biome-ignore lint/suspicious/noArrayIndexKey: tokens of a fixed formula never move
        return token.sup ? <sup key={index}>{text}</sup> : <span key={index}>{text}</span>;
      })}
    </>
  );
}

const sentenceCase = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
