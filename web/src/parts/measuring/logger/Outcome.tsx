import { useVisit } from "../../../logbook/context";
import { WideTable } from "../../../shell/WideTable";
import { clockTime, stamp } from "../../../shell/when";
import { useUnits } from "../../../units/UnitSystem";
import { inWords, readableOf } from "../../../units/units";
import type { Done, Mapping } from "./file";

export function Outcome({ done, mapping }: { done: Done; mapping: Mapping }) {
  const { system } = useUnits();
  const { page, openStation } = useVisit();
  const columns = mapping.columns;
  const named = new Set(columns.map((column) => column.station));
  const stations = page.work_up.path.stations.filter((station) => named.has(station.id));
  return (
    <section className="space-y-3" aria-label="What was found">
      <p className="text-lg" role="status">
        {done.mode === "check" ? (
          <>
            <span className="reading font-semibold">{done.rows.toLocaleString("en-US")}</span> good lines,{" "}
            <span className="reading font-semibold">{done.bad}</span> bad.
          </>
        ) : done.waits ? (
          <>
            <span className="reading font-semibold">{done.rows.toLocaleString("en-US")}</span> lines are kept
            on this device. The file goes to the server by itself when it can.
          </>
        ) : (
          <>
            Brought in: <span className="reading font-semibold">{done.added.toLocaleString("en-US")}</span>{" "}
            new values from {done.rows.toLocaleString("en-US")} lines
            {done.bad > 0 && `, ${done.bad} bad ones left out`}.
          </>
        )}
        {done.first && done.last && ` From ${stamp(done.first)} to ${stamp(done.last)}.`}
        {done.repeated > 0 && ` ${done.repeated} times stand twice: the first counts.`}
      </p>
      {done.mode !== "check" && done.rows > 0 && (
        <div className="space-y-2">
          <p>The data is at its station now. Look at its course there, and take an average as the reading.</p>
          <div className="flex flex-wrap gap-2">
            {stations.map((station) => (
              <button
                key={station.id}
                type="button"
                className="btn btn-primary touch"
                onClick={() => openStation(station.id, "measure")}
              >
                {station.name}
              </button>
            ))}
          </div>
        </div>
      )}
      {done.gaps.length > 0 && (
        <p>
          <span className="font-semibold">Gaps:</span>{" "}
          {done.gaps
            .slice(0, 5)
            .map(([start, end]) => `${clockTime(start)} to ${clockTime(end)}`)
            .join(", ")}
          {done.gaps.length > 5 && ` and ${done.gaps.length - 5} more`}
        </p>
      )}
      {done.bad_lines.length > 0 && (
        <details className="panel p-3" open>
          <summary className="touch cursor-pointer font-semibold">Bad lines</summary>
          <ul className="mt-1 max-h-56 overflow-y-auto">
            {done.bad_lines.map((line) => (
              <li key={line.line}>
                <span className="reading quiet">{line.line}</span> {line.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
      {done.mode === "check" && done.preview.length > 0 && (
        <WideTable label="First lines" className="panel p-3">
          <table className="w-full text-left">
            <thead>
              <tr className="text-sm quiet">
                <th className="pr-4 font-normal">Line</th>
                <th className="pr-4 font-normal">Time here</th>
                {columns.map((column) => (
                  <th key={column.index} className="pr-4 font-normal">
                    {readableOf(column.quantity).name}, {column.station}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="reading">
              {done.preview.map((row) => (
                <tr key={row.line} className="border-base-300 border-t">
                  <td className="pr-4 quiet">{row.line}</td>
                  <td className="pr-4">{stamp(row.at)}</td>
                  {row.values.map((value, index) => (
                    <td key={columns[index]?.index} className="pr-4">
                      {value === null
                        ? "–"
                        : inWords(value, readableOf(columns[index]?.quantity ?? "").kind, system)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </WideTable>
      )}
    </section>
  );
}
