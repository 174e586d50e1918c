import "fake-indexeddb/auto";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Schemas, Unanswered } from "../api/client";
import type { NewEntry } from "../api/entries";
import { Queue } from "./queue";
import * as store from "./store";

type Receipt = Schemas["Receipt"];

let count = 0;
const entry = (): NewEntry => {
  count += 1;
  return {
    id: `id-${count}`,
    kind: "note",
    at: "2026-07-01T10:00:00Z",
    phase: "as_found",
    body: { text: "x" },
  };
};

/** A server that remembers what it committed, and can be told to fail. */
class Server {
  committed: string[] = [];
  calls = 0;
  failing: (() => never) | undefined;
  loseAnswer = false;
  refuse = new Set<string>();

  readonly post = async (_visit: string, entries: NewEntry[]): Promise<Receipt> => {
    this.calls += 1;
    this.failing?.();
    const accepted = entries.map((each) => each.id).filter((id) => !this.refuse.has(id));
    for (const id of accepted) if (!this.committed.includes(id)) this.committed.push(id);
    if (this.loseAnswer) throw new Unanswered(0, undefined);
    const refused = entries.flatMap((each, index) =>
      this.refuse.has(each.id)
        ? [{ index, id: each.id, refusal: { path: "body", sentence: { text: "No.", numbers: {} } } }]
        : [],
    );
    return { accepted, refused, visit: { id: "v" } } as unknown as Receipt;
  };
}

const away = () => {
  throw new Unanswered(0, undefined);
};

let person = 0;
async function fresh(server: Server): Promise<Queue> {
  person += 1;
  const queue = new Queue(server.post, () => {});
  await queue.belongsTo(`person-${person}`);
  return queue;
}

const settled = (queue: Queue) => vi.waitFor(() => expect(queue.snapshot().link).not.toBe("sending"));
/** Without its pauses. */
async function hurried(queue: Queue, done: () => void): Promise<void> {
  await vi.waitFor(() => {
    queue.kick();
    done();
  }, 4_000);
}
const empty = (queue: Queue) => vi.waitFor(() => expect(queue.snapshot().waiting).toHaveLength(0), 5_000);

