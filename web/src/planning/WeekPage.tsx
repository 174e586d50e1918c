import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { CalendarDays, ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";
import { api, ask } from "../api/client";
import { weekQuery } from "../api/office";
import { sessionQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { Loading } from "../shell/Loading";
import { useChange } from "../shell/useChange";
import { useTitle } from "../shell/useTitle";
import { clockTime } from "../shell/when";
import { type Appointment, byDay, dayKey, daysFrom, monday } from "./week";

const dayName = new Intl.DateTimeFormat("en", { weekday: "long", day: "numeric", month: "short" });

/** A week of appointments, day under day, and who is where now. */
export function WeekPage() {
  const [weeks, setWeeks] = useState(0);
  const first = monday(new Date(), weeks);
  const query = useQuery(weekQuery(dayKey(first), -first.getTimezoneOffset()));
  useTitle("The week");
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">The week</span>} />
      <main className="mx-auto w-full max-w-4xl flex-1 space-y-4 overflow-y-auto p-4" tabIndex={-1}>
        <div className="flex flex-wrap items-center gap-2">
          <h1 className="flex-1 font-semibold text-2xl">
            {weeks === 0 ? "This week" : weeks === 1 ? "Next week" : `Week of ${dayName.format(first)}`}
          </h1>
          <button
            type="button"
            className="btn touch"
            onClick={() => setWeeks(weeks - 1)}
            aria-label="The week before"
          >
            <ChevronLeft size={20} aria-hidden="true" />
          </button>
          <button
            type="button"
            className="btn touch"
            onClick={() => setWeeks(weeks + 1)}
            aria-label="The week after"
          >
            <ChevronRight size={20} aria-hidden="true" />
          </button>
          <a className="btn touch" href="/api/v1/appointments.ics" download>
            <CalendarDays size={18} aria-hidden="true" /> Mine, for a calendar
          </a>
        </div>
        <Loading query={query} what="this week">
          {(week) => {
            const days = byDay(week.appointments);
            return (
              <>
                {week.now.length > 0 && (
                  <section className="panel p-4" aria-labelledby="now">
                    <h2 id="now" className="font-semibold text-lg">
                      Who is where now
                    </h2>
                    <ul>
                      {week.now.map((each) => (
                        <li key={String(each.visit)}>
                          <Link
                            to="/visits/$visitId"
                            params={{ visitId: String(each.visit) }}
                            className="touch inline-flex items-center hover:underline"
                          >
                            {each.person_name}: {each.site}, {each.system_name}, since{" "}
                            {clockTime(each.opened_at)}
                          </Link>
                        </li>
                      ))}
                    </ul>
                  </section>
                )}
                {week.handed.length > 0 && (
                  <section className="panel border-warning p-4" aria-labelledby="handed">
                    <h2 id="handed" className="font-semibold text-lg">
                      Handed on, still to be undone
                    </h2>
                    <ul className="space-y-1">
                      {week.handed.map((each) => (
                        <li key={`${each.visit} ${each.what}`}>
                          <Link
                            to="/visits/$visitId"
                            params={{ visitId: String(each.visit) }}
                            search={{ step: "restore" }}
                            className="touch inline-flex items-center hover:underline"
                          >
                            {each.what} at {each.site}, {each.system_name}: {each.by} to {each.to}
                            {each.reason && `, ${each.reason}`}
                          </Link>
                        </li>
                      ))}
                    </ul>
                  </section>
                )}
                {week.appointments.length === 0 && (
                  <p className="quiet">
                    No appointment this week. Make one on a system's page: “Appoint somebody”.
                  </p>
                )}
                {daysFrom(first).map((day) => (
                  <Day key={dayKey(day)} day={day} appointments={days.get(dayKey(day)) ?? []} />
                ))}
                {week.cut && <p role="status">There are more than can be shown here.</p>}
              </>
            );
          }}
        </Loading>
      </main>
    </div>
  );
}

function Day({ day, appointments }: { day: Date; appointments: Appointment[] }) {
  const today = dayKey(day) === dayKey(new Date());
  if (appointments.length === 0 && !today) return null;
  return (
    <section aria-label={dayName.format(day)}>
      <h2 className="mb-1 font-semibold text-lg">
        {dayName.format(day)}
        {today && <span className="font-normal quiet">, today</span>}
      </h2>
      {appointments.length === 0 ? (
        <p className="quiet">Nothing is appointed.</p>
      ) : (
        <ul className="panel divide-y divide-base-300">
          {appointments.map((each) => (
            <li key={String(each.id)} className="flex flex-wrap items-center gap-3 p-3">
              <Line appointment={each} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Line({ appointment }: { appointment: Appointment }) {
  const session = useQuery(sessionQuery);
  const role = session.data?.person?.role;
  const change = useChange(["week"], (cancelled: boolean) =>
    ask(
      api.PATCH("/api/v1/appointments/{appointment_id}", {
        params: { path: { appointment_id: String(appointment.id) } },
        body: { cancelled },
      }),
    ),
  );
  const mayChange = role === "lead" || (role === "technician" && appointment.mine);
  const end = new Date(Date.parse(appointment.starts_at) + appointment.minutes * 60_000).toISOString();
  return (
    <>
      <span className={`reading text-lg ${appointment.cancelled ? "line-through" : ""}`}>
        {clockTime(appointment.starts_at)}–{clockTime(end)}
      </span>
      <span className="min-w-0 flex-1">
        <Link
          to="/systems/$systemId"
          params={{ systemId: String(appointment.system) }}
          className="block font-semibold hover:underline"
        >
          {appointment.site}, {appointment.system_name}
        </Link>
        <span className="block text-sm quiet">
          {appointment.mine ? "You" : appointment.person_name}
          {appointment.words && `: ${appointment.words}`}
        </span>
      </span>
      {appointment.cancelled && <span className="badge badge-outline">cancelled</span>}
      {mayChange && (
        <button
          type="button"
          className="btn touch"
          disabled={change.isPending}
          onClick={() => change.mutate(!appointment.cancelled)}
        >
          {appointment.cancelled ? "Go after all" : "Cancel"}
        </button>
      )}
      {change.error && <p role="alert">{change.error.message}</p>}
    </>
  );
}
