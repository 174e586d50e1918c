import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { sistersQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { type Controller, Trouble, useAsked } from "../../logbook/controller";
import { FileButton, SelectField, TextField } from "../../shell/fields";
import { clockTime } from "../../shell/when";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";
import type { Page } from "./useEconomizer";

type Revision = Page["revisions"][number];
type Difference = Revision["changes"][number];

const SOURCES: Record<string, string> = {
  controller: "read from the controller",
  loaded: "loaded",
  file: "from a file",
  unconfirmed: "sent, not confirmed",
};

/** The controller's configuration: saved as found, changed with a reason, compared, restored. */
export function Revisions({ page, controller }: { page: Page; controller: Controller | undefined }) {
  const { page: visit, mayWrite, openSection } = useVisit();
  const id = String(visit.id);
  const save = useAsked((reason: string) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/save", {
        params: { path: { visit_id: id } },
        body: { reason },
      }),
    ),
  );
  const connected = controller?.connected ?? false;
  const revisions = [...page.revisions].reverse();
  return (
    <section aria-labelledby="revisions" className="space-y-2">
      <h2 id="revisions" className="font-semibold text-lg">
        Configuration
      </h2>
      {connected && controller?.mode_key === "start_up" && (
        <p role="status" className="panel border-info p-3">
          The controller is starting up with the configuration just loaded. Wait until it has left its
          start-up, then repeat the tests.
        </p>
      )}
      {revisions.length === 0 && (
        <p className="panel p-3">
          Before anything is changed: save what runs now. Then you can always go back.
        </p>
      )}
      {(controller?.differs ?? []).length > 0 && (
        <div className="panel border-warning p-3">
          <p className="font-semibold">
            The controller runs something else than revision {revisions[0]?.number}:
          </p>
          <Changes changes={controller?.differs ?? []} />
        </div>
      )}
      {mayWrite && connected && (
        <button
          type="button"
          className={`btn touch ${revisions.length ? "" : "btn-primary"}`}
          disabled={save.isPending}
          onClick={() => save.mutate(revisions.length ? "Read again" : "As found")}
        >
          {revisions.length ? "Read it again" : "Save as found"}
        </button>
      )}
      <Trouble error={save.error} />
      {revisions[0]?.source === "loaded" && controller?.mode_key !== "start_up" && (
        <p className="panel flex flex-wrap items-center gap-3 p-3">
          <span className="flex-1">
            Revision {revisions[0].number} runs, and has left its start-up. Prove that it mended what was
            wrong.
          </span>
          <button
            type="button"
            className="btn btn-primary touch"
            onClick={() => openSection("tests", "prove")}
          >
            Repeat the tests
          </button>
        </p>
      )}
      <ol className="space-y-2">
        {revisions.map((revision, index) => (
          <li key={revision.entry} className="panel p-3">
            <p className="flex flex-wrap items-baseline gap-x-3">
              <span className="font-semibold">Revision {revision.number}</span>
              <span className="text-sm quiet">
                {SOURCES[revision.source]}, {clockTime(revision.at)}, {revision.by}
              </span>
              <a
                className="link ml-auto text-sm"
                download={`configuration-${revision.number}.json`}
                href={`data:application/json,${encodeURIComponent(JSON.stringify(revision.document, null, 1))}`}
              >
                As a file
              </a>
            </p>
            <p>{revision.reason}</p>
            {revision.number > 0 && <Changes changes={revision.changes} />}
            {index > 0 && mayWrite && connected && (
              <Load
                document={revision.document}
                label={`Restore revision ${revision.number}`}
                reason={`Restored revision ${revision.number}`}
              />
            )}
          </li>
        ))}
      </ol>
      {mayWrite && connected && revisions.length > 0 && <ChangeAndLoad page={page} />}
      <Sisters />
    </section>
  );
}

export function Changes({ changes }: { changes: Difference[] }) {
  const { system } = useUnits();
  if (changes.length === 0) return <p className="text-sm quiet">Nothing changed.</p>;
  const said = (text: string | undefined, figure: Difference["was_number"]) =>
    figure ? inWords(figure.value, figure.kind, system) : text || "nothing";
  return (
    <ul className="text-sm">
      {changes.map((change) => (
        <li key={change.key}>
          {change.name}: was <span className="font-semibold">{said(change.was, change.was_number)}</span>, now{" "}
          <span className="font-semibold">{said(change.now, change.now_number)}</span>
        </li>
      ))}
    </ul>
  );
}

