import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useEffect, useMemo } from "react";
import { visitQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { noteRunning } from "../live/running";
import { LiveContext, useLiveStream } from "../live/useLive";
import { type Visit, VisitContext } from "../logbook/context";
import { merged, type Page, type Phase } from "../logbook/logbook";
import { useQuestion } from "../logbook/question";
import { newEntry, take, useQueue } from "../queue/useQueue";
import { Loading } from "../shell/Loading";
import { useTitle } from "../shell/useTitle";
import { useJudged } from "./useJudged";
import { Workspace } from "./Workspace";

export interface VisitSearch {
  step?: string;
  station?: string;
  working?: string;
  tool?: string;
  part?: string;
  phase?: Phase;
}

/** Tools by their key, as the title of the page says them. */
const TOOL_NAMES: Record<string, string> = {
  probes: "Live probes",
  match: "Match probes",
  file: "Logger file",
  temporary: "Temporary changes",
  right: "Nameplate and site",
};

/** A station, a tool, a working or a page of the step stands open. */
const opened = ({ station, tool, working, part }: VisitSearch): boolean =>
  Boolean(station ?? tool ?? working ?? part);

/** What was closed had the focus: typing and keys go on with the step. */
const focusMain = (): void => {
  requestAnimationFrame(() => document.querySelector<HTMLElement>("main")?.focus({ preventScroll: true }));
};

/** A visit: fetched or kept, with what waits on the device laid over it. */
export function VisitPage() {
  const { visitId } = useParams({ from: "/inside/visits/$visitId" });
  const query = useQuery(visitQuery(visitId));
  if (query.data) return <OpenVisit page={query.data} />;
  return (
    <div className="flex h-full flex-col">
      <TopBar />
      <Loading query={query} what="this visit">
        {() => null}
      </Loading>
    </div>
  );
}

function OpenVisit({ page: answered }: { page: Page }) {
  const search = useSearch({ from: "/inside/visits/$visitId" });
  const navigate = useNavigate();
  const { waiting } = useQueue();
  const entries = useMemo(() => merged(answered, waiting), [answered, waiting]);
  const question = useQuestion(answered, entries);
  const page = useJudged(answered, question);
  const id = String(page.id);
  const step = search.step ?? page.work_up.next_step;
  const closed = page.work_up.closed;
  const stepName = page.work_up.route.find((each) => each.id === step)?.name ?? "";
  const stationName = page.work_up.path.stations.find((each) => each.id === search.station)?.name;
  useTitle(
    stationName ?? (search.tool && TOOL_NAMES[search.tool]),
    stepName,
    page.system.name,
    page.system.site,
  );

  const stream = useLiveStream(id, closed);
  const visit = useMemo<Visit>(() => {
    // What opens within a step is a step of the history, so that Back closes it; what closes it goes back there.
    const go = (next: VisitSearch) => {
      const [was, will] = [opened(search), opened(next)];
      const inStep = next.step === step;
      if (inStep && was && !will) focusMain();
      if (inStep && was && !will && history.state?.opened) return history.back();
      void navigate({
        to: "/visits/$visitId",
        params: { visitId: id },
        search: next,
        replace: inStep && (was || !will),
        state: inStep && will && (!was || history.state?.opened) ? { opened: true } : {},
      });
    };
    const phase: Phase = step === "prove" ? "as_left" : "as_found";
    const phases = page.work_up.phases;
    const wanted = search.phase ?? (step === "measure" ? "as_found" : undefined);
    const shown = phases.find((each) => each.phase === wanted) ?? phases[phases.length - 1] ?? phases[0];
    if (!shown) throw new Error("a visit has at least one phase");
    return {
      page,
      entries,
      question,
      phase,
      shown,
      mayWrite: page.may_write && !closed,
      record: async (kind, body, more = {}) => {
        const { phase: other, ...rest } = more;
        const at = rest.at ?? stream?.clock();
        const entry = newEntry(kind, body, other ?? phase, { ...rest, ...(at ? { at } : {}) });
        return take(id, entry);
      },
      openStep: (next) => go({ step: next }),
      openStation: (station, atStep = step) => go({ step: atStep, ...(station ? { station } : {}) }),
      section: search.part,
      openSection: (section, atStep = step) =>
        go({
          step: atStep,
          ...(section ? { part: section } : {}),
          ...(search.phase && atStep === "work_out" ? { phase: search.phase } : {}),
        }),
      openTool: (tool) => go({ step, ...(tool ? { tool } : {}) }),
      openWorking: (working) =>
        go({
          step,
          ...(search.part ? { part: search.part } : {}),
          ...(working ? { working } : {}),
          ...(search.phase ? { phase: search.phase } : {}),
        }),
    };
  }, [page, entries, question, step, closed, id, navigate, search, stream]);

  const since = page.work_up.running_since;
  useEffect(() => {
    noteRunning(id, since && !closed ? { visit: id, system: page.system.name, since } : undefined);
  }, [id, since, closed, page.system.name]);

  return (
    <VisitContext value={visit}>
      <LiveContext value={stream}>
        <Workspace step={step} station={search.station} working={search.working} tool={search.tool} />
      </LiveContext>
    </VisitContext>
  );
}
