import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { TopBar } from "../frame/TopBar";
import { FileButton, TextField } from "../shell/fields";
import { refusalsOf } from "../shell/refusals";
import { useTitle } from "../shell/useTitle";
import { useUnits } from "../units/UnitSystem";

type Verified = Schemas["Verified"];

/** A fingerprint or a signed file, held against what was signed here. */
export function VerifyPage() {
  useTitle("Check a fingerprint");
  const { system } = useUnits();
  const [typed, setTyped] = useState("");
  const [found, setFound] = useState<Verified | undefined>();
  const [error, setError] = useState<unknown>();
  const wrong = refusalsOf(error, system);
  const look = async (asked: Promise<Verified>) => {
    setFound(undefined);
    setError(undefined);
    try {
      setFound(await asked);
    } catch (failed) {
      setError(failed);
    }
  };
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">Check a fingerprint</span>} />
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-5 overflow-y-auto p-4" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">Was this report changed since it was signed?</h1>
        <form
          className="panel space-y-3 p-4"
          onSubmit={(event) => {
            event.preventDefault();
            void look(ask(api.POST("/api/v1/records/verify", { body: { fingerprint: typed } })));
          }}
        >
          <TextField
            label="Fingerprint, as the report shows it"
            value={typed}
            onChange={setTyped}
            rows={2}
            most={200}
            wrong={wrong.fingerprint ?? ""}
          />
          <button type="submit" className="btn btn-primary touch text-base">
            Look for it
          </button>
        </form>
        <section className="panel space-y-3 p-4" aria-labelledby="by-file">
          <h2 id="by-file" className="font-semibold text-lg">
            Or the signed file itself
          </h2>
          <p className="quiet">The JSON file beside the report. Its fingerprint is worked out anew.</p>
          <FileButton types={[".json", "application/json"]} onChosen={(file) => void look(sent(file))}>
            Choose the file
          </FileButton>
          {wrong.file && <p role="alert">{wrong.file}</p>}
        </section>
        {wrong[""] && <p role="alert">{wrong[""]}</p>}
        {found && <Answer found={found} />}
      </main>
    </div>
  );
}

const sent = (file: File): Promise<Verified> =>
  ask(
    api.POST("/api/v1/records/verify-file", {
      body: file,
      bodySerializer: (body: unknown) => body as File,
      headers: { "Content-Type": "application/json" },
    } as never) as never,
  );

function Answer({ found }: { found: Verified }) {
  return (
    <section
      role="status"
      className={`border-l-4 bg-base-200 p-4 ${found.holds ? "border-success" : "border-error"}`}
    >
      <p className="font-semibold text-2xl">{found.holds ? "It holds." : "It does not hold."}</p>
      <p>{found.words}</p>
      <p className="mt-2 text-sm">
        <code className="break-all font-mono">{found.fingerprint}</code>
      </p>
      {found.visit && (
        <Link
          to="/visits/$visitId/report"
          params={{ visitId: String(found.visit) }}
          className="inline-flex min-h-12 items-center underline"
        >
          Open this report
        </Link>
      )}
    </section>
  );
}
