import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { IndexChart } from "../history/IndexChart";
import { type Visit, VisitContext } from "../logbook/context";
import type { Page, PhaseShown } from "../logbook/logbook";
import { UnitSystemProvider } from "../units/UnitSystem";
import { FourWay } from "./cooling/FourWay";
import Split from "./cooling/Split";
import Causes from "./diagnosis/Causes";
import Heating from "./heating/Heating";
import { ProbePlaces } from "./heating/ProbePlaces";
import ReturnLeak from "./leakage/ReturnLeak";
import Pressures from "./statics/Pressures";

globalThis.localStorage = {
  getItem: () => "SI",
  setItem: () => undefined,
} as unknown as Storage;

const element = (kind: string) => ({ id: kind, name: kind.replace("_", " "), kind, station: "" });
const station = (id: string, name = id, kind = "air") => ({
  id,
  name,
  kind,
  where: `${name} goes here.`,
  avoid: `not there.`,
  quantities: [],
});

const BUILDS: Record<string, string[]> = {
  "furnace with coil": ["grille", "filter", "blower", "heat_exchanger", "coil", "register"],
  "furnace without coil": ["grille", "filter", "blower", "heat_exchanger", "register"],
  "heat pump": ["grille", "filter", "coil", "blower", "register"],
};

function visit(
  shown: Partial<PhaseShown>,
  kinds: string[] = BUILDS["furnace with coil"] ?? [],
  mayWrite = true,
): Visit {
  const page = {
    id: "v",
    system: { id: "s" },
    work_up: {
      path: {
        bands: [{ elements: kinds.map(element) }],
        stations: [
          station("return", "Return"),
          station("supply", "Supply"),
          station("return_static", "Return static", "static"),
          station("filter_static", "Static after the filter", "static"),
          station("surroundings", "Around the duct"),
        ],
      },
    },
  } as unknown as Page;
  const phase = {
    phase: "as_found",
    results: [],
    verdicts: [],
    pages: {},
    stations: [],
    mode: "cooling",
    ...shown,
  } as PhaseShown;
  return {
    page,
    shown: phase,
    entries: [],
    question: { head: {}, entries: [], instruments: [] },
    phase: "as_found",
    mayWrite,
    record: async () => ({}) as never,
    openStep: () => undefined,
    openStation: () => undefined,
    openWorking: () => undefined,
    section: undefined,
    openSection: () => {},
    openTool: () => undefined,
  };
}

function drawn(what: React.ReactNode, inside: Visit): string {
  return renderToStaticMarkup(
    <QueryClientProvider client={new QueryClient()}>
      <UnitSystemProvider>
        <VisitContext value={inside}>{what}</VisitContext>
      </UnitSystemProvider>
    </QueryClientProvider>,
  );
}

const number = (value: number, kind = "temperature_difference", plus_minus = 0.3) => ({
  value,
  plus_minus,
  kind,
});
const words = (text: string) => ({ text, numbers: {} });

describe("where the probes go", () => {
  it.each(Object.entries(BUILDS))("draws every part of a %s, and both probes", (_name, kinds) => {
    const svg = drawn(<ProbePlaces />, visit({}, kinds));
    for (const kind of kinds.slice(1, -1)) expect(svg).toContain(`>${kind.replace("_", " ")}<`);
    expect(svg).toContain("Return goes here.");
    expect(svg).toContain("Supply goes here.");
  });

  it("puts the return probe before the place where outdoor air joins", () => {
    const svg = drawn(
      <ProbePlaces />,
      visit({}, ["grille", "mixing", "filter", "coil", "blower", "register"]),
    );
    const probe = Number(/<circle cx="([\d.]+)"/.exec(svg)?.[1]);
    const mixing = Number(/translate\(([\d.]+) [\d.]+\)/.exec(svg)?.[1]);
    expect(probe).toBeLessThan(mixing);
  });

  it("keeps the probe out of sight of hot metal, and after the coil where there is one", () => {
    expect(drawn(<ProbePlaces />, visit({}))).toContain("after the coil");
    const bare = drawn(<ProbePlaces />, visit({}, BUILDS["furnace without coil"]));
    expect(bare).toContain("well down the plenum");
    expect(bare).toContain("in sight of hot metal: not here");
    expect(drawn(<ProbePlaces />, visit({}, BUILDS["heat pump"]))).not.toContain("hot metal");
  });
});

