/** What a connected board, and a simulated house, put into a test's form. */
import { asTypedExactly, type System } from "../../units/units";
import type { Board, Look } from "./board";
import { NONE, type Seen } from "./seen";
import type { ZoneTest } from "./useZones";

type Asked = Pick<ZoneTest, "asks" | "zone" | "rooms">;

/** The board as it is now. `early`: just called: only the transformer's voltage is worth something then. */
export function fromBoard(test: Asked, seen: Seen, board: Board, system: System, early = false): Seen {
  const asks = new Set(test.asks);
  const zones = board.zones ?? [];
  const next = { ...seen };
  if (asks.has("called")) {
    next.called = zones.find((zone) => zone.calls && !zone.held)?.zone ?? NONE;
    next.control = zones.find((zone) => zone.zone === test.zone)?.control ?? "";
  }
  if (asks.has("indicators") && !early) {
    next.indicators = Object.fromEntries(zones.map((zone) => [zone.zone, zone.indicator]));
  }
  if (asks.has("volts") && early && board.volts != null) {
    next.figures = { ...next.figures, volts: asTypedExactly(board.volts, "voltage", system) };
  }
  if (asks.has("supply_c") && board.supply_c != null) {
    next.figures = { ...next.figures, supply_c: asTypedExactly(board.supply_c, "temperature", system) };
  }
  return next;
}

/** A walk through the simulated rooms. */
export function fromLook(test: Asked, seen: Seen, look: Look, system: System): Seen {
  const asks = new Set(test.asks);
  const rooms = new Set((test.rooms ?? []).map((room) => room.branch));
  const here = <Value>(all: Record<string, Value>) =>
    Object.fromEntries(Object.entries(all).filter(([room]) => rooms.has(room)));
  return {
    ...seen,
    ...(asks.has("air") ? { air: here(look.air) } : {}),
    ...(asks.has("bypass") ? { bypass: look.bypass } : {}),
    ...(asks.has("noise") ? { noise: look.static_pa > 200 ? "loud" : "quiet" } : {}),
    ...(asks.has("static_pa")
      ? { figures: { ...seen.figures, static_pa: asTypedExactly(look.static_pa, "pressure", system) } }
      : {}),
    ...(asks.has("held")
      ? {
          held: Object.fromEntries(
            Object.entries(here(look.held)).map(([room, held]) => [room, held ? "yes" : "no"]),
          ),
        }
      : {}),
  };
}
