import { describe, expect, it } from "vitest";
import { type Appointment, byDay, dayKey, daysFrom, momentOf, monday } from "./week";

const at = (starts_at: string): Appointment => ({ id: starts_at, starts_at }) as Appointment;

describe("a week by this device's clock", () => {
  it("begins on Monday, also on a Sunday and over the end of a year", () => {
    expect(dayKey(monday(new Date(2026, 10, 29)))).toBe("2026-11-23");
    expect(dayKey(monday(new Date(2026, 10, 23)))).toBe("2026-11-23");
    expect(dayKey(monday(new Date(2027, 0, 1)))).toBe("2026-12-28");
    expect(dayKey(monday(new Date(2026, 10, 25), 1))).toBe("2026-11-30");
    expect(dayKey(monday(new Date(2026, 10, 25), -1))).toBe("2026-11-16");
  });

  it("has seven different days, whatever the clocks do", () => {
    for (const first of [new Date(2026, 2, 28, 12), new Date(2026, 9, 24, 12)]) {
      expect(new Set(daysFrom(first).map(dayKey)).size).toBe(7);
    }
  });

  it("puts each appointment on its day", () => {
    const morning = new Date(2026, 10, 27, 8).toISOString();
    const night = new Date(2026, 10, 27, 23, 50).toISOString();
    const next = new Date(2026, 10, 28, 0, 10).toISOString();
    const found = byDay([at(morning), at(night), at(next)]);
    expect(found.get("2026-11-27")?.length).toBe(2);
    expect(found.get("2026-11-28")?.length).toBe(1);
  });

  it("makes no moment of half of one", () => {
    expect(momentOf("", "10:00")).toBeUndefined();
    expect(momentOf("2026-11-27", "")).toBeUndefined();
    expect(momentOf("2026-11-27", "99:00")).toBeUndefined();
    expect(momentOf("2026-11-27", "10:00")).toBe(new Date(2026, 10, 27, 10).toISOString());
  });
});