function useLoad() {
  const { page } = useVisit();
  return useAsked((given: { document: Record<string, unknown>; reason: string }) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/load", {
        params: { path: { visit_id: String(page.id) } },
        body: given,
      }),
    ),
  );
}

function Load({ document, label, reason }: { document: object; label: string; reason: string }) {
  const load = useLoad();
  return (
    <>
      <button
        type="button"
        className="btn touch mt-2"
        disabled={load.isPending}
        onClick={() => load.mutate({ document: { ...document }, reason })}
      >
        {label}
      </button>
      <Trouble error={load.error} />
    </>
  );
}

const PLACES = Object.entries(tables.economizer.places).map(([key, name]) => ({ key, name }));

/** Change what the loops read, take the plan over, or bring in a file; load it with a reason. */
function ChangeAndLoad({ page }: { page: Page }) {
  const last = page.revisions.at(-1)?.document;
  const load = useLoad();
  const [loops, setLoops] = useState<Record<string, string>>({});
  const [terminals, setTerminals] = useState<Record<string, string>>({});
  const [reason, setReason] = useState("");
  const [tried, setTried] = useState(false);
  const [problem, setProblem] = useState("");
  if (!last) return null;
  const changed = {
    ...last,
    loops: { ...last.loops, ...loops },
    terminals: { ...last.terminals, ...terminals },
  };
  const send = (document: object) => {
    setTried(true);
    if (!reason.trim()) return;
    load.mutate(
      { document: { ...document }, reason: reason.trim() },
      {
        onSuccess: () => {
          setLoops({});
          setTerminals({});
          setReason("");
          setTried(false);
        },
      },
    );
  };
  const planned = { ...page.planned, model: last.model, loops: changed.loops, terminals: changed.terminals };
  const bring = async (file: File) => {
    try {
      setProblem("");
      send(JSON.parse(await file.text()) as object);
    } catch {
      setProblem("This file can't be read: it is not JSON.");
    }
  };
  const choose = (label: string, value: string, set: (place: string) => void) => (
    <SelectField key={label} label={label} value={value} onChange={set} options={PLACES} />
  );
  return (
    <section className="panel space-y-3 p-4" aria-labelledby="change-configuration">
      <h3 id="change-configuration" className="font-semibold">
        Change it, as revision {page.revisions.length}
      </h3>
      <div className="grid gap-3 sm:grid-cols-2">
        {tables.economizer.loops.map(({ key, name }) =>
          choose(`${name} reads`, changed.loops?.[key] ?? "", (place) =>
            setLoops({ ...loops, [key]: place }),
          ),
        )}
        {Object.entries(changed.terminals ?? {}).map(([key, place]) =>
          choose(`Input ${key} is called`, place, (next) => setTerminals({ ...terminals, [key]: next })),
        )}
      </div>
      <TextField
        label="Why"
        value={reason}
        onChange={setReason}
        wrong={tried && !reason.trim() ? "Say why: the next one will want to know." : ""}
      />
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-primary touch"
          disabled={load.isPending}
          onClick={() => send(changed)}
        >
          Load this change
        </button>
        <button type="button" className="btn touch" disabled={load.isPending} onClick={() => send(planned)}>
          Load the planned settings
        </button>
        <FileButton types={["application/json", ".json"]} disabled={load.isPending} onChosen={bring}>
          Load a file
        </FileButton>
      </div>
      {problem && <p role="alert">{problem}</p>}
      <Trouble error={load.error} />
    </section>
  );
}

/** Units of the same model: what was wrong here may be wrong there. */
function Sisters() {
  const { page } = useVisit();
  const query = useQuery(sistersQuery(String(page.id)));
  if (!query.data?.length) return null;
  return (
    <div className="panel p-3">
      <p className="font-semibold">Sister units: carry the check over</p>
      <ul>
        {query.data.map((sister) => (
          <li key={String(sister.id)}>
            {sister.visit ? (
              <Link
                to="/visits/$visitId"
                params={{ visitId: String(sister.visit) }}
                search={{ step: "prove", part: "loops" }}
                className="touch inline-flex items-center underline"
              >
                {sister.name}, {sister.site}: open its checks
              </Link>
            ) : (
              <Link
                to="/systems/$systemId"
                params={{ systemId: String(sister.id) }}
                className="touch inline-flex items-center underline"
              >
                {sister.name}, {sister.site}: start a visit
              </Link>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
