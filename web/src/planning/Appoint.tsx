import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask } from "../api/client";
import { colleaguesQuery, sessionQuery } from "../api/queries";
import { SelectField, TextField } from "../shell/fields";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useUnits } from "../units/UnitSystem";
import { dayKey, momentOf } from "./week";

const LENGTHS = [30, 60, 90, 120, 180, 240, 480];

/** Somebody is to come to this system: leads appoint anybody, technicians themselves. */
export function Appoint({ system }: { system: string }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button type="button" className="btn touch" onClick={() => setOpen(true)}>
        Appoint somebody
      </button>
    );
  return <Form system={system} close={() => setOpen(false)} />;
}

function Form({ system, close }: { system: string; close: () => void }) {
  const session = useQuery(sessionQuery);
  const colleagues = useQuery(colleaguesQuery);
  const { system: units } = useUnits();
  const me = session.data?.person;
  const [id] = useState(() => crypto.randomUUID());
  const [day, setDay] = useState(() => dayKey(new Date(Date.now() + 24 * 3600_000)));
  const [hour, setHour] = useState("09:00");
  const [minutes, setMinutes] = useState("60");
  const [person, setPerson] = useState("");
  const [words, setWords] = useState("");
  const [made, setMade] = useState(false);
  const moment = momentOf(day, hour);
  const change = useChange(["week"], async () => {
    if (!moment) return;
    await ask(
      api.POST("/api/v1/appointments", {
        body: {
          id,
          system,
          starts_at: moment,
          minutes: Number(minutes),
          words: words.trim(),
          person: person || null,
        },
      }),
    );
    setMade(true);
  });
  const wrong = refusalsOf(change.error, units);
  if (made)
    return (
      <div className="panel p-4" role="status">
        <p>It is in the week now.</p>
        <div className="mt-2 flex gap-2">
          <Link to="/week" className="btn touch">
            The week
          </Link>
          <button type="button" className="btn touch" onClick={close}>
            Done
          </button>
        </div>
      </div>
    );
  return (
    <form
      className="panel space-y-3 p-4"
      aria-label="Appoint somebody"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate(undefined);
      }}
    >
      {me?.role === "lead" && (
        <SelectField
          label="Who"
          value={person || String(me.id)}
          onChange={setPerson}
          options={[
            { key: String(me.id), name: `${me.name} (you)` },
            ...(colleagues.data ?? [])
              .filter((each) => each.id !== me.id)
              .map((each) => ({ key: String(each.id), name: each.name })),
          ]}
          wrong={wrong.person ?? ""}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Day"
          type="date"
          value={day}
          onChange={setDay}
          wrong={wrong.starts_at ?? (moment ? "" : "Give the day and the hour.")}
        />
        <TextField label="Hour, as 09:00" value={hour} onChange={setHour} most={5} />
      </div>
      <SelectField
        label="For how long"
        value={minutes}
        onChange={setMinutes}
        options={LENGTHS.map((each) => ({
          key: String(each),
          name: each < 60 ? `${each} min` : `${each / 60} h`,
        }))}
      />
      <TextField label="What for" value={words} onChange={setWords} most={500} wrong={wrong.words ?? ""} />
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary touch" disabled={change.isPending || !moment}>
          Appoint
        </button>
        <button type="button" className="btn touch" onClick={close}>
          Leave it
        </button>
      </div>
    </form>
  );
}
