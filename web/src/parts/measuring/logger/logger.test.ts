import { describe, expect, it } from "vitest";
import { jsonLines } from "../../../api/lines";
import { type Event, implausible, type Look, type Mapped, suggested } from "./file";
import { decoded } from "./onDevice";

const stream = (...parts: string[]): ReadableStream<Uint8Array> => {
  const encoder = new TextEncoder();
  return new ReadableStream({
    start(control) {
      for (const part of parts) control.enqueue(encoder.encode(part));
      control.close();
    },
  });
};

async function all(body: ReadableStream<Uint8Array>): Promise<Event[]> {
  const found: Event[] = [];
  for await (const event of jsonLines<Event>(body)) found.push(event);
  return found;
}

describe("progress of an import", () => {
  it("comes as one object a line, however the network cuts it", async () => {
    const found = await all(
      stream(
        '{"event":"progress","lines":5000,"bad":0}\n{"event":"pro',
        'gress","lines":10000,"bad":1}\n{"event":"writing"}\n',
      ),
    );
    expect(found.map((event) => event.event)).toEqual(["progress", "progress", "writing"]);
  });

  it("keeps letters that are cut in two", async () => {
    const bytes = new TextEncoder().encode('{"event":"refused","detail":"24 °C","path":""}\n');
    const cut = new ReadableStream<Uint8Array>({
      start(control) {
        control.enqueue(bytes.slice(0, 33));
        control.enqueue(bytes.slice(33));
        control.close();
      },
    });
    expect(await all(cut)).toEqual([{ event: "refused", detail: "24 °C", path: "" }]);
  });

  it("says nothing of an empty answer", async () => {
    expect(await all(stream(""))).toEqual([]);
  });
});

describe("what a file's columns probably are", () => {
  const column = (index: number, more: object = {}) => ({
    index,
    heading: `Column ${index}`,
    quantity: "",
    unit: "",
    station: "",
    is_time: false,
    sample: "",
    ...more,
  });

  it("is filled in where the quantity is plain; the station is asked for where it is not said", () => {
    const look = {
      layout: {
        time_format: "day_month",
        columns: [
          column(0, { is_time: true }),
          column(1, { quantity: "dry_bulb", unit: "degC", station: "return" }),
          column(2, { quantity: "dry_bulb", unit: "degC" }),
          column(3),
          column(4, { quantity: "dry_bulb", unit: "", station: "supply" }),
        ],
      },
      mapping: null,
      size: 1,
    } as unknown as Look;
    expect(suggested(look, "US")).toEqual({
      time_columns: [0],
      time_format: "day_month",
      columns: [
        { index: 1, quantity: "dry_bulb", unit: "degC", station: "return", point: 1, instrument: null },
        { index: 2, quantity: "dry_bulb", unit: "degC", station: "", point: 1, instrument: null },
        { index: 4, quantity: "dry_bulb", unit: "degF", station: "supply", point: 1, instrument: null },
      ],
    });
  });
});

describe("a column that can't be what it is said to be", () => {
  const mapped = (unit: string): Mapped => ({
    index: 1,
    quantity: "dry_bulb",
    unit,
    station: "return",
    point: 1,
    instrument: null,
  });

  it("is told with the unit that would fit", () => {
    expect(implausible(75.2, mapped("degC"))).toContain("As °F it would be");
    expect(implausible(75.2, mapped("degF"))).toBeUndefined();
    expect(implausible(24, mapped("degC"))).toBeUndefined();
  });

  it("is told where no unit fits, and not where there is no number", () => {
    expect(implausible(4_000, mapped("degC"))).toContain("Check what this column holds");
    expect(implausible(null, mapped("degC"))).toBeUndefined();
    expect(implausible(75, undefined)).toBeUndefined();
  });
});

describe("a file's letters", () => {
  it("are read in whatever a logger writes", () => {
    expect(decoded(new TextEncoder().encode("Temp °C"))).toBe("Temp °C");
    expect(decoded(Uint8Array.from([0x54, 0xb0, 0x43]))).toBe("T°C");
    expect(decoded(Uint8Array.from([0xff, 0xfe, 0x54, 0x00, 0xb0, 0x00]))).toBe("T°");
  });
});
