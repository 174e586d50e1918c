import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { controllerKey, economizerKey } from "../../api/queries";
import { type Visit, VisitContext } from "../../logbook/context";
import type { Controller } from "../../logbook/controller";
import type { Page as VisitPage } from "../../logbook/logbook";
import { UnitSystemProvider } from "../../units/UnitSystem";
import Alarms from "./Alarms";
import ControllerPanel from "./ControllerPanel";
import Loops from "./Loops";
import Minimum from "./Minimum";
import Plan from "./Plan";
import PointsAudit from "./PointsAudit";
import Proof from "./Proof";
import Relief from "./Relief";
import Retrofit from "./Retrofit";
import { Changes } from "./Revisions";
import { Suspects } from "./Suspects";
import { TestBench } from "./TestBench";
import type { Page, SeenTest, Test } from "./useEconomizer";
import { Watched } from "./Watched";

globalThis.localStorage = { getItem: () => "SI", setItem: () => undefined } as unknown as Storage;

const words = (text: string, numbers = {}) => ({ text, numbers });
const figure = (value: number, kind: string) => ({ value, kind });

const SETTING = {
  model: "ED-20",
  changeover: "fixed_enthalpy",
  relief: "barometric",
  relief_opens_pa: 12.5,
  cooling_setpoint_c: 24,
  supply_setpoint_c: 13,
  mixed_low_limit_c: 7.2,
  freeze_c: 3.3,
  high_limit_c: 23.9,
  loops: { supply_loop: "supply", low_limit: "outdoor", freeze: "mixed", changeover: "outdoor" },
  terminals: { "AI-1": "outdoor", "AI-3": "mixed" },
};

const step = (key: string, more: Partial<Test["step"]> = {}): Test["step"] => ({
  key,
  title: `Test ${key}`,
  purpose: "So that it works.",
  do: words("Hold it at {p}.", { p: figure(0.4, "share") }),
  stimulus: [
    { point: "occupied", value: 1 },
    { point: "outdoor_temperature", value: 12 },
  ],
  expected: [{ point: "damper_position", low: 0.95, high: null }],
  allowed_s: 240,
  hazards: ["The damper moves by itself."],
  ...more,
});

const seen = (mark: SeenTest["mark"], more: Partial<SeenTest> = {}): SeenTest => ({
  entry: "e",
  at: "2026-07-01T10:00:00Z",
  by: "Oona",
  seen: { test: "full", how: "controller", expected: [], trace: [] },
  mark,
  points: [
    {
      point: "damper_position",
      name: "Outdoor damper",
      kind: "share",
      low: 0.95,
      high: null,
      value: 0.4,
      plus_minus: 0.02,
      mark,
    },
  ],
  sentence: words("As seen."),
  causes: [],
  times: 1,
  ...more,
});

const POINTS: Page["points"] = {
  lines: [
    {
      line: { terminal: "AI-1", name: "OAT", place: "outdoor" },
      shown_c: 10.4,
      reference_c: 10,
      plus_minus_k: 0.3,
      mark: "holds",
    },
    { line: { terminal: "AO-1", name: "Damper", place: "" } },
  ],
  physics: [{ key: "between", mark: "off", sentence: words("Mixed must lie between.") }],
  conditions: ["damper shut", "compressor on"],
  which: null,
  which_trouble: words("Read at least two sensors."),
  swapped: [],
};

