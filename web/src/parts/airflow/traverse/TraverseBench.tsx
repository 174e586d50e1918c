import { TriangleAlert, X } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../../logbook/context";
import { pointOf, readingsAt, standingOf, type Traverse, traversesOf } from "../../../logbook/logbook";
import { InstrumentChoice } from "../../../pad/InstrumentChoice";
import { useInstrument } from "../../../pad/instruments";
import { Keypad } from "../../../pad/Keypad";
import { slip } from "../../../pad/slips";
import { numberOf, type PadKey, press } from "../../../pad/typed";
import { usePadKeys } from "../../../pad/usePadKeys";
import { Figure } from "../../../shell/Figure";
import { useUnits } from "../../../units/UnitSystem";
import { fromSi, inWords, namedUnit, number, readableOf, say, toSi, unitOf } from "../../../units/units";
import { DuctForm } from "./DuctForm";
import { PlanDrawing } from "./PlanDrawing";

/** The flow across a duct: its inside first, then where to hold the probe, then one velocity after the other. */
export function TraverseBench({ station }: { station: string }) {
  const { page, phase, entries, openStation } = useVisit();
  const place = page.work_up.path.stations.find((each) => each.id === station);
  const shown = page.work_up.phases.find((each) => each.phase === phase) ?? page.work_up.phases[0];
  const traverse = traversesOf(shown).find((each) => each.station === station);
  const waiting = standingOf(entries, "plane").some(
    (entry) => entry.waiting && entry.body.station === station,
  );
  const [again, setAgain] = useState(false);
  if (!place) return <p>This system has no such station.</p>;
  return (
    <div>
      <div className="flex items-start justify-between gap-2">
        <div>
          <h1 className="font-semibold text-xl">{place.name}</h1>
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
      const reading = entry.body;
      return [pointOf(entry), toSi(reading.value, namedUnit(readableOf("velocity").kind, reading.unit))];
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
    const before = readings.find((entry) => pointOf(entry) === at);
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
