import { useQuery } from "@tanstack/react-query";
import { ArrowLeft, Unplug } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask } from "../api/client";
import type { BodyOf } from "../api/entries";
import { colleaguesQuery, sessionQuery } from "../api/queries";
import { useVisit } from "../logbook/context";
import { Trouble, useAsked } from "../logbook/controller";
import { type OpenChange, openChanges } from "../logbook/openChanges";
import { FormChoices, FormSelect, FormText, filled } from "../shell/fields";
import { clockTime } from "../shell/when";
import { temporaryKinds } from "../units/units";

type TemporaryKind = NonNullable<BodyOf<"temporary">["kind"]>;

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
  const overrides = openChanges(page, entries).filter((change) => change.kind === "override");
  const release = useRelease();
  if (!page.work_up.parts?.includes("economizer") || !mayWrite) return null;
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
  const { control, handleSubmit } = useForm({ defaultValues: { to: "", reason: "" } });
  const others = (people.data ?? []).filter((each) => String(each.id) !== String(session.data?.person?.id));
  const send = handleSubmit(async ({ to, reason }) => {
    const person = others.find((each) => String(each.id) === to);
    if (!person) return;
    await record("handed_on", { change, to, to_name: person.name, reason }, { phase: "as_left" });
    onDone();
  });
  return (
    <form onSubmit={send} className="mt-3 grid gap-3 wide:grid-cols-2" noValidate>
      <FormSelect
        control={control}
        name="to"
        label="Who takes it over"
        options={others.map((each) => ({ key: String(each.id), name: each.name }))}
        rules={filled("Choose who takes it over.")}
      />
      <FormText
        control={control}
        name="reason"
        label="Why it stays open"
        rules={filled("Say why it is left open.")}
      />
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

const EMPTY: { what: string; kind: TemporaryKind; undo: string } = { what: "", kind: "override", undo: "" };

function NewChange() {
  const { record, mayWrite } = useVisit();
  const { control, handleSubmit, reset } = useForm({ defaultValues: EMPTY });
  if (!mayWrite) return null;
  const send = handleSubmit(async (change) => {
    await record("temporary", change, { phase: "as_found" });
    reset();
  });
  return (
    <form onSubmit={send} className="panel space-y-3 p-4" noValidate aria-labelledby="new-change">
      <h2 id="new-change" className="font-semibold text-lg">
        Note a temporary change
      </h2>
      <FormChoices control={control} name="kind" label="What kind" quiet options={temporaryKinds} />
      <FormText
        control={control}
        name="what"
        label="What was changed"
        rules={filled("Say what was changed for the test.")}
      />
      <FormText control={control} name="undo" label="How to undo it (optional)" />
      <button type="submit" className="btn btn-primary touch text-base">
        Note it
      </button>
    </form>
  );
}
