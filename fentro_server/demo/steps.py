"""What is done at a demo visit, step by step: each (minute, kind, body, phase)."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class DemoVisit:
    """A visit as a list of steps: each (minute, kind, body, phase)."""

    key: str
    system: str
    by: str
    days_ago: float
    purpose: str
    steps: tuple[tuple[int, str, dict[str, Any], str], ...] = field(default=())


def air(
    minute: int, station: str, dry_bulb: float, rh: float | None, probe: str, phase: str = "as_found", point: int = 1
) -> list[Any]:
    """A dry bulb and a relative humidity at one point."""
    common = {"station": station, "point": point, "instrument": probe}
    readings = [(minute, "reading", {**common, "quantity": "dry_bulb", "value": dry_bulb, "unit": "degC"}, phase)]
    if rh is not None:
        body = {**common, "quantity": "relative_humidity", "value": rh, "unit": "percent"}
        readings.append((minute, "reading", body, phase))
    return readings


def flow(minute: int, m3s: float, phase: str = "as_found", station: str = "return") -> list[Any]:
    """A flow by the hood."""
    body = {"station": station, "quantity": "airflow", "value": m3s, "unit": "m3/s", "instrument": "hood"}
    return [(minute, "reading", body, phase)]


def statics(minute: int, phase: str = "as_found", **pascal: float) -> list[Any]:
    """Static pressures by tap."""
    common = {"quantity": "static_pressure", "unit": "Pa", "instrument": "manometer_1"}
    return [(minute, "reading", {"station": tap, "value": value, **common}, phase) for tap, value in pascal.items()]


def circuit(minute: int, suction: tuple[float, float], liquid: tuple[float, float], amps: float) -> list[Any]:
    """Pipes [°C] and gauges [kPa] of both lines, and the outdoor unit's current, by a certified person."""
    found: list[Any] = []
    for station, (pipe, gauge) in (("suction_line", suction), ("liquid_line", liquid)):
        clamp = {"station": station, "quantity": "pipe_temperature", "value": pipe, "unit": "degC", "instrument": "clamp"}
        shown = {"station": station, "quantity": "gauge_pressure", "value": gauge, "unit": "kPa", "instrument": "gauges"}
        found += [(minute, "reading", clamp, "as_found"), (minute, "reading", shown, "as_found")]
    current = {"station": "outdoor_unit", "quantity": "current", "value": amps, "unit": "A", "instrument": "power"}
    return [*found, (minute, "reading", current, "as_found")]


def yearly(
    key: str, system: str, by: str, days_ago: float, numbers: tuple[float, ...], last: str, *more: tuple[Any, ...]
) -> DemoVisit:
    """A plain yearly check: return, supply, outdoor, flow, statics, and what was read besides; nothing changed."""
    return_c, return_rh, supply_c, supply_rh, outdoor_c, m3s, filter_pa = numbers
    return DemoVisit(
        key,
        system,
        by,
        days_ago,
        "Yearly check",
        (
            *ARRIVED,
            *SETTLED,
            *air(24, "return", return_c, return_rh, "probe_a"),
            *air(25, "return", return_c + 0.2, return_rh, "probe_a", point=2),
            *air(26, "supply", supply_c, supply_rh, "probe_a"),
            *air(28, "outdoor", outdoor_c, 60, "probe_a"),
            *flow(35, m3s),
            *statics(38, return_static=-70, filter_static=-70 - filter_pa, coil_out_static=-128 - filter_pa, supply_static=95),
            *more,
            *ticks(40, "nothing_to_change"),
            *RESTORED,
            *close(60, last),
        ),
    )


def planned(minute: int, setting: str, value: float | str, reason: str) -> list[Any]:
    """A setting of the economizer's plan."""
    said = {"text": value} if isinstance(value, str) else {"number": value}
    return [(minute, "plan_setting", {"setting": setting, "stage": "planned", "reason": reason, **said}, "as_found")]


def damper(minute: int, position: float, mixed_c: float, return_c: float = 24.4, outdoor_c: float = 13.2) -> list[Any]:
    """A reading of the walk to the minimum position."""
    body = {"position": position, "return_c": return_c, "outdoor_c": outdoor_c, "mixed_c": mixed_c, "plus_minus_k": 0.15}
    return [(minute, "damper_read", body, "as_found")]


def watched(minute: int, key: str, title: str, due: list[tuple[str, float | None, float | None]], **seen: float) -> list[Any]:
    """A functional test as a watcher saw it."""
    expected = [{"point": point, "low": low, "high": high} for point, low, high in due]
    body = {"test": key, "how": "watched", "values": seen, "expected": expected, "seconds": 180.0, "allowed_s": 300.0}
    return [(minute, "test_seen", {"title": title, "seen": body}, "as_found")]


def compared(minute: int, condition: str, phase: str = "as_found", **readings: tuple[float, float]) -> list[Any]:
    """Sensors (by terminal, without its dash) against a reference at their places [°C]: shown, reference."""
    return [
        (
            minute,
            "point_read",
            {
                "terminal": f"AI-{key[2:]}",
                "shown_c": shown,
                "reference_c": reference,
                "plus_minus_k": 0.3,
                "condition": condition,
            },
            phase,
        )
        for key, (shown, reference) in readings.items()
    ]


def ticks(minute: int, *items: str) -> list[Any]:
    """Checks seen and done."""
    return [(minute, "check", {"item": item, "done": True}, "as_found") for item in items]


ARRIVED = ticks(2, "reported_heard", "plate_agrees", "hazards_looked_for", "air_traced")
SETTLED = [*ticks(8, "filter_in", "registers_open", "doors_on", "unit_calling"), (9, "run", {"event": "started"}, "as_found")]
RESTORED = ticks(75, "overrides_released", "wires_back", "holes_plugged", "running_normally")


def note(minute: int, step: str, text: str) -> list[Any]:
    """A note at a step."""
    return [(minute, "note", {"step": step, "text": text}, "as_found")]


def close(minute: int, summary: str) -> list[Any]:
    """The last word."""
    return [(minute, "closing", {"summary": summary}, "as_found")]
