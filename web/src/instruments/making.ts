/** An instrument written down on the spot: read with at once, on the list when the server has it. */
import type { Schemas } from "../api/client";
import { instrumentsQuery, queries } from "../api/queries";
import { queue } from "../queue/useQueue";
import { tables } from "../units/tables.gen";

export async function makeInstrument(name: string, accuracyClass: string): Promise<string> {
  const made = tables.accuracy_classes[accuracyClass];
  if (!made) throw new Error("no such class");
  const id = crypto.randomUUID();
  const line: Schemas["InstrumentLine"] = {
    id,
    name,
    kind: made.kind,
    serial: "",
    quantities: Object.keys(made.accuracy).sort(),
    accuracy: made.accuracy,
    calibrated_on: null,
    calibration_due_on: null,
    overdue: false,
    mine: true,
    first_for: [],
  };
  queries.setQueryData(instrumentsQuery.queryKey, (known) => [...(known ?? []), line]);
  await queue.make({
    id,
    what: "instrument",
    body: { id, name, accuracy_class: accuracyClass },
    words: `Instrument ${name}`,
  });
  return id;
}
