import { useVisit } from "../../logbook/context";
import { ProofHead, Suspects, Tests } from "../../logbook/proof";
import { DevicePanel } from "./DevicePanel";
import { Flows } from "./Flows";
import { ProveTest } from "./ProveTest";
import { useFreshAir } from "./useFreshAir";
import { lookAround, useVentilator } from "./ventilator";

/** The ventilator as it is left: its flows once more, and does it run, rest, lock out and come back when it should. */
export default function Prove() {
  const fresh = useFreshAir();
  const visit = String(useVisit().page.id);
  const { data: device } = useVentilator();
  const { ventilator } = fresh.known;
  const { proof } = fresh;
  if (!ventilator || !proof) {
    return (
      <p className="text-lg">
        There is no ventilator to prove. Say what brings the fresh air in under Set up, on the page Fresh air.
      </p>
    );
  }
  const card = [...(fresh.controls ?? [])]
    .reverse()
    .find((each) => each.stage !== "planned" && each.control)?.control;
  return (
    <div className="space-y-5">
      <ProofHead proof={proof} />
      <Suspects suspects={proof.suspects} />
      <p className="border-accent border-l-4 bg-base-200 p-3">
        Power off before a hand goes to a fan, a filter or a blade. Set the ladder to the hood on firm ground
        and have it held. With a burner that draws its air from the rooms, have the draft checked while it
        runs. Local code and the maker's instructions come first.
      </p>
      <Tests
        tests={proof.tests}
        label="Tests of the ventilator"
        form={(test, done) => <ProveTest key={test.entry} test={test} card={card ?? undefined} done={done} />}
      />
      <Flows
        fresh={fresh}
        ventilator={ventilator}
        phase="as_left"
        title="Flows once more, as it is left"
        reading={
          device?.simulated && device.connected
            ? async (stream) => (await lookAround(visit)).port_pa[stream] ?? undefined
            : undefined
        }
      />
      <DevicePanel />
    </div>
  );
}
