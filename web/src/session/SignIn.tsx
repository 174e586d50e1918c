import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas, Unanswered } from "../api/client";
import { demoPeopleQuery, sessionQuery } from "../api/queries";
import { useOnline } from "../device/useOnline";
import { waitingByPerson } from "../queue/store";
import { FormText, filled } from "../shell/fields";
import { Mark } from "../shell/Mark";
import { useTitle } from "../shell/useTitle";
import { isWithin, stay } from "./leaving";

const WHAT_THEY_DO: Record<string, string> = {
  technician: "Technician: visits and readings",
  lead: "Lead: everyone's visits, and the office",
  viewer: "Viewer: looks, does not record",
};

export function SignIn() {
  const session = useQuery(sessionQuery);
  const known = useQueryClient();
  useTitle("Sign in");
  const go = useNavigate();
  const { to } = useSearch({ from: "/sign-in" });
  const enter = async (answer: Schemas["SessionOut"]) => {
    stay();
    known.clear();
    known.setQueryData(sessionQuery.queryKey, answer);
    await go({ href: to && isWithin(to) ? to : "/" });
  };
  return (
    <main className="grid min-h-full place-items-center p-4">
      <div className={`w-full ${session.data?.demo ? "max-w-3xl" : "max-w-sm"}`}>
        <div className="flex items-center gap-3">
          <Mark size={44} />
          <div>
            <h1 className="font-semibold text-3xl tracking-tight">Fentro</h1>
            <p className="quiet">Measure the air. Know what it means.</p>
          </div>
        </div>
        <StillHere />
        <div className={`mt-8 grid gap-8 ${session.data?.demo ? "wide:grid-cols-2" : ""}`}>
          {session.data?.demo && <DemoPeople enter={enter} />}
          <PasswordForm enter={enter} />
        </div>
      </div>
    </main>
  );
}

/** What waits on this device, and for whom. */
function StillHere() {
  const { data } = useQuery({
    queryKey: ["waiting on this device"],
    queryFn: waitingByPerson,
    gcTime: 0,
    meta: { transient: true },
  });
  const online = useOnline();
  return (
    <>
      {!online && (
        <p role="status" className="panel mt-4 p-3">
          No signal. Signing in needs the server; whoever was signed in can go on reading on a page left open.
        </p>
      )}
      {data?.map((each) => (
        <p key={each.person} role="status" className="panel mt-4 p-3">
          {each.count === 1 ? "One entry" : `${each.count} entries`} of {each.name || "another person"}{" "}
          {each.count === 1 ? "waits" : "wait"} on this device, and {each.count === 1 ? "goes" : "go"} when{" "}
          {each.name || "that person"} signs in here.
        </p>
      ))}
    </>
  );
}

type Enter = (answer: Schemas["SessionOut"]) => Promise<void>;

function DemoPeople({ enter }: { enter: Enter }) {
  const { data } = useQuery(demoPeopleQuery);
  const be = useMutation({
    mutationFn: (person: string) => ask(api.POST("/api/v1/demo/session", { body: { person } })),
    onSuccess: enter,
  });
  return (
    <section>
      <h2 className="font-semibold">Demo: be one of these made-up people</h2>
      <ul className="mt-3 space-y-2">
        {data?.map((person) => (
          <li key={String(person.id)}>
            <button
              type="button"
              className="panel touch flex w-full items-center gap-3 bg-base-200 p-3 text-left hover:border-primary"
              disabled={be.isPending}
              onClick={() => be.mutate(String(person.id))}
            >
              <span className="grid size-11 shrink-0 place-items-center rounded bg-primary font-semibold text-primary-content">
                {initials(person.name)}
              </span>
              <span>
                <span className="block font-semibold">{person.name}</span>
                <span className="quiet text-sm">{WHAT_THEY_DO[person.role]}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      <Trouble error={be.error} />
    </section>
  );
}

const initials = (name: string): string =>
  name
    .split(" ")
    .map((word) => word[0])
    .join("");

function PasswordForm({ enter }: { enter: Enter }) {
  const { control, handleSubmit } = useForm({ defaultValues: { sign_in_name: "", password: "" } });
  const signIn = useMutation({
    mutationFn: (body: { sign_in_name: string; password: string }) =>
      ask(api.POST("/api/v1/session", { body })),
    onSuccess: enter,
  });
  return (
    <form onSubmit={handleSubmit((typed) => signIn.mutate(typed))} className="space-y-4" noValidate>
      <h2 className="font-semibold">Sign in</h2>
      <FormText
        control={control}
        name="sign_in_name"
        label="User name"
        autoComplete="username"
        rules={filled("Fill in your name.")}
      />
      <FormText
        control={control}
        name="password"
        label="Password"
        type="password"
        autoComplete="current-password"
        rules={filled("Fill in your password.")}
      />
      <Trouble error={signIn.error} />
      <button type="submit" className="btn btn-primary touch w-full text-base" disabled={signIn.isPending}>
        Sign in
      </button>
    </form>
  );
}

function Trouble({ error }: { error: Error | null }) {
  if (!error) return null;
  const away = error instanceof Unanswered && error.status === 0;
  return (
    <p role="alert" className="mt-2 rounded border border-error p-3">
      {away ? "The server can't be reached. Check the signal and try again." : error.message}
    </p>
  );
}
