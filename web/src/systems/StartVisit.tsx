import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { api, ask, type Schemas, Unanswered } from "../api/client";
import { dayQuery, visitKey } from "../api/queries";
import { beginHere, NOT_HERE } from "../logbook/begin";
import { queue } from "../queue/useQueue";

/** The system itself was made here and waits. */
const unsent = (system: string): boolean => queue.snapshot().making.some((row) => row.id === system);

/** One tap starts a visit; a double tap starts the same one. Where one of mine is open, it offers to go on with it. */
export function StartVisit({ system, open }: { system: string; open: Schemas["VisitLine"][] }) {
  const known = useQueryClient();
  const go = useNavigate();
  const [id] = useState(() => crypto.randomUUID());
  const asked = useRef(false);
  const start = useMutation({
    mutationFn: async () => {
      try {
        const visit = await ask(api.POST("/api/v1/visits", { body: { id, system, purpose: "" } }));
        known.setQueryData(visitKey(String(visit.id)), visit);
        void known.invalidateQueries({ queryKey: dayQuery.queryKey });
      } catch (error) {
        // Without signal, or with a system that the server does not have yet, the visit begins here.
        if (!(error instanceof Unanswered && (error.status === 0 || error.status >= 500 || unsent(system))))
          throw error;
        await beginHere(system, id);
      }
    },
    onSuccess: () => go({ to: "/visits/$visitId", params: { visitId: id }, search: { step: "arrive" } }),
  });
  const tap = () => {
    if (asked.current) return;
    asked.current = true;
    start.mutate(undefined, {
      onError: () => {
        asked.current = false;
      },
    });
  };
  const mine = open.find((visit) => visit.mine && String(visit.system.id) === system);
  const away = start.error instanceof Unanswered && start.error.status === 0;
  return (
    <div className="space-y-2">
      {mine && (
        <Link
          to="/visits/$visitId"
          params={{ visitId: String(mine.id) }}
          search={{ step: mine.next_step }}
          className="btn btn-primary touch w-full text-base"
        >
          Go on with the open visit
        </Link>
      )}
      <button
        type="button"
        className={`btn touch w-full text-base ${mine ? "" : "btn-primary"}`}
        disabled={start.isPending}
        onClick={tap}
      >
        {mine ? "Start another visit" : "Start visit here"}
      </button>
      {start.error && (
        <p role="alert" className="rounded border border-error p-3">
          {away ? NOT_HERE : start.error.message}
        </p>
      )}
    </div>
  );
}
