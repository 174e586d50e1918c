import { Tests } from "./Tests";
import { WithEconomizer } from "./useEconomizer";

/** Functional tests: each a stimulus and the response that is due. */
export default function Proof() {
  return (
    <WithEconomizer>
      {(page) => <Tests tests={page.tests} page={page} words="Generated from the planned settings." />}
    </WithEconomizer>
  );
}
