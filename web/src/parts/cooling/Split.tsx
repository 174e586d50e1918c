import { Figure } from "../../shell/Figure";
import { MARK_WORDS, type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { FourWay } from "./FourWay";

type School = NonNullable<PhaseShown["schools"]>[number];

/** Is this split right? Three schools side by side, and split and cooling read together. */
export default function Split() {
  const { shown, openWorking } = useVisit();
  const split = shown.results.find((each) => each.key === "split");
  const schools = shown.schools ?? [];
  const refrigerant = shown.results.filter((each) =>
    ["superheat", "target_superheat", "subcooling"].includes(each.key),
  );
  if (schools.length === 0) {
    return (
      <p className="panel p-4">
        Read return and supply air while it cools. Then three schools judge the split here.
      </p>
    );
  }
  return (
    <div className="space-y-5">
      <div className="grid gap-5 2xl:grid-cols-[1fr_1fr]">
        <section aria-labelledby="schools">
          <h2 id="schools" className="font-semibold text-lg">
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
            {schools.map((school) => (
              <SchoolLine key={school.key} school={school} />
            ))}
          </ul>
        </section>
        <section aria-labelledby="four-ways">
          <h2 id="four-ways" className="font-semibold text-lg">
            Split and cooling together
          </h2>
          {shown.four_way ? (
            <FourWay four={shown.four_way} />
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

function SchoolLine({ school }: { school: School }) {
  const mark = school.mark as MarkName;
  return (
    <li className={`grid grid-cols-[1.5rem_1fr_auto] gap-x-3 px-3 py-2 ${school.used ? "bg-base-200" : ""}`}>
      <VerdictMark mark={mark} />
      <span className="font-semibold">
        {school.name}
        {school.used && (
          <span className="ml-2 rounded bg-primary px-1.5 text-primary-content text-sm">used</span>
        )}
      </span>
      <span>{school.target ? <Figure quantity={school.target} size="small" /> : MARK_WORDS[mark]}</span>
      <span className="col-start-2 col-end-4 text-sm">
        {MARK_WORDS[mark]}. {school.reason}
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
                className="panel block h-full w-full p-3 text-left hover:border-primary"
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
