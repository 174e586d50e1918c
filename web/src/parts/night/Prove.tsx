import type { BodyOf } from "../../api/entries";
import { useVisit } from "../../logbook/context";
import { ProofHead, Tests } from "../../logbook/proof";
import { type Look, TestForm } from "../../logbook/TestForm";
import { useNight } from "./useNight";

type Body = BodyOf<"night_test">;

const LOOKS: Look[] = [
  {
    name: "damper",
    label: "The damper lets in",
    options: { rooms: "Air of the rooms", outdoors: "Outdoor air", between: "Stuck between" },
  },
  { name: "relief", label: "The relief", options: { open: "Open", shut: "Shut" } },
  { name: "blower", label: "The blower", options: { runs: "Runs", stands: "Is stopped" } },
];

const TEMPERATURES = [
  { name: "shown_c", label: "The control shows", kind: "temperature" },
  { name: "probe_c", label: "The probe in the shade", kind: "temperature" },
];

/** The night-cooling damper: by day, at night with its relief, held, overridden, and back by itself. */
export default function Prove() {
  const { record } = useVisit();
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
        form={(test, done) => (
          <TestForm
            title={test.title}
            todo={test.do}
            looks={LOOKS.filter((look) => test.asks.includes(look.name))}
            numbers={test.asks.includes("sensor") ? TEMPERATURES : []}
            keep={async ({ looks, numbers, note }) => {
              const seen = { test: test.key, ...(looks as Partial<Body>), ...numbers, note } as Body;
              await record("night_test", seen, { phase: "as_left" });
              done();
            }}
          />
        )}
      />
    </div>
  );
}
