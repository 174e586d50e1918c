import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { BodyOf } from "../../api/entries";
import { useVisit } from "../../logbook/context";
import { ProofHead, Tests } from "../../logbook/proof";
import { Choices, NumberField, TextField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { say, typedSi } from "../../units/units";
import { useNight } from "./useNight";

type Test = Schemas["NightTestLine"];
type Body = BodyOf<"night_test">;

const LOOKS = {
  damper: {
    label: "The damper lets in",
    options: { rooms: "Air of the rooms", outdoors: "Outdoor air", between: "Stuck between" },
  },
  relief: { label: "The relief", options: { open: "Open", shut: "Shut" } },
  blower: { label: "The blower", options: { runs: "Runs", stands: "Stands" } },
} as const;
type Look = keyof typeof LOOKS;

const TEMPERATURES = [
  { name: "shown_c", label: "The control shows" },
  { name: "probe_c", label: "The probe in the shade" },
] as const;

/** The night-cooling damper: by day, at night with its relief, held, overridden, and back by itself. */
export default function Prove() {
  const { proof } = useNight();
  if (!proof) return <p className="text-lg">There is no night damper here.</p>;
  return (
    <div className="space-y-5">
      <ProofHead proof={proof} />
      <p className="border-accent border-l-4 bg-base-200 p-3">
        Power off before a hand goes to a blade, a linkage or the blower. Dampers pinch. With a burner that
        draws its air from the rooms, have the draft checked while outdoor air is blown in. Local code and the
        maker's instructions come first.
      </p>
      <Tests
        tests={proof.tests}
        label="Tests of the night damper"
        form={(test, done) => <TestForm key={test.entry} test={test} done={done} />}
      />
    </div>
  );
}

function TestForm({ test, done }: { test: Test; done: () => void }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [looks, setLooks] = useState<Partial<Record<Look, string>>>({});
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [note, setNote] = useState("");
  const [tried, setTried] = useState(false);
  const value = (name: string) => typedSi(texts[name] ?? "", "temperature", system);
  const wrong = (name: string) =>
    (texts[name] ?? "").trim() && value(name) === undefined ? "This must be a number." : "";
  const keep = async () => {
    setTried(true);
    if (TEMPERATURES.some(({ name }) => wrong(name))) return;
    const numbers = TEMPERATURES.map(({ name }) => [name, value(name)] as const);
    await record(
      "night_test",
      {
        test: test.key,
        ...(looks as Pick<Body, Look>),
        note,
        ...Object.fromEntries(numbers.filter(([, si]) => si !== undefined)),
      },
      { phase: "as_left" },
    );
    done();
  };
  return (
    <form
      aria-label={test.title}
      className="space-y-4 border-base-300 border-t p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <p className="text-lg">{say(test.do, system)}</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {(Object.keys(LOOKS) as Look[])
          .filter((ask) => test.asks.includes(ask))
          .map((ask) => (
            <Choices
              key={ask}
              label={LOOKS[ask].label}
              options={LOOKS[ask].options as Record<string, string>}
              value={looks[ask]}
              onChange={(look) => setLooks({ ...looks, [ask]: look })}
            />
          ))}
        {test.asks.includes("sensor") &&
          TEMPERATURES.map(({ name, label }) => (
            <NumberField
              key={name}
              label={label}
              kind="temperature"
              value={texts[name] ?? ""}
              onChange={(text) => setTexts({ ...texts, [name]: text })}
              wrong={tried ? wrong(name) : ""}
            />
          ))}
      </div>
      <TextField label="Anything else (optional)" value={note} onChange={setNote} most={400} />
      <button type="submit" className="btn btn-primary touch text-base">
        Note what I saw
      </button>
    </form>
  );
}
