import { describe, expect, it } from "vitest";
import { Unanswered } from "../api/client";
import { Core, type Made, type Thread } from "./core";
import type { FromWorker, ToWorker } from "./worker";

const MADE: Made = { core: "aaaaaaaaaaaa", python: "/py/", memory: "/core.bin", files: ["/core.bin"] };

/** A worker that answers as it is told to. */
class Told implements Thread {
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: ((event: unknown) => void) | null = null;
  heard: ToWorker[] = [];
  ended = false;

  constructor(private readonly answer: (question: string) => string | Error = () => '{"answer": 1}') {}

  postMessage(message: ToWorker): void {
    this.heard.push(message);
    if ("files" in message) return;
    const said = this.answer(message.question);
    const { number } = message;
    queueMicrotask(() =>
      this.say(said instanceof Error ? { number, failed: said.message } : { number, answer: said }),
    );
  }

  terminate(): void {
    this.ended = true;
  }

  say(data: FromWorker): void {
    this.onmessage?.({ data });
  }
}

async function ready(thread: Told, made: () => Promise<Made> = async () => MADE, kept: Made[] = []) {
  const core = new Core(
    () => thread,
    made,
    (each) => kept.push(each),
  );
  await core.start();
  thread.say({ ready: true });
  return core;
}

describe("the core on the device", () => {
  it("is loaded once, says which it is, and has its files kept", async () => {
    const kept: Made[] = [];
    const thread = new Told();
    const core = await ready(thread, async () => MADE, kept);
    await core.start();
    expect([core.state, core.version]).toEqual(["ready", "aaaaaaaaaaaa"]);
    expect(thread.heard).toEqual([{ files: { python: "/py/", memory: "/core.bin" } }]);
    expect(kept).toEqual([MADE]);
  });

  it("judges a reading before what a page would like to draw, and everything else in order", async () => {
    const thread = new Told();
    const core = await ready(thread);
    const asked = ["chart", "air", "visit", "air"].map((each, index) => core.ask(each, { index }));
    await Promise.all(asked);
    const questions = thread.heard.flatMap((each) => ("question" in each ? [JSON.parse(each.question)] : []));
    expect(questions.map(({ ask, index }) => `${ask} ${index}`)).toEqual([
      "chart 0",
      "visit 2",
      "air 1",
      "air 3",
    ]);
  });

  it("answers, and refuses with the sentence and its field", async () => {
    const sentence = { text: "Too warm.", numbers: {} };
    const refusal = JSON.stringify({ refusals: [{ path: "body.value", sentence }] });
    const core = await ready(
      new Told((question) => (question.includes("warm") ? refusal : '{"answer": {"x": 2}}')),
    );
    expect(await core.ask<{ x: number }>("visit", { a: 1 })).toEqual({ x: 2 });
    const error = await core.ask("warm").catch((each: unknown) => each);
    expect(error).toBeInstanceOf(Unanswered);
    expect((error as Unanswered).status).toBe(422);
    expect((error as Unanswered).problem?.refusals?.[0]?.path).toBe("body.value");
  });

  it("does not answer before it is there, when it fails, or when it can't be had", async () => {
    const core = new Core(
      () => new Told(),
      async () => MADE,
    );
    await expect(core.ask("visit")).rejects.toBeInstanceOf(Unanswered);
    const failing = await ready(new Told(() => new Error("division by zero")));
    await expect(failing.ask("visit")).rejects.toMatchObject({ status: 500 });
    const nowhere = new Core(
      () => new Told(),
      async () => {
        throw new Error("away");
      },
    );
    await nowhere.start();
    expect(nowhere.state).toBe("failed");
  });

  it("lets nobody wait when its thread ends, and starts again when asked to", async () => {
    const thread = new Told();
    thread.postMessage = () => undefined;
    const core = await ready(thread);
    const waiting = core.ask("visit").catch((error: unknown) => error);
    thread.onerror?.({});
    expect(await waiting).toMatchObject({ status: 0 });
    expect([core.state, thread.ended]).toEqual(["failed", true]);
    await core.start();
    thread.say({ ready: true });
    expect(core.state).toBe("ready");
  });

  it("follows the server to another core when that can be had, and stays otherwise", async () => {
    let now = MADE;
    const thread = new Told();
    const core = await ready(thread, async () => now);
    await core.follow("bbbbbbbbbbbb");
    expect([core.version, thread.ended]).toEqual(["aaaaaaaaaaaa", false]);
    now = { ...MADE, core: "bbbbbbbbbbbb" };
    await core.follow("bbbbbbbbbbbb");
    expect(thread.ended).toBe(true);
    thread.say({ ready: true });
    expect([core.state, core.version]).toEqual(["ready", "bbbbbbbbbbbb"]);
  });
});
