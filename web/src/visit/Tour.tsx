import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { GraduationCap } from "lucide-react";
import { type ReactNode, useState } from "react";
import { api, ask } from "../api/client";
import { sessionQuery } from "../api/queries";
import { useVisit } from "../logbook/context";
import { standingOf } from "../logbook/logbook";
import { useChange } from "../shell/useChange";
import { useUnits } from "../units/UnitSystem";
import { inWords } from "../units/units";

const SUPPLY_C = 12.2;

/** On a practice system: what to do next, one step at a time, told from what was done. */
export function Tour({ step }: { step: string }) {
  const { page, entries } = useVisit();
  const { system } = useUnits();
  if (!page.system.practice) return null;
  const supply = standingOf(entries, "reading").filter((entry) => entry.body.station === "supply");
  const has = (quantity: string) => supply.some((entry) => entry.body.quantity === quantity);
  const closed = page.work_up.closed;
  const looked = ["work_out", "set_up", "prove", "restore", "hand_over"].includes(step);
  const steps: { done: boolean; words: ReactNode }[] = [
    {
      done: has("dry_bulb") && has("relative_humidity"),
      words: (
        <>
          Return and outdoor air are read already. Tap <b className="font-semibold">Supply</b> in the air
          path, type {inWords(SUPPLY_C, "temperature", system)}, take it, then 92 for the humidity.
        </>
      ),
    },
    {
      done: looked || closed,
      words: (
        <>
          Open <b className="font-semibold">Work out</b>. The split is judged with its doubt; tap a number,
          and its working opens.
        </>
      ),
    },
    {
      done: closed,
      words: (
        <>
          Open <b className="font-semibold">Hand over</b>, write a last word, and close the visit.
        </>
      ),
    },
    {
      done: false,
      words: (
        <>
          Read and sign the report:{" "}
          <Link
            to="/visits/$visitId/report"
            params={{ visitId: String(page.id) }}
            className="touch inline-flex items-center underline"
          >
            open it
          </Link>
          . That is a whole visit.
        </>
      ),
    },
  ];
  const at = steps.findIndex((each) => !each.done);
  return (
    <section className="mb-3 border-info border-l-4 bg-base-200 p-3" aria-label="Practice">
      <p className="flex items-start gap-2">
        <GraduationCap size={22} className="mt-0.5 shrink-0" aria-hidden="true" />
        <span>
          <span className="quiet">
            Practice, {at + 1} of {steps.length}.
          </span>{" "}
          {steps[at]?.words}
        </span>
      </p>
      <Delete />
    </section>
  );
}

/** A lead ends the practice for everybody: nothing of it stays. */
function Delete() {
  const session = useQuery(sessionQuery);
  const go = useNavigate();
  const [sure, setSure] = useState(false);
  const change = useChange(["day"], async () => {
    await ask(api.DELETE("/api/v1/practice"));
    await go({ to: "/" });
  });
  if (session.data?.person?.role !== "lead") return null;
  if (!sure)
    return (
      <button type="button" className="btn btn-sm touch mt-1" onClick={() => setSure(true)}>
        Delete the practice
      </button>
    );
  return (
    <div className="mt-1">
      <p>
        Everybody's practice visits go, with every reading and signature there. This can't be taken back. Real
        visits stay.
      </p>
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-warning touch"
          disabled={change.isPending}
          onClick={() => change.mutate(undefined)}
        >
          Delete it for everybody
        </button>
        <button type="button" className="btn touch" onClick={() => setSure(false)}>
          Keep it
        </button>
      </div>
      {change.error && <p role="alert">{change.error.message}</p>}
    </div>
  );
}
