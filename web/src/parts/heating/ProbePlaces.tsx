import { useVisit } from "../../logbook/context";
import { ElementSign } from "../../ribbon/signs";
import { ScrollRow } from "../../shell/ScrollRow";

const WIDTH = 720;
const TOP = 44;
const HIGH = 70;
const STEP = 96;

/** Where return and supply probe go on this build-up: drawn from the air path, with the places to keep out of. */
export function ProbePlaces() {
  const { page } = useVisit();
  const path = page.work_up.path;
  const parts = (path.bands[0]?.elements ?? []).filter((each) => !["grille", "register"].includes(each.kind));
  const filter = parts.findIndex((each) => each.kind === "filter");
  const hot = parts.findLastIndex((each) => each.kind === "heat_exchanger");
  const last = parts.findLastIndex((each) => ["coil", "heat_exchanger"].includes(each.kind));
  if (filter < 0 || last < 0) return null;
  const joins = parts.findIndex((each) => each.kind === "mixing");
  const before = joins >= 0 ? Math.min(joins, filter) : filter;
  const xOf = (index: number) => 110 + STEP * (index + 0.5);
  const bend = Math.min(xOf(parts.length - 1) + 84, WIDTH - 120);
  const places = ["return", "supply"].map((id) => path.stations.find((station) => station.id === id));
  const coilLast = parts[last]?.kind === "coil";
  return (
    <section aria-labelledby="probe-places">
      <h2 id="probe-places" className="font-semibold text-lg">
        Where the probes go
      </h2>
      <ScrollRow legend="Drawing of where the probes go" drawing>
        <svg viewBox={`0 0 ${WIDTH} 220`} className="w-full min-w-[620px] max-w-3xl shrink-0" role="img">
          <title>
            {`Return probe before the filter; supply probe ${coilLast ? "after the coil" : "well down the plenum"}, past a bend.`}
          </title>
          <g fill="none" stroke="var(--color-base-content)" strokeWidth={2}>
            <path d={`M20 ${TOP}H${bend + 50}V190`} />
            <path d={`M20 ${TOP + HIGH}H${bend - 20}V190`} />
          </g>
          {hot >= 0 && (
            <g>
              <rect
                x={xOf(hot) - 30}
                y={TOP + 2}
                width={STEP * 0.95}
                height={HIGH - 4}
                fill="var(--color-error)"
                fillOpacity={0.14}
              />
              <text
                x={xOf(hot) + 18}
                y={TOP + HIGH + 18}
                textAnchor="middle"
                fontSize={13}
                fill="var(--color-error)"
              >
                in sight of hot metal: not here
              </text>
            </g>
          )}
          {parts.map((part, index) => (
            <g key={part.id} transform={`translate(${xOf(index)} ${TOP + HIGH / 2})`}>
              <ElementSign kind={part.kind} height={HIGH} tinted={false} />
              <text y={-HIGH / 2 - 10} textAnchor="middle" fontSize={14} fill="var(--color-base-content)">
                {part.name}
              </text>
            </g>
          ))}
          <Probe x={xOf(before) - 62} y={TOP + HIGH / 2} name="Return" above />
          <Probe x={bend + 15} y={158} name="Supply" />
          <path
            d={`M40 ${TOP + HIGH / 2}h36m-9 -7l9 7l-9 7`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={2}
            strokeOpacity={0.6}
          />
        </svg>
      </ScrollRow>
      <ul className="grid gap-2 wide:grid-cols-2">
        {places.map(
          (place) =>
            place && (
              <li key={place.id} className="panel px-3 py-2">
                <span className="font-semibold">{place.name}: </span>
                {place.where} <span className="text-sm">Keep away from: {place.avoid}</span>
              </li>
            ),
        )}
      </ul>
    </section>
  );
}

function Probe({ x, y, name, above = false }: { x: number; y: number; name: string; above?: boolean }) {
  return (
    <g stroke="var(--color-primary)" fill="var(--color-primary)">
      <path d={above ? `M${x} ${y - 62}V${y}` : `M${x + 72} ${y}H${x}`} strokeWidth={3} />
      <circle cx={x} cy={y} r={6} />
      <text
        x={above ? x : x + 80}
        y={above ? y - 66 : y + 5}
        textAnchor={above ? "middle" : "start"}
        fontSize={15}
        fontWeight={600}
        stroke="none"
      >
        {name}
      </text>
    </g>
  );
}
