import { ProofHead, Suspects, Tests } from "../../logbook/proof";
import { BoardPanel } from "./BoardPanel";
import { TestForm } from "./TestForm";
import { type Page, WithZones } from "./useZones";

/** Every zone alone and all together: what was seen at registers and board, and what all of it says. */
export default function ProofPage() {
  return <WithZones>{(zoning) => <Proved zoning={zoning} />}</WithZones>;
}

function Proved({ zoning }: { zoning: Page }) {
  const proof = zoning.proof;
  if (!proof) {
    return (
      <p className="text-lg">
        There are no zones to prove. Group rooms into zones under Set up, on the page Zones.
      </p>
    );
  }
  return (
    <div className="space-y-5">
      <ProofHead proof={proof} />
      <Suspects suspects={proof.suspects} />
      <p className="border-accent border-l-4 bg-base-200 p-3">
        Board's power off before a hand goes to a blade, a linkage or a terminal. Blades pinch. Local code and
        the maker's instructions come first.
      </p>
      <Tests
        tests={proof.tests}
        label="Tests of the zones"
        form={(test, done) => <TestForm key={test.entry} test={test} done={done} />}
      />
      <BoardPanel />
    </div>
  );
}
