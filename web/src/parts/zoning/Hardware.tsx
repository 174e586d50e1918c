import { Printer } from "lucide-react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { Photos } from "../../photos/Photos";
import { Figure } from "../../shell/Figure";
import { FormChoices, FormNumber, FormText, numberRule } from "../../shell/fields";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, say, typedSi } from "../../units/units";
import { Marked } from "./Marked";
import { type Page, type Sheet, WithZones } from "./useZones";

/** What an installer works from: terminals, wires, transformer, manifold, where control points hang. Prints as one sheet. */
export default function Hardware() {
  return <WithZones>{(zoning) => <Planned zoning={zoning} />}</WithZones>;
}

function Planned({ zoning }: { zoning: Page }) {
  const sheet = zoning.hardware;
  if (!sheet) return <p className="text-lg">Make the zones first, on the page Zones.</p>;
  return (
    <div className="space-y-5">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <Transformer sheet={sheet} />
        <button type="button" className="btn touch print:hidden" onClick={() => window.print()}>
          <Printer size={18} aria-hidden="true" /> Print the sheet
        </button>
      </div>
      <Notes sheet={sheet} />
      <Terminals sheet={sheet} />
      <Wires sheet={sheet} />
      <Ports sheet={sheet} />
      <Controls sheet={sheet} />
      <Given zoning={zoning} />
    </div>
  );
}

function Transformer({ sheet }: { sheet: Sheet }) {
  const { system } = useUnits();
  return (
    <div>
      <p className="flex items-center gap-2">
        <Marked mark={sheet.transformer_mark} /> Transformer
      </p>
      <Figure quantity={sheet.transformer} size="large" />
      <p>{say(sheet.transformer_words, system)}</p>
    </div>
  );
}

function Notes({ sheet }: { sheet: Sheet }) {
  const { system } = useUnits();
  const notes = sheet.notes ?? [];
  if (notes.length === 0) return null;
  return (
    <ul className="space-y-1 border-accent border-l-4 bg-base-200 p-3">
      {notes.map((note) => (
        <li key={note.text}>{say(note, system)}</li>
      ))}
      <li>
        Switch the board's power off before a wire is moved. Local code and the maker's instructions come
        first.
      </li>
    </ul>
  );
}

