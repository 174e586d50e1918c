import type { BodyOf } from "../../api/entries";
import { useVisit } from "../../logbook/context";
import { ProofHead, Tests } from "../../logbook/proof";
import { type Look, TestForm } from "../../logbook/TestForm";
import { AtController } from "./AtController";

type Body = BodyOf<"drying_test">;

const TEMPERATURES = [
  { name: "return_c", label: "Return", kind: "temperature" },
  { name: "after_c", label: "After the coil", kind: "temperature" },
  { name: "supply_c", label: "Supply", kind: "temperature" },
];

const COMPRESSOR: Look = {
  name: "compressor",
  label: "The compressor",
  options: { runs: "Runs", stands: "Is off" },
};

/** Reheat and return bypass: each called and taken back, by three temperatures. */
export default function Prove() {
  const { shown, record } = useVisit();
  const proof = shown.pages.moisture?.proof;
  if (!proof) return <p className="text-lg">This unit has neither reheat nor a return bypass.</p>;
  return (
    <div className="space-y-5">
      <ProofHead proof={proof} />
      {(proof.found ?? []).length > 0 && (
        <section aria-labelledby="found" className="panel p-4">
          <h2 id="found" className="font-semibold text-lg">
            Look here first
          </h2>
          <ol className="mt-1 space-y-2">
            {(proof.found ?? []).map((each) => (
              <li key={each.key}>
                <p className="font-semibold">{each.name}</p>
                <p>
                  {each.do}
                  {each.who !== "technician" && <span className="quiet"> By: certified persons only.</span>}
                </p>
              </li>
            ))}
          </ol>
        </section>
      )}
      <p className="border-accent border-l-4 bg-base-200 p-3">
        Power off before a hand goes to a blade, a linkage or the blower. A reheat coil and its pipes burn;
        electric heat needs its airflow. Only certified persons open a refrigerant circuit. Local code and the
        maker's instructions come first.
      </p>
      <Tests
        tests={proof.tests}
        label="Tests of reheat and bypass"
        form={(test, done) => (
          <>
            <AtController test={test.key} />
            <TestForm
              title={test.title}
              todo={test.do}
              looks={test.key === "dehumidify" ? [COMPRESSOR] : []}
              numbers={TEMPERATURES}
              keep={async ({ looks, numbers, note }) => {
                const seen = { test: test.key, ...(looks as Partial<Body>), ...numbers, note } as Body;
                await record("drying_test", seen, { phase: "as_left" });
                done();
              }}
            />
          </>
        )}
      />
    </div>
  );
}