describe("heating", () => {
  const heating = {
    rise: number(40),
    low: number(19.4, "temperature_difference", 0),
    high: number(36.1, "temperature_difference", 0),
    outlet: number(64, "temperature"),
    most_outlet: number(60, "temperature", 0),
    mark: "off" as const,
    who: [{ who: "Anyone in the house", what: "Change the filter." }],
    carbon_monoxide: "An alarm belongs in every home.",
  };

  it("shows the rise on its range, the outlet over its most, who may act, and carbon monoxide first", () => {
    const page = drawn(<Heating />, visit({ pages: { heating }, mode: "heating" }));
    expect(page.indexOf("Carbon monoxide")).toBeLessThan(page.indexOf("40.0"));
    expect(page).toContain("19.4 K");
    expect(page).toContain("the nameplate allows at most 60.0 °C");
    expect(page).toContain("Anyone in the house");
  });

  it("says what to do first when nothing is read, and leaves gas words out where there is no gas", () => {
    const page = drawn(
      <Heating />,
      visit({ pages: { heating: { ...heating, rise: null, outlet: null, carbon_monoxide: "" } } }),
    );
    expect(page).toContain("ten minutes");
    expect(page).not.toContain("Carbon monoxide");
  });
});

describe("split", () => {
  const target = (key: string, used: boolean) => ({
    key,
    name: `Way ${key}`,
    reason: "Because.",
    target: number(12),
    mark: "off" as const,
    used,
  });

  it("marks the one used, and says what is lacking for the drawing", () => {
    const page = drawn(
      <Split />,
      visit({
        pages: { cooling: { targets: [target("band", false), target("own", true)], four_way: null } },
      }),
    );
    expect(page.match(/>used</g)).toHaveLength(1);
    expect(page).toContain("Needs outdoor air");
    expect(page).toContain("Only certified persons connect gauges");
  });

  it("begins with what to read", () => {
    expect(drawn(<Split />, visit({}))).toContain("Read return and supply air");
  });

  it("says what the four-way point means, or that its doubt reaches over an edge", () => {
    const four = {
      split: number(-4),
      capacity: number(0.7, "share", 0.05),
      tolerance_split: 1.67,
      tolerance_capacity: 0.1,
      reading: words("Small split and little cooling."),
    };
    expect(drawn(<FourWay four={four} />, visit({}))).toContain("Small split and little cooling.");
    expect(drawn(<FourWay four={{ ...four, reading: null }} />, visit({}))).toContain("reaches over an edge");
  });
});

describe("pressures", () => {
  const statics = {
    taps: [
      { station: "return_static", name: "Return static", value: number(-24, "pressure") },
      { station: "filter_static", name: "Static after the filter", value: number(-130, "pressure") },
    ],
    drops: [
      {
        part: "filter",
        name: "Filter",
        drop: { key: "drop_filter", name: "Filter", quantity: number(106, "pressure") },
        at_rated: number(110, "pressure"),
        most: 75,
        source: "ordinary",
        mark: "off" as const,
      },
    ],
    filter: words("Change the filter."),
  };

  it("draws the line, names its numbers for a reader, and says who sets the limit", () => {
    const page = drawn(<Pressures />, visit({ pages: { statics } }));
    expect(page).toContain(
      "Static pressure along the air: Return static −24 Pa, Static after the filter −130 Pa",
    );
    expect(page).toContain("at most 75 Pa on an ordinary system");
    expect(page).toContain("Change the filter.");
  });

  it("offers the taps that are not read, to those who may write", () => {
    expect(drawn(<Pressures />, visit({}))).toContain("Return static");
    expect(drawn(<Pressures />, visit({}, undefined, false))).not.toContain("Return static");
  });
});

