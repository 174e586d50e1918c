import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { tokensQuery } from "../api/office";
import { TopBar } from "../frame/TopBar";
import { Choices, TextField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useTitle } from "../shell/useTitle";
import { dayOf } from "../shell/when";
import { useUnits } from "../units/UnitSystem";

const SCOPES = { read: "Fetch only", record: "Fetch, and add to visits" };

/** Programs that work in this person's name: a logger in the van, a script of the office. */
export function TokensPage() {
  useTitle("Programs");
  const query = useQuery(tokensQuery);
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">Programs</span>} />
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-5 overflow-y-auto p-4" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">Programs that work in your name</h1>
        <p className="quiet">
          A program shows its token to fetch visits, or to add readings as you. It can't sign, let people in,
          or change the company. docs/machine.md has an example.
        </p>
        <Make />
        <Loading query={query} what="your tokens">
          {(rows) => (
            <ul className="panel divide-y divide-base-300">
              {rows.length === 0 && <li className="p-4">No program works in your name.</li>}
              {rows.map((row) => (
                <Row key={String(row.id)} row={row} />
              ))}
            </ul>
          )}
        </Loading>
      </main>
    </div>
  );
}

const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

function Make() {
  const { system } = useUnits();
  const [name, setName] = useState("");
  const [scope, setScope] = useState<keyof typeof SCOPES>("read");
  const [until, setUntil] = useState(() => inDays(90));
  const [shown, setShown] = useState("");
  const change = useChange(["tokens"], async () => {
    const made = await ask(api.POST("/api/v1/tokens", { body: { name, scope, ends_on: until } }));
    setShown(made.token);
    setName("");
  });
  const wrong = refusalsOf(change.error, system);
  return (
    <form
      className="panel space-y-3 p-4"
      aria-label="A new token"
      onSubmit={(event) => {
        event.preventDefault();
        setShown("");
        change.mutate(undefined);
      }}
    >
      <TextField label="Which program" value={name} onChange={setName} most={80} wrong={wrong.name ?? ""} />
      <Choices label="It may" options={SCOPES} value={scope} onChange={setScope} />
      <TextField label="Until" type="date" value={until} onChange={setUntil} wrong={wrong.ends_on ?? ""} />
      <button type="submit" className="btn btn-primary touch" disabled={change.isPending}>
        Make a token
      </button>
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
      {shown && (
        <div role="status" className="border-success border-l-4 bg-base-200 p-3">
          <p className="font-semibold">Copy it now: it is not shown again.</p>
          <code className="mt-1 block select-all break-all font-mono">{shown}</code>
        </div>
      )}
    </form>
  );
}

function Row({ row }: { row: Schemas["TokenLine"] }) {
  const end = useChange(["tokens"], () =>
    ask(api.DELETE("/api/v1/tokens/{token_id}", { params: { path: { token_id: String(row.id) } } })),
  );
  return (
    <li className="flex flex-wrap items-center gap-3 p-3">
      <span className="min-w-0 flex-1">
        <span className="block font-semibold">{row.name}</span>
        <span className="block text-sm quiet">
          {SCOPES[row.scope as keyof typeof SCOPES]}, until {dayOf(row.ends_on)}.{" "}
          {row.used_on ? `Last used ${dayOf(row.used_on)}.` : "Never used."}
        </span>
      </span>
      {row.over ? (
        <span className="badge badge-outline">over</span>
      ) : (
        <button
          type="button"
          className="btn touch"
          disabled={end.isPending}
          onClick={() => end.mutate(undefined)}
        >
          End<span className="sr-only"> {row.name}</span>
        </button>
      )}
    </li>
  );
}
