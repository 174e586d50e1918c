import { describe, expect, it, vi } from "vitest";
import { LiveStream } from "./stream";
import type { Channel, Picture } from "./types";

class Source extends EventTarget {
  readyState = 1;
  close = vi.fn();
  send(name: string, data: unknown) {
    this.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data) }));
  }
  fail(readyState: number) {
    this.readyState = readyState;
    this.dispatchEvent(new Event("error"));
  }
}

const channel = (value: number, samples: [number, number][]): Channel => ({
  key: "a/dry_bulb/supply/1",
  instrument: "a",
  name: "Probe A",
  serial: "TH-1",
  quantity: "dry_bulb",
  kind: "temperature",
  station: "supply",
  point: 1,
  lost: false,
  value,
  mean: value,
  state: "steady",
  settles_in_s: null,
  held: { seconds: 180, samples: 180, slope_per_10min: 0, slope_plus_minus: 0, scatter: 0 },
  at: "2026-07-01T10:00:00Z",
  battery: 0.8,
  low_battery: false,
  samples,
});

const picture = (value: number, samples: [number, number][]): Picture => ({
  connected: true,
  at: "2026-07-01T10:00:00Z",
  running_s: 700,
  state: "steady",
  words: { text: "Steady: read now.", numbers: {} },
  channels: [channel(value, samples)],
});

function opened() {
  const sources: Source[] = [];
  const stream = new LiveStream("/live", () => {
    const source = new Source();
    sources.push(source);
    return source as unknown as EventSource;
  });
  stream.start();
  return { stream, sources, source: sources[0] as Source };
}

describe("a live stream", () => {
  it("draws what was kept and what comes, each sample once", () => {
    const { stream, source } = opened();
    source.send("kept", { "a/dry_bulb/supply/1": [[1, 20]] });
    source.send(
      "picture",
      picture(13, [
        [1, 20],
        [2, 13],
      ]),
    );
    expect(stream.trends.get("a/dry_bulb/supply/1")).toEqual({ times: [1, 2], values: [20, 13] });
    expect(stream.snapshot().picture?.channels[0]?.value).toBe(13);
  });

  it("shows no value once the stream breaks", () => {
    const { stream, source } = opened();
    source.send("picture", picture(13, []));
    source.fail(0);
    expect(stream.snapshot().picture?.connected).toBe(false);
    expect(stream.snapshot().picture?.channels[0]).toMatchObject({ lost: true, value: null });
  });

  it("shows no value once the stream is silent", () => {
    vi.useFakeTimers();
    const { stream, source } = opened();
    source.send("picture", picture(13, []));
    vi.advanceTimersByTime(7_000);
    expect(stream.snapshot().picture?.channels[0]?.value).toBeNull();
    vi.useRealTimers();
  });

  it("opens anew when the browser gives up, and not where there are no probes", () => {
    vi.useFakeTimers();
    const { sources, source } = opened();
    source.send("picture", picture(13, []));
    source.fail(2);
    vi.advanceTimersByTime(2_500);
    expect(sources.length).toBe(2);
    const without = opened();
    without.source.fail(2);
    vi.advanceTimersByTime(10_000);
    expect(without.sources.length).toBe(1);
    vi.useRealTimers();
  });
});
