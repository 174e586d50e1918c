import { TriangleAlert, X } from "lucide-react";
import { type FormEvent, useState } from "react";
import { InstrumentChoice } from "../../../pad/InstrumentChoice";
import { useInstrument } from "../../../pad/instruments";
import { Keypad } from "../../../pad/Keypad";
import { slip } from "../../../pad/slips";
import { numberOf, type PadKey, press } from "../../../pad/typed";
import { usePadKeys } from "../../../pad/usePadKeys";
import { Figure } from "../../../shell/Figure";
import { useUnits } from "../../../units/UnitSystem";
import { fromSi, inWords, namedUnit, number, readableOf, say, toSi, unitOf } from "../../../units/units";
import { useVisit } from "../../../logbook/context";
import { type Page, readingOf, readingsAt, standing } from "../../../logbook/logbook";
import { PlanDrawing } from "./PlanDrawing";

type Traverse = NonNullable<Page["work_up"]["phases"][number]["traverses"]>[number];

/** The flow across a duct: its inside first, then where to hold the probe, then one velocity after the other. */
export function TraverseBench({ station }: { station: string }) {
  const { page, phase, entries, openStation } = useVisit();
  const place = page.work_up.path.stations.find((each) => each.id === station);
  const shown = page.work_up.phases.find((each) => each.phase === phase) ?? page.work_up.phases[0];
  const traverse = shown?.traverses?.find((each) => each.station === station);
  const waiting = standing(entries).some(
    (entry) => entry.kind === "plane" && entry.waiting && entry.body.station === station,
  );
  const [again, setAgain] = useState(false);
  if (!place) return <p>This system has no such station.</p>;
  return (
    <div>
      <div className="flex items-start justify-between gap-2">
        <div>
          <h2 className="font-semibold text-xl">{place.name}</h2>
          <p className="text-sm">
            {place.where} <span className="font-semibold">Keep away from:</span> {place.avoid}
          </p>
        </div>
        <button
          type="button"
          className="btn btn-ghost touch"
          aria-label="Close (Esc)"
          onClick={() => openStation(undefined)}
        >
          <X size={20} aria-hidden="true" />
        </button>
      </div>
      {traverse && !again ? (
        <Points traverse={traverse} station={station} measureAgain={() => setAgain(true)} />
      ) : (
        <DuctForm station={station} done={() => setAgain(false)} waiting={waiting && !again} />
      )}
    </div>
  );
}

const FIELDS = ["width_m", "height_m", "diameter_m", "wall_m", "after_m", "before_m"] as const;
type Field = (typeof FIELDS)[number];

const WORDS: Record<Field, string> = {
  width_m: "Width inside",
  height_m: "Height inside",
  diameter_m: "Diameter inside",
  wall_m: "Wall the probe passes",
  after_m: "Straight duct before this plane",
  before_m: "Straight duct after it",
};

