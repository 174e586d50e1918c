import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Schemas, Unanswered } from "../api/client";

const asked: string[] = [];
/** What the server does not answer, and with which status. */
const unanswered = new Map<string, number>();
const economizers = new Set<string>();

vi.mock("../api/queries", async () => {
  const { QueryClient } = await import("@tanstack/react-query");
  const query = (kind: string) => (id: string) => ({
    queryKey: [kind, id],
    queryFn: async () => {
      const key = `${kind} ${id}`;
      asked.push(key);
      const status = unanswered.get(key);
      if (status !== undefined) throw new Unanswered(status, undefined);
      return { head: { site: {}, system: { nameplate: { economizer: economizers.has(id) } } } };
    },
    retry: false,
    staleTime: 60_000,
  });
  return {
    queries: new QueryClient(),
    instrumentsQuery: query("instruments")("all"),
    visitQuery: query("visit"),
    systemQuery: query("system"),
    historyQuery: query("history"),
    economizerQuery: query("economizer"),
  };
});

const { fetchAhead } = await import("./ahead");
const { queries } = await import("../api/queries");

const visit = (id: string, mine: boolean, kind = "packaged_rooftop") => ({
  id,
  mine,
  system: { id: `s-${id}`, kind },
});
const DAY = {
  open: [visit("other", false), visit("mine", true)],
  systems: [{ id: "s-mine" }, { id: "s-far" }],
} as unknown as Schemas["DaySheet"];

describe("what a day without signal needs", () => {
  beforeEach(() => {
    asked.length = 0;
    unanswered.clear();
    economizers.clear();
    queries.clear();
  });

  it("comes with one's own visit first, and every system once", async () => {
    economizers.add("s-mine");
    await fetchAhead(DAY);
    expect(asked).toEqual([
      "instruments all",
      "visit mine",
      "system s-mine",
      "economizer mine",
      "history s-mine",
      "visit other",
      "system s-other",
      "history s-other",
      "system s-far",
    ]);
    asked.length = 0;
    await fetchAhead(DAY);
    expect(asked.filter((each) => !each.startsWith("economizer"))).toEqual([]);
  });

  it("goes on past what is refused", async () => {
    unanswered.set("visit mine", 422);
    unanswered.set("history s-mine", 500);
    await fetchAhead(DAY);
    expect(asked).toContain("visit other");
    expect(asked.at(-1)).toBe("system s-far");
  });

  it.each([0, 401])("stops when nobody answers, or nobody is signed in (%i)", async (status) => {
    unanswered.set("visit mine", status);
    await fetchAhead(DAY);
    expect(asked).toEqual(["instruments all", "visit mine"]);
  });
});
