/** A test while it runs against the controller: its samples as they come in. */
import { csrfToken } from "../api/client";
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
}

type Event =
  | { event: "step"; step: RunStep }
  | ({ event: "sample"; stage: string } & Sample)
  | ({ event: "ended" } & Ended)
  | { event: "trouble"; words: string };

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
  ) {
    this.state = {
      step,
      started: undefined,
      stage: "",
      samples: [],
      version: 0,
      ended: undefined,
      trouble: "",
    };
  }

  async run(): Promise<void> {
    try {
      const answer = await fetch(`/api/v1/visits/${this.visit}/controller/run`, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
        body: JSON.stringify({ step: this.state.step, phase: this.phase }),
        signal: this.stopping.signal,
      });
      if (!answer.ok || !answer.body) {
        const problem = (await answer.json().catch(() => undefined)) as { detail?: string } | undefined;
        this.set({ trouble: problem?.detail ?? LOST });
        return;
      }
      const reader = answer.body.getReader();
      const decoder = new TextDecoder();
      let rest = "";
      for (;;) {
        const { value, done } = await reader.read();
        rest += decoder.decode(value, { stream: !done });
        const lines = rest.split("\n");
        rest = lines.pop() ?? "";
        for (const line of lines) if (line) this.take(JSON.parse(line) as Event);
        if (done) break;
      }
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
    else this.set({ trouble: event.words });
  }

  private set(change: Partial<Running>): void {
    this.state = { ...this.state, ...change, version: this.state.version + 1 };
    this.told(this.state);
  }
}
