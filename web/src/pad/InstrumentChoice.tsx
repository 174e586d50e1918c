import { useState } from "react";
import { classWords } from "../instruments/accuracy";
import { makeInstrument } from "../instruments/making";
import { SelectField, TextField } from "../shell/fields";
import { tables } from "../units/tables.gen";
import { useUnits } from "../units/UnitSystem";
import type { useInstrument } from "./instruments";

/** What is read with; remembered on this device for the quantity. One that is not listed is written down here. */
export function InstrumentChoice({
  quantity,
  able,
  chosen,
  choose,
  coming,
}: { quantity: string } & ReturnType<typeof useInstrument>) {
  const [adding, setAdding] = useState(false);
  if (coming) return <p role="status">Fetching the instruments …</p>;
  return (
    <div>
      <SelectField
        label="Instrument"
        value={chosen ? String(chosen.id) : NONE}
        onChange={(key) => (key === ADD ? setAdding(true) : choose(key))}
        options={[
          ...able.map((each) => ({
            key: String(each.id),
            name: each.name + (each.overdue ? ", calibration overdue" : ""),
          })),
          { key: NONE, name: `Not listed: ${quantity === "airflow" ? "±10 %" : "a wide ± is assumed"}` },
          { key: ADD, name: "Write down one that is not listed" },
        ]}
      />
      {adding && (
        <AddInstrument
          quantity={quantity}
          done={(id) => {
            if (id) choose(id);
            setAdding(false);
          }}
        />
      )}
    </div>
  );
}

const NONE = "none";
const ADD = "add";

function AddInstrument({ quantity, done }: { quantity: string; done: (id?: string) => void }) {
  const { system } = useUnits();
  const classes = Object.entries(tables.accuracy_classes).filter(([, made]) => quantity in made.accuracy);
  const [name, setName] = useState("");
  const [kind, setKind] = useState(classes[0]?.[0] ?? "");
  const [wrong, setWrong] = useState("");
  const add = async () => {
    if (name.trim() === "") return setWrong("Give it a name, as it is written on it.");
    done(await makeInstrument(name.trim(), kind));
  };
  return (
    <form
      className="panel mt-2 space-y-3 p-3"
      aria-label="An instrument that is not listed"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <TextField label="Its name" value={name} onChange={setName} most={80} wrong={wrong} />
      <SelectField
        label="What it is, and how good"
        value={kind}
        onChange={setKind}
        options={classes.map(([key, made]) => ({ key, name: classWords(made, system) }))}
      />
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary touch flex-1">
          Write it down
        </button>
        <button type="button" className="btn touch" onClick={() => done()}>
          Cancel
        </button>
      </div>
    </form>
  );
}
