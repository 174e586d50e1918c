import { useQuery } from "@tanstack/react-query";
import { ArrowLeft, Unplug } from "lucide-react";
import { type FormEvent, useState } from "react";
import { api, ask } from "../api/client";
import { colleaguesQuery, sessionQuery } from "../api/queries";
import { Trouble, useAsked } from "../parts/economizer/useEconomizer";
import { clockTime } from "../shell/when";
import { useVisit } from "../logbook/context";
import { KINDS, type OpenChange, openChanges } from "./open";

/** The ledger in the bench's place: note a temporary change in a few taps, see what stands open. */
export function Ledger() {
  const { openTool } = useVisit();
  return (
    <div className="space-y-4">
      <div className="flex items-center gap-2">
        <button type="button" className="btn btn-ghost touch" onClick={() => openTool(undefined)}>
          <ArrowLeft size={20} aria-hidden="true" /> Back
        </button>
        <h1 className="font-semibold text-2xl">Temporary changes</h1>
      </div>
      <p className="quiet">
        Every override, jumper, pulled wire, open hole. Noted when made, undone before you leave: in winter
        one left in can freeze a coil.
      </p>
      <ReleaseAll />
      <Changes />
      <NewChange />
    </div>
  );
}

/** Let the controller have its point back; the ledger is closed when it confirms. */
function ReleaseOne({ point }: { point: string }) {
  const release = useRelease();
  return (
    <>
      <button
        type="button"
        className="btn btn-primary touch text-base"
        disabled={release.isPending}
        onClick={() => release.mutate([point])}
      >
        Release it
      </button>
      <Trouble error={release.error} />
    </>
  );
}

function useRelease() {
  const { page } = useVisit();
  return useAsked((points: string[] | null) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/release", {
        params: { path: { visit_id: String(page.id) } },
        body: { points },
      }),
    ),
  );
}

/** All that the app holds at the connected controller, released at once and confirmed by it. */
function ReleaseAll() {
  const { page, entries, mayWrite } = useVisit();
  const overrides = openChanges(page, entries).filter((change) => change.kindName === KINDS.override);
  const release = useRelease();
  if (!page.economizer || !mayWrite) return null;
  const still = release.data?.not_released ?? [];
  return (
    <div className="panel space-y-2 p-4">
      <div className="flex flex-wrap items-center gap-3">
        <p className="flex-1">
          {release.data && still.length === 0
            ? "The controller confirms: it holds nothing any more."
            : `${overrides.length} ${overrides.length === 1 ? "override" : "overrides"} in this ledger.`}
        </p>
        <button
          type="button"
          className={`btn touch text-base ${overrides.length ? "btn-warning" : ""}`}
          disabled={release.isPending}
          onClick={() => release.mutate(null)}
        >
          Release all at the controller
        </button>
      </div>
      {still.length > 0 && <p role="alert">The controller still holds: {still.join(", ")}.</p>}
      <Trouble error={release.error} />
    </div>
  );
}

/** What stands open on this visit. */
export function Changes() {
  const { page, entries, openTool, mayWrite } = useVisit();
  const open = openChanges(page, entries);
  if (open.length === 0) {
    return (
      <div className="panel flex flex-wrap items-center gap-3 p-4">
        <p className="flex-1">No temporary change is open.</p>
        {mayWrite && (
          <button type="button" className="btn touch" onClick={() => openTool("temporary")} title="Key t">
            <Unplug size={18} aria-hidden="true" /> Note one
          </button>
        )}
      </div>
    );
  }
  return (
    <ul className="space-y-3" aria-label="Open temporary changes">
      {open.map((change) => (
        <Change key={change.id} change={change} />
      ))}
    </ul>
  );
}

