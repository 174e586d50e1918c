import { Figure } from "../../shell/Figure";
import { useVisit } from "../context";

/** As found against as left, and whether the change is larger than its half-width. */
export function Comparison() {
  const { page } = useVisit();
  const changes = page.work_up.comparison;
  if (changes.length === 0) return null;
  return (
    <section aria-labelledby="compared">
      <h2 id="compared" className="font-semibold text-lg">
        As found, as left
      </h2>
      <div className="panel mt-2 overflow-x-auto">
        <table className="w-full text-left">
          <thead>
            <tr className="border-base-300 border-b text-sm quiet">
              <th className="px-3 py-2 font-normal">Result</th>
              <th className="px-3 py-2 font-normal">As found</th>
              <th className="px-3 py-2 font-normal">As left</th>
              <th className="px-3 py-2 font-normal">Change</th>
            </tr>
          </thead>
          <tbody>
            {changes.map((change) => (
              <tr key={change.key} className="border-base-300 border-b last:border-0">
                <th className="px-3 py-2 font-semibold">{change.name}</th>
                <td className="px-3 py-2">
                  <Figure quantity={change.as_found} size="small" />
                </td>
                <td className="px-3 py-2">
                  <Figure quantity={change.as_left} size="small" />
                </td>
                <td className="px-3 py-2">
                  <Figure quantity={change.change} size="small" />
                  {!change.real && (
                    <span className="block text-sm quiet">within the doubt: no change can be claimed</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
