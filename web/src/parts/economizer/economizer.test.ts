import { afterEach, describe, expect, it, vi } from "vitest";
import { type Running, type Sample, TestLine, TestRun } from "../../logbook/running";
import { asTyped, typedSi } from "../../units/units";
import { runsOf } from "./ModeMap";
import { dueWords, valueWords } from "./pointWords";
import { columns } from "./RunChart";
import { chanceWords } from "./SensorIdentity";

describe("numbers in forms", () => {
  it("are read in the user's units and written back the same", () => {
    expect(typedSi("59", "temperature", "US")).toBeCloseTo(15);
    expect(typedSi("−4,5", "temperature", "SI")).toBe(-4.5);
    expect(typedSi("15", "share", "SI")).toBeCloseTo(0.15);
    expect(asTyped(15, "temperature", "US")).toBe("59.0");
    expect(asTyped(-3, "temperature", "SI")).toBe("-3.0");
    expect(asTyped(1888, "airflow", "SI")).toBe("1888000");
    expect(asTyped(undefined, "share", "SI")).toBe("");
  });
  it("are nothing when they are no numbers", () => {
    for (const text of ["", "  ", "warm", "1.2.3"])
      expect(typedSi(text, "temperature", "SI")).toBeUndefined();
  });
});

describe("what is due", () => {
  it("is said with its limits", () => {
    expect(dueWords(0.2, 0.3, "share", "SI")).toBe("20 % to 30 %");
    expect(dueWords(null, 0.05, "share", "SI")).toBe("at most 5 %");
    expect(dueWords(10, null, "temperature", "US")).toBe("at least 50.0 °F");
    expect(dueWords(0.5, null, "yes", "SI")).toBe("yes");
    expect(dueWords(null, 0.5, "count", "SI")).toBe("none");
    expect(valueWords(1, "yes", "SI")).toBe("yes");
    expect(valueWords(2, "count", "SI")).toBe("2");
  });
});

describe("the mode map", () => {
  it("has one block for each run of a mode", () => {
    const point = (outdoor_c: number, mode: string) => ({
      outdoor_c,
      mode,
      position: 0,
      outdoor_share: 0,
      mixed_c: 0,
      supply_c: 0,
      stages: 0,
    });
    const runs = runsOf([
      point(-1, "heating"),
      point(0, "heating"),
      point(1, "free"),
      point(2, "free"),
      point(3, "compressor"),
    ]);
    expect(runs.map((run) => [run.mode, run.from, run.to])).toEqual([
      ["heating", -1, 0],
      ["free", 0, 2],
      ["compressor", 2, 3],
    ]);
  });
});

describe("which is which", () => {
  it("says how likely chance is in whole cases", () => {
    expect(chanceWords(0.2)).toBe("20 of 100 cases");
    expect(chanceWords(0.004)).toBe("less than 1 of 100 cases");
    expect(chanceWords(1e-9)).toBe("less than 1 of 1,000 cases");
  });
});

describe("a test's chart", () => {
  it("leaves a gap where a value is not there or no air has it", () => {
    const samples: Sample[] = [
      { at_s: 0, values: { mixed_temperature: 20 } },
      { at_s: 2, values: { mixed_temperature: -60 } },
      { at_s: 4, values: {} },
    ];
    expect(columns(samples, [{ point: "mixed_temperature" }], (value) => value * 2)).toEqual([
      [0, 2, 4],
      [40, null, null],
    ]);
  });
});

const stream = (...parts: string[]): Response => {
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      for (const part of parts) controller.enqueue(encoder.encode(part));
      controller.close();
    },
  });
  return new Response(body, { status: 200 });
};

describe("a test while it runs", () => {
  afterEach(() => vi.unstubAllGlobals());

  const ran = async (answer: () => Promise<Response>): Promise<Running> => {
    vi.stubGlobal("document", { cookie: "csrftoken=abc" });
    vi.stubGlobal("fetch", answer);
    const run = new TestRun("visit", "closed", "as_found", () => {});
    await run.run();
    return run.state;
  };

  it("takes lines however they are cut", async () => {
    const state = await ran(async () =>
      stream(
        '{"event":"step","step":{"key":"closed","title":"T","expected":[],"allowed_s":9}}\n{"event":"sam',
        'ple","stage":"test","at_s":2,"values":{"fan":1}}\n',
        '{"event":"ended","ended":"done","mark":"holds","sentence":{"text":"As due."},"words":""}\n',
      ),
    );
    expect(state.started?.title).toBe("T");
    expect(state.samples).toEqual([{ at_s: 2, values: { fan: 1 } }]);
    expect(state.ended?.mark).toBe("holds");
    expect(state.trouble).toBe("");
  });
  it("says when the stream breaks off, or is refused", async () => {
    expect(
      (await ran(async () => stream('{"event":"sample","stage":"test","at_s":2,"values":{}}\n'))).trouble,
    ).toContain("connection broke");
    const refused = new Response(JSON.stringify({ detail: "This visit is closed." }), { status: 422 });
    expect((await ran(async () => refused)).trouble).toBe("This visit is closed.");
    expect((await ran(async () => Promise.reject(new Error("no")))).trouble).toContain("look at the ledger");
  });
});

describe("tests in a line", () => {
  const ending = (how: string): Running["ended"] => ({
    ended: how,
    mark: "holds",
    sentence: { text: "As due." },
    words: "",
  });

  const lineOf = (...ends: string[]) => {
    const begun: string[] = [];
    const line = new TestLine("visit", (visit, step, phase, told) => {
      const run = new TestRun(visit, step, phase, told);
      run.run = async () => {
        begun.push(step);
        run.state = { ...run.state, stage: "test", ended: ending(ends[begun.length - 1] ?? "done") };
        told(run.state);
      };
      return run;
    });
    return { line, begun };
  };

  it("follow one another, and what the server wrote is asked again", async () => {
    const { line, begun } = lineOf();
    const told = vi.fn();
    line.start(["closed", "full", "cool"], "as_found", told);
    await vi.waitFor(() => expect(begun).toEqual(["closed", "full", "cool"]));
    expect(line.busy).toBe(false);
    expect(told.mock.calls.length).toBeGreaterThanOrEqual(3);
  });
  it("end when the controller is gone", async () => {
    const { line, begun } = lineOf("done", "gone");
    line.start(["closed", "full", "cool"], "as_found", () => {});
    await vi.waitFor(() => expect(begun).toEqual(["closed", "full"]));
    await Promise.resolve();
    expect(begun).toEqual(["closed", "full"]);
  });
  it("ask before they move what somebody holds, and go on when told to", async () => {
    const asked: boolean[] = [];
    const line = new TestLine("visit", (visit, step, phase, told, overHeld) => {
      const run = new TestRun(visit, step, phase, told, overHeld);
      run.run = async () => {
        asked.push(Boolean(overHeld));
        run.take(
          overHeld
            ? { event: "ended", ...(ending("done") as NonNullable<Running["ended"]>) }
            : { event: "trouble", words: "Held already: fan.", held: ["fan"] },
        );
      };
      return run;
    });
    line.overHeld();
    expect(asked).toEqual([]);
    line.start(["closed"], "as_found", () => {});
    await vi.waitFor(() => expect(line.snapshot()?.held).toEqual(["fan"]));
    expect(line.busy).toBe(false);
    line.overHeld();
    await vi.waitFor(() => expect(line.snapshot()?.ended?.ended).toBe("done"));
    expect(asked).toEqual([false, true]);
  });
});
