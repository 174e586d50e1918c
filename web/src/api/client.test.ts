import { describe, expect, it } from "vitest";
import { ask, Unanswered } from "./client";

const response = (status: number): Response => new Response(null, { status });

describe("asking", () => {
  it("gives the data of a good answer", async () => {
    expect(await ask(Promise.resolve({ data: { a: 1 }, response: response(200) }))).toEqual({ a: 1 });
  });

  it("tells no network from an answer", async () => {
    const error = await ask(Promise.reject(new TypeError("failed to fetch"))).catch(
      (caught: unknown) => caught,
    );
    expect(error).toBeInstanceOf(Unanswered);
    expect(error).toMatchObject({ status: 0, message: "The server did not answer." });
  });

  it("carries the API's own words, and only those", async () => {
    const problem = { detail: "Sign in first.", refusals: [] };
    const known = await ask(Promise.resolve({ error: problem, response: response(401) })).catch(
      (caught: unknown) => caught,
    );
    expect(known).toMatchObject({ status: 401, message: "Sign in first.", problem });
    const foreign = await ask(Promise.resolve({ error: { detail: "CSRF" }, response: response(403) })).catch(
      (caught: unknown) => caught,
    );
    expect(foreign).toMatchObject({ status: 403, problem: undefined });
  });
});
