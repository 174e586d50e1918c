import { describe, expect, it } from "vitest";
import type { Page } from "../logbook/logbook";
import { BAND_PX, lay } from "./geometry";

type Path = Page["work_up"]["path"];
type Ribbon = Page["work_up"]["phases"][number]["ribbon"];

const rooftop = {
  bands: [
    {
      id: "main",
      name: "Air",
      elements: [
        { id: "grille", name: "Return grille", kind: "grille", station: "return" },
        { id: "mixing", name: "Mixing", kind: "mixing", station: "mixed" },
        { id: "filter", name: "Filter", kind: "filter", station: "" },
        { id: "coil", name: "Coil", kind: "coil", station: "" },
        { id: "registers", name: "Supply", kind: "register", station: "supply" },
      ],
      joints: [
        { id: "relief", name: "Relief", direction: "leaves", at: "grille", station: "" },
        { id: "outdoor", name: "Outdoor air", direction: "joins", at: "mixing", station: "outdoor" },
      ],
    },
  ],
  stations: [],
  branches: [],
  apart: [],
} as unknown as Path;

const shares = (outdoor: number): Ribbon =>
  ({
    bands: [
      {
        band: "main",
        segments: ["grille", "mixing", "filter", "coil", "registers"].map((element, index) => ({
          element,
          dry_bulb: null,
          share: index === 0 ? 1 - outdoor : 1,
          share_known: true,
        })),
      },
    ],
    joints: ["relief", "outdoor"].map((joint) => ({
      joint,
      dry_bulb: null,
      share: outdoor,
      share_known: true,
    })),
    branches: [],
  }) as unknown as Ribbon;

describe("the air path", () => {
  it("leads a bypass around the coil, as wide as its share, and lets no tag stand there", () => {
    const bypass = {
      id: "bypass",
      name: "Bypass",
      direction: "around",
      at: "coil",
      to: "registers",
      station: "",
    };
    const band = { ...rooftop.bands[0], joints: [bypass] };
    const ribbon = {
      ...shares(0),
      joints: [{ joint: "bypass", dry_bulb: null, share: 0.25, share_known: true }],
    };
    const laid = lay({ ...rooftop, bands: [band] } as unknown as Path, ribbon as unknown as Ribbon, 812);
    const flow = laid.flows.find((each) => each.key === "bypass");
    const at = (id: string) => laid.elements.find((each) => each.key === `main/${id}`)?.x ?? 0;
    const numbers = (flow?.path.match(/[\d.]+/g) ?? []).map(Number);
    expect(flow?.width).toBeCloseTo(BAND_PX * 0.25);
    expect(numbers[0]).toBeGreaterThan(at("filter"));
    expect(numbers[0]).toBeLessThan(at("coil"));
    expect(numbers.at(-2)).toBeGreaterThan(at("coil"));
    expect(numbers.at(-2)).toBeLessThan(at("registers"));
    expect(laid.tags.map((each) => each.station)).toEqual(["return", "mixed", "supply"]);
  });

  it("is as wide as the flow, so that the balance is seen", () => {
    const laid = lay(rooftop, shares(0.3), 812);
    const before = laid.stretches[0]?.height ?? 0;
    const joined = laid.flows.find((flow) => flow.key === "outdoor")?.width ?? 0;
    expect(before + joined).toBeCloseTo(BAND_PX);
  });

  it.each([560, 812, 1100])("leaves room for every tag at %i px", (width) => {
    const xs = lay(rooftop, shares(0.2), width)
      .tags.map((tag) => tag.x)
      .sort((a, b) => a - b);
    expect(xs).toHaveLength(4);
    xs.slice(1).forEach((x, index) => {
      expect(x - (xs[index] ?? 0)).toBeGreaterThan(width < 700 ? 70 : 100);
    });
  });

  it("runs on without gaps", () => {
    const { stretches } = lay(rooftop, shares(0.2), 812);
    stretches.slice(1).forEach((stretch, index) => {
      const before = stretches[index];
      expect((before?.x ?? 0) + (before?.width ?? 0)).toBeCloseTo(stretch.x);
    });
  });
});
