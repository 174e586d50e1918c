import { ScrollRow } from "../../shell/ScrollRow";
import { useUnits } from "../../units/UnitSystem";
import { inWords, number, say } from "../../units/units";
import type { Page } from "./useEconomizer";

/** What is shown of a phase: the readings, what they say, or why not. */
export type Points = Pick<Page["points"], "which" | "which_trouble" | "swapped" | "conditions"> & {
  lines: { line: Page["points"]["lines"][number]["line"] }[];
};

const PLACES: Record<string, string> = {
  outdoor: "Outdoor air",
  return: "Return air",
  mixed: "Mixed air",
  supply: "Supply air",
};

const WIDTH = 640;
const ROW = 46;

/** Labels left, places right: a straight line where a sensor hangs where it says, a crossing where two look swapped. */
export function SensorIdentity({ points }: { points: Points }) {
  const { system } = useUnits();
  const { which, which_trouble: trouble, swapped, lines, conditions } = points;
  if (!which) return trouble ? <p className="panel p-3">{say(trouble, system)}</p> : null;
  const wrongPlace = which.sensors.some((sensor) => sensor.sits_in);
  const names = new Map(lines.map((each) => [each.line.terminal, each.line.name]));
  const places = which.sensors.map((sensor) => sensor.claimed);
  const height = which.sensors.length * ROW + 10;
  const y = (index: number) => 28 + index * ROW;
  return (
    <figure className="panel p-3">
      <p className="font-semibold text-xl">{inWordsOf(which, swapped ?? [], names)}</p>
      <p className="text-sm">
        {which.swapped
          ? `Were the labels right, such readings would come by chance in ${chanceWords(which.chance)}.`
          : which.unclear || wrongPlace
            ? "The labels do not fit the readings."
            : "Nothing speaks against the labels."}{" "}
        {!wrongPlace && (
          <>
            Misfit with the labels <span className="reading">{number(which.misfit_claimed, 1)}</span>, at best{" "}
            <span className="reading">{number(which.misfit_best, 1)}</span>.
          </>
        )}
        {!which.enough &&
          " One condition only: change the air (damper, compressor) and read again to be sure."}
      </p>
      <ScrollRow legend="Which sensor follows which air" drawing>
        <svg
          viewBox={`0 0 ${WIDTH} ${height}`}
          className="w-full min-w-[600px] max-w-2xl shrink-0"
          role="img"
          aria-label={inOneSentence(which, names)}
        >
          {which.sensors.map((sensor, index) => {
            const follows = which.swapped ? sensor.best : sensor.sits_in || sensor.claimed;
            const crossed = follows !== sensor.claimed;
            const end = places.indexOf(follows);
            return (
              <g key={sensor.label}>
                <path
                  d={`M210 ${y(index) - 4}C300 ${y(index) - 4} 340 ${y(end) - 4} 430 ${y(end) - 4}`}
                  fill="none"
                  stroke={crossed ? "var(--color-error)" : "var(--color-primary)"}
                  strokeWidth={crossed ? 4 : 2.5}
                  strokeDasharray={crossed ? "9 5" : undefined}
                />
                <text
                  x={200}
                  y={y(index)}
                  textAnchor="end"
                  fontSize={16}
                  fontWeight={crossed ? 700 : 400}
                  fill="var(--color-base-content)"
                >
                  {names.get(sensor.label) ?? sensor.label}
                </text>
                <text x={440} y={y(index)} fontSize={16} fill="var(--color-base-content)">
                  {PLACES[sensor.claimed] ?? sensor.claimed}
                </text>
                <text
                  x={300}
                  y={y(index) - 10}
                  textAnchor="middle"
                  fontSize={12}
                  fontWeight={sensor.off ? 700 : 400}
                  fill="var(--color-base-content)"
                >
                  {sensor.off ? `off by ${inWords(sensor.error_k, "temperature_difference", system)}` : ""}
                </text>
              </g>
            );
          })}
        </svg>
      </ScrollRow>
      <figcaption className="text-sm quiet">
        Read in: {conditions.join("; ")}. Left the labels, right the air each sensor follows.
      </figcaption>
    </figure>
  );
}

function inWordsOf(which: Which, swapped: string[], names: Map<string, string>): string {
  if (which.swapped) return `These look swapped: ${swapped.join(" and ")}.`;
  if (which.unclear)
    return "The labels do not fit. Which sensor is in the wrong air can't be told: read again with airs further apart.";
  const wrong = which.sensors.filter((sensor) => sensor.sits_in);
  if (wrong.length > 0)
    return wrong
      .map(
        (sensor) =>
          `The sensor named “${names.get(sensor.label) ?? sensor.label}” follows the ${(PLACES[sensor.sits_in ?? ""] ?? "").toLowerCase()}.`,
      )
      .join(" ");
  const off = which.sensors.some((sensor) => sensor.off) ? "; one shows a wrong temperature" : "";
  // Another order of the sensors fits as well: that says nothing against the labels, and proves nothing for them.
  return (which.also ?? []).length > 0
    ? `Each sensor may be where it says${off}: some airs are too much alike to tell.`
    : `Every sensor is where it says${off}.`;
}

export function chanceWords(chance: number): string {
  if (chance >= 0.01) return `${Math.round(chance * 100)} of 100 cases`;
  return chance >= 0.001 ? "less than 1 of 100 cases" : "less than 1 of 1,000 cases";
}

type Which = NonNullable<Points["which"]>;

function inOneSentence(which: Which, names: Map<string, string>): string {
  return which.sensors
    .map(
      (sensor) =>
        `${names.get(sensor.label) ?? sensor.label} is in ${PLACES[which.swapped ? sensor.best : sensor.sits_in || sensor.claimed]}`,
    )
    .join(", ");
}
