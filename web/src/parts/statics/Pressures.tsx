import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { useWidth } from "../../shell/useWidth";
import { MARK_WORDS, type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say, unitOf } from "../../units/units";
import { profileOf, SIZE } from "./profile";

type Statics = NonNullable<PhaseShown["pages"]["statics"]>;

/** Static pressures along the air: the line, what each part takes, and whether the filter is due. */
export default function Pressures() {
  const { shown, openStation, mayWrite, page } = useVisit();
  const { system } = useUnits();
  const statics = shown.pages.statics;
  const taps = page.work_up.path.stations.filter((station) => station.kind === "static");
  const read = new Set((statics?.taps ?? []).map((tap) => tap.station));
  const left = taps.filter((tap) => !read.has(tap.id));
  return (
    <div className="space-y-4">
      {statics?.filter && (
        <p className="font-semibold text-2xl leading-snug">{say(statics.filter, system)}</p>
      )}
      {statics && statics.taps.length > 1 && <Profile statics={statics} />}
      {statics && statics.drops.length > 0 && <Drops statics={statics} />}
      {left.length > 0 && mayWrite && (
        <section aria-label="Taps still to read">
          <p>
            {read.size === 0
              ? "Read static pressures, and the drop over each part appears."
              : "Still to read:"}
          </p>
          <div className="mt-2 flex flex-wrap gap-2">
            {left.map((tap) => (
              <button
                key={tap.id}
                type="button"
                className="btn touch"
                onClick={() => openStation(tap.id, shown.phase === "as_left" ? "prove" : "measure")}
              >
                {tap.name}
              </button>
            ))}
          </div>
        </section>
      )}
    </div>
  );
}

function Profile({ statics }: { statics: Statics }) {
  const { system } = useUnits();
  const [place, width] = useWidth<HTMLElement>(SIZE.width, 900);
  const profile = profileOf(
    statics.taps.map((tap) => ({ name: tap.name, pascal: tap.value.value, station: tap.station })),
    width,
  );
  // Where the taps stand close, the unit is said once, and every other name a line higher.
  const close = width / (statics.taps.length + 1) < 120;
  const unit = unitOf("pressure", system).label;
  const tell = (pascal: number) => {
    const words = inWords(pascal, "pressure", system);
    return close ? words.replace(` ${unit}`, "") : words;
  };
  const told = statics.taps
    .map((tap) => `${tap.name} ${inWords(tap.value.value, "pressure", system)}`)
    .join(", ");
  return (
    <figure ref={place}>
      <svg
        width={width}
        height={SIZE.height}
        className="max-w-full"
        role="img"
        aria-label={`Static pressure along the air: ${told}`}
      >
        <line
          x1={SIZE.left}
          x2={width - SIZE.right}
          y1={profile.zero}
          y2={profile.zero}
          stroke="var(--color-base-content)"
          strokeOpacity={0.45}
          strokeDasharray="3 4"
        />
        <text x={SIZE.left} y={profile.zero - 6} fontSize={13} fill="var(--color-base-content)">
          {close ? `room, ${unit}` : "room"}
        </text>
        <path d={profile.path} fill="none" stroke="var(--color-primary)" strokeWidth={3} />
        {profile.steps.map((step, index) => (
          <g key={step.station}>
            <circle cx={step.x} cy={step.y} r={6} fill="var(--color-primary)" />
            <text
              x={step.x}
              y={step.pascal >= 0 ? step.y - 14 : step.y + 24}
              textAnchor="middle"
              fontSize={16}
              fontWeight={600}
              fill="var(--color-base-content)"
              stroke="var(--color-base-100)"
              strokeWidth={5}
              paintOrder="stroke"
            >
              {tell(step.pascal)}
            </text>
            <text
              x={step.x}
              y={SIZE.height - 8 - (close && index % 2 === 0 ? 18 : 0)}
              textAnchor="middle"
              fontSize={13}
              fill="var(--color-base-content)"
            >
              {step.name.replace("Static after the", "After the")}
            </text>
          </g>
        ))}
      </svg>
    </figure>
  );
}

const SOURCES: Record<string, string> = { plate: "by the nameplate", ordinary: "on an ordinary system" };

function Drops({ statics }: { statics: Statics }) {
  const { openWorking } = useVisit();
  const { system } = useUnits();
  return (
    <ul className="grid gap-3 sm:grid-cols-2 xl:grid-cols-4">
      {statics.drops.map((drop) => (
        <li key={drop.part}>
          <button
            type="button"
            className="panel flex h-full w-full flex-col items-start justify-start p-3 text-left hover:border-primary"
            title="Working"
            onClick={() => openWorking(drop.drop.key)}
          >
            <span className="flex items-center gap-2">
              <VerdictMark mark={drop.mark as MarkName} size={18} /> {drop.name}
            </span>
            {drop.drop.quantity && <Figure quantity={drop.drop.quantity} />}
            <span className="block text-sm">
              {MARK_WORDS[drop.mark as MarkName]}. At rated flow{" "}
              {inWords(drop.at_rated.value, "pressure", system)}, at most{" "}
              {inWords(drop.most, "pressure", system)} {SOURCES[drop.source]}.
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
