import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask } from "../api/client";
import { invitationQuery } from "../api/office";
import { sessionQuery } from "../api/queries";
import { TextField } from "../shell/fields";
import { Mark } from "../shell/Mark";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useTitle } from "../shell/useTitle";
import { stay } from "./leaving";

/** Whoever was invited chooses a password here, and is signed in. */
export function InvitationPage() {
  const { person, token } = useParams({ from: "/invitation/$person/$token" });
  const known = useQueryClient();
  const go = useNavigate();
  useTitle("Invitation");
  const query = useQuery(invitationQuery(person, token));
  const [password, setPassword] = useState("");
  const change = useChange([], async () => {
    const answer = await ask(
      api.POST("/api/v1/invitations/{person}/{token}", {
        params: { path: { person, token } },
        body: { password },
      }),
    );
    stay();
    known.clear();
    known.setQueryData(sessionQuery.queryKey, answer);
    await go({ to: "/" });
  });
  const wrong = refusalsOf(change.error, "SI");
  return (
    <main className="grid min-h-full place-items-center p-4">
      <div className="w-full max-w-md space-y-5">
        <div className="flex items-center gap-3">
          <Mark size={44} />
          <h1 className="font-semibold text-2xl tracking-tight">
            {query.data ? `Welcome, ${query.data.name}` : "Fentro"}
          </h1>
        </div>
        {query.data && (
          <form
            className="space-y-4"
            onSubmit={(event) => {
              event.preventDefault();
              change.mutate(undefined);
            }}
          >
            <p>
              {query.data.company} lets you in. Your user name is{" "}
              <b className="font-semibold">{query.data.sign_in_name}</b>: keep it in mind.
            </p>
            <TextField
              label="Choose a password, at least 10 letters"
              type="password"
              autoComplete="new-password"
              value={password}
              onChange={setPassword}
              wrong={wrong.password ?? ""}
            />
            {wrong[""] && <p role="alert">{wrong[""]}</p>}
            <button
              type="submit"
              className="btn btn-primary touch w-full text-base"
              disabled={change.isPending || !password}
            >
              Come in
            </button>
          </form>
        )}
        {query.error && (
          <div className="panel space-y-3 p-4">
            <p role="alert">{query.error.message}</p>
            <Link to="/sign-in" className="btn touch">
              Sign in
            </Link>
          </div>
        )}
      </div>
    </main>
  );
}