const PAGE = {
  controller: "RTU-1",
  climate_zone: "3A",
  method_reason: words("Humid climate."),
  methods: [
    {
      key: "fixed_dry_bulb",
      name: "fixed dry bulb",
      reason: "One sensor.",
      allowed: true,
      default: false,
      limit: figure(18.3, "temperature"),
    },
    {
      key: "differential_dry_bulb",
      name: "differential dry bulb",
      reason: "Two.",
      allowed: false,
      default: false,
      limit: null,
    },
    {
      key: "fixed_enthalpy",
      name: "fixed enthalpy",
      reason: "Heat and moisture.",
      allowed: true,
      default: true,
      limit: null,
    },
  ],
  settings: [
    {
      key: "minimum_position",
      name: "Minimum position",
      kind: "share",
      choices: {},
      as_found: { text: "", number: figure(0.3, "share"), reason: "", entry: "" },
      planned: { text: "", number: figure(0.14, "share"), reason: "measured", entry: "p" },
      as_left: null,
    },
    {
      key: "changeover",
      name: "Changeover",
      kind: "",
      choices: { fixed_enthalpy: "fixed enthalpy" },
      as_found: { text: "fixed enthalpy" },
      planned: null,
      as_left: null,
    },
  ],
  as_found: SETTING,
  planned: SETTING,
  fights: words("Freeze protection lies below the low limit."),
  need: { required_m3s: 0.4, supply_m3s: 2, why: "people" },
  need_entry: "n",
  walk: {
    wanted: 0.2,
    lines: [
      { entry: "a", position: 0.2, share: { value: 0.31, plus_minus: 0.02, kind: "share" }, trouble: null },
      { entry: "b", position: 0.3, share: null, trouble: words("Nothing can be told.") },
    ],
    next: { position: 0.12, wanted_share: 0.2, done: true, mixed_aim_c: 20, advice: "done" },
    trouble: null,
  },
  reads: [],
  day: { outdoor_c: 13, return_c: 24, outdoor_rh: 0.6, return_rh: 0.5, pressure_pa: 101325 },
  day_known: true,
  tests: [
    {
      step: step("by_hand", { by_hand_only: true, look: ["Linkage tight"], expected: [] }),
      as_found: null,
      as_left: null,
    },
    { step: step("full"), as_found: seen("off"), as_left: seen("holds") },
    { step: step("cool", { not_today: words("Not today: too cold.") }), as_found: null, as_left: null },
  ],
  plan_trouble: null,
  open_between: [] as string[],
  suspects: [
    {
      key: "stuck_damper",
      name: "Damper stuck",
      do: "Free it.",
      who: "technician",
      sure: 0.91,
      tests: ["Test full"],
    },
    {
      key: "slipped_linkage",
      name: "Linkage slips",
      do: "Tighten it.",
      who: "technician",
      sure: 0.05,
      tests: ["Test full"],
    },
  ],
  found: "stuck_damper",
  points: POINTS,
  points_left: { ...POINTS, conditions: [] },
  loops: [
    {
      step: step("loop/low_limit/mixed", { title: "Low limit: step the mixed air sensor" }),
      as_found: null,
      as_left: null,
    },
  ],
  revisions: [
    {
      number: 0,
      entry: "r0",
      at: "2026-07-01T10:00:00Z",
      by: "Oona",
      reason: "As found",
      source: "controller",
      changes: [],
      document: SETTING,
    },
    {
      number: 1,
      entry: "r1",
      at: "2026-07-01T10:30:00Z",
      by: "Oona",
      reason: "Low limit read the outdoor air",
      source: "loaded",
      document: SETTING,
      changes: [
        {
          key: "loops.low_limit",
          name: "Mixed-air low limit reads",
          was: "outdoor air",
          now: "mixed air",
          was_number: null,
          now_number: null,
        },
      ],
    },
  ],
  alarms: [
    {
      entry: "al",
      alarm: "sensor_outdoor",
      name: "Outdoor air sensor failed",
      words: "",
      means: "No temperature.",
      locks_out: "The compressor is locked out.",
      by_itself: true,
      caution: "Low voltage only.",
      checks: ["Connector: look.", "Sensor: read its resistance."],
      done: [
        {
          entry: "c",
          check: 0,
          found: "Pin pushed back",
          good: false,
          says: words("5,000,000 Ω is an open circuit."),
        },
      ],
      cause: "",
      cause_found: true,
      closed: false,
    },
    {
      entry: "al2",
      alarm: "freeze_trip",
      name: "Tripped by freeze protection",
      words: "",
      means: "Too cold.",
      locks_out: "Fan off.",
      by_itself: false,
      caution: "",
      checks: [],
      done: [],
      cause: "Nothing seen",
      cause_found: false,
      closed: true,
    },
  ],
  intake: { distances: { flue_m: 2 }, shaded: false, screened: true },
  intake_entry: "i",
  intake_flags: [{ key: "flue_m", text: "A flue stands too near.", off: true }],
  wires: [{ start: "Transformer", end: "Thermostat R", wire: "18 gauge", purpose: "Power" }],
  orientation: [{ part: "Outdoor damper", how: "Normally closed." }],
  placing: ["Sensor in the shade."],
  alarm_kinds: { freeze_trip: "Tripped by freeze protection" },
} as unknown as Page;

