import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas } from "../api/client";
import { dayQuery, moreSystems, peopleQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { FormSelect, FormText, filled, SelectField, TextField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { More } from "../shell/More";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useMore } from "../shell/useMore";
import { useTitle } from "../shell/useTitle";
import { useUnits } from "../units/UnitSystem";

type Person = Schemas["PersonLine"];
type Role = "technician" | "lead" | "viewer";

const ROLES = [
  { key: "technician", name: "Technician: records on own visits" },
  { key: "lead", name: "Lead: records on all, keeps the office" },
  { key: "viewer", name: "Viewer: looks, records nothing" },
];

/** What a lead keeps: people, systems with their sites, and the way to instruments. */
export function OfficePage() {
  const people = useQuery(peopleQuery);
  useTitle("Office");
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">Office</span>} />
      <main className="mx-auto w-full max-w-5xl flex-1 space-y-6 overflow-y-auto p-4" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">Office</h1>
        <Loading query={people} what="the people">
          {(list) => (
            <section className="space-y-3" aria-labelledby="people">
              <h2 id="people" className="font-semibold text-lg">
                People
              </h2>
              <ul className="panel divide-y divide-base-300">
                {list.map((each) => (
                  <PersonRow key={String(each.id)} person={each} />
                ))}
              </ul>
              <AddPerson />
            </section>
          )}
        </Loading>
        <Systems />
        <section className="space-y-2" aria-labelledby="instruments">
          <h2 id="instruments" className="font-semibold text-lg">
            Instruments and gateways
          </h2>
          <p className="quiet">Who has which, what is due for calibration, where live probes are reached.</p>
          <Link to="/instruments" className="btn touch">
            Instruments and probes
          </Link>
        </section>
      </main>
    </div>
  );
}

function PersonRow({ person }: { person: Person }) {
  const { system: units } = useUnits();
  const [open, setOpen] = useState(false);
  const change = useChange(["people"], (body: Schemas["PersonChange"]) =>
    ask(
      api.PATCH("/api/v1/people/{person_id}", {
        params: { path: { person_id: String(person.id) } },
        body,
      }),
    ),
  );
  const wrong = refusalsOf(change.error, units);
  const [password, setPassword] = useState("");
  return (
    <li className="space-y-3 p-3">
      <div className="flex flex-wrap items-center gap-3">
        <div className="min-w-0 flex-1">
          <h3 className="font-semibold">
            {person.name}
            {person.me && <span className="font-normal quiet"> (you)</span>}
          </h3>
          <p className="text-sm quiet">
            {person.sign_in_name}, {person.role}
          </p>
        </div>
        {!person.active && <span className="badge badge-outline">can't sign in</span>}
        <button type="button" className="btn touch" aria-expanded={open} onClick={() => setOpen(!open)}>
          Change<span className="sr-only"> {person.name}</span>
        </button>
      </div>
      {open && (
        <div className="grid items-start gap-3 wide:grid-cols-2">
          <SelectField
            label="May do"
            options={ROLES}
            value={person.role}
            onChange={(role) => change.mutate({ role: role as Role })}
            wrong={wrong.role ?? ""}
          />
          <form
            className="flex items-start gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              change.mutate({ password }, { onSuccess: () => setPassword("") });
            }}
          >
            <TextField
              className="flex-1"
              label="New password, at least 10 letters"
              type="password"
              autoComplete="new-password"
              value={password}
              onChange={setPassword}
              wrong={wrong.password ?? ""}
            />
            <button type="submit" className="btn touch mt-7" disabled={!password || change.isPending}>
              Set
            </button>
          </form>
          <div className="wide:col-span-2">
            <button
              type="button"
              className="btn touch"
              disabled={change.isPending}
              onClick={() => change.mutate({ active: !person.active })}
            >
              {person.active ? "End signing in, on every device" : "Let sign in again"}
            </button>
            <p className="mt-1 text-sm quiet">What {person.name} recorded stays, under the same name.</p>
          </div>
        </div>
      )}
      {(wrong.active ?? wrong[""]) && <p role="alert">{wrong.active ?? wrong[""]}</p>}
    </li>
  );
}

const NEW = { name: "", sign_in_name: "", role: "technician", password: "" };

function AddPerson() {
  const { system: units } = useUnits();
  const { control, handleSubmit, reset } = useForm({ defaultValues: NEW });
  const add = useChange(["people"], async (form: typeof NEW) => {
    await ask(api.POST("/api/v1/people", { body: { ...form, role: form.role as Role } }));
    reset();
  });
  const wrong = refusalsOf(add.error, units);
  return (
    <form
      onSubmit={handleSubmit((form) => add.mutate(form))}
      noValidate
      className="panel grid items-start gap-3 p-4 wide:grid-cols-2"
    >
      <h3 className="font-semibold wide:col-span-2">Somebody new</h3>
      <FormText
        control={control}
        name="name"
        label="Name"
        most={100}
        rules={filled("Give the name.")}
        refused={wrong.name}
      />
      <FormText
        control={control}
        name="sign_in_name"
        label="User name"
        most={120}
        rules={filled("Give a user name.")}
        refused={wrong.sign_in_name}
      />
      <FormSelect control={control} name="role" label="May do" options={ROLES} />
      <FormText
        control={control}
        name="password"
        label="First password, at least 10 letters"
        type="password"
        rules={filled("Give a first password.")}
        refused={wrong.password}
      />
      <div className="wide:col-span-2">
        <button type="submit" className="btn btn-primary touch" disabled={add.isPending}>
          Let in
        </button>
        {wrong[""] && <p role="alert">{wrong[""]}</p>}
      </div>
    </form>
  );
}

function Systems() {
  const query = useQuery(dayQuery);
  return (
    <section className="space-y-3" aria-labelledby="systems">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id="systems" className="font-semibold text-lg">
          Systems and their sites
        </h2>
        <Link to="/systems/new" className="btn touch">
          A new system
        </Link>
      </div>
      <Loading query={query} what="the systems">
        {(day) => <SystemList first={day.systems} more={day.more_systems} />}
      </Loading>
    </section>
  );
}

function SystemList({ first, more }: { first: Schemas["SystemLine"][]; more: string | null }) {
  const list = useMore(first, more, (from) => moreSystems("", from));
  return (
    <>
      <ul className="panel divide-y divide-base-300">
        {list.items.map((each) => (
          <li key={String(each.id)} className="flex flex-wrap items-center gap-3 p-3">
            <Link
              to="/systems/$systemId"
              params={{ systemId: String(each.id) }}
              className="min-w-0 flex-1 hover:underline"
            >
              <span className="block font-semibold">{each.name}</span>
              <span className="block text-sm quiet">
                {each.site}. {each.kind_name}
              </span>
            </Link>
            <Link to="/systems/$systemId/right" params={{ systemId: String(each.id) }} className="btn touch">
              Set right<span className="sr-only">: {each.name}</span>
            </Link>
          </li>
        ))}
      </ul>
      <More list={list} />
    </>
  );
}
