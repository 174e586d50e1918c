import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { api, ask, type Schemas, Unanswered } from "../api/client";
import { dayQuery, visitKey } from "../api/queries";

/** One tap starts a visit; a double tap starts the same one. Where one of mine is open, it offers to go on with it. */
export function StartVisit({ system, open }: { system: string; open: Schemas["VisitLine"][] }) {
  const known = useQueryClient();
  const go = useNavigate();
  const [id] = useState(() => crypto.randomUUID());
  const asked = useRef(false);
  const start = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/visits", { body: { id, system, purpose: "" } })),
    onSuccess: async (visit) => {
      known.setQueryData(visitKey(String(visit.id)), visit);
      void known.invalidateQueries({ queryKey: dayQuery.queryKey });
      await go({ to: "/visits/$visitId", params: { visitId: String(visit.id) }, search: { step: "arrive" } });
    },
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
          {away
            ? "The server can't be reached: a visit is started with signal, read without it."
            : start.error.message}
        </p>
      )}
    </div>
  );
}
