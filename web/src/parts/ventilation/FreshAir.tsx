import { useVisit } from "../../logbook/context";
import { Intake } from "../../logbook/Intake";
import { Figure } from "../../shell/Figure";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords, number, say } from "../../units/units";
import { ControlCard } from "./ControlCard";
import { DwellingForm } from "./DwellingForm";
import { Flows } from "./Flows";
import { LockoutYear } from "./LockoutYear";
import { type FreshAirPage, useFreshAir } from "./useFreshAir";
import { VentilatorForm } from "./VentilatorForm";

/** Fresh air of a dwelling: what it needs, what it gets, how long the ventilator must run, what its control says. */
export default function FreshAir() {
  const fresh = useFreshAir();
  const { dwelling, ventilator } = fresh.known;
  return (
    <div className="space-y-5">
      <Headline fresh={fresh} />
      {(fresh.needs ?? []).length > 0 && <Needs fresh={fresh} />}
      {ventilator && <Flows fresh={fresh} ventilator={ventilator} />}
      {ventilator && <ControlCard fresh={fresh} />}
      {dwelling && ventilator && <LockoutYear fresh={fresh} ventilator={ventilator} />}
      {ventilator && (
        <Intake
          key={`intake ${fresh.intake_entry}`}
          noted={fresh.intake}
          entry={fresh.intake_entry ?? ""}
          flags={fresh.intake_flags ?? []}
          placing={fresh.placing ?? []}
        />
      )}
      <DwellingForm fresh={fresh} key={`dwelling ${fresh.dwelling_entry}`} />
      <VentilatorForm fresh={fresh} key={`ventilator ${fresh.ventilator_entry}`} />
      <p className="quiet">
        Local code says which edition holds, and the maker's instructions come first. With a burner that draws
        its air from the rooms, an exhaust ventilator can pull its flue gas in: have the draft checked.
      </p>
    </div>
  );
}

function Headline({ fresh }: { fresh: FreshAirPage }) {
  const { system } = useUnits();
  const judged = [...(fresh.controls ?? [])].reverse().find((each) => each.share && each.stage !== "planned");
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      {judged?.share && (
        <div>
          <p className="quiet">Fresh air, of what is needed</p>
          <Figure quantity={judged.share} size="large" />
        </div>
      )}
      <p className="flex max-w-prose items-center gap-2 text-xl">
        <VerdictMark mark={(fresh.mark ?? "not_measured") as MarkName} />
        <span>{fresh.words && say(fresh.words, system)}</span>
      </p>
    </div>
  );
}

/** What each edition asks, side by side; the one that counts here is marked. */
function Needs({ fresh }: { fresh: FreshAirPage }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const dwelling = fresh.known.dwelling;
  return (
    <section aria-labelledby="needs">
      <h2 id="needs" className="font-semibold text-lg">
        Fresh air needed
      </h2>
      <ul className="mt-1 grid gap-3 sm:grid-cols-2">
        {(fresh.needs ?? []).map((need) => (
          <li key={need.edition} className={`panel p-3 ${need.chosen ? "border-2 border-primary" : ""}`}>
            <p className="flex flex-wrap items-center justify-between gap-2">
              <span className="font-semibold">{need.name}</span>
              {need.chosen ? (
                <span className="rounded bg-base-200 px-1.5 text-sm">counts here</span>
              ) : (
                mayWrite &&
                dwelling && (
                  <button
                    type="button"
                    className="btn touch"
                    onClick={() =>
                      void record(
                        "dwelling",
                        { dwelling, edition: need.edition },
                        {
                          phase: "as_found",
                          ...(fresh.dwelling_entry ? { replaces: fresh.dwelling_entry } : {}),
                        },
                      )
                    }
                  >
                    Let this count
                  </button>
                )
              )}
            </p>
            <Figure quantity={need.required} />
            {need.leaks.value > 0 && (
              <p className="text-sm">
                Of {inWords(need.whole.value, "airflow", system)} in all; leaks give{" "}
                {inWords(need.leaks.value, "airflow", system)} of it.
              </p>
            )}
            {need.set_minutes != null && need.minutes_per_hour != null && (
              <p className="mt-1">
                {need.enough ? (
                  <>
                    Set <span className="reading font-semibold">{number(need.set_minutes, 0)} min</span> an
                    hour{" "}
                    <span className="quiet">
                      ({number(need.minutes_per_hour, 2)} needed
                      {need.gives && `; gives ${inWords(need.gives.value, "airflow", system)}`})
                    </span>
                  </>
                ) : (
                  <>
                    It can't: {need.lacks && inWords(need.lacks.value, "airflow", system)} short even without
                    a break. A larger ventilator, a second one, or less resistance in its ducts.
                  </>
                )}
              </p>
            )}
            {need.effectiveness != null && need.effectiveness < 1 && (
              <p className="text-sm">
                In cycles this long the air counts {inWords(need.effectiveness, "share", system)}.
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