describe("the queue", () => {
  let server: Server;
  beforeEach(() => {
    server = new Server();
  });
  afterEach(() => vi.useRealTimers());

  it("sends what is taken, in order, and lets go of it once acknowledged", async () => {
    const queue = await fresh(server);
    const taken = [entry(), entry(), entry()];
    for (const each of taken) await queue.take("v", [each]);
    await empty(queue);
    expect(server.committed).toEqual(taken.map((each) => each.id));
    expect(await store.waitingOf(`person-${person}`)).toEqual([]);
  });

  it("never shows a taken entry as gone, however the device's reads and writes cross", async () => {
    const queue = await fresh(server);
    server.failing = away;
    const taken = [entry(), entry(), entry()];
    const honest = store.waitingOf;
    const slow = vi.spyOn(store, "waitingOf").mockImplementation(async (who) => {
      const rows = await honest(who);
      await new Promise((done) => setTimeout(done, 30));
      return rows;
    });
    const seen: string[][] = [];
    queue.subscribe(() => seen.push(queue.snapshot().waiting.map((row) => row.entry.id)));
    const begun: Promise<void>[] = [];
    for (const each of taken) {
      begun.push(queue.take("v", [each]));
      await new Promise((done) => setTimeout(done, 10));
    }
    await Promise.all(begun);
    slow.mockRestore();
    for (const { id } of taken) {
      const first = seen.findIndex((ids) => ids.includes(id));
      expect(first).toBeGreaterThanOrEqual(0);
      for (const ids of seen.slice(first)) expect(ids).toContain(id);
    }
  });

  it("lets go of nothing before it is shown, also when something is taken meanwhile", async () => {
    person += 1;
    let shown = (): void => undefined;
    const heard: string[] = [];
    const slow = new Promise<void>((done) => {
      shown = done;
    });
    const queue = new Queue(server.post, async (receipt) => {
      if (heard.length === 0) await slow;
      heard.push(...receipt.accepted.map(String));
    });
    await queue.belongsTo(`person-${person}`);
    const [first, second] = [entry(), entry()];
    await queue.take("v", [first]);
    await vi.waitFor(() => expect(server.committed).toEqual([first.id]));
    await queue.take("v", [second]);
    expect(queue.snapshot().waiting.map((row) => row.entry.id)).toEqual([first.id, second.id]);
    shown();
    await empty(queue);
    expect(heard).toEqual([first.id, second.id]);
  });

  it("keeps entries while the server is away, and sends them by itself later", async () => {
    const queue = await fresh(server);
    server.failing = away;
    await queue.take("v", [entry(), entry()]);
    await vi.waitFor(() => expect(queue.snapshot().link).toBe("away"));
    expect(queue.snapshot().waiting).toHaveLength(2);
    server.failing = undefined;
    await empty(queue);
    expect(server.committed).toHaveLength(2);
  });

  it("finds them again after a reload", async () => {
    const first = await fresh(server);
    server.failing = away;
    await first.take("v", [entry()]);
    await settled(first);
    const second = new Server();
    const queue = new Queue(second.post, () => {});
    await queue.belongsTo(`person-${person}`);
    await empty(queue);
    expect(second.committed).toHaveLength(1);
  });

  it("sends again when the answer was lost, and nothing is doubled", async () => {
    const queue = await fresh(server);
    server.loseAnswer = true;
    await queue.take("v", [entry()]);
    await vi.waitFor(() => expect(queue.snapshot().link).toBe("away"));
    server.loseAnswer = false;
    queue.kick();
    await empty(queue);
    expect(server.committed).toHaveLength(1);
    expect(server.calls).toBeGreaterThan(1);
  });

  it("shows a refused entry with its reason and does not hold up the others", async () => {
    const queue = await fresh(server);
    const [good, bad, after] = [entry(), entry(), entry()];
    server.refuse.add(bad.id);
    await queue.take("v", [good, bad, after]);
    await empty(queue);
    expect(server.committed).toEqual([good.id, after.id]);
    const refused = queue.snapshot().refused;
    expect(refused.map((row) => row.refusal?.sentence.text)).toEqual(["No."]);
    if (refused[0]) await queue.drop(refused[0]);
    expect(queue.snapshot().refused).toEqual([]);
  });

  it("waits for its person when signed out, and sends nothing as somebody else", async () => {
    const queue = await fresh(server);
    server.failing = () => {
      throw new Unanswered(401, undefined);
    };
    await queue.take("v", [entry()]);
    await vi.waitFor(() => expect(queue.snapshot().link).toBe("signed_out"));
    server.failing = undefined;
    await queue.belongsTo("somebody else");
    await new Promise((done) => setTimeout(done, 50));
    expect(server.committed).toEqual([]);
    await queue.belongsTo(`person-${person}`);
    await empty(queue);
    expect(server.committed).toHaveLength(1);
  });

  it("sends even what the device could not keep, and says so meanwhile", async () => {
    const queue = await fresh(server);
    const broken = vi.spyOn(store.device, "put").mockRejectedValue(new Error("no room"));
    server.failing = away;
    await queue.take("v", [entry()]);
    expect(queue.snapshot().fragile).toBe(true);
    expect(queue.snapshot().waiting).toHaveLength(1);
    broken.mockRestore();
    server.failing = undefined;
    queue.kick();
    await empty(queue);
    expect(server.committed).toHaveLength(1);
  });

  it("shows an entry as waiting at once", async () => {
    const queue = await fresh(server);
    server.failing = away;
    const taking = queue.take("v", [entry()]);
    expect(queue.snapshot().waiting).toHaveLength(1);
    await taking;
    expect(queue.snapshot().waiting).toHaveLength(1);
  });

  it("renews a page token gone stale and goes on", async () => {
    let renewed = 0;
    const queue = new Queue(
      server.post,
      () => {},
      async () => {
        renewed += 1;
        server.failing = undefined;
      },
    );
    person += 1;
    await queue.belongsTo(`person-${person}`);
    server.failing = () => {
      throw new Unanswered(403, undefined);
    };
    await queue.take("v", [entry()]);
    await empty(queue);
    expect(renewed).toBe(1);
    expect(queue.snapshot().refused).toEqual([]);
  });

  it("keeps an entry refused as a whole, with the server's words", async () => {
    const queue = await fresh(server);
    server.failing = () => {
      throw new Unanswered(403, { detail: "This is Oona's visit.", refusals: [] });
    };
    await queue.take("v", [entry()]);
    await vi.waitFor(() => expect(queue.snapshot().refused).toHaveLength(1));
    expect(queue.snapshot().refused[0]?.refusal?.sentence.text).toBe("This is Oona's visit.");
  });

  it("sets an entry aside that the server fails on by itself, says so, and goes on", async () => {
    const [good, bad, after] = [entry(), entry(), entry()];
    const broken = new Queue(async (visit, entries) => {
      if (entries.some((each) => each.id === bad.id)) throw new Unanswered(500, undefined);
      return server.post(visit, entries);
    });
    person += 1;
    await broken.belongsTo(`person-${person}`);
    await broken.take("v", [good, bad, after]);
    await hurried(broken, () => expect(broken.snapshot().waiting).toHaveLength(0));
    expect(server.committed).toEqual([good.id, after.id]);
    const [aside] = broken.snapshot().refused;
    expect(aside?.aside).toBe("failed");
    expect(aside?.refusal?.sentence.text).toContain("set aside on this device");
    expect(await store.waitingOf(`person-${person}`)).toHaveLength(1);
    const mended = new Queue(server.post, () => {});
    await mended.belongsTo(`person-${person}`);
    await mended.again(mended.snapshot().refused);
    await empty(mended);
    expect(server.committed).toEqual([good.id, after.id, bad.id]);
    expect(mended.snapshot().refused).toEqual([]);
  });

  it("waits for a server that is away, however often, and sets nothing aside", async () => {
    let calls = 0;
    const queue = new Queue(async (visit, entries) => {
      calls += 1;
      if (calls < 8) throw new Unanswered(503, undefined);
      return server.post(visit, entries);
    });
    person += 1;
    await queue.belongsTo(`person-${person}`);
    await queue.take("v", [entry(), entry()]);
    await hurried(queue, () => expect(server.committed).toHaveLength(2));
    expect(queue.snapshot().refused).toEqual([]);
  });

  it("adds what was made before another closed the visit, after a reopening", async () => {
    const closed = new Set<string>();
    let open = false;
    const queue = new Queue(async (visit, entries) => {
      const refused = entries.flatMap((each, index) => {
        if (each.kind === "reopening") open = true;
        if (open) return [];
        closed.add(each.id);
        return [
          {
            index,
            id: each.id,
            closed: true,
            refusal: { path: "", sentence: { text: "Closed.", numbers: {} } },
          },
        ];
      });
      const receipt = await server.post(
        visit,
        entries.filter((each) => !refused.some((no) => no.id === each.id)),
      );
      return { ...receipt, refused };
    });
    person += 1;
    await queue.belongsTo(`person-${person}`);
    const [first, second] = [entry(), entry()];
    await queue.take("v", [first, second]);
    await vi.waitFor(() => expect(queue.snapshot().refused).toHaveLength(2));
    const reopening: NewEntry = { ...entry(), kind: "reopening", body: {} };
    await queue.takeBefore("v", reopening, queue.snapshot().refused);
    await empty(queue);
    expect(server.committed).toEqual([reopening.id, first.id, second.id]);
    expect(queue.snapshot().refused).toEqual([]);
    expect(await store.waitingOf(`person-${person}`)).toEqual([]);
  });
});
