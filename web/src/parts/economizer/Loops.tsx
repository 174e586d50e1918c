import { Tests } from "./Tests";
import { WithEconomizer } from "./useEconomizer";

/** Loops: step what a loop should read, then what it should not. */
export default function Loops() {
  return (
    <WithEconomizer>
      {(page) => (
        <Tests
          tests={page.loops}
          page={page}
          words="Step the sensor a loop should read: the damper must move. Step any other: nothing may move."
        />
      )}
    </WithEconomizer>
  );
}
