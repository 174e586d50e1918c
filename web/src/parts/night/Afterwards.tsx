import { useMutation } from "@tanstack/react-query";
import { calculate } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { Figure } from "../../shell/Figure";
import { FileButton } from "../../shell/fields";
import { useWidth } from "../../shell/useWidth";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { fromSi, inWords, number, say, unitOf } from "../../units/units";
import { apart } from "./NightCourse";
import type { NightPage, Setup } from "./useNight";

interface Samples {
  first_hour: number;
  outdoor_c: number[];
  room_c: number[];
}

const MOST_HOURS = 72;

/** The morning after: the rooms as the loggers saw them against the plan, how much air came in, and what the house teaches. */
export function Afterwards({ night, setup }: { night: NightPage; setup: Setup }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const read = useMutation({
    networkMode: "always",
    mutationFn: async (file: File) => {
      const all = await calculate<Samples>("ventilation.read_samples", { text: await file.text() });
      const skipped = Math.max(all.room_c.length - MOST_HOURS, 0);
      await record(
        "night_seen",
        {
          first_hour: (all.first_hour + skipped) % 24,
          outdoor_c: all.outdoor_c.slice(skipped),
          room_c: all.room_c.slice(skipped),
        },
        { phase: "as_left", ...(night.seen_entry ? { replaces: night.seen_entry } : {}) },
      );
    },
  });
  const after = night.after;
  if (!night.planned && !night.seen) return null;
  const learn = () =>
    record(
      "night_setup",
      { ...setup, house: after?.house },
      { phase: "as_left", ...(night.setup_entry ? { replaces: night.setup_entry } : {}) },
    );
  return (
    <section aria-labelledby="afterwards" className="space-y-3">
      <h2 id="afterwards" className="font-semibold text-lg">
        The night afterwards
      </h2>
      {!after && (
        <p className="quiet">
          A logger's table of the night that was planned: a time, outdoor air and the rooms. It shows how near
          the plan came, and teaches it the house.
        </p>
      )}
      {night.after_words && (
        <p role="alert" className="text-error">
          {say(night.after_words, system)}
        </p>
      )}
      {after && (
        <>
          <p className="flex max-w-prose items-start gap-2 text-lg">
            <span className="pt-1">
              <VerdictMark mark={after.mark as MarkName} size={18} />
            </span>
            <span>{say(after.words, system)}</span>
          </p>
          <div className="flex flex-wrap gap-x-8 gap-y-2">
            {after.wake && (
              <div>
                <p className="quiet">At wake-up</p>
                <Figure quantity={after.wake} />
                {after.planned_wake && (
                  <p className="text-sm">
                    planned {inWords(after.planned_wake.value, "temperature", system)}, by the forecast
                  </p>
                )}
              </div>
            )}
            {after.air_share && (
              <div>
                <p className="quiet">Of the planned air came in</p>
                <Figure quantity={after.air_share} />
              </div>
            )}
          </div>
          <Course after={after} />
        </>
      )}
      {mayWrite && (
        <div className="flex flex-wrap gap-2 print:hidden">
          <FileButton types={[".csv", "text/csv", "text/plain"]} onChosen={(file) => read.mutate(file)}>
            The night's samples (CSV)
          </FileButton>
          {after?.teaches && (
            <button type="button" className="btn touch" onClick={() => void learn()}>
              Let the plan learn from it
            </button>
          )}
        </div>
      )}
      <Trouble error={read.error} />
    </section>
  );
}

const HEIGHT = 180;
const LEFT = 40;
/** Names stand at the ends of their lines where there is room, else below. */
const WIDE_PX = 440;

/** The rooms as seen, and as the house has them that was learned. */
function Course({ after }: { after: NonNullable<NightPage["after"]> }) {
  const { system } = useUnits();
  const [box, width] = useWidth<HTMLElement>(640);
  const unit = unitOf("temperature", system);
  const lines = [
    { name: "as seen", values: after.course_c, dash: "", className: "text-primary" },
    { name: "learned house", values: after.expected_c, dash: "6 4", className: "" },
  ];
  const all = lines.flatMap((line) => line.values).map((value) => fromSi(value, unit));
  const [least, most] = [Math.floor(Math.min(...all)), Math.ceil(Math.max(...all))];
  const hours = after.course_c.length;
  const wide = width >= WIDE_PX;
  const right = wide ? 110 : 14;
  const x = (hour: number) => LEFT + (hour / Math.max(hours - 1, 1)) * (width - LEFT - right);
  const y = (value: number) => 10 + ((most - value) / Math.max(most - least, 1)) * (HEIGHT - 40);
  const ends = apart(lines.map((line) => y(fromSi(line.values[hours - 1] ?? 0, unit))));
  return (
    <figure ref={box}>
      <svg width={width} height={HEIGHT} role="img" className="block">
        <title>The rooms in the night, as seen and as the learned house has them</title>
        {[least, most].map((value) => (
          <text
            key={value}
            x={LEFT - 6}
            y={y(value) + 4}
            fontSize="12"
            textAnchor="end"
            fill="currentColor"
            className="reading"
          >
            {number(value, 0)}
          </text>
        ))}
        {after.course_c.map((_, hour) =>
          hour % 3 === 0 ? (
            <text
              // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place
              key={hour}
              x={x(hour)}
              y={HEIGHT - 6}
              fontSize="12"
              textAnchor="middle"
              fill="currentColor"
              className="reading"
            >
              {(after.first_hour + hour) % 24} h
            </text>
          ) : null,
        )}
        {lines.map(({ name, values, dash, className }, index) => (
          <g key={name} className={className}>
            <path
              d={values
                .map(
                  (value, at) => `${at ? "L" : "M"}${x(at).toFixed(1)},${y(fromSi(value, unit)).toFixed(1)}`,
                )
                .join("")}
              fill="none"
              stroke="currentColor"
              strokeWidth="2.5"
              strokeDasharray={dash}
            />
            {wide && (
              <text x={width - right + 6} y={(ends[index] ?? 0) + 4} fontSize="12" fill="currentColor">
                {name}
              </text>
            )}
          </g>
        ))}
      </svg>
      <figcaption className="quiet text-sm">
        {!wide && "Solid: as seen. Dashed: the learned house. "}
        The rooms in {unit.label}, from when blowing was to begin; followed for {after.hours} h within{" "}
        {inWords(after.misfit_k, "temperature_difference", system)}.
      </figcaption>
    </figure>
  );
}
