import { describe, expect, it } from "vitest";
import type { LoggedReading } from "../logbook/logbook";
import { unitOf } from "../units/units";
import { asTyped, inUnits } from "./asTyped";
import { dryBulbAt, firstOpen, following, humidityAt, typedHumidity } from "./place";

let count = 0;
const read = (point: number, quantity: string, value: number, unit = "degC"): LoggedReading => {
  count += 1;
  return {
    id: String(count),
    kind: "reading",
    phase: "as_found",
    at: "2026-07-01T10:00:00Z",
    by: "",
    body: { station: "return", quantity, value, unit, point, instrument: null },
    replaces: null,
    reason: "",
    waiting: false,
  };
};

describe("what comes next at a station", () => {
  const dry = read(1, "dry_bulb", 24.6);
  const humid = read(1, "wet_bulb", 17);

  it("opens at the first thing not yet read", () => {
    expect(firstOpen([], "relative_humidity")).toEqual({ point: 1, quantity: "dry_bulb" });
    expect(firstOpen([dry], "relative_humidity")).toEqual({ point: 1, quantity: "relative_humidity" });
    expect(firstOpen([dry, humid], "relative_humidity")).toEqual({ point: 2, quantity: "dry_bulb" });
  });

  it("goes from dry bulb to humidity to the next point", () => {
    expect(following({ point: 1, quantity: "dry_bulb" }, "dew_point", [])).toEqual({
      point: 1,
      quantity: "dew_point",
    });
    expect(following({ point: 1, quantity: "dew_point" }, "dew_point", [dry])).toEqual({
      point: 2,
      quantity: "dry_bulb",
    });
    expect(following({ point: 1, quantity: "airflow" }, "dew_point", [])).toEqual({
      point: 1,
      quantity: "airflow",
    });
  });

  it("after a correction goes behind the last point", () => {
    const third = read(3, "dry_bulb", 25);
    expect(following({ point: 1, quantity: "dry_bulb" }, "wet_bulb", [dry, humid, third])).toEqual({
      point: 4,
      quantity: "dry_bulb",
    });
  });

  it("knows what was read at a point, whatever its unit", () => {
    const warm = read(2, "dry_bulb", 76.28, "degF");
    expect(dryBulbAt([dry, warm], 2)).toBeCloseTo(24.6, 6);
    expect(dryBulbAt([dry], 2)).toBeUndefined();
    expect(humidityAt([dry, humid], 1)).toEqual({ quantity: "wet_bulb", value: 17 });
    expect(typedHumidity("relative_humidity", 50, unitOf("relative_humidity", "US"))).toEqual({
      quantity: "relative_humidity",
      value: 0.5,
    });
    expect(typedHumidity("dry_bulb", 50, unitOf("temperature", "US"))).toBeUndefined();
  });
});

describe("a reading as typed and as shown", () => {
  it("keeps the digits that were typed", () => {
    expect(asTyped(read(1, "dry_bulb", 24.65))).toBe("24.65 °C");
    expect(asTyped(read(1, "dry_bulb", 24))).toBe("24.0 °C");
    expect(asTyped(read(1, "dry_bulb", -4.2))).toBe("−4.2 °C");
  });

  it("follows the user's units", () => {
    expect(inUnits(read(1, "dry_bulb", 24.65), "SI")).toBe("24.65 °C");
    expect(inUnits(read(1, "dry_bulb", 24.6), "US")).toBe("76.3 °F");
    expect(inUnits(read(1, "airflow", 0.665, "m3/s"), "US")).toBe("1,409 cfm");
  });
});

describe("where there is no air state", () => {
  it("reads a tap point after point", () => {
    const order = ["static_pressure"];
    expect(firstOpen([], "relative_humidity", order)).toEqual({ point: 1, quantity: "static_pressure" });
    const one = read(1, "static_pressure", 62, "Pa");
    expect(firstOpen([one], "relative_humidity", order)).toEqual({ point: 2, quantity: "static_pressure" });
    expect(following({ point: 2, quantity: "static_pressure" }, "", [one], order)).toEqual({
      point: 3,
      quantity: "static_pressure",
    });
  });

  it("reads a heater's power, volts, amps, and begins again", () => {
    const order = ["electric_power", "voltage", "current"];
    expect(following({ point: 1, quantity: "electric_power" }, "", [], order).quantity).toBe("voltage");
    expect(following({ point: 1, quantity: "current" }, "", [], order).quantity).toBe("electric_power");
    const volts = read(1, "voltage", 240, "V");
    expect(firstOpen([volts], "", order)).toEqual({ point: 1, quantity: "electric_power" });
  });

  it("stays with a flow or a velocity at an air station", () => {
    expect(following({ point: 2, quantity: "velocity" }, "wet_bulb", [])).toEqual({
      point: 2,
      quantity: "velocity",
    });
    expect(following({ point: 1, quantity: "airflow" }, "wet_bulb", [])).toEqual({
      point: 1,
      quantity: "airflow",
    });
  });
});
