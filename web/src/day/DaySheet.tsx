import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { CalendarDays, ChevronRight, Plus } from "lucide-react";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { weekQuery } from "../api/office";
import { dayQuery, moreSystems, moreVisits, sessionQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { fetchAhead } from "../offline/ahead";
import { dayKey, monday } from "../planning/week";
import { Practise } from "../session/Practise";
import { Figure } from "../shell/Figure";
import { Loading } from "../shell/Loading";
import { More } from "../shell/More";
import { useMore } from "../shell/useMore";
import { useTitle } from "../shell/useTitle";
import { type MarkName, VerdictMark } from "../shell/VerdictMark";
import { clockTime, when } from "../shell/when";
import { StartVisit } from "../systems/StartVisit";
import { Trouble } from "../systems/Trouble";
import { MyChanges } from "../temporary/MyChanges";

type Line = Schemas["VisitLine"];
type Day = Schemas["DaySheet"];

/** Not cancelled: what was a mistake stands on its system's page alone. */
const counts = (visit: Line): boolean => !visit.cancelled;

/** Today: what is open and what is left in it, what was closed, and every system to start a visit at. */
export function DaySheet() {
  const day = useQuery(dayQuery);
  const session = useQuery(sessionQuery);
  useTitle("Day sheet");
  const viewer = session.data?.person?.role === "viewer";
  useEffect(() => {
    if (day.data) void fetchAhead(day.data);
  }, [day.data]);
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<h1 className="font-semibold">Day sheet</h1>} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto p-4">
        <Loading query={day} what="the day sheet">
          {(data) => (
            <div className="grid gap-6 wide:grid-cols-[1fr_360px]">
              <div className="space-y-6">
                <MyChanges />
                <Today />
                <section aria-labelledby="open">
                  <div className="mb-2 flex items-center justify-between">
                    <h2 id="open" className="font-semibold text-lg">
                      Open visits
                    </h2>
                    <Link to="/week" className="btn touch">
                      <CalendarDays size={18} aria-hidden="true" /> The week
                    </Link>
                  </div>
                  {data.open.length === 0 && (
                    <div className="panel space-y-3 p-5">
                      <p>No visit is open. {viewer ? "" : "Choose a system and start one: two taps."}</p>
                      {!viewer && <Practise />}
                    </div>
                  )}
                  <OpenVisits day={data} />
                </section>
                {data.today.some(counts) && <ClosedVisits day={data} />}
              </div>
              <Systems day={data} mayStart={!viewer} />
            </div>
          )}
        </Loading>
      </main>
    </div>
  );
}

