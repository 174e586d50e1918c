import { TriangleAlert } from "lucide-react";
import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { ResultButton } from "../../logbook/ResultButton";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { ReturnDuctForm } from "./ReturnDuctForm";

type Result = NonNullable<NonNullable<PhaseShown["pages"]["leakage"]>["results"]>[number];

const STATIONS = ["return_grille", "return", "surroundings", "return_static"];

/** The return leak test: why it is asked for, what is still to read, both answers, and what the leak costs. */
export default function ReturnLeak() {
  const { shown, page, openStation, openSection, mayWrite } = useVisit();
  const { system } = useUnits();
  const leak = shown.pages.leakage;
  if (!leak) return null;
  const stations = page.work_up.path.stations.filter((station) => STATIONS.includes(station.id));
  const results = leak.results ?? [];
  const share = results.find((each) => each.key === "leak_share");
  const answers = results.filter((each) => ["leak_by_heat", "leak_by_moisture"].includes(each.key));
  const costs = results.filter((each) => each !== share && !answers.includes(each));
  const at = shown.phase === "as_left" ? "prove" : "measure";
  const toRead = (
    <section aria-labelledby="leak-to-read">
      <h2 id="leak-to-read" className="font-semibold text-lg">
        {leak.missing.length > 0 ? "Still to read" : "Read again"}
      </h2>
      {leak.missing.length > 0 ? (
        <ul className="mt-2 grid gap-2 wide:grid-cols-2">
          {leak.missing.map((each) => (
            <li key={each.words}>
              {mayWrite ? (
                <button
                  type="button"
                  className="btn touch h-auto w-full justify-start py-2 text-left text-base"
                  onClick={() => (each.station ? openStation(each.station, at) : openSection("airflow"))}
                >
                  {each.words}
                </button>
              ) : (
                each.words
              )}
            </li>
          ))}
        </ul>
      ) : (
        <div className="mt-2 flex flex-wrap gap-2">
          {stations.map((station) => (
            <button
              key={station.id}
              type="button"
              className="btn touch"
              onClick={() => openStation(station.id, at)}
            >
              {station.name}
            </button>
          ))}
        </div>
      )}
    </section>
  );
  return (
    <div className="space-y-4">
      {leak.missing.length > 0 && toRead}
      {leak.opened.length > 0 && (
        <section aria-label="Why this test" className="border-warning border-l-4 bg-base-200 p-3">
          <ul>
            {leak.opened.map((sign) => (
              <li key={sign.text}>{say(sign, system)}</li>
            ))}
          </ul>
        </section>
      )}
      {leak.come_back && (
        <p className="flex gap-2 font-semibold text-lg">
          <TriangleAlert size={22} className="mt-1 shrink-0 text-info" aria-hidden="true" />
          {say(leak.come_back, system)}
        </p>
      )}
      {leak.verdict && (
        <section aria-labelledby="leak-verdict">
          {share && <ResultButton result={share} size="large" />}
          <h2 id="leak-verdict" className="flex items-start gap-2 font-semibold text-xl">
            <VerdictMark mark={(leak.mark ?? "not_measured") as MarkName} />
            {say(leak.verdict, system)}
          </h2>
          {leak.disagreement && <p className="mt-2 font-semibold">{say(leak.disagreement, system)}</p>}
          {(leak.explains ?? []).length > 0 && (
            <ul className="list-disc pl-6">
              {(leak.explains ?? []).map((each) => (
                <li key={each.text}>{say(each, system)}</li>
              ))}
            </ul>
          )}
          {leak.limit && <p className="mt-1 text-sm">{say(leak.limit, system)}</p>}
        </section>
      )}
      {answers.length > 0 && <Cards title="Two independent answers" results={answers} />}
      {costs.length > 0 && <Cards title="What it costs" results={costs} />}
      {leak.missing.length === 0 && mayWrite && toRead}
      <p className="text-sm">
        Where the run lies in an attic or a crawl space: heat breaks, firm footing, leave asbestos-like
        insulation alone. Sealing a return can change how a flue draws: have combustion checked by a licensed
        person.
      </p>
      <ReturnDuctForm />
    </div>
  );
}

function Cards({ title, results }: { title: string; results: Result[] }) {
  return (
    <section aria-label={title}>
      <h2 className="font-semibold text-lg">{title}</h2>
      <ul className="mt-2 grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
        {results.map((result) => (
          <li key={result.key} className="panel p-3">
            <ResultButton result={result} size="middle" />
          </li>
        ))}
      </ul>
    </section>
  );
}
