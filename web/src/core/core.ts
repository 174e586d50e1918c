/** The core on this device: loaded in the background after the first page, asked as the server is asked. */
import { useSyncExternalStore } from "react";
import { type Problem, Unanswered } from "../api/client";
import { queries } from "../api/queries";
import type { FromWorker, ToWorker } from "./worker";

export type CoreState = "off" | "loading" | "ready" | "failed";

/** What the build says of the core it came with. */
export interface Made {
  core: string;
  python: string;
  memory: string;
  /** Every file of it, to be kept on the device. */
  files: string[];
}

type Answered = { answer: unknown } | { refusals: NonNullable<Problem["refusals"]> };

/** The worker as this file needs it; a test gives its own. */
export interface Thread {
  postMessage: (message: ToWorker) => void;
  terminate: () => void;
  onmessage: ((event: { data: FromWorker }) => void) | null;
  onerror: ((event: unknown) => void) | null;
}

const newThread = (): Thread =>
  new Worker(new URL("./worker.ts", import.meta.url), { type: "module" }) as unknown as Thread;

const madeNow = async (): Promise<Made> => {
  const answer = await fetch("/core.json", { cache: "no-cache" });
  if (!answer.ok) throw new Error(`core.json: ${answer.status}`);
  return (await answer.json()) as Made;
};

interface Open {
  question: string;
  settle: (answer: Answered) => void;
  fail: (error: Error) => void;
}

/** A taken reading is judged before anything else is worked out. */
const FIRST = new Set(["visit", "accept"]);
const HURRIED = 1e9;

export class Core {
  state: CoreState = "off";
  /** Which core this is; compared with the server's. */
  version = "";
  private thread: Thread | undefined;
  private next = 1;
  private open = new Map<number, Open>();
  /** The one that is being answered. */
  private asking: number | undefined;
  /** When it was asked last, or answered. */
  private last = Number.NEGATIVE_INFINITY;
  private listeners = new Set<() => void>();

  constructor(
    private readonly thread_: () => Thread = newThread,
    private readonly made: () => Promise<Made> = madeNow,
    private readonly keep: (made: Made) => void = () => undefined,
  ) {}

  readonly snapshot = (): CoreState => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Load it, once. A failure leaves everything to the server, and is tried again at the next start. */
  async start(): Promise<void> {
    if (this.state === "loading" || this.state === "ready") return;
    this.set("loading");
    try {
      const made = await this.made();
      const thread = this.thread_();
      this.thread = thread;
      thread.onerror = () => this.stop("failed");
      thread.onmessage = ({ data }) => {
        if ("ready" in data) {
          this.version = made.core;
          this.set("ready");
          this.keep(made);
        } else if ("number" in data) this.answered(data);
        else this.stop("failed");
      };
      thread.postMessage({ files: { python: made.python, memory: made.memory } });
    } catch {
      this.stop("failed");
    }
  }

  /** The server has another core: take that one, when it can be had. */
  async follow(version: string): Promise<void> {
    if (this.state !== "ready" || version === this.version) return;
    const made = await this.made().catch(() => undefined);
    if (made?.core !== version || this.state !== "ready") return;
    this.stop("off");
    await this.start();
  }

  /** How long nobody has wanted anything of it [ms]: what takes its time waits for that. */
  quietFor(): number {
    return this.open.size > 0 ? 0 : performance.now() - this.last;
  }

  /** An answer of the core; what it refuses comes as it comes from the server. */
  async ask<T>(ask: string, given: Record<string, unknown> = {}): Promise<T> {
    const thread = this.thread;
    if (this.state !== "ready" || !thread) throw new Unanswered(0, undefined);
    const question = JSON.stringify({ ask, ...given });
    this.last = performance.now();
    const found = await new Promise<Answered>((settle, fail) => {
      // What a reading means comes before what a page would like to draw: below zero are those that go first.
      const number = FIRST.has(ask) ? this.next++ - HURRIED : this.next++;
      this.open.set(number, { question, settle, fail });
      this.askOn();
    });
    if ("refusals" in found) {
      const detail = found.refusals[0]?.sentence.text ?? "Refused.";
      throw new Unanswered(422, { detail, refusals: found.refusals });
    }
    return found.answer as T;
  }

  /** One at a time: those that wait can still be put in order. */
  private askOn(): void {
    if (this.asking !== undefined || this.open.size === 0) return;
    const number = Math.min(...this.open.keys());
    const next = this.open.get(number);
    if (!next) return;
    this.asking = number;
    this.thread?.postMessage({ number, question: next.question });
  }

  private answered(data: { number: number; answer: string } | { number: number; failed: string }): void {
    const asked = this.open.get(data.number);
    this.open.delete(data.number);
    this.asking = undefined;
    this.last = performance.now();
    this.askOn();
    if ("answer" in data) asked?.settle(JSON.parse(data.answer) as Answered);
    else asked?.fail(new Unanswered(500, undefined));
  }

  private stop(state: CoreState): void {
    this.thread?.terminate();
    this.thread = undefined;
    for (const { fail } of this.open.values()) fail(new Unanswered(0, undefined));
    this.open.clear();
    this.asking = undefined;
    this.set(state);
  }

  private set(state: CoreState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

/** The worker that keeps the interface keeps the core's files, too. */
function keepFiles(made: Made): void {
  void navigator.serviceWorker?.ready.then((worker) => worker.active?.postMessage({ keepCore: made }));
}

export const core = new Core(newThread, madeNow, keepFiles);

/** The core's answer from this device where it runs; else the server's. */
export const fromEither = <T>(
  ask: string,
  given: Record<string, unknown>,
  there: () => Promise<T>,
): Promise<T> => (core.state === "ready" ? core.ask<T>(ask, given) : there());

/** After the first page is there and the device has nothing else to do. */
export function startCore(): void {
  const start = () => void core.start();
  core.subscribe(() => {
    document.documentElement.dataset.core = core.state;
    // What could not be worked out without it can now.
    if (core.state === "ready")
      void queries.refetchQueries({ predicate: (query) => query.state.status === "error" });
  });
  if ("requestIdleCallback" in window) window.requestIdleCallback(start, { timeout: 3_000 });
  else setTimeout(start, 1_500);
}

export const useCore = (): CoreState => useSyncExternalStore(core.subscribe, core.snapshot, core.snapshot);