const CONTROLLER: Controller = {
  connected: true,
  unit: "RTU-1",
  words: "",
  simulated: true,
  speed: 10,
  preset: "sound",
  presets: [{ key: "sound", name: "Nothing wrong" }],
  reachable: true,
  mode: "starting up",
  mode_key: "start_up",
  points: [
    {
      key: "fan",
      name: "Fan",
      kind: "share",
      value: 1,
      text: "",
      overridden: true,
      overridable: true,
      low: 0,
      high: 1,
    },
    {
      key: "damper_position",
      name: "Outdoor damper",
      kind: "share",
      value: 0.2,
      text: "",
      overridden: false,
      overridable: false,
      low: 0,
      high: 1,
    },
  ],
  alarms: [{ key: "freeze_trip", name: "Tripped by freeze protection" }],
  strays: ["fan"],
  differs: [
    {
      key: "minimum_position",
      name: "Minimum position",
      was: "",
      now: "",
      was_number: figure(0.2, "share"),
      now_number: figure(0.4, "share"),
    },
  ],
  not_released: [],
};

function drawn(
  what: React.ReactNode,
  {
    page = PAGE,
    controller = CONTROLLER as Controller | undefined,
    mayWrite = true,
    section = undefined as string | undefined,
  } = {},
): string {
  const known = new QueryClient();
  known.setQueryData(economizerKey("v"), { page });
  if (controller) known.setQueryData(controllerKey("v"), controller);
  const visit = {
    page: { id: "v", system: { id: "s" }, work_up: { closed: false, temporary: [] } } as unknown as VisitPage,
    entries: [],
    question: { head: {}, entries: [], instruments: [] },
    phase: "as_found",
    mayWrite,
    record: async () => ({}) as never,
    section,
    openSection: () => {},
  } as unknown as Visit;
  return renderToStaticMarkup(
    <QueryClientProvider client={known}>
      <UnitSystemProvider>
        <VisitContext value={visit}>{what}</VisitContext>
      </UnitSystemProvider>
    </QueryClientProvider>,
  ).replace(/<!-- -->/g, "");
}

describe("the plan", () => {
  it("shows every setting as found and planned, and that it fights itself", () => {
    const html = drawn(<Plan />);
    expect(html).toContain("30 %");
    expect(html).toContain("14 %");
    expect(html).toContain("The plan fights itself: Freeze protection");
    expect(html).toContain("up to 18.3 °C");
    for (const tag of ["in the plan", "usual here", "not in this zone"]) expect(html).toContain(tag);
  });
});

describe("points", () => {
  it("stand with what was compared, physics, loops, and why sensors can't be told apart", () => {
    const html = drawn(<PointsAudit />);
    expect(html).toContain("shows <span");
    expect(html).toContain("10.4 °C");
    expect(html).toContain("no temperature of a known place");
    expect(html).toContain("Mixed must lie between.");
    expect(html).toContain("Read at least two sensors.");
    expect(html).toContain("Mixed-air low limit");
    expect(html).toContain("points.csv");
    expect(html).toContain("Not with water in the coil");
    expect(html).toContain("as long as the mixed air stays above");
  });
});

