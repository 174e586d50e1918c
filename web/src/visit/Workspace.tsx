import { Link } from "@tanstack/react-router";
import { Gauge, ListChecks } from "lucide-react";
import { type ComponentType, lazy, Suspense, useState } from "react";
import { TopBar } from "../frame/TopBar";
import { LostProbes } from "../live/LostProbes";
import { Probes } from "../live/Probes";
import { useVisit } from "../logbook/context";
import { ReadingPad } from "../pad/ReadingPad";
import { CantKeep } from "../queue/CantKeep";
import { useQueue } from "../queue/useQueue";
import { RibbonBand } from "../ribbon/RibbonBand";
import { RibbonColumn } from "../ribbon/RibbonColumn";
import { RibbonFolded } from "../ribbon/RibbonFolded";
import { Panel } from "../shell/Panel";
import { useKeys } from "../shell/useKeys";
import { Ledger } from "../temporary/Ledger";
import { ClockOff } from "./ClockOff";
import { LeftOut } from "./LeftOut";
import { Route } from "./Route";
import { StepBench } from "./steps/StepBench";
import { useFolding } from "./useFolding";
import { Verdicts } from "./Verdicts";
import { WorkingBench } from "./WorkingBench";

/** Route left, air path on top, bench below, verdicts right; on a phone the air path stands at the left edge. */
export function Workspace({
  step,
  station,
  working,
  tool,
}: {
  step: string;
  station?: string;
  working?: string;
  tool?: string;
}) {
  const { page, openStep, openStation, openWorking, openTool, mayWrite } = useVisit();
  const { fragile } = useQueue();
  const [drawer, setDrawer] = useState<"steps" | "verdicts" | undefined>();
  const { folded, fold, unfold } = useFolding(`${step}/${station ?? ""}/${tool ?? ""}/${working ?? ""}`);
  const stations = page.work_up.path.stations.map((each) => each.id);
  const at = station ? stations.indexOf(station) : -1;
  const readable = mayWrite && (step === "measure" || step === "prove");
  const toStation = (id: string | undefined) => openStation(id, readable ? step : "measure");
  const Tool = TOOLS[tool ?? ""];
  const steps = Object.fromEntries(
    page.work_up.route.map((each, index) => [String(index + 1), () => openStep(each.id)]),
  );
  useKeys({
    ...(station ? {} : steps),
    "[": () => toStation(stations[Math.max(at - 1, 0)]),
    "]": () => toStation(stations[Math.min(at + 1, stations.length - 1)]),
    r: () => toStation(page.work_up.next_station ?? stations[0]),
    w: () => openWorking(working ? undefined : "total"),
    t: () => openTool(tool === "temporary" ? undefined : "temporary"),
    n: () => document.getElementById("note")?.focus(),
    Escape: tool
      ? () => openTool(undefined)
      : working
        ? () => openWorking(undefined)
        : station
          ? () => openStation(undefined)
          : undefined,
  });
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<Place />} />
      <div className="grid min-h-0 flex-1 print:block grid-cols-[92px_1fr] grid-rows-[minmax(0,1fr)] wide:grid-cols-[168px_1fr_300px]">
        <nav
          aria-label="Steps of the visit"
          className="hidden overflow-y-auto border-base-300 border-r wide:block"
        >
          <Route step={step} />
        </nav>
        <div className="min-h-0 overflow-hidden border-base-300 border-r wide:hidden print:hidden">
          <RibbonColumn station={station} open={toStation} />
        </div>
        <div className="flex min-h-0 min-w-0 flex-col print:block">
          <div className="hidden shrink-0 border-base-300 border-b wide:block">
            {folded ? (
              <RibbonFolded station={station} open={toStation} unfold={unfold} />
            ) : (
              <RibbonBand station={station} open={toStation} />
            )}
          </div>
          <main
            // Another step or tool begins at its top.
            key={`${step}/${tool ?? ""}/${working ?? ""}`}
            className="relative min-h-0 flex-1 overflow-y-auto p-3 wide:p-4"
            tabIndex={-1}
            onScroll={(event) => fold(event.currentTarget)}
          >
            {fragile && <CantKeep />}
            <ClockOff />
            <LeftOut />
            <LostProbes />
            {page.system.practice && (
              <Suspense fallback={null}>
                <Tour step={step} />
              </Suspense>
            )}
            <Suspense fallback={<p className="quiet">Opening.</p>}>
              {working ? (
                <WorkingBench result={working} />
              ) : tool && Tool ? (
                <Tool />
              ) : station && readable ? (
                <ReadAt key={`${step}/${station}`} station={station} />
              ) : (
                <StepBench step={step} />
              )}
            </Suspense>
          </main>
        </div>
        <aside
          aria-label="Results"
          className="hidden overflow-y-auto border-base-300 border-l bg-base-200/50 wide:block print:block print:border-0"
        >
          <Verdicts />
        </aside>
      </div>
      <div className="grid shrink-0 grid-cols-2 border-base-300 border-t bg-base-200 wide:hidden print:hidden">
        <button
          type="button"
          className="btn btn-ghost short:h-11 h-14 rounded-none text-base"
          onClick={() => setDrawer("steps")}
        >
          <ListChecks size={20} aria-hidden="true" /> Steps
        </button>
        <button
          type="button"
          className="btn btn-ghost short:h-11 h-14 rounded-none text-base"
          onClick={() => setDrawer("verdicts")}
        >
          <Gauge size={20} aria-hidden="true" /> Results
        </button>
      </div>
      {drawer && (
        <Panel
          title={drawer === "steps" ? "Steps" : "Results"}
          drawer
          key={`${drawer}/${step}/${working ?? ""}`}
          onClose={() => setDrawer(undefined)}
        >
          {drawer === "steps" ? (
            <Route step={step} onChosen={() => setDrawer(undefined)} />
          ) : (
            <Verdicts onChosen={() => setDrawer(undefined)} />
          )}
        </Panel>
      )}
    </div>
  );
}

/** Those that not every visit needs are loaded when they are opened. */
const TOOLS: Record<string, ComponentType> = {
  probes: Probes,
  match: lazy(() => import("../live/Match").then(({ Match }) => ({ default: Match }))),
  file: lazy(() =>
    import("../parts/measuring/logger/LoggerFile").then(({ LoggerFile }) => ({ default: LoggerFile })),
  ),
  temporary: Ledger,
  right: lazy(() => import("./SetRight").then(({ SetRight }) => ({ default: SetRight }))),
};

const Tour = lazy(() => import("./Tour").then(({ Tour }) => ({ default: Tour })));
const TraverseBench = lazy(() =>
  import("../parts/airflow/traverse/TraverseBench").then((found) => ({ default: found.TraverseBench })),
);

/** A duct is read across a plane, everything else with the pad. */
function ReadAt({ station }: { station: string }) {
  const { page } = useVisit();
  const kind = page.work_up.path.stations.find((each) => each.id === station)?.kind;
  return kind === "traverse" ? <TraverseBench station={station} /> : <ReadingPad station={station} />;
}

function Place() {
  const { page } = useVisit();
  return (
    <Link
      to="/systems/$systemId"
      params={{ systemId: String(page.system.id) }}
      className="touch flex items-center gap-1.5 truncate leading-tight hover:underline"
      title="To the system's page"
    >
      <span className="truncate font-semibold">{page.system.name}</span>
      <span className="hidden truncate quiet wide:inline">{page.system.site}</span>
    </Link>
  );
}