/** What is appointed for this person today. */
function Today() {
  const first = dayKey(new Date());
  const week = useQuery(weekQuery(dayKey(monday(new Date())), -new Date().getTimezoneOffset()));
  const mine = (week.data?.appointments ?? []).filter(
    (each) => each.mine && !each.cancelled && dayKey(new Date(each.starts_at)) === first,
  );
  if (mine.length === 0) return null;
  return (
    <section aria-labelledby="appointed">
      <h2 id="appointed" className="font-semibold text-lg">
        Appointed today
      </h2>
      <ul>
        {mine.map((each) => (
          <li key={String(each.id)}>
            <Link
              to="/systems/$systemId"
              params={{ systemId: String(each.system) }}
              className="touch flex items-center gap-3 hover:underline"
            >
              <span className="reading">{clockTime(each.starts_at)}</span>
              <span>
                {each.site}, {each.system_name}
                {each.words && <span className="quiet">: {each.words}</span>}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function OpenVisits({ day }: { day: Day }) {
  const list = useMore(day.open, day.more_open, (from) => moreVisits("open", from));
  return (
    <>
      <ul className="space-y-3">
        {list.items.map((visit) => (
          <OpenVisit key={String(visit.id)} visit={visit} />
        ))}
      </ul>
      <More list={list} />
    </>
  );
}

function ClosedVisits({ day }: { day: Day }) {
  const list = useMore(day.today, day.more_today, (from) => moreVisits("today", from));
  return (
    <section aria-labelledby="done">
      <h2 id="done" className="mb-2 font-semibold text-lg">
        Closed today
      </h2>
      <ul className="panel divide-y divide-base-300">
        {list.items.filter(counts).map((visit) => (
          <ClosedVisit key={String(visit.id)} visit={visit} />
        ))}
      </ul>
      <More list={list} />
    </section>
  );
}

function OpenVisit({ visit }: { visit: Line }) {
  return (
    <li className="panel">
      <Link
        to="/visits/$visitId"
        params={{ visitId: String(visit.id) }}
        search={{ step: visit.next_step }}
        className="block p-4 hover:bg-base-200"
      >
        <div className="flex items-start justify-between gap-3">
          <div className="min-w-0">
            <p className="quiet text-sm">{visit.system.site}</p>
            <h3 className="font-semibold text-xl">{visit.system.name}</h3>
          </div>
          <span className="btn btn-primary touch pointer-events-none shrink-0">
            {visit.next_step_name} <ChevronRight size={18} aria-hidden="true" />
          </span>
        </div>
        {visit.purpose && <p className="mt-1">{visit.purpose}</p>}
        <Trouble visit={visit} />
        <LeftToDo visit={visit} />
        <p className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm quiet">
          <span>
            {when(visit.opened_at)}, {visit.mine ? "yours" : visit.technician}
          </span>
        </p>
      </Link>
    </li>
  );
}

function LeftToDo({ visit }: { visit: Line }) {
  if (visit.left.length === 0) return null;
  const [shown, more] = [visit.left.slice(0, 3), visit.left.length - 3];
  return (
    <ul className="mt-3 border-secondary border-l-2 pl-3">
      {shown.map((left) => (
        <li key={left}>{left}</li>
      ))}
      {more > 0 && <li className="quiet">and {more} more</li>}
    </ul>
  );
}

function ClosedVisit({ visit }: { visit: Line }) {
  return (
    <li>
      <Link
        to="/visits/$visitId"
        params={{ visitId: String(visit.id) }}
        className="touch flex items-center gap-3 p-3 hover:bg-base-200"
      >
        {visit.worst && <VerdictMark mark={visit.worst as MarkName} />}
        <span className="min-w-0 flex-1 truncate">
          {visit.system.site}, {visit.system.name}
        </span>
        {visit.numbers.slice(0, 2).map((each) => (
          <Figure key={each.key} quantity={each.quantity} size="small" />
        ))}
      </Link>
    </li>
  );
}

function Systems({ day, mayStart }: { day: Day; mayStart: boolean }) {
  const [chosen, setChosen] = useState<string | undefined>();
  const list = useMore(day.systems, day.more_systems, (from) => moreSystems("", from));
  const [systems, open] = [list.items, day.open];
  return (
    <section aria-labelledby="systems">
      <h2 id="systems" className="mb-2 font-semibold text-lg">
        {mayStart ? "Start a visit" : "Systems"}
      </h2>
      {systems.length === 0 && (
        <p className="panel p-5">
          No system yet. Write down the first one: a name and what it is are enough.
        </p>
      )}
      <ul className="panel divide-y divide-base-300">
        {systems.map((system) => {
          const id = String(system.id);
          return (
            <li key={id}>
              <button
                type="button"
                className="touch flex w-full items-center justify-between gap-2 p-3 text-left hover:bg-base-200"
                aria-expanded={chosen === id}
                onClick={() => setChosen(chosen === id ? undefined : id)}
              >
                <span className="min-w-0">
                  <span className="block truncate font-semibold">{system.name}</span>
                  <span className="block truncate text-sm quiet">{system.site}</span>
                </span>
                <ChevronRight size={18} className={chosen === id ? "rotate-90" : ""} aria-hidden="true" />
              </button>
              {chosen === id && (
                <div className="space-y-2 px-3 pb-3">
                  <p className="text-sm quiet">
                    {system.kind_name}. {system.location}
                  </p>
                  {mayStart && <StartVisit system={id} open={open} />}
                  <Link to="/systems/$systemId" params={{ systemId: id }} className="btn touch w-full">
                    Nameplate and earlier visits
                  </Link>
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <More list={list} />
      {mayStart && (
        <Link to="/systems/new" className="btn touch mt-3 w-full text-base">
          <Plus size={18} aria-hidden="true" /> A system that is not on the list
        </Link>
      )}
    </section>
  );
}
