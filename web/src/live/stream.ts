/** One open stream of a visit's live probes: the present picture, and trends for drawing. */
import type { Picture } from "./types";

export interface Trend {
  times: number[];
  values: number[];
}

export interface LiveState {
  /** A gateway of probes is there. */
  on: boolean;
  picture: Picture | undefined;
  /** Counts up with every change of the trends, which are changed in place. */
  version: number;
}

const LONGEST_S = 3 * 3600;
/** A picture older than this is no picture: the server sends several a second. */
const SILENT_MS = 6_000;
/** Browsers may give up a stream for good when a request fails; then it is opened anew. */
const AGAIN_MS = 2_000;
const AHEAD_MS = 30_000;

export class LiveStream {
  readonly trends = new Map<string, Trend>();
  private state: LiveState = { on: false, picture: undefined, version: 0 };
  private listeners = new Set<() => void>();
  private source: EventSource | undefined;
  private silence: ReturnType<typeof setTimeout> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly open: (url: string) => EventSource = (url) => new EventSource(url),
  ) {}

  readonly snapshot = (): LiveState => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The probes' clock, where it runs ahead of the device's: simulated time may. Readings then count by it. */
  clock(): string | undefined {
    const { picture } = this.state;
    if (!picture?.connected || !picture.at) return undefined;
    return new Date(picture.at).getTime() > Date.now() + AHEAD_MS ? picture.at : undefined;
  }

  start(): void {
    this.closed = false;
    clearTimeout(this.again);
    const source = this.open(this.url);
    this.source = source;
    source.addEventListener("kept", (event) => this.take(JSON.parse(event.data)));
    source.addEventListener("picture", (event) => this.show(JSON.parse(event.data)));
    source.addEventListener("error", () => {
      this.lose();
      if (source.readyState === 2 && !this.closed && this.state.on) {
        this.again = setTimeout(() => this.start(), AGAIN_MS);
      }
    });
  }

  stop(): void {
    this.closed = true;
    this.source?.close();
    clearTimeout(this.silence);
    clearTimeout(this.again);
  }

  private take(kept: Record<string, [number, number][]>): void {
    for (const [key, samples] of Object.entries(kept)) {
      this.trends.set(key, {
        times: samples.map(([at]) => at),
        values: samples.map(([, value]) => value),
      });
    }
    this.set({});
  }

  private show(picture: Picture): void {
    for (const channel of picture.channels) {
      if (channel.samples.length === 0) continue;
      const trend = this.trends.get(channel.key) ?? { times: [], values: [] };
      this.trends.set(channel.key, trend);
      for (const [at, value] of channel.samples) {
        if (at <= (trend.times.at(-1) ?? 0)) continue;
        trend.times.push(at);
        trend.values.push(value);
      }
      const old = trend.times.findIndex((at) => at > (trend.times.at(-1) ?? 0) - LONGEST_S);
      if (old > 500) {
        trend.times.splice(0, old);
        trend.values.splice(0, old);
      }
    }
    clearTimeout(this.silence);
    this.silence = setTimeout(() => this.lose(), SILENT_MS);
    this.set({ on: true, picture });
  }

  /** Nothing comes in any more: no value may pass for live. */
  private lose(): void {
    const { picture } = this.state;
    if (!picture?.connected) return;
    this.set({
      picture: {
        ...picture,
        connected: false,
        channels: picture.channels.map((channel) => ({
          ...channel,
          lost: true,
          value: null,
          mean: null,
          samples: [],
        })),
      },
    });
  }

  private set(change: Partial<LiveState>): void {
    this.state = { ...this.state, ...change, version: this.state.version + 1 };
    for (const listener of this.listeners) listener();
  }
}
