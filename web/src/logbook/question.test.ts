import { afterEach, describe, expect, it } from "vitest";
import { queries, systemQuery } from "../api/queries";
import type { Logged, Page } from "./logbook";
import { headNow, type Question, sameSaid } from "./question";

const HEAD = {
  site: { name: "Mill", elevation_m: 300 },
  system: { name: "Unit, not named yet", kind: "split_heat_pump", nameplate: {}, location: "" },
} as unknown as Page["head"];

const entry = (kind: string, body: object, waiting = true, id: string = kind): Logged =>
  ({ id, kind, body, waiting }) as unknown as Logged;

const RIGHT = {
  name: "Attic unit",
  kind: "split_heat_pump",
  nameplate: { maker: "Harrow" },
  location: "attic",
  was: { name: "Unit" },
};
const OTHER = "3f0c1a52-8f1e-4e0b-9c1d-2b7a54d5a001";
const MOVED = entry("known_system", { system_id: OTHER, name: "Heat pump", site: "Wren", same: true });

afterEach(() => queries.clear());

const know = (name: string) =>
  queries.setQueryData(systemQuery(OTHER).queryKey, {
    head: {
      site: { name: "Wren", elevation_m: 420 },
      system: { name, kind: "split_heat_pump", nameplate: {} },
    },
  } as never);

describe("what is known of system and site on this device", () => {
  it("is what the server said, with what was set right here and waits", () => {
    const site = entry("corrected_site", { name: "Old mill", elevation_m: 1200, was: {} });
    const now = headNow(HEAD, [entry("corrected_system", RIGHT), site]);
    const { was: _, ...right } = RIGHT;
    expect(now.system).toEqual(right);
    expect(now.site).toEqual({ name: "Old mill", elevation_m: 1200 });
    expect(HEAD.system).toMatchObject({ name: "Unit, not named yet" });
  });

  it("is left alone once the server has it: its own head says so", () => {
    expect(headNow(HEAD, [entry("corrected_system", RIGHT, false)])).toBe(HEAD);
  });

  it("is the other system's where the visit was moved there, and stays where this device does not know that one", () => {
    expect(headNow(HEAD, [MOVED])).toBe(HEAD);
    know("Heat pump");
    const now = headNow(HEAD, [MOVED]);
    expect(now.system).toMatchObject({ name: "Heat pump" });
    expect(now.site).toMatchObject({ name: "Wren", elevation_m: 420 });
  });

  it("takes one after the other, as they were made", () => {
    know("Heat pump");
    expect(headNow(HEAD, [MOVED, entry("corrected_system", RIGHT)]).system).toMatchObject({
      name: "Attic unit",
    });
    expect(headNow(HEAD, [entry("corrected_system", RIGHT), MOVED]).system).toMatchObject({
      name: "Heat pump",
    });
  });
});

describe("a question that was asked already", () => {
  const instruments: unknown[] = [];
  const asked = (entries: Logged[], more: Partial<Question> = {}): Question => ({
    head: HEAD,
    entries,
    instruments,
    ...more,
  });
  const one = entry("reading", { value: 24 }, true, "a");

  it("says the same once its entries are kept, or are on their way", () => {
    expect(sameSaid(asked([one]), asked([{ ...one, waiting: false } as Logged]))).toBe(true);
  });

  it("says something else with one entry more, another one, another head or other instruments", () => {
    const two = entry("reading", { value: 25 }, true, "b");
    expect(sameSaid(asked([one]), asked([one, two]))).toBe(false);
    expect(sameSaid(asked([one]), asked([two]))).toBe(false);
    expect(sameSaid(asked([one]), asked([one], { head: { ...HEAD } }))).toBe(false);
    expect(sameSaid(asked([one]), asked([one], { instruments: [{}] }))).toBe(false);
  });
});
