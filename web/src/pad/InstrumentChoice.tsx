import type { useInstrument } from "./instruments";

/** What is read with; remembered on this device for the quantity. */
export function InstrumentChoice({
  quantity,
  able,
  chosen,
  choose,
}: { quantity: string } & ReturnType<typeof useInstrument>) {
  return (
    <label className="block">
      <span className="mb-1 block text-sm">Instrument</span>
      <select
        className="select touch w-full"
        value={chosen ? String(chosen.id) : "none"}
        onChange={(event) => choose(event.target.value)}
      >
        {able.map((each) => (
          <option key={String(each.id)} value={String(each.id)}>
            {each.name}
            {each.overdue ? ", calibration overdue" : ""}
          </option>
        ))}
        <option value="none">Not listed: {quantity === "airflow" ? "±10 %" : "a wide ± is assumed"}</option>
      </select>
    </label>
  );
}
