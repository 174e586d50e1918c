import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";

import { UnitSystemProvider } from "../../units/UnitSystem";
import { SensorIdentity } from "./SensorIdentity";

const drawn = (element: React.ReactElement) =>
  renderToStaticMarkup(<UnitSystemProvider>{element}</UnitSystemProvider>);

globalThis.localStorage = { getItem: () => "SI", setItem: () => undefined } as unknown as Storage;

describe("lines from sensors to their air", () => {
  const sensor = (label: string, claimed: string, best: string, error_k = 0, off = false) => ({
    label,
    claimed,
    best,
    error_k,
    off,
    looks_swapped: claimed !== best,
  });
  const lines = ["A", "B"].map((terminal) => ({ line: { terminal, name: `Sensor ${terminal}`, place: "" } }));
  const which = (sensors: ReturnType<typeof sensor>[], swapped: boolean) => ({
    sensors,
    misfit_best: 0.4,
    misfit_claimed: 99,
    chance: swapped ? 1e-6 : 1,
    swapped,
    enough: swapped,
    also: [],
  });
  it("cross where two look swapped", () => {
    const points = {
      which: which([sensor("A", "return", "mixed"), sensor("B", "mixed", "return")], true),
      which_trouble: null,
      swapped: ["Sensor A", "Sensor B"],
      conditions: ["shut", "open"],
      lines,
    };
    const html = drawn(<SensorIdentity points={points} />);
    expect(html).toContain("These look swapped: Sensor A and Sensor B.");
    expect(html).toContain("less than 1 of 1,000 cases");
    expect(html.match(/stroke-dasharray="9 5"/g)).toHaveLength(2);
  });
  it("cross alone where one sensor is in another's air", () => {
    const alone = { ...sensor("A", "mixed", "mixed"), sits_in: "supply" };
    const points = {
      which: which([alone, sensor("B", "supply", "supply")], false),
      which_trouble: null,
      swapped: [],
      conditions: ["shut", "compressor on"],
      lines,
    };
    const html = drawn(<SensorIdentity points={points} />);
    expect(html).toContain("The sensor named “Sensor A” follows the supply air.");
    expect(html).toContain("The labels do not fit the readings.");
    expect(html.match(/stroke-dasharray="9 5"/g)).toHaveLength(1);
    const open = { ...points, which: { ...which([sensor("A", "mixed", "mixed")], false), unclear: true } };
    expect(drawn(<SensorIdentity points={open} />)).toContain("read again with airs further apart");
  });
  it("run straight where they hang as they say, and name one that is off", () => {
    const points = {
      which: which([sensor("A", "return", "return", 3.2, true), sensor("B", "mixed", "mixed")], false),
      which_trouble: null,
      swapped: [],
      conditions: ["as it is"],
      lines,
    };
    const html = drawn(<SensorIdentity points={points} />);
    expect(html).toContain("one shows a wrong temperature");
    expect(html).toContain("off by 3.2 K");
    expect(html).toContain("One condition only");
    expect(html).not.toContain("stroke-dasharray");
  });
  it("are not called right where another order fits as well", () => {
    const sure = {
      which: which([sensor("A", "return", "return"), sensor("B", "mixed", "mixed")], false),
      which_trouble: null,
      swapped: [],
      conditions: ["damper shut"],
      lines,
    };
    expect(drawn(<SensorIdentity points={sure} />)).toContain("Every sensor is where it says.");
    const alike = { ...sure, which: { ...sure.which, also: [["mixed", "return"]] } };
    const html = drawn(<SensorIdentity points={alike} />);
    expect(html).toContain("Each sensor may be where it says: some airs are too much alike to tell.");
    expect(html).not.toContain("Every sensor is");
    const off = {
      ...alike,
      which: { ...which([sensor("A", "return", "return", 3.2, true)], false), also: [["mixed"]] },
    };
    expect(drawn(<SensorIdentity points={off} />)).toContain("one shows a wrong temperature: some airs");
  });
});
