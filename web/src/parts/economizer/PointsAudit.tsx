import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask } from "../../api/client";
import { fromEither } from "../../core/core";
import { useVisit } from "../../logbook/context";
import { Trouble, useAsked, useController } from "../../logbook/controller";
import { Cautions } from "../../shell/Cautions";
import { Choices, FileButton, FormNumber, numberRule, TextField } from "../../shell/fields";
import { VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, inWords, say, siOf } from "../../units/units";
import { ByProbe } from "./ByProbe";
import { SensorIdentity } from "./SensorIdentity";
import { type Page, WithEconomizer } from "./useEconomizer";

const CONDITIONS = {
  "as it is": "As it is",
  "damper shut": "Damper shut",
  "damper at 25 %": "Damper at 25 %",
  "damper at 45 %": "Damper at 45 %",
  "damper at 70 %": "Damper at 70 %",
  "damper open": "Damper open",
  "compressor on": "Compressor on",
  "unit off": "Unit off",
};

const CAUTIONS = [
  "The damper moves by itself. Keep fingers and tools, the probe too, out of the blades and the linkage.",
  "Frost: cold mixed air can burst a water coil. Not with water in the coil; shut the damper when the mixed air nears freezing.",
];

/** Mixed air no colder than this: far enough from the freeze limit for a step further. */
const MIXED_FROM_C = 12;

type Line = Page["points"]["lines"][number];

/** Every sensor against a reference probe at its place; the list in and out as a file. */
export default function PointsAudit() {
  return <WithEconomizer>{(page) => <AuditOf page={page} />}</WithEconomizer>;
}

function AuditOf({ page }: { page: Page }) {
  const { page: visit, mayWrite } = useVisit();
  const { system } = useUnits();
  const [phase, setPhase] = useState<"as_found" | "as_left">("as_found");
  const points = phase === "as_left" ? page.points_left : page.points;
  const [condition, setCondition] = useState(points.conditions.at(-1) ?? "as it is");
  const [open, setOpen] = useState<string | undefined>();
  return (
    <div className="space-y-4">
      <p className="quiet">
        A name is a claim. Hold a good probe where the sensor is said to be, and compare. In two conditions,
        with different air, the readings say which sensor is where.
      </p>
      <fieldset className="join">
        <legend className="sr-only">As found or as left</legend>
        {(["as_found", "as_left"] as const).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={phase === each}
            className={`btn join-item touch ${phase === each ? "btn-neutral" : ""}`}
            onClick={() => setPhase(each)}
          >
            {each === "as_found" ? "As found" : "As left"}
          </button>
        ))}
      </fieldset>
      <SensorIdentity points={points} />
      <ByProbe found={points.by_probe} />
      {mayWrite && (
        <div className="panel space-y-2 p-3">
          <Choices
            label="These readings are taken with"
            options={CONDITIONS}
            value={condition in CONDITIONS ? condition : undefined}
            onChange={setCondition}
          />
          <TextField label="Or in other words" value={condition} onChange={setCondition} />
          <p className="quiet">
            Shut and open together show whether the blades move. On a hot day begin with the compressor on, so
            that the room stays cool: where outdoor and return air are alike, nothing can be told. In the cold
            open it by steps, as long as the mixed air stays above{" "}
            <span className="reading">{inWords(MIXED_FROM_C, "temperature", system)}</span>. Where freeze
            protection trips, read the sensors with the unit off: which is which can be told there, too.
          </p>
          <Cautions label="Cautions" said={CAUTIONS} />
        </div>
      )}
      <CompareAll condition={condition} phase={phase} />
      <ul className="panel divide-y divide-base-300" aria-label="Points">
        {points.lines.map((each) => (
          <li key={each.line.terminal}>
            <button
              type="button"
              disabled={!mayWrite || !each.line.place}
              aria-expanded={open === each.line.terminal}
              className="touch flex w-full flex-wrap items-center gap-x-4 px-3 py-1.5 text-left hover:bg-base-200"
              onClick={() => setOpen(open === each.line.terminal ? undefined : each.line.terminal)}
            >
              <VerdictMark mark={each.mark ?? "not_measured"} />
              <span className="reading w-14">{each.line.terminal}</span>
              <span className="flex-1 font-semibold">{each.line.name}</span>
              {typeof each.shown_c === "number" && typeof each.reference_c === "number" ? (
                <span>
                  shows <span className="reading">{inWords(each.shown_c, "temperature", system)}</span>, probe{" "}
                  <span className="reading">{inWords(each.reference_c, "temperature", system)}</span>
                </span>
              ) : (
                <span className="quiet">
                  {each.line.place ? "not compared" : "no temperature of a known place"}
                </span>
              )}
            </button>
            {open === each.line.terminal && (
              <ReadForm line={each} condition={condition} phase={phase} onDone={() => setOpen(undefined)} />
            )}
          </li>
        ))}
      </ul>
      {points.physics.map((check) => (
        <p key={check.key} className="flex items-center gap-2">
          <VerdictMark mark={check.mark} /> {say(check.sentence, system)}
        </p>
      ))}
      <LoopList page={page} />
      <div className="flex flex-wrap gap-2">
        {mayWrite && <BringIn />}
        <a className="btn touch" href={`/api/v1/visits/${String(visit.id)}/points.csv`} download>
          Take the list as a file (CSV)
        </a>
      </div>
    </div>
  );
}

