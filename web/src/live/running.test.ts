import { beforeEach, describe, expect, it, vi } from "vitest";

const kept = new Map<string, string>();

vi.stubGlobal("localStorage", {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, value: string) => kept.set(key, value),
  removeItem: (key: string) => kept.delete(key),
});

const { noteRunning } = await import("./running");
const KEY = "fentro.running";
const roof = { visit: "a", system: "Rooftop unit 1", since: "2026-07-01T10:00:00+00:00" };

describe("since when a unit runs", () => {
  beforeEach(() => kept.clear());

  it("is kept on the device, so that every page and a reload know it", () => {
    noteRunning("a", roof);
    expect(JSON.parse(kept.get(KEY) ?? "{}")).toEqual(roof);
  });

  it("is let go of when that visit's unit stops or the visit closes", () => {
    noteRunning("a", roof);
    noteRunning("a", undefined);
    expect(kept.has(KEY)).toBe(false);
  });

  it("is not let go of by another visit that does not run", () => {
    noteRunning("a", roof);
    noteRunning("b", undefined);
    expect(JSON.parse(kept.get(KEY) ?? "{}").visit).toBe("a");
  });

  it("follows the visit that was started last", () => {
    noteRunning("a", roof);
    noteRunning("b", { ...roof, visit: "b", system: "Heat pump" });
    expect(JSON.parse(kept.get(KEY) ?? "{}").system).toBe("Heat pump");
    noteRunning("b", { ...roof, visit: "b", system: "Heat pump", since: "2026-07-01T11:00:00+00:00" });
    expect(JSON.parse(kept.get(KEY) ?? "{}").since).toContain("T11:00");
  });

  it("does nothing where nothing is known", () => {
    noteRunning("a", undefined);
    expect(kept.size).toBe(0);
  });
});
