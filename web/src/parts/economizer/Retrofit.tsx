import { useState } from "react";
import { useCalculation } from "../../core/calculate";
import { Intake } from "../../logbook/Intake";
import { Choices, NumberField } from "../../shell/fields";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, typedSi } from "../../units/units";
import { type Page, WithEconomizer } from "./useEconomizer";

const CALLS = { none: "No call", first: "Stage one", second: "Stage two", heating: "Heating" };

/** Only the terminal list goes to paper. */
function printPart(): void {
  document.body.classList.add("printing-part");
  window.addEventListener("afterprint", () => document.body.classList.remove("printing-part"), {
    once: true,
  });
  window.print();
}

interface State {
  outdoor_open: boolean;
  compressor: boolean;
  reason: string;
}

/** A changeover for a unit that has none; and where its intake may be. */
export default function Retrofit() {
  return <WithEconomizer>{(page) => <RetrofitOf page={page} />}</WithEconomizer>;
}

function RetrofitOf({ page }: { page: Page }) {
  return (
    <div className="space-y-4">
      <p className="quiet">
        A two-stage thermostat can do it: stage one opens the outdoor damper, stage two runs the compressor.
        Low voltage; lock out the power first. Local code, the maker's instructions and licensed practice come
        first.
      </p>
      <TryOut page={page} />
      <section aria-labelledby="terminals" className="print-part">
        <h2 id="terminals" className="font-semibold text-lg">
          Terminal list
        </h2>
        <WideTable label="Wires" className="panel mt-1">
          <table className="w-full text-left">
            <thead>
              <tr className="text-sm quiet">
                <th className="px-3 py-2 font-normal">From</th>
                <th className="px-3 py-2 font-normal">To</th>
                <th className="px-3 py-2 font-normal">Wire</th>
                <th className="px-3 py-2 font-normal">Purpose</th>
              </tr>
            </thead>
            <tbody className="divide-y divide-base-300">
              {(page.wires ?? []).map((wire) => (
                <tr key={wire.start + wire.end}>
                  <td className="px-3 py-2">{wire.start}</td>
                  <td className="px-3 py-2">{wire.end}</td>
                  <td className="px-3 py-2">{wire.wire}</td>
                  <td className="px-3 py-2">{wire.purpose}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </WideTable>
        <button type="button" className="btn touch mt-2" onClick={printPart}>
          Print
        </button>
      </section>
      <section aria-labelledby="turned">
        <h2 id="turned" className="font-semibold text-lg">
          How the dampers are mounted
        </h2>
        <dl className="panel mt-1 grid gap-x-4 p-3 sm:grid-cols-[10rem_1fr]">
          {(page.orientation ?? []).map((each) => (
            <div key={each.part} className="contents">
              <dt className="font-semibold">{each.part}</dt>
              <dd>{each.how}</dd>
            </div>
          ))}
        </dl>
      </section>
      <Intake
        key={page.intake_entry}
        noted={page.intake}
        entry={page.intake_entry}
        flags={page.intake_flags}
        placing={page.placing ?? []}
      />
    </div>
  );
}

function TryOut({ page }: { page: Page }) {
  const { system } = useUnits();
  const [call, setCall] = useState<keyof typeof CALLS>("first");
  const [typed, setTyped] = useState({
    outdoor_c: asTyped(page.day.outdoor_c, "temperature", system),
    setpoint_c: asTyped(page.planned.cooling_setpoint_c, "temperature", system),
    limit_c: asTyped(18, "temperature", system),
    margin_k: asTyped(4, "temperature_difference", system),
  });
  const fields = [
    ["outdoor_c", "Outdoor air", "temperature"],
    ["setpoint_c", "Cooling setpoint", "temperature"],
    ["limit_c", "Outdoor limit", "temperature"],
    ["margin_k", "Margin under the setpoint", "temperature_difference"],
  ] as const;
  const values = Object.fromEntries(
    fields.map(([name, , kind]) => [name, typedSi(typed[name], kind, system)]),
  );
  const whole = Object.values(values).every((value) => value !== undefined);
  const found = useCalculation<State>("economizer.retrofit", whole ? { call, ...values } : undefined);
  return (
    <section className="panel space-y-3 p-4" aria-labelledby="try-out">
      <h2 id="try-out" className="font-semibold text-lg">
        What it does
      </h2>
      <Choices
        label="Thermostat calls"
        options={CALLS}
        value={call}
        onChange={(key) => setCall(key as keyof typeof CALLS)}
      />
      <div className="grid grid-cols-2 gap-3 xl:grid-cols-4">
        {fields.map(([name, label, kind]) => (
          <NumberField
            key={name}
            label={label}
            kind={kind}
            value={typed[name]}
            onChange={(text) => setTyped({ ...typed, [name]: text })}
            wrong={values[name] === undefined ? "A number." : ""}
          />
        ))}
      </div>
      {found.data && (
        <p className="text-lg">
          Outdoor damper <strong>{found.data.outdoor_open ? "open" : "closed"}</strong>, compressor{" "}
          <strong>{found.data.compressor ? "on" : "off"}</strong>. {found.data.reason}
        </p>
      )}
    </section>
  );
}
