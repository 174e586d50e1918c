import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { Download } from "lucide-react";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { companyQuery } from "../api/office";
import { leave } from "../session/leaving";
import { FileButton, TextField } from "../shell/fields";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useUnits } from "../units/UnitSystem";

/** Everything out as one file, a visit in from a file, and the end of the company. */
export function TakeAlong() {
  return (
    <section className="space-y-3" aria-labelledby="along">
      <h2 id="along" className="font-semibold text-lg">
        Taking along and bringing in
      </h2>
      <div className="panel space-y-2 p-4">
        <p>
          Everything the company owns as one file: sites, systems, visits with all entries, photos, signed
          reports, appointments. Another installation can read it. Passwords are not in it.
        </p>
        <a className="btn touch" href="/api/v1/company/archive" download>
          <Download size={18} aria-hidden="true" /> Take everything along
        </a>
      </div>
      <BringIn />
      <TheEnd />
    </section>
  );
}

type Brought = Schemas["BroughtIn"];

/** A visit's JSON, of here or of another installation. */
function BringIn() {
  const { system } = useUnits();
  const [brought, setBrought] = useState<Brought | undefined>();
  const change = useChange(["day", "system", "visit"], async (file: File) => {
    setBrought(undefined);
    const found: Brought = await ask(
      api.POST("/api/v1/records/bring-in", {
        body: file,
        bodySerializer: (body: unknown) => body as File,
        headers: { "Content-Type": "application/json" },
      } as never) as never,
    );
    setBrought(found);
  });
  const wrong = refusalsOf(change.error, system);
  const first = Object.values(wrong)[0];
  return (
    <div className="panel space-y-2 p-4">
      <p>
        A visit from its JSON file, of this installation or another. What is here already is not added twice.
      </p>
      <FileButton
        types={[".json", "application/json"]}
        disabled={change.isPending}
        onChosen={(file) => change.mutate(file)}
      >
        {change.isPending ? "Reading …" : "Bring a visit in"}
      </FileButton>
      {first && <p role="alert">{first}</p>}
      {brought && (
        <div role="status" className="border-success border-l-4 bg-base-200 p-3">
          <p>{brought.words}</p>
          {brought.refused.length > 0 && (
            <p>
              {brought.refused.length} entries could not be kept. The first is number{" "}
              {(brought.refused[0]?.index ?? 0) + 1}.
            </p>
          )}
          <Link
            to="/visits/$visitId"
            params={{ visitId: String(brought.visit) }}
            className="touch inline-flex items-center underline"
          >
            Open it
          </Link>
        </div>
      )}
    </div>
  );
}

/** Typed in full, so that nobody ends it by a slip. */
function TheEnd() {
  const company = useQuery(companyQuery);
  const go = useNavigate();
  const { system } = useUnits();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const change = useChange([], async () => {
    await ask(api.DELETE("/api/v1/company", { body: { name } }));
    await leave("here").catch(() => undefined);
    await go({ to: "/sign-in" });
  });
  const wrong = refusalsOf(change.error, system);
  if (!open)
    return (
      <button type="button" className="btn touch" onClick={() => setOpen(true)}>
        End the company here …
      </button>
    );
  return (
    <form
      className="panel space-y-3 border-error p-4"
      aria-label="End the company here"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate(undefined);
      }}
    >
      <p>
        Nobody of {company.data?.name ?? "the company"} signs in any more, at once. Whoever runs this
        installation then removes all that is here. Take everything along first.
      </p>
      <TextField
        label="The company's name, in full"
        value={name}
        onChange={setName}
        most={120}
        wrong={wrong.name ?? ""}
      />
      {(wrong.archive ?? wrong[""]) && <p role="alert">{wrong.archive ?? wrong[""]}</p>}
      <div className="flex gap-2">
        <button type="submit" className="btn btn-error touch" disabled={change.isPending || !name}>
          End it
        </button>
        <button type="button" className="btn touch" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
    </form>
  );
}
