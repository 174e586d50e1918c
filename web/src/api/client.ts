/** The API, typed from its own description. */
import createClient, { type Middleware } from "openapi-fetch";
import { heard } from "./clock";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** The token that every change carries; empty before it is known. */
export function csrfToken(): string {
  return decodeURIComponent(/(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "");
}

const changesThings: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET" && csrfToken()) request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
};

const tellsTheTime: Middleware = {
  onResponse({ response }) {
    // What the worker of this device kept has an old date.
    if (response.status !== 0 && response.type === "basic") heard(response.headers.get("date"));
    return undefined;
  },
};

export const api = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });
api.use(changesThings, tellsTheTime);

/** What a request ended with, when it was not what was asked for. */
export class Unanswered extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | undefined,
  ) {
    super(problem?.detail ?? "The server did not answer.");
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The answer's data, or `Unanswered`. A network failure has status 0. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch {
    throw new Unanswered(0, undefined);
  }
  if (answer.data === undefined || !answer.response.ok) {
    throw new Unanswered(answer.response.status, asProblem(answer.error));
  }
  return answer.data;
}

function asProblem(error: unknown): Problem | undefined {
  return typeof error === "object" && error !== null && "refusals" in error ? (error as Problem) : undefined;
}
