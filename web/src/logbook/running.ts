/** A test while it runs against the controller: its samples as they come in. */

import { csrfToken } from "../api/client";
import { jsonLines } from "../api/lines";
import type { Sentence } from "../units/units";

export interface Due {
  point: string;
  low?: number | null;
  high?: number | null;
}

export interface RunStep {
  key: string;
  title: string;
  expected: Due[];
  allowed_s: number;
}

export interface Sample {
  at_s: number;
  values: Record<string, number>;
}

export interface Ended {
  ended: string;
  mark: string;
  sentence: Sentence;
  words: string;
}

export interface Running {
  step: string;
  started: RunStep | undefined;
  stage: string;
  /** Changed in place; the version tells when. */
  samples: Sample[];
  version: number;
  ended: Ended | undefined;
  trouble: string;
  /** Points that somebody holds and this test moves: it asks before it does. */
  held: string[];
}

type Event =
  | { event: "step"; step: RunStep }
  | ({ event: "sample"; stage: string } & Sample)
  | ({ event: "ended" } & Ended)
  | { event: "trouble"; words: string; held?: string[] };

const LOST =
  "The connection broke. What was overridden is being released; look at the ledger before you go on.";

/** Takes the stream's lines, tells its listener at most once a frame, and can be stopped. */
export class TestRun {
  state: Running;
  private readonly stopping = new AbortController();

  constructor(
    private readonly visit: string,
    step: string,
    private readonly phase: string,
    private readonly told: (state: Running) => void,
    private readonly overHeld = false,
  ) {
    this.state = {
      step,
      started: undefined,
      stage: "",
      samples: [],
      version: 0,
      ended: undefined,
      trouble: "",
      held: [],
    };
  }

  async run(): Promise<void> {
    try {
      const answer = await fetch(`/api/v1/visits/${this.visit}/controller/run`, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
        body: JSON.stringify({ step: this.state.step, phase: this.phase, over_held: this.overHeld }),
        signal: this.stopping.signal,
      });
      if (!answer.ok || !answer.body) {
        const problem = (await answer.json().catch(() => undefined)) as { detail?: string } | undefined;
        this.set({ trouble: problem?.detail ?? LOST });
        return;
      }
      for await (const event of jsonLines<Event>(answer.body)) this.take(event);
      if (!this.state.ended && !this.state.trouble) this.set({ trouble: LOST });
    } catch {
      this.set({
        trouble: this.stopping.signal.aborted ? "Stopped. What was overridden is released." : LOST,
      });
    }
  }

  stop(): void {
    this.stopping.abort();
  }

  take(event: Event): void {
    if (event.event === "step") this.set({ started: event.step });
    else if (event.event === "sample") {
      this.state.samples.push({ at_s: event.at_s, values: event.values });
      this.set({ stage: event.stage });
    } else if (event.event === "ended") this.set({ ended: event });
    else this.set({ trouble: event.words, held: event.held ?? [] });
  }

  private set(change: Partial<Running>): void {
    this.state = { ...this.state, ...change, version: this.state.version + 1 };
    this.told(this.state);
  }
}

/** One visit's test in progress and those that wait for their turn. It goes on while other parts of the visit are looked at. */
export class TestLine {
  private run: TestRun | undefined;
  private again: (() => void) | undefined;
  private waiting: string[] = [];
  private listeners = new Set<() => void>();
  private state: Running | undefined;

  constructor(
    private readonly visit: string,
    private readonly made: (...given: ConstructorParameters<typeof TestRun>) => TestRun = (...given) =>
      new TestRun(...given),
  ) {}

  readonly snapshot = (): Running | undefined => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Run tests one after the other. `told`: when the server wrote something down, so that it is asked again. */
  start(steps: string[], phase: string, told: () => void): void {
    const [first, ...rest] = steps;
    if (!first || this.busy) return;
    this.waiting = rest;
    this.begin(first, phase, told);
  }

  /** The test that asked first, all the same: what is held is put back after it. */
  overHeld(): void {
    if (!this.busy && this.state?.held.length) this.again?.();
  }

  stop(): void {
    this.waiting = [];
    this.run?.stop();
  }

  get busy(): boolean {
    return Boolean(this.state && !this.state.ended && !this.state.trouble);
  }

  private begin(step: string, phase: string, told: () => void, overHeld = false): void {
    let stage = "";
    const heard = (state: Running) => {
      this.set(state);
      if (state.stage !== stage) {
        stage = state.stage;
        told();
      }
    };
    const run = this.made(this.visit, step, phase, heard, overHeld);
    this.again = () => this.begin(step, phase, told, true);
    this.run = run;
    this.set(run.state);
    void run.run().then(() => {
      told();
      const { ended, trouble } = run.state;
      const next = this.waiting.shift();
      if (next && ended && !trouble && !ENDS_ALL.has(ended.ended)) this.begin(next, phase, told);
      else this.waiting = [];
    });
  }

  private set(state: Running): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

/** After these the next test would fare no better. */
const ENDS_ALL = new Set(["gone", "stopped", "not_held"]);

const lines = new Map<string, TestLine>();

export function testLineOf(visit: string): TestLine {
  const known = lines.get(visit) ?? new TestLine(visit);
  lines.set(visit, known);
  return known;
}
