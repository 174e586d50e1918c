import { useIsRestoring } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Outlet,
  RouterProvider,
  redirect,
} from "@tanstack/react-router";
import { toAddress } from "./api/asked";
import { Unanswered } from "./api/client";
import { queries, sessionQuery } from "./api/queries";
import { startCore } from "./core/core";
import { Broken } from "./frame/Broken";
import { Keys } from "./frame/Keys";
import { NotFound } from "./frame/NotFound";
import { startKeeping } from "./logbook/answers";
import { dehydrateOptions, persister } from "./offline/keeping";
import { queue } from "./queue/useQueue";
import { isWithin, leaving } from "./session/leaving";
import { UnitSystemProvider } from "./units/UnitSystem";
import type { VisitSearch } from "./visit/VisitPage";

const root = createRootRoute({
  component: () => (
    <>
      <Outlet />
      <Keys />
    </>
  ),
  notFoundComponent: NotFound,
});

/** Everyone but the signed-in goes to the sign-in page; without signal the last known person stays. */
async function signedIn({ location }: { location: { href: string } }): Promise<void> {
  // Whoever scanned a label, or opened a link, gets there once signed in.
  const search = location.href === "/" ? {} : { to: location.href };
  if (await leaving()) throw redirect({ to: "/sign-in", search });
  let session = queries.getQueryData(sessionQuery.queryKey);
  if (!session?.person) {
    try {
      session = await queries.fetchQuery(sessionQuery);
    } catch (error) {
      if (!(error instanceof Unanswered) || error.status !== 0) throw error;
    }
  }
  if (!session?.person) throw redirect({ to: "/sign-in", search });
  await queue.belongsTo(String(session.person.id), session.person.name);
}

const signIn = createRoute({
  getParentRoute: () => root,
  path: "/sign-in",
  validateSearch: (given: Record<string, unknown>): { to?: string } =>
    typeof given.to === "string" && isWithin(given.to) ? { to: given.to } : {},
  component: lazyRouteComponent(() => import("./session/SignIn"), "SignIn"),
});
const inside = createRoute({
  getParentRoute: () => root,
  id: "inside",
  beforeLoad: signedIn,
  component: Outlet,
});
const day = createRoute({
  getParentRoute: () => inside,
  path: "/",
  component: lazyRouteComponent(() => import("./day/DaySheet"), "DaySheet"),
});
const system = createRoute({
  getParentRoute: () => inside,
  path: "/systems/$systemId",
  component: lazyRouteComponent(() => import("./systems/SystemPage"), "SystemPage"),
});
const systemRight = createRoute({
  getParentRoute: () => inside,
  path: "/systems/$systemId/right",
  component: lazyRouteComponent(() => import("./systems/SystemRight"), "SystemRight"),
});
const office = createRoute({
  getParentRoute: () => inside,
  path: "/office",
  component: lazyRouteComponent(() => import("./office/OfficePage"), "OfficePage"),
});
const newSystem = createRoute({
  getParentRoute: () => inside,
  path: "/systems/new",
  component: lazyRouteComponent(() => import("./systems/NewSystem"), "NewSystem"),
});
const visit = createRoute({
  getParentRoute: () => inside,
  path: "/visits/$visitId",
  validateSearch: (search: Record<string, unknown>): VisitSearch => ({
    ...(typeof search.step === "string" ? { step: search.step } : {}),
    ...(typeof search.station === "string" ? { station: search.station } : {}),
    ...(typeof search.working === "string" ? { working: search.working } : {}),
    ...(typeof search.tool === "string" ? { tool: search.tool } : {}),
    ...(typeof search.part === "string" ? { part: search.part } : {}),
    ...(search.phase === "as_left" || search.phase === "as_found" ? { phase: search.phase } : {}),
  }),
  component: lazyRouteComponent(() => import("./visit/VisitPage"), "VisitPage"),
});
const report = createRoute({
  getParentRoute: () => inside,
  path: "/visits/$visitId/report",
  component: lazyRouteComponent(() => import("./records/ReportPage"), "ReportPage"),
});
const verify = createRoute({
  getParentRoute: () => inside,
  path: "/verify",
  component: lazyRouteComponent(() => import("./records/VerifyPage"), "VerifyPage"),
});
const search = createRoute({
  getParentRoute: () => inside,
  path: "/search",
  validateSearch: toAddress,
  component: lazyRouteComponent(() => import("./search/SearchPage"), "SearchPage"),
});
const week = createRoute({
  getParentRoute: () => inside,
  path: "/week",
  component: lazyRouteComponent(() => import("./planning/WeekPage"), "WeekPage"),
});
const tokens = createRoute({
  getParentRoute: () => inside,
  path: "/programs",
  component: lazyRouteComponent(() => import("./tokens/TokensPage"), "TokensPage"),
});
const course = createRoute({
  getParentRoute: () => inside,
  path: "/office/course",
  component: lazyRouteComponent(() => import("./office/CoursePage"), "CoursePage"),
});
const invitation = createRoute({
  getParentRoute: () => root,
  path: "/invitation/$person/$token",
  component: lazyRouteComponent(() => import("./session/InvitationPage"), "InvitationPage"),
});
const history = createRoute({
  getParentRoute: () => inside,
  path: "/systems/$systemId/history",
  component: lazyRouteComponent(() => import("./history/HistoryPage"), "HistoryPage"),
});
const instruments = createRoute({
  getParentRoute: () => inside,
  path: "/instruments",
  component: lazyRouteComponent(() => import("./instruments/InstrumentsPage"), "InstrumentsPage"),
});

const router = createRouter({
  routeTree: root.addChildren([
    signIn,
    invitation,
    inside.addChildren([
      search,
      week,
      tokens,
      course,
      day,
      newSystem,
      system,
      systemRight,
      history,
      visit,
      report,
      verify,
      instruments,
      office,
    ]),
  ]),
  defaultNotFoundComponent: NotFound,
  defaultErrorComponent: Broken,
});

declare const __API_SHAPE__: string;

startKeeping();
startCore();

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
  interface HistoryState {
    /** Opened within the step it stands in: Back closes it. */
    opened?: true;
  }
}

export function App() {
  return (
    <PersistQueryClientProvider
      client={queries}
      persistOptions={{ persister, maxAge: 7 * 24 * 60 * 60 * 1000, buster: __API_SHAPE__, dehydrateOptions }}
    >
      <UnitSystemProvider>
        <WhenRestored />
      </UnitSystemProvider>
    </PersistQueryClientProvider>
  );
}

/** Routing begins once kept answers are back, so that a reload without signal finds its person. */
function WhenRestored() {
  return useIsRestoring() ? null : <RouterProvider router={router} />;
}
