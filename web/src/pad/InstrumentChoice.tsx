import { SelectField } from "../shell/fields";
import type { useInstrument } from "./instruments";

/** What is read with; remembered on this device for the quantity. */
export function InstrumentChoice({
  quantity,
  able,
  chosen,
  choose,
}: { quantity: string } & ReturnType<typeof useInstrument>) {
  return (
    <SelectField
      label="Instrument"
      value={chosen ? String(chosen.id) : NONE}
      onChange={choose}
      options={[
        ...able.map((each) => ({
          key: String(each.id),
          name: each.name + (each.overdue ? ", calibration overdue" : ""),
        })),
        { key: NONE, name: `Not listed: ${quantity === "airflow" ? "±10 %" : "a wide ± is assumed"}` },
      ]}
    />
  );
}

const NONE = "none";
