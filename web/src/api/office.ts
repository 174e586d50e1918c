/** What the pages of the record and the office ask for; apart, as no visit needs it to open. */
import { queryOptions } from "@tanstack/react-query";
import type { Asked } from "./asked";
import { api, ask } from "./client";

/** Editions of a visit's report, and who may sign. */
export const reportQuery = (id: string) =>
  queryOptions({
    queryKey: ["report", id],
    queryFn: () => ask(api.GET("/api/v1/visits/{visit_id}/report", { params: { path: { visit_id: id } } })),
    staleTime: 0,
    meta: { transient: true },
  });

/** What has the words, kind by kind. */
export const searchQuery = (asked: Asked) =>
  queryOptions({
    queryKey: ["search", asked],
    queryFn: () => ask(api.GET("/api/v1/search", { params: { query: said(asked) } })),
    enabled: Boolean(asked.words || asked.kind),
    placeholderData: { found: [] },
    meta: { transient: true },
  });

/** The next page of one kind. */
export async function searchPage(asked: Asked, place: number) {
  const page = await ask(api.GET("/api/v1/search", { params: { query: { ...said(asked), place } } }));
  const found = page.found[0];
  const more = found?.more;
  return { items: found?.hits ?? [], more: more === null || more === undefined ? null : String(more) };
}

const said = ({ words, ...more }: Asked) =>
  ({
    words: words ?? "",
    ...Object.fromEntries(Object.entries(more).filter(([, value]) => value !== undefined)),
  }) as { words: string };

/** A week of appointments from a day on, by this device's clock. */
export const weekQuery = (first: string, offset_min: number) =>
  queryOptions({
    queryKey: ["week", first],
    queryFn: () => ask(api.GET("/api/v1/week", { params: { query: { first, days: 7, offset_min } } })),
    staleTime: 30_000,
  });

/** Tokens of this person's programs. */
export const tokensQuery = queryOptions({
  queryKey: ["tokens"],
  queryFn: () => ask(api.GET("/api/v1/tokens")),
  meta: { transient: true },
});

/** The company as its leads set it; a lead's alone. */
export const companyQuery = queryOptions({
  queryKey: ["company"],
  queryFn: () => ask(api.GET("/api/v1/company")),
  meta: { transient: true },
});

/** Who did what, the latest first; a lead's alone. */
export const auditQuery = (asked: { person?: string; kind?: string }) =>
  queryOptions({
    queryKey: ["audit", asked],
    queryFn: () => ask(api.GET("/api/v1/audit", { params: { query: asked } })),
    meta: { transient: true },
  });

export async function auditPage(asked: { person?: string; kind?: string }, before: string) {
  const page = await ask(api.GET("/api/v1/audit", { params: { query: { ...asked, before } } }));
  return { items: page.lines, more: page.more };
}

/** Whom a link of invitation is for. */
export const invitationQuery = (person: string, token: string) =>
  queryOptions({
    queryKey: ["invitation", person, token],
    queryFn: async () => {
      await ask(api.GET("/api/v1/session"));
      return ask(api.GET("/api/v1/invitations/{person}/{token}", { params: { path: { person, token } } }));
    },
    meta: { transient: true },
  });