describe("causes", () => {
  const cause = (key: string, more = {}) => ({
    key,
    name: `Cause ${key}`,
    part: "Airflow",
    chance: 0.9,
    likely: true,
    why: "It does this.",
    do: "Mend it.",
    who: "Technician",
    caution: "Power off.",
    check: "Look at it.",
    check_minutes: 1,
    check_who: "Anyone",
    seen: [words("Airflow low")],
    ordinary: [],
    against: [words("Filter's drop ordinary")],
    unexplained: [],
    why_not: null,
    rejection: null,
    ...more,
  });

  it("opens the first cause with its signs, keeps the others folded, and sets the ruled out apart", () => {
    const findings = [cause("a"), cause("b"), cause("c", { why_not: "seen by eye", rejection: "e" })];
    const page = drawn(<Causes />, visit({ findings }));
    expect(page.match(/It does this\./g)).toHaveLength(1);
    expect(page).toContain("Against it");
    expect(page).toContain("about 1 minute");
    expect(page).toContain("Ruled out");
    expect(page).toContain("seen by eye");
  });

  it("accuses nobody when nothing is out of order", () => {
    const read = { station: "return", readings: [{}] } as never;
    expect(drawn(<Causes />, visit({ findings: [], stations: [read] }))).toContain("no likely faults");
  });

  it("says what is more likely: that nothing is wrong, or that no cause stands out", () => {
    const findings = [cause("a", { faint: true, likely: false, chance: 0.05 })];
    expect(drawn(<Causes />, visit({ findings, sound: 0.8 }))).toContain(
      "Nothing wrong fits best, about 80 %.",
    );
    const said = drawn(<Causes />, visit({ findings, sound: 0.3 }));
    expect(said).toContain("No cause stands out. That nothing is wrong: about 30 %.");
    expect(said).not.toContain("fits best");
  });

  it("asks by eye with yes and no, all of a place at once, and by reading with the station", () => {
    const check = {
      key: "frost",
      title: "Frost",
      ask: "Is there frost?",
      minutes: 2,
      who: "Technician",
      caution: "",
      by_eye: true,
      stations: [],
      between: ["A", "B"],
      bits: 0.5,
    };
    const eye = drawn(<Causes />, visit({ findings: [cause("a")], next_check: check }));
    expect(eye).toContain(">Yes<");
    const way = drawn(<Causes />, visit({ next_check: { ...check, item: "filter_arrow", by_eye: false } }));
    for (const words of ["The arrow agrees", "It points the other way", "No filter, or no arrow"])
      expect(way).toContain(words);
    const choices = [
      { key: "frost", ask: "Is there frost?" },
      { key: "oil_stain", ask: "Is there oil?" },
    ];
    const lines = visit({ next_check: { ...check, ask: "Follow the lines.", choices } });
    const place = drawn(<Causes />, lines);
    for (const words of ["Follow the lines.", "Is there frost?", "Is there oil?", "Note 0 of 2"])
      expect(place).toContain(words);
    expect(place.match(/>Yes</g)).toHaveLength(2);
    const read = { ...check, by_eye: false, stations: ["surroundings"] };
    expect(drawn(<Causes />, visit({ next_check: read }))).toContain("Read: Around the duct");
    expect(drawn(<Causes />, visit({ next_check: check }, undefined, false))).not.toContain(">Yes<");
  });
});

describe("return leak", () => {
  const leakage = {
    opened: [words("Points differ.")],
    begun: true,
    missing: [{ words: "Air around the duct", station: "surroundings" }],
  };

  it("says why it opened and what is still to read", () => {
    const page = drawn(<ReturnLeak />, visit({ pages: { leakage } }));
    expect(page).toContain("Points differ.");
    expect(page).toContain("Air around the duct");
    expect(page).toContain("Note the run");
  });

  it("says when to come back, and why two answers may differ", () => {
    expect(
      drawn(
        <ReturnLeak />,
        visit({ pages: { leakage: { ...leakage, come_back: words("Come back at noon.") } } }),
      ),
    ).toContain("noon");
    const apart = {
      ...leakage,
      verdict: words("Leaks."),
      mark: "off" as const,
      disagreement: words("Apart."),
      explains: [words("Layers.")],
    };
    expect(drawn(<ReturnLeak />, visit({ pages: { leakage: apart } }))).toContain("Layers.");
  });
});

describe("history", () => {
  const index = {
    key: "capacity_share",
    name: "Cooling",
    kind: "share",
    low: 0.9,
    high: 1.1,
    mark: null,
    sentence: words(""),
  };
  const at = (visit: string, phase: string, value: number) => ({
    visit,
    phase,
    purpose: "",
    at: `2026-0${visit}-01T00:00:00Z`,
    values: { capacity_share: number(value, "share", 0.05) },
  });
  const own = {
    id: "s",
    name: "One",
    site: "Here",
    visits: [at("1", "as_found", 0.7), at("1", "as_left", 1.0), at("3", "as_found", 0.9)],
  };

  it("fills what counts, and leaves open what was found before a change", () => {
    const svg = drawn(<IndexChart index={index as never} own={own as never} sisters={[]} />, visit({}));
    expect(svg.match(/<circle/g)).toHaveLength(3);
    expect(svg.match(/<circle[^>]*fill="var\(--color-base-100\)"/g)).toHaveLength(1);
  });

  it("gives a sister another shape on the same axes", () => {
    const sister = { ...own, id: "t", name: "Two" };
    const svg = drawn(
      <IndexChart index={index as never} own={own as never} sisters={[sister as never]} />,
      visit({}),
    );
    expect(svg.match(/<circle/g)).toHaveLength(3);
    expect(svg.match(/<rect[^>]*width="9"/g)).toHaveLength(3);
  });
});
