import { useUnits } from "../../units/UnitSystem";
import { inWords, number, say } from "../../units/units";
import { Marked } from "./Marked";
import type { Page } from "./useZones";

/** Measures of both schools, the best first. */
export function Options({ zoning }: { zoning: Page }) {
  const { system } = useUnits();
  const options = zoning.options ?? [];
  if (options.length === 0) return null;
  return (
    <section aria-labelledby="measures" className="space-y-2">
      <h2 id="measures" className="font-semibold text-lg">
        What could be done, the best first
      </h2>
      <ul className="grid gap-3 wide:grid-cols-2">
        {options.map((option) => (
          <li key={option.key} className={`panel p-3 ${option.proposed ? "border-2 border-primary" : ""}`}>
            <p className="flex items-center gap-2 font-semibold">
              <Marked mark={option.mark} /> {option.name}
              {option.proposed && (
                <span className="badge badge-neutral">{option.mark === "off" ? "mildest" : "proposed"}</span>
              )}
            </p>
            <p>{say(option.sentence, system)}</p>
            <p className="reading text-sm">
              worst: {inWords(option.worst_static.value, "pressure", system)}
              {option.worst_coil && `, coil ${inWords(option.worst_coil.value, "share", system)}`},{" "}
              {inWords(option.worst_speed.value, "velocity", system)}
              {option.cost !== null && option.cost !== undefined && `, cost ${number(option.cost, 0)}`}
            </p>
            {option.bypass && option.bypass_diameter && option.mixed_return && option.supply_end && (
              <p className="reading text-sm">
                duct {inWords(option.bypass_diameter.value, "depth", system)}, joins the return; return ends
                at {inWords(option.mixed_return.value, "temperature", system)}, supply at{" "}
                {inWords(option.supply_end.value, "temperature", system)}
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