function DuctForm({ station, done, waiting }: { station: string; done: () => void; waiting: boolean }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [shape, setShape] = useState<"rectangular" | "round">("rectangular");
  const [typed, setTyped] = useState<Partial<Record<Field, string>>>({});
  const [wrong, setWrong] = useState<Partial<Record<Field, string>>>({});
  const shown = FIELDS.filter((field) =>
    shape === "round" ? field !== "width_m" && field !== "height_m" : field !== "diameter_m",
  );
  const unitFor = (field: Field) =>
    unitOf(field === "after_m" || field === "before_m" ? "length" : "depth", system);
  const needed = (field: Field) => ["width_m", "height_m", "diameter_m"].includes(field);
  const send = (event: FormEvent) => {
    event.preventDefault();
    const problems: Partial<Record<Field, string>> = {};
    const duct: Record<string, number | string | null> = { shape };
    for (const field of shown) {
      const text = (typed[field] ?? "").trim().replace(",", ".");
      const value = Number(text);
      if (text === "") {
        if (needed(field)) problems[field] = "Measure this inside the duct.";
        if (field === "wall_m") duct.wall_m = 0;
        continue;
      }
      const si = toSi(value, unitFor(field));
      if (Number.isNaN(value) || value < 0) problems[field] = "This must be a number, zero or more.";
      else if (needed(field) && !(si >= 0.05 && si <= 6)) {
        problems[field] =
          `Between ${inWords(0.05, "depth", system)} and ${inWords(6, "depth", system)}. Check the unit.`;
      } else duct[field] = si;
    }
    setWrong(problems);
    if (Object.keys(problems).length > 0) return;
    void record("plane", { station, duct }, { phase: "as_found" });
    done();
  };
  return (
    <form onSubmit={send} noValidate className="panel mt-3 space-y-3 p-4">
      <fieldset className="flex gap-2">
        <legend className="mb-1">The duct is</legend>
        {(["rectangular", "round"] as const).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={shape === each}
            className={`btn touch text-base ${shape === each ? "btn-neutral" : ""}`}
            onClick={() => setShape(each)}
          >
            {each}
          </button>
        ))}
      </fieldset>
      <div className="grid gap-3 sm:grid-cols-2 wide:grid-cols-3">
        {shown.map((field) => (
          <label key={field} className="block">
            <span className="mb-1 block">
              {WORDS[field]}, {unitFor(field).label}
            </span>
            <input
              className={`input touch reading w-full text-lg ${wrong[field] ? "border-error" : ""}`}
              inputMode="decimal"
              value={typed[field] ?? ""}
              aria-invalid={Boolean(wrong[field])}
              onChange={(event) => setTyped({ ...typed, [field]: event.target.value })}
            />
            {wrong[field] && (
              <span role="alert" className="block">
                {wrong[field]}
              </span>
            )}
          </label>
        ))}
      </div>
      <p className="text-sm quiet">
        Straight duct may be left out; then nobody looked, and the plane is not judged.
      </p>
      <button type="submit" className="btn btn-primary touch text-base">
        Show where to hold the probe
      </button>
      {waiting && <p role="status">Kept here. The plan appears once the server answers.</p>}
    </form>
  );
}

