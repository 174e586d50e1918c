import { useVisit } from "../../logbook/context";
import { ResultButton } from "../../logbook/ResultButton";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { AirDrawing } from "./AirDrawing";
import { BucketForm } from "./BucketForm";
import type { MoisturePage } from "./page";
import { Sources } from "./Sources";
import { Stops } from "./Stops";
import { Ways } from "./Ways";

/** What the coil does to the water now, what the bucket says of it, how the room is dried, and where its water comes from. */
export default function Moisture() {
  const { shown, page } = useVisit();
  const moisture = shown.pages.moisture;
  if (!moisture) return null;
  const pressure = page.work_up.pressure.value;
  return (
    <div className="space-y-6">
      <CoilNow moisture={moisture} pressure={pressure} />
      <Bucket moisture={moisture} />
      <Ways moisture={moisture} pressure={pressure} />
      <Sources moisture={moisture} />
      <Stops pressure={pressure} />
    </div>
  );
}

function CoilNow({ moisture, pressure }: { moisture: MoisturePage; pressure: number }) {
  const { shown, openStation, openSection, mayWrite } = useVisit();
  const { system } = useUnits();
  const results = moisture.results ?? [];
  const water = results.find((each) => each.key === "coil_water");
  const rest = results.filter((each) => each !== water && each.key !== "bucket_water");
  const missing = moisture.missing ?? [];
  const points = moisture.points ?? [];
  const room = shown.results.find((each) => each.key === "shr");
  const at = shown.phase === "as_left" ? "prove" : "measure";
  return (
    <section aria-labelledby="coil-now" className="space-y-3">
      <h2 id="coil-now" className="font-semibold text-lg">
        What this coil does now
      </h2>
      {missing.length > 0 && (
        <ul className="grid gap-2 wide:grid-cols-2" aria-label="Still to read">
          {missing.map((each) => (
            <li key={each.words}>
              {mayWrite ? (
                <button
                  type="button"
                  className="btn touch h-auto w-full justify-start py-2 text-left text-base"
                  onClick={() => (each.station ? openStation(each.station, at) : openSection("airflow"))}
                >
                  {each.words}
                </button>
              ) : (
                each.words
              )}
            </li>
          ))}
        </ul>
      )}
      <div className={points.length > 0 ? "grid items-start gap-4 2xl:grid-cols-[1fr_1.2fr]" : ""}>
        <div className="space-y-3">
          {water && <ResultButton result={water} size="large" />}
          {moisture.words && (
            <p className="flex items-start gap-2 font-semibold text-lg">
              {moisture.mark && <VerdictMark mark={moisture.mark as MarkName} />}
              {say(moisture.words, system)}
            </p>
          )}
          {(moisture.notes ?? []).length > 0 && (
            <ul className="list-disc pl-6">
              {(moisture.notes ?? []).map((note) => (
                <li key={note.text}>{say(note, system)}</li>
              ))}
            </ul>
          )}
        </div>
        {points.length > 1 && (
          <AirDrawing
            title="The air's path over the coil"
            pressure={pressure}
            ways={[
              {
                key: "coil",
                name: "Over the coil",
                className: "stroke-primary",
                places: points.filter((each) => ["entering", "leaving"].includes(each.key)),
              },
              {
                key: "surface",
                name: "Drawn on to the coil's surface",
                className: "stroke-secondary",
                dash: "3 4",
                places: points.filter((each) => ["leaving", "surface"].includes(each.key)),
              },
              {
                key: "fan",
                name: "Warmed by the fan, or by reheat",
                className: "stroke-accent",
                dash: "8 4",
                places: points.filter((each) => ["leaving", "supply"].includes(each.key)),
              },
            ].filter((way) => way.places.length > 1)}
          />
        )}
      </div>
      <ul className="grid gap-3 sm:grid-cols-2 wide:grid-cols-3">
        {[...rest, ...(room?.quantity ? [{ ...room, name: "Sensible heat ratio of the room" }] : [])].map(
          (result) => (
            <li key={result.key} className="panel p-3">
              <ResultButton result={result} size="middle" />
            </li>
          ),
        )}
      </ul>
    </section>
  );
}

function Bucket({ moisture }: { moisture: MoisturePage }) {
  const { system } = useUnits();
  const weighed = (moisture.results ?? []).find((each) => each.key === "bucket_water");
  return (
    <section aria-labelledby="bucket" className="space-y-2">
      <h2 id="bucket" className="font-semibold text-lg">
        The bucket's answer
      </h2>
      {weighed ? (
        <ResultButton result={weighed} size="middle" />
      ) : (
        <p className="quiet">
          Catch the condensate for ten minutes and weigh it: a second answer that needs no humidity probe.
        </p>
      )}
      {moisture.bucket && (
        <p className="flex items-start gap-2 font-semibold">
          {moisture.bucket_mark && <VerdictMark mark={moisture.bucket_mark as MarkName} />}
          {say(moisture.bucket, system)}
        </p>
      )}
      {(moisture.explains ?? []).length > 0 && (
        <ul className="list-disc pl-6">
          {(moisture.explains ?? []).map((each) => (
            <li key={each.text}>{say(each, system)}</li>
          ))}
        </ul>
      )}
      <BucketForm moisture={moisture} />
    </section>
  );
}
