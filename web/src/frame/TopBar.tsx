import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { Ruler, Search, Sun, SunDim, UserRound } from "lucide-react";
import { type ReactNode, useState } from "react";
import { sessionQuery } from "../api/queries";
import { SettleClock } from "../live/SettleClock";
import { useQueue } from "../queue/useQueue";
import { leave } from "../session/leaving";
import { Practise } from "../session/Practise";
import { Mark } from "../shell/Mark";
import { applyTheme, currentTheme } from "../shell/theme";
import { OpenChanges } from "../temporary/OpenChanges";
import { useUnits } from "../units/UnitSystem";
import { find } from "./finding";
import { QueueState } from "./QueueState";

/** 48 px: mark, where we are, clocks and states, units, theme, person. */
export function TopBar({ place, children }: { place?: ReactNode; children?: ReactNode }) {
  return (
    <header className="flex h-12 shrink-0 items-center gap-1 border-base-300 border-b bg-base-200 pr-1 pl-2">
      <button
        type="button"
        className="btn btn-primary sr-only focus:not-sr-only focus:absolute focus:z-50"
        onClick={() => document.querySelector<HTMLElement>("main")?.focus()}
      >
        Skip to the work
      </button>
      <Link to="/" aria-label="Fentro, to the day sheet" className="touch flex items-center gap-2">
        <Mark />
        <span className={`font-semibold tracking-tight ${place ? "hidden wide:inline" : ""}`}>Fentro</span>
      </Link>
      {place && <span className="mx-1 hidden h-5 w-px bg-base-300 wide:block" aria-hidden="true" />}
      <div className="min-w-0 flex-1 truncate px-1">{place}</div>
      {children}
      <button
        type="button"
        className="btn btn-ghost touch hidden px-2 wide:inline-flex"
        onClick={find}
        title="Find (/)"
        aria-label="Find"
      >
        <Search size={20} aria-hidden="true" />
      </button>
      <SettleClock />
      <OpenChanges />
      <QueueState />
      <UnitSwitch />
      <ThemeSwitch />
      <PersonMenu />
    </header>
  );
}

function UnitSwitch() {
  const { system, toggle } = useUnits();
  return (
    <button
      type="button"
      className="btn btn-ghost touch px-2"
      onClick={toggle}
      title="Units (u)"
      aria-label={`Units: ${system}. Switch to ${system === "US" ? "SI" : "US"}`}
    >
      <Ruler size={18} className="hidden wide:inline" aria-hidden="true" />
      <span className="reading">{system}</span>
    </button>
  );
}

/** In the bar where there is room, in the person's menu on a phone. */
function ThemeSwitch({ inMenu = false }: { inMenu?: boolean }) {
  const [theme, setTheme] = useState(currentTheme);
  const other = theme === "roof" ? "attic" : "roof";
  return (
    <button
      type="button"
      className={`btn btn-ghost touch ${inMenu ? "w-full justify-start font-normal" : "hidden px-2 wide:inline-flex"}`}
      title={`Theme: ${theme}`}
      aria-label={`Theme: ${theme}. Switch to ${other}`}
      onClick={() => {
        applyTheme(other);
        setTheme(other);
      }}
    >
      {theme === "roof" ? <Sun size={20} aria-hidden="true" /> : <SunDim size={20} aria-hidden="true" />}
      {inMenu && `Theme: ${other === "attic" ? "attic, for the dark" : "roof, for the sun"}`}
    </button>
  );
}

function PersonMenu() {
  const { data } = useQuery(sessionQuery);
  const { waiting, making } = useQueue();
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  if (!data?.person) return null;
  const count = waiting.length + making.length;
  const signOut = async (where: "here" | "everywhere") => {
    await leave(where);
    await go({ to: "/sign-in" });
  };
  return (
    <div className="relative">
      <button
        type="button"
        className="btn btn-ghost touch px-2"
        aria-expanded={open}
        aria-label={`Signed in as ${data.person.name}`}
        onClick={() => setOpen(!open)}
      >
        <UserRound size={20} aria-hidden="true" />
        <span className="hidden max-w-32 truncate font-normal wide:inline">{data.person.name}</span>
      </button>
      {open && (
        <div className="panel absolute right-0 z-30 mt-1 w-64 p-2 shadow-sm">
          <p className="px-3 pt-1 font-semibold">{data.person.name}</p>
          <p className="px-3 pb-2 text-sm quiet">
            {data.person.role}, {data.person.company}
          </p>
          <span className="wide:hidden">
            <ThemeSwitch inMenu />
            <button
              type="button"
              className="btn btn-ghost touch w-full justify-start font-normal"
              onClick={() => {
                setOpen(false);
                find();
              }}
            >
              Find a system, site or visit
            </button>
          </span>
          {data.person.role !== "viewer" && <Practise inMenu onBegun={() => setOpen(false)} />}
          <Link
            className="btn btn-ghost touch w-full justify-start font-normal"
            to="/week"
            onClick={() => setOpen(false)}
          >
            The week: who is where
          </Link>
          <Link
            className="btn btn-ghost touch w-full justify-start font-normal"
            to="/programs"
            onClick={() => setOpen(false)}
          >
            Programs with a token
          </Link>
          <Link
            className="btn btn-ghost touch w-full justify-start font-normal"
            to="/instruments"
            onClick={() => setOpen(false)}
          >
            Instruments and probes
          </Link>
          {data.person.role === "lead" && (
            <Link
              className="btn btn-ghost touch w-full justify-start font-normal"
              to="/office"
              onClick={() => setOpen(false)}
            >
              Office: people, systems, sites
            </Link>
          )}
          {data.person.operator && (
            <a className="btn btn-ghost touch w-full justify-start font-normal" href="/admin/">
              Operator's pages
            </a>
          )}
          {count > 0 && (
            <p className="px-3 py-2 text-sm">
              {count === 1 ? "One entry waits" : `${count} entries wait`} on this device. Signed out, they
              stay here, and go when {data.person.name} signs in on it again.
            </p>
          )}
          <button
            type="button"
            className="btn btn-ghost touch w-full justify-start font-normal"
            onClick={() => void signOut("here")}
          >
            Sign out
          </button>
          <button
            type="button"
            className="btn btn-ghost touch w-full justify-start font-normal"
            onClick={() => void signOut("everywhere")}
          >
            Sign out on every device
          </button>
        </div>
      )}
    </div>
  );
}