function Change({ change }: { change: OpenChange }) {
  const { record, mayWrite } = useVisit();
  const [handing, setHanding] = useState(false);
  return (
    <li className="panel border-warning p-4">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-semibold text-lg">{change.what}</span>
        <span className="rounded bg-base-200 px-1.5 text-sm">{change.kindName}</span>
        <span className="ml-auto text-sm quiet">
          {clockTime(change.at)}
          {change.by && `, ${change.by}`}
          {change.waiting && ", waits"}
        </span>
      </p>
      {change.undo && <p className="text-sm">To undo: {change.undo}</p>}
      {change.handedTo && (
        <p className="mt-1 border-secondary border-l-2 pl-2">
          Handed to {change.handedTo}: {change.reason}
        </p>
      )}
      {mayWrite && !handing && (
        <div className="mt-2 flex flex-wrap gap-2">
          {change.point && <ReleaseOne point={change.point} />}
          <button
            type="button"
            className={`btn touch text-base ${change.point ? "btn-ghost" : "btn-primary"}`}
            onClick={() => void record("undone", { change: change.id }, { phase: "as_left" })}
          >
            {change.point ? "Undone by hand" : "Undone"}
          </button>
          {!change.handedTo && (
            <button type="button" className="btn btn-ghost touch" onClick={() => setHanding(true)}>
              Hand it on
            </button>
          )}
        </div>
      )}
      {handing && <HandOn change={change.id} onDone={() => setHanding(false)} />}
    </li>
  );
}

/** Leaving a change to a named person, with the reason. */
function HandOn({ change, onDone }: { change: string; onDone: () => void }) {
  const { record } = useVisit();
  const people = useQuery(colleaguesQuery);
  const session = useQuery(sessionQuery);
  const [to, setTo] = useState("");
  const [reason, setReason] = useState("");
  const [tried, setTried] = useState(false);
  const others = (people.data ?? []).filter((each) => String(each.id) !== String(session.data?.person?.id));
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    const person = others.find((each) => String(each.id) === to);
    if (!person || !reason.trim()) return;
    await record("handed_on", { change, to, to_name: person.name, reason }, { phase: "as_left" });
    onDone();
  };
  return (
    <form onSubmit={send} className="mt-3 grid gap-3 wide:grid-cols-2" noValidate>
      <label className="block">
        <span className="mb-1 block">Who takes it over</span>
        <select className="select touch w-full" value={to} onChange={(event) => setTo(event.target.value)}>
          <option value="">Choose</option>
          {others.map((each) => (
            <option key={String(each.id)} value={String(each.id)}>
              {each.name}
            </option>
          ))}
        </select>
        {tried && !to && <span role="alert">Choose who takes it over.</span>}
      </label>
      <label className="block">
        <span className="mb-1 block">Why it stays open</span>
        <input
          className="input touch w-full"
          value={reason}
          maxLength={4000}
          onChange={(event) => setReason(event.target.value)}
        />
        {tried && !reason.trim() && <span role="alert">Say why it is left open.</span>}
      </label>
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary touch">
          Hand it on
        </button>
        <button type="button" className="btn btn-ghost touch" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}

const EMPTY = { what: "", kind: "override", undo: "" };

function NewChange() {
  const { record, mayWrite } = useVisit();
  const [form, setForm] = useState(EMPTY);
  const [tried, setTried] = useState(false);
  if (!mayWrite) return null;
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (!form.what.trim()) return;
    await record("temporary", form, { phase: "as_found" });
    setForm(EMPTY);
    setTried(false);
  };
  return (
    <form onSubmit={send} className="panel space-y-3 p-4" noValidate aria-labelledby="new-change">
      <h2 id="new-change" className="font-semibold text-lg">
        Note a temporary change
      </h2>
      <fieldset>
        <legend className="sr-only">What kind</legend>
        <div className="flex flex-wrap gap-2">
          {Object.entries(KINDS).map(([key, name]) => (
            <button
              key={key}
              type="button"
              aria-pressed={form.kind === key}
              className={`btn touch ${form.kind === key ? "btn-neutral" : ""}`}
              onClick={() => setForm({ ...form, kind: key })}
            >
              {name}
            </button>
          ))}
        </div>
      </fieldset>
      <label className="block">
        <span className="mb-1 block">What was changed</span>
        <input
          className={`input touch w-full ${tried && !form.what.trim() ? "border-error" : ""}`}
          value={form.what}
          maxLength={4000}
          aria-invalid={tried && !form.what.trim()}
          onChange={(event) => setForm({ ...form, what: event.target.value })}
        />
        {tried && !form.what.trim() && <span role="alert">Say what was changed for the test.</span>}
      </label>
      <label className="block">
        <span className="mb-1 block">How to undo it (optional)</span>
        <input
          className="input touch w-full"
          value={form.undo}
          maxLength={4000}
          onChange={(event) => setForm({ ...form, undo: event.target.value })}
        />
      </label>
      <button type="submit" className="btn btn-primary touch text-base">
        Note it
      </button>
    </form>
  );
}
