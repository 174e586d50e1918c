import { describe, expect, it } from "vitest";
import { bodyOf, draftOf, fromLook, keepDraft, NOTHING, sameSettings, wrongIn } from "./seen";
import type { Look } from "./ventilator";

const read = (text: string) => (Number.isNaN(Number(text)) ? undefined : Number(text));
const LOOK: Look = {
  fan: "runs",
  blower: "stands",
  damper: "open",
  air: { fresh: "right", stale: "little" },
  filters: "clean",
  screen: "clogged",
  probe_c: 12,
  port_pa: { fresh: 40, stale: 38 },
};

describe("a test of a ventilator", () => {
  it("is made of only what was looked at", () => {
    const body = bodyOf(
      { key: "run" },
      { ...NOTHING, fan: "runs", air: { fresh: "wrong" } },
      "watched",
      read,
    );
    expect(body).toMatchObject({
      test: "run",
      how: "watched",
      fan: "runs",
      damper: "",
      air: { fresh: "wrong" },
    });
    expect(body).not.toHaveProperty("as_card");
    expect(body).not.toHaveProperty("minutes");
  });

  it("takes numbers as typed, and says what is wrong with them", () => {
    const seen = { ...NOTHING, figures: { minutes: "20,5", shown_c: "12" }, as_card: "no" as const };
    expect(bodyOf({ key: "hour" }, seen, "control", read)).toMatchObject({
      minutes: 20.5,
      shown_c: 12,
      as_card: false,
    });
    expect(wrongIn({ ...NOTHING, figures: { minutes: "90", probe_c: "warm" } }, read)).toEqual({
      minutes: "A number from 0 to 60.",
      probe_c: "This must be a number.",
    });
    expect(wrongIn(seen, read)).toEqual({});
  });

  it("takes from a walk only what it asks for, and never what comes after", () => {
    const asked = { asks: ["fan", "damper", "again"], streams: [] };
    expect(fromLook(asked, NOTHING, LOOK)).toEqual({ ...NOTHING, fan: "runs", damper: "open" });
    const streams = [{ stream: "fresh" as const, name: "Fresh air" }];
    expect(fromLook({ asks: ["air", "screen"], streams }, NOTHING, LOOK)).toEqual({
      ...NOTHING,
      air: { fresh: "right" },
      screen: "clogged",
    });
  });

  it("outlives a look at another page, test by test", () => {
    keepDraft("v", "run", { ...NOTHING, fan: "stands" });
    expect(draftOf("v", "run").fan).toBe("stands");
    expect(draftOf("v", "stop")).toEqual(NOTHING);
    keepDraft("v", "run", undefined);
    expect(draftOf("v", "run")).toEqual(NOTHING);
  });
});

describe("a control against its card", () => {
  const card = { minutes_per_hour: 20, low_c: -10, interlock: false };
  it("is the same with nothing set where the card has nothing", () => {
    expect(sameSettings(card, { ...card, high_c: null, interlock: false })).toBe(true);
    expect(sameSettings(card, { ...card, low_c: -9.97 })).toBe(true);
  });
  it("differs by a value, by one more, and by the blower", () => {
    expect(sameSettings(card, { ...card, minutes_per_hour: 25 })).toBe(false);
    expect(sameSettings(card, { ...card, high_c: 30 })).toBe(false);
    expect(sameSettings(card, { ...card, interlock: true })).toBe(false);
  });
});