describe("the minimum position", () => {
  it("says where to set the damper, what was read, and what could not be told", () => {
    const html = drawn(<Minimum />);
    expect(html).toContain("Minimum position found");
    expect(html).toContain("Put it into the plan");
    expect(html).toContain("Nothing can be told.");
    expect(html).toContain("Correct it");
  });
  it.each([
    ["read_apart", "Read it once more at", "a step from the others"],
    ["too_coarse", "Not settled yet; it is at", "Match the probes"],
    ["leaks_shut", "Leaks with the damper at", "seals leak"],
  ] as const)("says why the walk goes on: %s", (advice, heading, why) => {
    const next = { position: 0.2, wanted_share: 0.2, done: false, mixed_aim_c: 20, advice };
    const html = drawn(<Minimum />, {
      page: { ...PAGE, walk: { ...PAGE.walk, next, says: words(`So: ${why}.`) } } as Page,
    });
    expect(html).toContain(heading);
    expect(html).toContain(why);
    expect(html).not.toContain("Put it into the plan");
  });
  it("asks for the required air first", () => {
    const page = {
      ...PAGE,
      need: null,
      walk: { wanted: null, lines: [], next: null, trouble: words("First say how much.") },
    } as Page;
    const html = drawn(<Minimum />, { page });
    expect(html).toContain("First say how much.");
    expect(html).not.toContain("Read at this position");
  });
  it("has no forms for who may only look", () => {
    expect(drawn(<Minimum />, { mayWrite: false })).not.toContain("<form");
  });
});

describe("relief and retrofit", () => {
  it("mark the way in the plan, and list wires, mounting and intake", () => {
    expect(drawn(<Relief />)).toMatch(/Barometric damper<span[^>]*>in the plan/);
    const html = drawn(<Retrofit />);
    for (const text of [
      "Thermostat R",
      "Normally closed.",
      "Sensor in the shade.",
      "A flue stands too near.",
    ])
      expect(html).toContain(text);
  });
});

describe("functional tests", () => {
  it("count what is as due, and show what can't be seen today", () => {
    const html = drawn(<Proof />);
    expect(html).toContain("0/3");
    expect(html).toContain("1 off");
    expect(html).toContain("Not today: too cold.");
    expect(html).toContain("The tests point to: damper stuck");
    expect(html).toContain("Run all that can run");
  });
  it("are typed where no controller answers", () => {
    const silent = { ...CONTROLLER, connected: false, words: "The controller does not answer." };
    const html = drawn(<Proof />, { controller: silent });
    expect(html).toContain("The controller does not answer.");
    expect(html).not.toContain("Run all");
    expect(drawn(<Loops />)).toContain("step the mixed air sensor");
  });
  it("say what is held, what is due, the hazards, and what it may be", () => {
    const off = seen("off", {
      causes: [{ key: "k", name: "Damper stuck", do: "Free it.", sure: 0.9 }],
      times: 2,
    });
    const html = drawn(
      <TestBench
        test={{ step: step("full"), as_found: off, as_left: null }}
        phase="as_found"
        result={off}
        running={undefined}
        busy={false}
        connected
        onRun={() => {}}
      />,
    );
    for (const text of [
      "Outdoor sensor at",
      "12.0 °C",
      "at least 95 %",
      "The damper moves by itself.",
      "Damper stuck",
      "90 %",
      "run 2 times",
      "Run it again",
      "Type what you see",
    ])
      expect(html).toContain(text);
    expect(html).not.toContain("Occupied at");
  });
  it("tell how a run goes, ends, and fails", () => {
    const running = {
      step: "full",
      started: undefined,
      stage: "first",
      samples: [{ at_s: 12, values: {} }],
      version: 1,
      ended: undefined,
      trouble: "",
      held: [] as string[],
    };
    const bench = (state: typeof running & { ended: unknown }) =>
      drawn(
        <TestBench
          test={{ step: step("full"), as_found: null, as_left: null }}
          phase="as_found"
          result={undefined}
          running={state as never}
          busy
          connected
          onRun={() => {}}
        />,
      );
    expect(bench(running)).toContain("Bringing about the starting condition");
    expect(bench({ ...running, stage: "test" })).toContain("12 s");
    expect(
      bench({
        ...running,
        ended: { ended: "done", mark: "holds", sentence: words("As due."), words: "" } as never,
      }),
    ).toContain("As due.");
    expect(bench({ ...running, trouble: "The connection broke." })).toContain("The connection broke.");
    const asking = bench({ ...running, trouble: "Held already: fan.", held: ["fan"] });
    expect(asking).toContain("Run it, then put it back");
    expect(asking).not.toContain("outdoor share");
    expect(bench(running)).toContain("outdoor share");
  });
  it("ask by hand for every look", () => {
    const html = drawn(
      <Watched
        step={step("by_hand", { by_hand_only: true, look: ["Linkage tight", "Seals whole"], expected: [] })}
        phase="as_found"
      />,
    );
    expect(html).toContain("Linkage tight");
    expect(html).toContain("Seals whole");
  });
  it("name nobody when nothing speaks for anything", () => {
    expect(drawn(<Suspects page={{ ...PAGE, suspects: [], found: "" } as Page} />)).toBe("");
    const left = { ...PAGE, suspects: [], found: "", open_between: ["Damper fully open"] } as Page;
    expect(drawn(<Suspects page={left} />)).toContain("these told nothing:");
    expect(drawn(<Suspects page={left} />)).toContain("Damper fully open. Why stands with each.");
    const open = {
      ...PAGE,
      found: "",
      open_between: ["Relief", "Sensors against the reference probe"],
    } as Page;
    expect(drawn(<Suspects page={open} />)).toContain("Relief; Sensors against the reference probe.");
    expect(drawn(<Suspects page={PAGE as Page} />)).not.toContain("To decide");
    const alone = { ...open, suspects: PAGE.suspects.map((each) => ({ ...each, sure: 0.99 })) } as Page;
    expect(drawn(<Suspects page={alone} />)).toContain("fits well, not proven");
    expect(drawn(<Suspects page={alone} />)).toContain("Before you act on it, see:");
    expect(drawn(<Suspects page={{ ...alone, found: "stuck" } as Page} />)).toContain("99 % sure");
    expect(drawn(<Suspects page={{ ...PAGE, found: "" } as Page} />)).toContain(
      "What the tests may point to",
    );
  });
});

