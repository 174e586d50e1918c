import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { sessionQuery } from "../api/queries";
import { TextField } from "../shell/fields";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useUnits } from "../units/UnitSystem";
import { SignaturePad } from "./SignaturePad";
import { isDrawn, type Strokes } from "./strokes";

type Head = Schemas["ReportHead"];
type SignedAs = "technician" | "lead";

const TITLES: Record<SignedAs, string> = { technician: "Sign as technician", lead: "Countersign as lead" };

/** One name under the report as it stands on the page; what was added since is said, and nothing is signed unseen. */
export function SignForm({ head, as }: { head: Head; as: SignedAs }) {
  const { data } = useQuery(sessionQuery);
  const { system } = useUnits();
  const queries = useQueryClient();
  const [name, setName] = useState<string | undefined>();
  const [strokes, setStrokes] = useState<Strokes>([]);
  const typed = name ?? data?.person?.name ?? "";
  const visit = String(head.visit);
  const change = useChange(["report"], () =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/signatures", {
        params: { path: { visit_id: visit } },
        body: { signed_as: as, name: typed, seen: head.number, strokes: isDrawn(strokes) ? strokes : [] },
      }),
    ),
  );
  const wrong = refusalsOf(change.error, system);
  return (
    <form
      className="panel space-y-3 p-4"
      aria-label={TITLES[as]}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate(undefined);
      }}
    >
      <h2 className="font-semibold text-lg">{TITLES[as]}</h2>
      <TextField label="Your name" value={typed} onChange={setName} wrong={wrong.name ?? ""} most={120} />
      <SignaturePad strokes={strokes} onChange={setStrokes} />
      {(wrong[""] ?? wrong.seen ?? wrong.strokes) && (
        <p role="alert">{wrong[""] ?? wrong.seen ?? wrong.strokes}</p>
      )}
      {wrong.seen && (
        <button
          type="button"
          className="btn touch"
          onClick={() => {
            change.reset();
            void queries.invalidateQueries({ queryKey: ["report"] });
          }}
        >
          Read the report as it is now
        </button>
      )}
      <button type="submit" className="btn btn-primary touch text-base" disabled={change.isPending}>
        {change.isPending ? "Signing …" : "Sign this report"}
      </button>
      <p className="text-sm quiet">
        {as === "technician"
          ? "It is frozen then. What is added later makes a new edition; this one never changes."
          : "Your name stands under the same edition."}
      </p>
    </form>
  );
}