function Points({
  traverse,
  station,
  measureAgain,
}: {
  traverse: Traverse;
  station: string;
  measureAgain: () => void;
}) {
  const { entries, phase, record, openStation } = useVisit();
  const { system } = useUnits();
  const unit = unitOf("velocity", system);
  const readings = readingsAt(entries, station, phase);
  const values = new Map(
    readings.map((entry) => {
      const reading = readingOf(entry);
      return [reading.point, toSi(reading.value, namedUnit(readableOf("velocity").kind, reading.unit))];
    }),
  );
  const points = traverse.plan.points;
  const open = points.find((point) => !values.has(point.number))?.number;
  const [chosen, setChosen] = useState<number | undefined>();
  const at = chosen ?? open ?? points.length;
  const [typed, setTyped] = useState("");
  const [asked, setAsked] = useState(false);
  const instrument = useInstrument("velocity");
  const value = numberOf(typed);
  const found =
    value === undefined
      ? undefined
      : slip({ quantity: "velocity", station, value, unit, system, dryBulb: undefined, done: true });
  const point = points.find((each) => each.number === at);
  const hole = points.filter((each) => each.hole === point?.hole);
  const inHole = hole.findIndex((each) => each.number === at) + 1;
  const take = (anyway = false) => {
    if (value === undefined) return;
    if (found && !(anyway && found.possible)) {
      setAsked(true);
      return;
    }
    const before = readings.find((entry) => readingOf(entry).point === at);
    void record(
      "reading",
      {
        station,
        quantity: "velocity",
        value,
        unit: unit.key,
        point: at,
        instrument: instrument.chosen ? String(instrument.chosen.id) : null,
      },
      before ? { replaces: before.id, reason: "read again" } : {},
    );
    setTyped("");
    setAsked(false);
    setChosen(undefined);
  };
  const key = (pressed: PadKey) => {
    setAsked(false);
    setTyped((before) => press(before, pressed));
  };
  usePadKeys({ key, take, close: () => openStation(undefined) });
  const mean =
    values.size > 0 ? [...values.values()].reduce((sum, each) => sum + each, 0) / values.size : undefined;
  const depth = unitOf("depth", system);
  return (
    <div className="mt-2 grid gap-4 wide:grid-cols-[minmax(300px,360px)_1fr]">
      <section aria-label="Velocity by position">
        <p aria-live="polite" className="text-lg">
          {values.size < points.length || chosen ? (
            <>
              {traverse.plan.along === "" ? "Diameter" : "Hole"} {point?.hole}, mark{" "}
              {hole.length - inHole + 1}
              {" at "}
              <span className="reading font-semibold text-2xl">
                {point && number(fromSi(point.mark_m, depth), depth.decimals)} {depth.label}
              </span>
            </>
          ) : (
            "All points read."
          )}
        </p>
        <output
          aria-label="Typed"
          data-testid="typed"
          className={`mt-1 flex h-[64px] items-center justify-end gap-3 rounded border-2 px-3 ${
            asked ? "border-error" : "border-base-300"
          }`}
        >
          <span className="mr-auto text-sm quiet">
            point {at} of {points.length}
          </span>
          <span className="reading font-semibold text-[44px] leading-none">
            {typed.replace("-", "−") || "–"}
          </span>
          <span className="w-12 pt-3 text-xl">{unit.label}</span>
        </output>
        {asked && found && (
          <div role="alert" className="mt-2 rounded border border-error p-2">
            <p>{found.text}</p>
            {found.possible && (
              <button type="button" className="btn touch mt-1" onClick={() => take(true)}>
                It is right, take it
              </button>
            )}
          </div>
        )}
        <Keypad press={key} take={() => take()} ready={value !== undefined} label="Take" />
      </section>
      <section className="min-w-0 space-y-3" aria-label="Plan">
        <div className="flex flex-wrap items-end gap-x-8">
          <div>
            <p className="text-sm quiet">Average of {values.size}</p>
            {traverse.mean ? (
              <Figure quantity={traverse.mean} />
            ) : (
              <p className="reading text-2xl">
                {mean === undefined ? "–" : inWords(mean, "velocity", system)}
              </p>
            )}
          </div>
          {traverse.airflow && (
            <div>
              <p className="text-sm quiet">Airflow{values.size < points.length && ", so far"}</p>
              <Figure quantity={traverse.airflow} size={values.size < points.length ? "middle" : "large"} />
            </div>
          )}
        </div>
        <div className="flex flex-wrap items-start gap-4">
          <PlanDrawing plan={traverse.plan} values={values} at={at} choose={setChosen} />
          <div className="space-y-2">
            <div>
              <p className="text-sm quiet">Marks on the probe, from its tip</p>
              <ol className="reading flex flex-wrap gap-x-3">
                {traverse.plan.marks_m.map((mark, index) => (
                  <li key={mark}>
                    <span className="quiet text-sm">{index + 1}</span>{" "}
                    {number(fromSi(mark, depth), depth.decimals)}
                  </li>
                ))}
                <li>{depth.label}</li>
              </ol>
            </div>
            {traverse.plan.along !== "" && (
              <div>
                <p className="text-sm quiet">
                  Holes along the {traverse.plan.along}, from its left or lower end
                </p>
                <ol className="reading flex flex-wrap gap-x-3">
                  {traverse.plan.holes.map((each) => (
                    <li key={each.number}>
                      <span className="quiet text-sm">{each.number}</span>{" "}
                      {number(fromSi(each.along_m ?? 0, depth), depth.decimals)}
                    </li>
                  ))}
                  <li>{depth.label}</li>
                </ol>
              </div>
            )}
            {traverse.plan.along === "" && (
              <p className="text-sm">Three diameters, 60 degrees apart, all from the wall inwards.</p>
            )}
          </div>
        </div>
        {(traverse.flags ?? []).concat(values.size === 0 ? (traverse.plan.flags ?? []) : []).map((flag) => (
          <p key={flag.text} className="flex gap-2 border-warning border-l-4 pl-2">
            <TriangleAlert size={18} className="mt-0.5 shrink-0 text-warning" aria-hidden="true" />
            {say(flag, system)}
          </p>
        ))}
        <InstrumentChoice quantity="velocity" {...instrument} />
        <button type="button" className="btn btn-ghost touch" onClick={measureAgain}>
          Measure the duct again
        </button>
      </section>
    </div>
  );
}
