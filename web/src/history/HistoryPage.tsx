import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { historyQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { Figure } from "../shell/Figure";
import { Tick } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { useTitle } from "../shell/useTitle";
import { type MarkName, VerdictMark } from "../shell/VerdictMark";
import { when } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { say, unitOf } from "../units/units";
import { IndexChart, SHAPES } from "./IndexChart";

type History = Schemas["History"];
type Index = Schemas["HistoryIndex"];

/** A system over its visits: each followed number with half-widths, whether it drifts, sister systems beside it. */
export function HistoryPage() {
  const { systemId } = useParams({ from: "/inside/systems/$systemId/history" });
  const query = useQuery(historyQuery(systemId));
  useTitle("History", query.data?.system.name, query.data?.system.site);
  return (
    <div className="flex h-full flex-col">
      <TopBar place={query.data && <span>{query.data.system.site}</span>} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto p-4">
        <Loading query={query} what="this system's history">
          {(history) => <Shown history={history} />}
        </Loading>
      </main>
    </div>
  );
}

function Shown({ history }: { history: History }) {
  const [sisters, setSisters] = useState(true);
  const drifting = history.indices.filter((index) => index.mark);
  return (
    <>
      <h1 className="font-semibold text-3xl">{history.system.name}, over its visits</h1>
      <p className="quiet">
        <Link
          to="/systems/$systemId"
          params={{ systemId: String(history.system.id) }}
          className="inline-flex min-h-12 items-center underline"
        >
          Back to the system
        </Link>
      </p>
      {history.indices.length === 0 ? (
        <p className="panel mt-4 p-5">
          No visit has numbers to follow yet. Return, supply and outdoor air and a measured airflow give the
          first.
        </p>
      ) : (
        <>
          <Headline drifting={drifting} visits={history.system.visits} />
          {history.sisters.length > 0 && (
            <div className="mt-2">
              <Tick value={sisters} onChange={setSisters}>
                With sister systems: {history.sisters.map((each) => `${each.name}, ${each.site}`).join("; ")}
              </Tick>
            </div>
          )}
          <Legend history={history} sisters={sisters} />
          <ul className="mt-3 grid gap-4 wide:grid-cols-2">
            {history.indices.map((index) => (
              <li key={index.key}>
                <IndexPanel index={index} history={history} sisters={sisters} />
              </li>
            ))}
          </ul>
          <Table history={history} />
        </>
      )}
    </>
  );
}

function Headline({ drifting, visits }: { drifting: Index[]; visits: History["system"]["visits"] }) {
  const count = new Set(visits.map((visit) => String(visit.visit))).size;
  return (
    <p className="mt-3 font-semibold text-2xl">
      {drifting.length > 0
        ? `Drifting: ${drifting.map((index) => index.name.toLowerCase()).join(", ")}.`
        : count < 3
          ? `${count} ${count === 1 ? "visit" : "visits"} so far: three or more tell a drift.`
          : `No drift in ${count} visits.`}
    </p>
  );
}

function Legend({ history, sisters }: { history: History; sisters: boolean }) {
  const names = [history.system, ...(sisters ? history.sisters : [])];
  return (
    <ul className="mt-1 flex flex-wrap gap-x-5 gap-y-1 text-sm">
      {names.map((system, index) => {
        const Shape = SHAPES[index % SHAPES.length];
        return (
          <li key={String(system.id)} className="flex items-center gap-1.5">
            <svg width={18} height={18} viewBox="-9 -9 18 18" aria-hidden="true">
              {Shape && <Shape x={0} y={0} filled />}
            </svg>
            {system.name}
            {index > 0 && `, ${system.site}`}
          </li>
        );
      })}
      <li className="quiet">Filled: as left, or the only measurement. Open: as found before a change.</li>
    </ul>
  );
}

function IndexPanel({ index, history, sisters }: { index: Index; history: History; sisters: boolean }) {
  const { system } = useUnits();
  return (
    <section className="panel p-3" aria-label={index.name}>
      <h2 className="flex items-center gap-2 font-semibold">
        {index.mark && <VerdictMark mark={index.mark as MarkName} size={18} />}
        {index.name}
        {unitOf(index.kind, system).label && (
          <span className="font-normal quiet">{unitOf(index.kind, system).label}</span>
        )}
      </h2>
      <IndexChart index={index} own={history.system} sisters={sisters ? history.sisters : []} />
      <p className="text-sm">{say(index.sentence, system)}</p>
    </section>
  );
}

/** The same as numbers, for a screen reader and for a hand that checks. */
function Table({ history }: { history: History }) {
  const rows = [...history.system.visits].reverse();
  return (
    <section className="mt-6 overflow-x-auto" aria-labelledby="history-table">
      <h2 id="history-table" className="font-semibold text-lg">
        Visit by visit
      </h2>
      <table className="panel mt-2 w-full text-left">
        <thead>
          <tr className="border-base-300 border-b text-sm quiet">
            <th className="px-3 py-2 font-normal">Visit</th>
            {history.indices.map((index) => (
              <th key={index.key} className="px-3 py-2 font-normal">
                {index.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={String(row.visit) + row.phase} className="border-base-300 border-b last:border-0">
              <th className="whitespace-nowrap px-3 py-1 font-normal">
                <Link
                  to="/visits/$visitId"
                  params={{ visitId: String(row.visit) }}
                  search={{ step: "work_out", phase: row.phase as "as_found" | "as_left" }}
                  className="inline-flex min-h-12 items-center underline"
                >
                  {when(String(row.at))}, {row.phase === "as_left" ? "as left" : "as found"}
                </Link>
              </th>
              {history.indices.map((index) => {
                const value = row.values[index.key];
                return (
                  <td key={index.key} className="whitespace-nowrap px-3 py-1">
                    {value ? <Figure quantity={value} size="small" /> : <span className="quiet">–</span>}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
