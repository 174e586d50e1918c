import { Circle, CircleDot } from "lucide-react";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say } from "../../units/units";
import { Marked } from "./Marked";
import type { Page } from "./useZones";

/** Every combination of calling zones, the worst first: a column a zone, then what it comes to. */
export function Combinations({ zoning }: { zoning: Page }) {
  const { system } = useUnits();
  const all = zoning.combinations ?? [];
  const zones = zoning.zones ?? [];
  if (all.length === 0) return null;
  const bad = all.filter((each) => each.mark === "off").length;
  return (
    <section aria-labelledby="combinations" className="space-y-2">
      <h2 id="combinations" className="font-semibold text-lg">
        {bad === 0
          ? `All ${all.length} combinations are within limits`
          : `${bad} of ${all.length} combinations are over a limit`}
      </h2>
      <ul className="text-sm quiet">
        {(zoning.limits ?? []).map((limit) => (
          <li key={limit.text}>{say(limit, system)}</li>
        ))}
      </ul>
      <WideTable label="Combinations">
        <table className="table table-sm [&_td]:px-1.5 [&_th]:px-1.5">
          <caption className="sr-only">Combinations of calling zones, the worst first</caption>
          <thead>
            <tr>
              <th scope="col">
                <span className="sr-only">Verdict</span>
              </th>
              {zones.map((line) => (
                <th key={line.zone.id} scope="col" className="text-center">
                  {line.zone.name}
                </th>
              ))}
              <th scope="col">Air</th>
              <th scope="col">Static</th>
              <th scope="col">Coil</th>
              <th scope="col">What is worst</th>
            </tr>
          </thead>
          <tbody>
            {all.slice(0, 12).map((each) => (
              <tr key={each.calling.join()}>
                <td>
                  <Marked mark={each.mark} />
                </td>
                {zones.map((line) => {
                  const calls = each.calling.includes(line.zone.id);
                  const Sign = calls ? CircleDot : Circle;
                  return (
                    <td key={line.zone.id} className="text-center">
                      <Sign
                        size={20}
                        className={`inline ${calls ? "text-primary" : "opacity-30"}`}
                        aria-label={calls ? "calls" : "shut"}
                      />
                    </td>
                  );
                })}
                <td className="reading whitespace-nowrap">{inWords(each.total.value, "airflow", system)}</td>
                <td className="reading whitespace-nowrap">
                  {inWords(each.external.value, "pressure", system)}
                </td>
                <td className="reading whitespace-nowrap">
                  {each.coil ? inWords(each.coil.value, "share", system) : "–"}
                </td>
                <td className="min-w-44 leading-tight">
                  {say(each.words, system)}
                  {each.beyond_table && <span className="quiet"> Beyond the blower's table.</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
      {all.length > 12 && (
        <p className="text-sm quiet">The 12 worst of {all.length}; the others are milder.</p>
      )}
    </section>
  );
}
