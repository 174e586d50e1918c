import { useForm } from "react-hook-form";
import type { Schemas } from "../api/client";
import { FormChoices, FormNumber, numberRule } from "../shell/fields";
import { VerdictMark } from "../shell/VerdictMark";
import { useUnits } from "../units/UnitSystem";
import { asTyped, typedSi } from "../units/units";
import { useVisit } from "./context";

interface Props {
  noted: Schemas["IntakePlacing"] | null | undefined;
  /** Its entry; "" where there is none. */
  entry: string;
  flags: Schemas["IntakeFlag"][];
  /** What to look at, in words. */
  placing: string[];
}

const DISTANCES = [
  ["exhaust_m", "Nearest exhaust"],
  ["flue_m", "Nearest flue"],
  ["plumbing_vent_m", "Nearest plumbing vent"],
  ["cooking_m", "Nearest cooking exhaust"],
] as const;

/** What it must keep away from, its screen, its sensor's shade; what of it is out of order. */
export function Intake({ noted: placed, entry, flags, placing }: Props) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const noted = placed?.distances;
  const { control, handleSubmit } = useForm({
    defaultValues: {
      distances: Object.fromEntries(
        DISTANCES.map(([name]) => [name, asTyped(noted?.[name], "door", system)]),
      ),
      shaded: answerOf(placed?.shaded),
      screened: answerOf(placed?.screened),
    },
  });
  const send = handleSubmit(async (typed) => {
    const distances = Object.fromEntries(
      DISTANCES.map(([name]) => [name, typedSi(typed.distances[name] ?? "", "door", system) ?? null]),
    );
    await record(
      "intake",
      { distances, shaded: saidBy(typed.shaded), screened: saidBy(typed.screened) },
      {
        phase: "as_found",
        ...(entry ? { replaces: entry } : {}),
      },
    );
  });
  const distance = numberRule("door", system, (si) => si >= 0 || "A distance of zero or more.", {
    optional: true,
    words: "A distance of zero or more.",
  });
  return (
    <form onSubmit={send} className="panel space-y-3 p-4" noValidate aria-labelledby="intake">
      <h2 id="intake" className="font-semibold text-lg">
        Where the intake is
      </h2>
      <ul className="list-disc pl-5 text-sm">
        {placing.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      <div className="grid grid-cols-2 gap-3 xl:grid-cols-4">
        {DISTANCES.map(([name, label]) => (
          <FormNumber
            key={name}
            control={control}
            name={`distances.${name}`}
            label={label}
            kind="door"
            rules={distance}
          />
        ))}
      </div>
      <FormChoices
        control={control}
        name="shaded"
        label="Sensor in the shade, out of any exhaust"
        options={YES_NO}
      />
      <FormChoices control={control} name="screened" label="Intake screened" options={YES_NO} />
      {placed && flags.length === 0 && (
        <p className="flex items-center gap-2">
          <VerdictMark mark="holds" /> Nothing too near of what was noted.
        </p>
      )}
      {flags.map((flag) => (
        <p key={flag.key} className="flex items-center gap-2">
          <VerdictMark mark={flag.off ? "off" : "watch"} /> {flag.text}
        </p>
      ))}
      {mayWrite && (
        <button type="submit" className="btn btn-primary touch text-base">
          {placed ? "Correct it" : "Note it"}
        </button>
      )}
    </form>
  );
}

const YES_NO = { yes: "Yes", no: "No" };

const answerOf = (said: boolean | null | undefined): string =>
  said === true ? "yes" : said === false ? "no" : "";

const saidBy = (answer: string): boolean | null => (answer === "" ? null : answer === "yes");
