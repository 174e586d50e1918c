import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { ChartLine, TriangleAlert } from "lucide-react";
import type { Schemas } from "../api/client";
import { sessionQuery, systemQuery, visitsOf } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { Appoint } from "../planning/Appoint";
import { Figure } from "../shell/Figure";
import { Loading } from "../shell/Loading";
import { More } from "../shell/More";
import { useMore } from "../shell/useMore";
import { useTitle } from "../shell/useTitle";
import { MARK_WORDS, type MarkName, VerdictMark } from "../shell/VerdictMark";
import { when } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { inWords } from "../units/units";
import { StartVisit } from "./StartVisit";
import { Trouble } from "./Trouble";

/** A system: its plate in words, what was found on earlier visits. */
export function SystemPage() {
  const { systemId } = useParams({ from: "/inside/systems/$systemId" });
  const query = useQuery(systemQuery(systemId));
  const session = useQuery(sessionQuery);
  useTitle(query.data?.system.name, query.data?.system.site);
  return (
    <div className="flex h-full flex-col">
      <TopBar place={query.data && <Place page={query.data} />} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto p-4">
        <Loading query={query} what="this system">
          {(page) => (
            <>
              <h1 className="font-semibold text-3xl">{page.system.name}</h1>
              <p className="quiet">
                {page.system.kind_name}. {page.system.location}
              </p>
              {(page.held ?? []).map((words) => (
                <p key={words} role="alert" className="panel mt-3 flex gap-2 border-error p-3 text-error">
                  <TriangleAlert size={20} className="shrink-0" aria-hidden="true" />
                  <span>
                    {words} Open that visit, or one of your own here, and release it at the controller.
                  </span>
                </p>
              ))}
              <div className="mt-5 grid gap-6 wide:grid-cols-[340px_1fr]">
                <div className="space-y-4">
                  {session.data?.person?.role !== "viewer" && (
                    <StartVisit system={systemId} open={page.visits.filter((visit) => !visit.closed_at)} />
                  )}
                  {session.data?.person?.role !== "viewer" && <Appoint system={systemId} />}
                  <Plate page={page} mayCorrect={session.data?.person?.role === "lead"} />
                  <Label page={page} />
                </div>
                <div>
                  {page.visits.length > 0 && page.followed && (
                    <Link
                      to="/systems/$systemId/history"
                      params={{ systemId }}
                      className="btn touch mb-3 text-base"
                    >
                      <ChartLine size={20} aria-hidden="true" /> Over its visits: does anything drift?
                    </Link>
                  )}
                  <Visits page={page} />
                </div>
              </div>
            </>
          )}
        </Loading>
      </main>
    </div>
  );
}

function Place({ page }: { page: Schemas["SystemPage"] }) {
  return <span>{page.system.site}</span>;
}

function Plate({ page, mayCorrect }: { page: Schemas["SystemPage"]; mayCorrect: boolean }) {
  const { system } = useUnits();
  const { systemId } = useParams({ from: "/inside/systems/$systemId" });
  const site: [string, string][] = [
    ["Site", page.system.site],
    ["Elevation", inWords(page.elevation.value, "length", system)],
    ["Air pressure there", inWords(page.pressure.value, "barometric_pressure", system)],
    ...(page.climate_zone ? ([["Climate zone", page.climate_zone]] as [string, string][]) : []),
  ];
  const plate = page.plate.map((line): [string, string] => [
    line.label,
    line.number ? inWords(line.number.value, line.number.kind, system) : (line.text ?? ""),
  ]);
  return (
    <section className="panel" aria-labelledby="plate">
      <h2 id="plate" className="border-base-300 border-b px-4 py-2 font-semibold">
        Nameplate
      </h2>
      <dl className="divide-y divide-base-300">
        {[...plate, ...site].map(([label, value]) => (
          <div key={label} className="flex justify-between gap-4 px-4 py-2">
            <dt className="quiet">{label}</dt>
            <dd className="text-right">{value}</dd>
          </div>
        ))}
      </dl>
      {mayCorrect && (
        <p className="border-base-300 border-t p-3">
          <Link to="/systems/$systemId/right" params={{ systemId }} className="btn touch">
            Set the nameplate or site right
          </Link>
        </p>
      )}
    </section>
  );
}

/** A code to stick on the unit: whoever scans it is here, once signed in. */
function Label({ page }: { page: Schemas["SystemPage"] }) {
  return (
    <section className="panel flex items-center gap-4 p-4" aria-labelledby="label">
      <img
        src={`/api/v1/systems/${page.system.id}/label.svg`}
        alt={`Code that opens ${page.system.name}`}
        className="size-28 shrink-0 bg-white"
      />
      <div>
        <h2 id="label" className="font-semibold">
          Label
        </h2>
        <p className="text-sm quiet">Stick it on the unit. Whoever scans it signs in and is on this page.</p>
        <a
          className="touch inline-flex items-center underline"
          href={`/api/v1/labels?site=${page.system.site_id}`}
          target="_blank"
          rel="noreferrer"
        >
          Print all of this site
        </a>
      </div>
    </section>
  );
}

function Visits({ page }: { page: Schemas["SystemPage"] }) {
  const list = useMore(page.visits, page.more_visits, (from) => visitsOf(String(page.system.id), from));
  const visits = list.items;
  return (
    <section aria-labelledby="visits">
      <h2 id="visits" className="mb-2 font-semibold text-lg">
        Visits
      </h2>
      {visits.length === 0 && (
        <p className="panel p-5">Nobody has measured here yet. Start the first visit.</p>
      )}
      <ul className="space-y-3">
        {visits.map((visit) => (
          <li key={String(visit.id)} className="panel">
            <Link
              to="/visits/$visitId"
              params={{ visitId: String(visit.id) }}
              search={{ step: visit.closed_at ? "work_out" : visit.next_step }}
              className="block p-4 hover:bg-base-200"
            >
              <div className="flex items-center gap-3">
                {visit.worst && <VerdictMark mark={visit.worst as MarkName} />}
                <h3 className="min-w-0 flex-1 font-semibold">{visit.purpose || "Visit"}</h3>
                {visit.cancelled && <span className="badge badge-outline">cancelled</span>}
                {!visit.closed_at && (
                  <span className="badge badge-outline">open: {visit.next_step_name}</span>
                )}
              </div>
              <p className="text-sm quiet">
                {when(visit.opened_at)}, {visit.technician}
                {visit.worst && `. ${MARK_WORDS[visit.worst as MarkName]}`}
              </p>
              <div className="mt-2 flex flex-wrap gap-x-8 gap-y-2">
                {visit.numbers.map((each) => (
                  <div key={each.key}>
                    <p className="text-sm quiet">{each.name}</p>
                    <Figure quantity={each.quantity} size="small" />
                  </div>
                ))}
              </div>
              <Trouble visit={visit} />
            </Link>
          </li>
        ))}
      </ul>
      <More list={list} />
    </section>
  );
}
