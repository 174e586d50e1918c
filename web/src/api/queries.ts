/** What the pages ask for. Answers are kept on the device, so that they can be looked at without signal. */
import { notifyManager, QueryClient, queryOptions } from "@tanstack/react-query";
import { api, ask, Unanswered } from "./client";

// An answer is shown before the entries it brings are let go of by the queue: else they would be gone for a moment.
notifyManager.setScheduler(queueMicrotask);

const DAY_MS = 24 * 60 * 60 * 1000;

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      gcTime: 7 * DAY_MS,
      networkMode: "always",
      retry: (count, error) => error instanceof Unanswered && error.status === 0 && count < 1,
    },
    mutations: { networkMode: "always" },
  },
});

export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: () => ask(api.GET("/api/v1/session")),
  staleTime: 60_000,
});

export const demoPeopleQuery = queryOptions({
  queryKey: ["demo", "people"],
  queryFn: () => ask(api.GET("/api/v1/demo/people")),
});

export const dayQuery = queryOptions({ queryKey: ["day"], queryFn: () => ask(api.GET("/api/v1/day")) });

/** The next page of the day sheet's visits. */
export async function moreVisits(which: "open" | "today", before: string) {
  const page = await ask(api.GET("/api/v1/visits", { params: { query: { which, before } } }));
  return { items: page.visits, more: page.more };
}

/** The next page of a system's visits. */
export async function visitsOf(system: string, before: string) {
  const page = await ask(
    api.GET("/api/v1/systems/{system_id}/visits", {
      params: { path: { system_id: system }, query: { before } },
    }),
  );
  return { items: page.visits, more: page.more };
}

/** Systems whose name or site has the words, page by page. */
export async function moreSystems(words: string, after: string) {
  const page = await ask(api.GET("/api/v1/systems", { params: { query: { words, after } } }));
  return { items: page.systems, more: page.more };
}

/** Where a company has more systems than the day sheet lists: those that the words find. */
export const foundSystemsQuery = (words: string) =>
  queryOptions({
    queryKey: ["systems", words],
    queryFn: () => moreSystems(words, ""),
    staleTime: 60_000,
    meta: { transient: true },
  });

export const systemQuery = (id: string) =>
  queryOptions({
    queryKey: ["system", id],
    queryFn: () => ask(api.GET("/api/v1/systems/{system_id}", { params: { path: { system_id: id } } })),
  });

export const historyQuery = (id: string) =>
  queryOptions({
    queryKey: ["history", id],
    queryFn: () =>
      ask(api.GET("/api/v1/systems/{system_id}/history", { params: { path: { system_id: id } } })),
    staleTime: 60_000,
  });

export const visitKey = (id: string) => ["visit", id] as const;

export const visitQuery = (id: string) =>
  queryOptions({
    queryKey: visitKey(id),
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}", { params: { path: { visit_id: id } } })),
  });

export const instrumentsQuery = queryOptions({
  queryKey: ["instruments"],
  queryFn: () => ask(api.GET("/api/v1/instruments")),
  staleTime: 5 * 60_000,
});

export const instrumentListQuery = queryOptions({
  queryKey: ["instruments", "list"],
  queryFn: () => ask(api.GET("/api/v1/instruments/list")),
});

/** Gateways of the company; a lead's alone. */
export const gatewaysQuery = queryOptions({
  queryKey: ["gateways"],
  queryFn: () => ask(api.GET("/api/v1/gateways")),
  meta: { transient: true },
});

/** What was logged on a visit, live or in files: thinned courses, so that they can be looked at without signal. */
export const loggedQuery = (id: string) =>
  queryOptions({
    queryKey: ["logged", id],
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}/logged", { params: { path: { visit_id: id } } })),
    staleTime: 60_000,
  });

/** People of the company; a lead's alone. */
export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => ask(api.GET("/api/v1/people")),
  meta: { transient: true },
});

export const economizerKey = (id: string) => ["economizer", id] as const;

export const economizerQuery = (id: string) =>
  queryOptions({
    queryKey: economizerKey(id),
    queryFn: () =>
      ask(api.GET("/api/v1/visits/{visit_id}/economizer", { params: { path: { visit_id: id } } })),
    // What was kept before a reload may be behind the visit.
    staleTime: 0,
  });

export const ductsKey = (id: string) => ["ducts", id] as const;

export const ductsQuery = (id: string) =>
  queryOptions({
    queryKey: ductsKey(id),
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}/ducts", { params: { path: { visit_id: id } } })),
    // What was kept before a reload may be behind the visit.
    staleTime: 0,
  });

export const zonesKey = (id: string) => ["zones", id] as const;

export const zonesQuery = (id: string) =>
  queryOptions({
    queryKey: zonesKey(id),
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}/zones", { params: { path: { visit_id: id } } })),
    staleTime: 0,
  });

export const controllerKey = (id: string) => ["controller", id] as const;

/** The connected controller as it is now; asked again and again while it is looked at. */
export const controllerQuery = (id: string) =>
  queryOptions({
    queryKey: controllerKey(id),
    queryFn: () =>
      ask(api.GET("/api/v1/visits/{visit_id}/controller", { params: { path: { visit_id: id } } })),
    refetchInterval: 3_000,
    meta: { transient: true },
  });

export const boardKey = (id: string) => ["zone-board", id] as const;

/** The connected zone board as it is now; asked again and again while it is looked at. */
export const boardQuery = (id: string) =>
  queryOptions({
    queryKey: boardKey(id),
    queryFn: () =>
      ask(api.GET("/api/v1/visits/{visit_id}/zone-board", { params: { path: { visit_id: id } } })),
    refetchInterval: 2_000,
    meta: { transient: true },
  });

export const ventilatorKey = (id: string) => ["ventilator", id] as const;

/** The ventilator's connected control as it is now; asked again and again while it is looked at. */
export const ventilatorQuery = (id: string) =>
  queryOptions({
    queryKey: ventilatorKey(id),
    queryFn: () =>
      ask(api.GET("/api/v1/visits/{visit_id}/ventilator", { params: { path: { visit_id: id } } })),
    refetchInterval: 2_000,
    meta: { transient: true },
  });

export const sistersQuery = (id: string) =>
  queryOptions({
    queryKey: ["sisters", id],
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}/sisters", { params: { path: { visit_id: id } } })),
    staleTime: 5 * 60_000,
  });

/** Temporary changes that stand open and are mine, over all visits. */
export const temporaryQuery = queryOptions({
  queryKey: ["temporary"],
  queryFn: () => ask(api.GET("/api/v1/temporary")),
  staleTime: 15_000,
});

export const colleaguesQuery = queryOptions({
  queryKey: ["colleagues"],
  queryFn: () => ask(api.GET("/api/v1/colleagues")),
  staleTime: 5 * 60_000,
});

export const probesQuery = queryOptions({
  queryKey: ["probes"],
  queryFn: () => ask(api.GET("/api/v1/probes")),
  staleTime: 10_000,
  meta: { transient: true },
});