describe("the controller", () => {
  it("shows its points, strays, revisions and what runs besides", () => {
    const html = drawn(<ControllerPanel />);
    for (const text of [
      "starting up",
      "Alarm: Tripped by freeze protection",
      "Release all 1",
      "Find out who needs it",
      "Revision 1",
      "was <span",
      "outdoor air",
      "Restore revision 0",
      "runs something else than revision 1",
      "Wait until it has left its start-up",
      "Reset freeze protection by hand",
      "simulated, 10× real time",
    ])
      expect(html).toContain(text);
  });
  it("says why there is none, and asks to save first", () => {
    const page = { ...PAGE, revisions: [] } as Page;
    const html = drawn(<ControllerPanel />, {
      page,
      controller: { connected: false, unit: "RTU-1", words: "There is no gateway." } as Controller,
    });
    expect(html).toContain("There is no gateway.");
    expect(html).toContain("Before anything is changed: save what runs now.");
    expect(html).not.toContain("Load this change");
  });
  it("offers the tests once the start-up has passed", () => {
    expect(drawn(<ControllerPanel />, { controller: { ...CONTROLLER, mode_key: "free" } })).toContain(
      "Repeat the tests",
    );
  });
  it("says when nothing changed", () => {
    expect(drawn(<Changes changes={[]} />)).toContain("Nothing changed.");
  });
});

describe("alarms", () => {
  it("say what is locked out, the checks in order, what was found, and what stays a finding", () => {
    const html = drawn(<Alarms />);
    for (const text of [
      "The compressor is locked out.",
      "1. Connector",
      "Pin pushed back",
      "open circuit",
      "clears by itself",
      "No cause found, it stays a finding: Nothing seen",
      "Note an alarm",
    ])
      expect(html).toContain(text);
  });
  it("that stand at the controller are offered to be taken up", () => {
    const html = drawn(<Alarms />, { page: { ...PAGE, alarms: [] } as Page });
    expect(html).toContain("At the controller now: Tripped by freeze protection");
  });
});
