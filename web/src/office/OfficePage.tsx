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
import { Papers } from "./Papers";
import { TakeAlong } from "./TakeAlong";

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
        <Papers />
        <TakeAlong />
        <section className="space-y-2" aria-labelledby="course">
          <h2 id="course" className="font-semibold text-lg">
            Who did what
          </h2>
          <p className="quiet">Entries, signatures, sign-ins and what was taken along, across all visits.</p>
          <Link to="/office/course" className="btn touch">
            Who did what, when
          </Link>
        </section>
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
  const [link, setLink] = useState<Schemas["Invitation"] | undefined>();
  const again = useChange([], async () => {
    const path = { person_id: String(person.id) };
    setLink(await ask(api.POST("/api/v1/people/{person_id}/invitation", { params: { path } })));
  });
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
            {person.active && (
              <button
                type="button"
                className="btn touch ml-2"
                disabled={again.isPending}
                onClick={() => again.mutate(undefined)}
              >
                Link to choose a password
              </button>
            )}
            {link && <Invitation link={link} />}
            <p className="mt-1 text-sm quiet">What {person.name} recorded stays, under the same name.</p>
          </div>
        </div>
      )}
      {(wrong.active ?? wrong[""]) && <p role="alert">{wrong.active ?? wrong[""]}</p>}
    </li>
  );
}

/** The link is the only key: it is shown once, to be handed on. */
function Invitation({ link }: { link: Schemas["Invitation"] }) {
  return (
    <div role="status" className="mt-2 border-success border-l-4 bg-base-200 p-3">
      <p>Give this link to {link.name}. It is good for two weeks, and for choosing one password.</p>
      <code className="mt-1 block select-all break-all font-mono">{`${location.origin}${link.path}`}</code>
    </div>
  );
}

const NEW = { name: "", sign_in_name: "", role: "technician", password: "" };

function AddPerson() {
  const { system: units } = useUnits();
  const { control, handleSubmit, reset, trigger, getValues } = useForm({ defaultValues: NEW });
  const [link, setLink] = useState<Schemas["Invitation"] | undefined>();
  const invite = useChange(["people"], async () => {
    if (!(await trigger(["name", "sign_in_name"]))) return;
    const { name, sign_in_name, role } = getValues();
    setLink(await ask(api.POST("/api/v1/invitations", { body: { name, sign_in_name, role: role as Role } })));
    reset();
  });
  const add = useChange(["people"], async (form: typeof NEW) => {
    await ask(api.POST("/api/v1/people", { body: { ...form, role: form.role as Role } }));
    reset();
  });
  const wrong = { ...refusalsOf(invite.error, units), ...refusalsOf(add.error, units) };
  return (
    <form
      onSubmit={handleSubmit((form) => {
        invite.reset();
        add.mutate(form);
      })}
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
        <div className="flex flex-wrap gap-2">
          <button type="submit" className="btn btn-primary touch" disabled={add.isPending}>
            Let in
          </button>
          <button
            type="button"
            className="btn touch"
            disabled={invite.isPending}
            onClick={() => {
              add.reset();
              invite.mutate(undefined);
            }}
          >
            Invite by a link instead
          </button>
        </div>
        {wrong[""] && <p role="alert">{wrong[""]}</p>}
        {link && <Invitation link={link} />}
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