function Terminals({ sheet }: { sheet: Sheet }) {
  return (
    <section aria-labelledby="terminals">
      <h2 id="terminals" className="font-semibold text-lg">
        Terminals
      </h2>
      <WideTable label="Terminals">
        <table className="table">
          <thead>
            <tr>
              <th scope="col">No.</th>
              <th scope="col">Goes to</th>
              <th scope="col">Wire</th>
            </tr>
          </thead>
          <tbody>
            {sheet.terminals.map((terminal) => (
              <tr key={terminal.number}>
                <td className="reading">{terminal.number}</td>
                <td>{terminal.what}</td>
                <td className="reading">{terminal.wire}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}

function Wires({ sheet }: { sheet: Sheet }) {
  const { system } = useUnits();
  if (sheet.wires.length === 0) return null;
  return (
    <section aria-labelledby="wires">
      <h2 id="wires" className="font-semibold text-lg">
        Dampers by zone
      </h2>
      <ul className="panel divide-y divide-base-300">
        {sheet.wires.map((wire) => (
          <li key={wire.zone} className="flex flex-wrap items-center gap-x-4 gap-y-1 p-3">
            <Marked mark={wire.mark} />
            <span className="font-semibold">{wire.zone}</span>
            <span>
              {wire.dampers} dampers on {wire.chains === 1 ? "one chain" : `${wire.chains} chains`}
            </span>
            <span>{wire.gauge ? `${wire.gauge} gauge` : "no usual wire is thick enough"}</span>
            <span className="reading">loses {inWords(wire.drop.value, "voltage", system)}</span>
            <span className="quiet">without power: {wire.on_power_fail}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Ports({ sheet }: { sheet: Sheet }) {
  const { system } = useUnits();
  const ports = sheet.ports ?? [];
  if (ports.length === 0) return null;
  return (
    <section aria-labelledby="ports">
      <h2 id="ports" className="font-semibold text-lg">
        Manifold
      </h2>
      {sheet.free_ports != null && sheet.free_ports >= 0 && <p>{sheet.free_ports} ports stay free.</p>}
      <WideTable label="Ports of the manifold">
        <table className="table">
          <thead>
            <tr>
              <th scope="col">Port</th>
              <th scope="col">Room</th>
              <th scope="col">Zone</th>
              <th scope="col">Tube</th>
              <th scope="col">Label</th>
            </tr>
          </thead>
          <tbody>
            {ports.map((port) => (
              <tr key={port.port}>
                <td className="reading">{port.port}</td>
                <td>{port.room}</td>
                <td>{port.zone}</td>
                <td className="reading">{inWords(port.tube.value, "length", system)}</td>
                <td className="reading">{port.label}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </WideTable>
    </section>
  );
}

function Controls({ sheet }: { sheet: Sheet }) {
  return (
    <section aria-labelledby="controls">
      <h2 id="controls" className="font-semibold text-lg">
        Control points
      </h2>
      <ul className="grid gap-3 sm:grid-cols-2">
        {(sheet.controls ?? []).map((control) => (
          <li key={control.zone} className="panel p-3">
            <p className="font-semibold">
              {control.zone}
              {control.where && <span className="font-normal">: {control.where}</span>}
            </p>
            <ul className="list-disc pl-5">
              {control.checks.map((check) => (
                <li key={check}>{check}</li>
              ))}
            </ul>
            <Photos of="control_point" station={control.id} what={`Control point, ${control.zone}`} />
          </li>
        ))}
      </ul>
    </section>
  );
}

const FIELDS = [
  { name: "rated_va", label: "Transformer's rating", kind: "apparent_power" },
  { name: "board_va", label: "The board draws", kind: "apparent_power" },
  { name: "control_va", label: "One control point draws", kind: "apparent_power" },
  { name: "supply_limit_c", label: "Supply air at which the unit is stopped", kind: "temperature" },
] as const;

const COSTS: Record<string, string> = {
  least_open: "Cost: dampers that keep a fifth open",
  merge: "Cost: two zones made one",
  dump: "Cost: one zone takes what is left",
  turn_down: "Cost: a blower that turns down",
  bypass: "Cost: a bypass",
};

/** What the board is, and what each measure would cost. */
function Given({ zoning }: { zoning: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const given = zoning.given;
  const { control, handleSubmit } = useForm<Record<string, string>>({
    defaultValues: {
      ...Object.fromEntries(
        FIELDS.map(({ name, kind }) => [name, asTypedExactly(given?.[name], kind, system)]),
      ),
      ports: given?.ports ? String(given.ports) : "",
      school: given?.school ?? "no_bypass",
      board: given?.board ?? "",
      ...Object.fromEntries(
        Object.keys(COSTS).map((key) => [key, given?.costs?.[key] ? String(given.costs[key]) : ""]),
      ),
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    const numbers = FIELDS.map(({ name, kind }) => [name, typedSi(form[name] ?? "", kind, system)] as const);
    const costs = Object.keys(COSTS).flatMap((key) =>
      form[key]?.trim() ? [[key, Number(form[key])] as const] : [],
    );
    await record("zone_hardware", {
      ...Object.fromEntries(numbers.filter(([, value]) => value !== undefined)),
      ...(form.ports?.trim() ? { ports: Number(form.ports) } : {}),
      school: form.school === "bypass" ? "bypass" : "no_bypass",
      board: form.board?.trim() ?? "",
      ...(costs.length > 0 ? { costs: Object.fromEntries(costs) } : {}),
    });
  });
  return (
    <details className="panel px-4 print:hidden">
      <summary className="touch flex cursor-pointer items-center font-semibold">
        The board, and what measures cost
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2">
        <FormChoices
          control={control}
          name="school"
          label="What is built"
          options={{ no_bypass: "No bypass", bypass: "With a bypass" }}
        />
        <FormText
          control={control}
          name="board"
          label="The board's name at its gateway (optional)"
          most={80}
        />
        {FIELDS.map(({ name, label, kind }) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={`${label} (optional)`}
            kind={kind}
            rules={numberRule(
              kind,
              system,
              (si) => kind === "temperature" || si > 0 || "A number above zero.",
              { optional: true },
            )}
          />
        ))}
        <FormText control={control} name="ports" label="Manifold's ports (optional)" most={3} rules={whole} />
        {Object.entries(COSTS).map(([key, label]) => (
          <FormText
            key={key}
            control={control}
            name={key}
            label={`${label} (optional)`}
            most={9}
            rules={money}
          />
        ))}
        <button type="submit" className="btn touch sm:col-span-2 sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}

const whole = {
  validate: (text: string) => text.trim() === "" || /^\d{1,3}$/.test(text.trim()) || "A whole number.",
};
const money = {
  validate: (text: string) => text.trim() === "" || Number(text) >= 0 || "A number, in your money.",
};
