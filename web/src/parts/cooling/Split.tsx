import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { MARK_WORDS, type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { FourWay } from "./FourWay";

type Target = NonNullable<NonNullable<PhaseShown["pages"]["cooling"]>["targets"]>[number];

/** Is this split right? Three ways to judge it side by side, and split and cooling read together. */
export default function Split() {
  const { shown, openWorking } = useVisit();
  const split = shown.results.find((each) => each.key === "split");
  const { targets = [], four_way } = shown.pages.cooling ?? {};
  const refrigerant = shown.results.filter((each) =>
    ["superheat", "target_superheat", "subcooling"].includes(each.key),
  );
  if (targets.length === 0) {
    return (
      <p className="panel p-4">
        Read return and supply air while it cools. Then the split is judged here in three ways.
      </p>
    );
  }
  return (
    <div className="space-y-5">
      <div className="grid gap-5 2xl:grid-cols-[1fr_1fr]">
        <section aria-labelledby="targets">
          <h2 id="targets" className="font-semibold text-lg">
            Is this split right?
          </h2>
          {split?.quantity && (
            <button
              type="button"
              className="touch text-left"
              title="Working (w)"
              onClick={() => openWorking("split")}
            >
              <Figure quantity={split.quantity} size="large" />
            </button>
          )}
          <ul className="panel mt-2 divide-y divide-base-300">
            {targets.map((target) => (
              <TargetLine key={target.key} target={target} />
            ))}
          </ul>
        </section>
        <section aria-labelledby="four-ways">
          <h2 id="four-ways" className="font-semibold text-lg">
            Split and cooling together
          </h2>
          {four_way ? (
            <FourWay four={four_way} />
          ) : (
            <p className="panel mt-2 p-4">
              Needs outdoor air, humidity at return and supply, and a measured airflow.
            </p>
          )}
        </section>
      </div>
      <Refrigerant results={refrigerant} />
    </div>
  );
}

function TargetLine({ target }: { target: Target }) {
  const mark = target.mark as MarkName;
  return (
    <li className={`grid grid-cols-[1.5rem_1fr_auto] gap-x-3 px-3 py-2 ${target.used ? "bg-base-200" : ""}`}>
      <VerdictMark mark={mark} />
      <span className="font-semibold">
        {target.name}
        {target.used && (
          <span className="ml-2 rounded bg-primary px-1.5 text-primary-content text-sm">used</span>
        )}
      </span>
      <span>{target.target ? <Figure quantity={target.target} size="small" /> : MARK_WORDS[mark]}</span>
      <span className="col-start-2 col-end-4 text-sm">
        {MARK_WORDS[mark]}. {target.reason}
      </span>
    </li>
  );
}

type Result = PhaseShown["results"][number];

/** Only when gauges were read; nothing asks for them. */
function Refrigerant({ results }: { results: Result[] }) {
  const { openWorking } = useVisit();
  const { system } = useUnits();
  return (
    <section aria-labelledby="refrigerant">
      <h2 id="refrigerant" className="font-semibold text-lg">
        Refrigerant side
      </h2>
      <p className="text-sm">
        Optional. Only certified persons connect gauges or open a circuit; everything else here works without.
      </p>
      {results.length > 0 && (
        <ul className="mt-2 grid gap-3 sm:grid-cols-3">
          {results.map((result) => (
            <li key={result.key}>
              <button
                type="button"
                className="panel flex h-full w-full flex-col items-start justify-start p-3 text-left hover:border-primary"
                title="Working (w)"
                onClick={() => openWorking(result.key)}
              >
                <span className="block quiet">{result.name}</span>
                {result.quantity ? (
                  <Figure quantity={result.quantity} />
                ) : (
                  result.remark && say(result.remark, system)
                )}
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
