import { describe, expect, it } from "vitest";
import { liveState } from "../ribbon/tags";
import { LiveStream } from "./stream";
import { aligned } from "./Trends";
import type { Channel, State } from "./types";

const channel = (state: State, lost = false): Channel => ({ state, lost }) as unknown as Channel;

describe("a station's sign", () => {
  it("is that of its least steady probe", () => {
    expect(liveState([channel("steady"), channel("moving")])).toBe("moving");
    expect(liveState([channel("steady"), channel("too_short")])).toBe("too_short");
    expect(liveState([channel("scattered"), channel("too_short")])).toBe("scattered");
    expect(liveState([channel("steady")])).toBe("steady");
  });

  it("is lost when any is lost, and none without a probe", () => {
    expect(liveState([channel("steady"), channel("moving", true)])).toBe("lost");
    expect(liveState([])).toBeUndefined();
  });
});

describe("trends side by side", () => {
  it("share one line of moments, each with what it has there", () => {
    const trends = new Map([
      ["a", { times: [1, 2, 4], values: [10, 20, 40] }],
      ["b", { times: [2, 3], values: [200, 300] }],
    ]);
    expect(aligned(["a", "b"], trends, (value) => value / 10)).toEqual([
      [1, 2, 3, 4],
      [1, 2, undefined, 4],
      [undefined, 20, 30, undefined],
    ]);
  });

  it("are empty for a probe not heard yet", () => {
    expect(aligned(["none"], new Map(), (value) => value)).toEqual([[], []]);
  });
});

describe("the probes' clock", () => {
  const withClock = (ahead: number, connected = true) => {
    const source = new EventTarget() as EventTarget & { close: () => void };
    source.close = () => undefined;
    const stream = new LiveStream("/live", () => source as unknown as EventSource);
    stream.start();
    const at = new Date(Date.now() + ahead * 1000).toISOString();
    const data = JSON.stringify({
      connected,
      at,
      running_s: 1,
      state: "steady",
      words: { text: "" },
      channels: [],
    });
    source.dispatchEvent(new MessageEvent("picture", { data }));
    return { stream, at };
  };

  it("counts where simulated time runs ahead", () => {
    const { stream, at } = withClock(600);
    expect(stream.clock()).toBe(at);
    stream.stop();
  });

  it("does not for probes that keep the time of day, nor when they are gone", () => {
    expect(withClock(2).stream.clock()).toBeUndefined();
    expect(withClock(-90).stream.clock()).toBeUndefined();
    expect(withClock(600, false).stream.clock()).toBeUndefined();
  });
});