const LOOPS = [
  { key: "supply_loop", name: "Supply temperature loop", setpoint: "supply_setpoint_c" },
  { key: "low_limit", name: "Mixed-air low limit", setpoint: "mixed_low_limit_c" },
  { key: "freeze", name: "Freeze protection", setpoint: "freeze_c" },
  { key: "changeover", name: "Changeover", setpoint: "high_limit_c" },
] as const;

/** Each loop's input, setpoint and output, by the last configuration that was read. */
function LoopList({ page }: { page: Page }) {
  const { openSection } = useVisit();
  const { system } = useUnits();
  const setting = page.revisions.at(-1)?.document ?? page.as_found;
  return (
    <section aria-labelledby="loops">
      <h2 id="loops" className="font-semibold text-lg">
        Loops
      </h2>
      <ul className="panel mt-1 divide-y divide-base-300">
        {LOOPS.map((loop) => (
          <li key={loop.key} className="flex flex-wrap gap-x-4 px-3 py-2">
            <span className="flex-1 font-semibold">{loop.name}</span>
            <span>reads {setting.loops?.[loop.key] ?? "nothing"} air</span>
            <span>
              setpoint{" "}
              <span className="reading">{inWords(setting[loop.setpoint] ?? 0, "temperature", system)}</span>
            </span>
            <span>moves the outdoor damper</span>
          </li>
        ))}
      </ul>
      <button type="button" className="btn touch mt-2" onClick={() => openSection("loops", "prove")}>
        Check them by stepping
      </button>
    </section>
  );
}

/** All sensors of the connected controller at once, against the simulated unit's own probe. */
function CompareAll({ condition, phase }: { condition: string; phase: "as_found" | "as_left" }) {
  const { page, mayWrite } = useVisit();
  const controller = useController().data;
  const id = String(page.id);
  const compare = useAsked((name: string) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/compare", {
        params: { path: { visit_id: id } },
        body: { condition: name, references: {}, phase },
      }),
    ),
  );
  if (!controller?.connected || !controller.simulated || !mayWrite) return null;
  return (
    <div className="space-y-2">
      <button
        type="button"
        className="btn btn-primary touch text-base"
        disabled={compare.isPending || !condition.trim()}
        onClick={() => compare.mutate(condition.trim())}
      >
        Read all sensors and a simulated probe now
      </button>
      <Trouble error={compare.error} />
    </div>
  );
}

function ReadForm({
  line,
  condition,
  phase,
  onDone,
}: {
  line: Line;
  condition: string;
  phase: "as_found" | "as_left";
  onDone: () => void;
}) {
  const { record } = useVisit();
  const { system } = useUnits();
  const controller = useController().data;
  const live = controller?.points?.find((point) => point.key === `${line.line.place}_temperature`)?.value;
  const { control, handleSubmit } = useForm({
    defaultValues: {
      shown: asTyped(live, "temperature", system),
      probe: "",
      error: asTyped(0.3, "temperature_difference", system),
    },
  });
  const send = handleSubmit(async (typed) => {
    await record(
      "point_read",
      {
        terminal: line.line.terminal,
        shown_c: siOf(typed.shown, "temperature", system),
        reference_c: siOf(typed.probe, "temperature", system),
        plus_minus_k: siOf(typed.error, "temperature_difference", system),
        condition: condition.trim(),
      },
      { phase },
    );
    onDone();
  });
  const fields = [
    ["shown", "Controller shows", "temperature"],
    ["probe", "Probe at its place", "temperature"],
    ["error", "Probe's error ±", "temperature_difference"],
  ] as const;
  return (
    <form
      onSubmit={send}
      noValidate
      className="grid gap-3 bg-base-200/50 p-3 sm:grid-cols-3"
      aria-label={`Compare ${line.line.name}`}
    >
      {fields.map(([name, label, kind]) => (
        <FormNumber
          key={name}
          control={control}
          name={name}
          label={label}
          kind={kind}
          rules={numberRule(kind, system)}
        />
      ))}
      <button type="submit" className="btn btn-primary touch">
        Note it
      </button>
    </form>
  );
}

function BringIn() {
  const { record } = useVisit();
  const [error, setError] = useState<unknown>();
  const bring = async (chosen: File) => {
    setError(undefined);
    try {
      const text = await chosen.text();
      const lines = await fromEither("points", { text }, () =>
        ask(api.POST("/api/v1/points/look", { body: { text } })),
      );
      await record("point_list", { lines, name: chosen.name });
    } catch (problem) {
      setError(problem);
    }
  };
  return (
    <>
      <FileButton types={[".csv", "text/csv", "text/plain"]} onChosen={bring}>
        Bring in a point list (CSV)
      </FileButton>
      <Trouble error={error} />
    </>
  );
}
