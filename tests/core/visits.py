"""Small visits for tests: a system, instruments, and entries made by hand."""

from __future__ import annotations

import copy
import itertools
import uuid
from typing import Any

from fentro_core.diagnosis.signs import Sign
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.visit_context import VisitContext
from fentro_core.visit.phase_work import PhaseWork

INSTRUMENTS = [
    {
        "id": name,
        "name": f"Probe {name}",
        "accuracy": {
            "dry_bulb": {"plus_minus": 0.3, "resolution": 0.1},
            "relative_humidity": {"plus_minus": 0.02, "resolution": 0.01},
        },
    }
    for name in ("A", "B")
]
_count = itertools.count()


def new_id() -> str:
    """A fresh, valid id."""
    return str(uuid.UUID(int=(4 << 76) | (8 << 60) | next(_count)))


def entry(kind: str, body: dict[str, Any], minute: int = 20, **more: Any) -> dict[str, Any]:
    """An entry at a minute of the visit."""
    return {"id": new_id(), "kind": kind, "at": f"2026-07-01T10:{minute:02d}:00+00:00", "body": body, **more}


def reading(
    station: str, quantity: str, value: float, unit: str, *, point: int = 1, instrument: str | None = "A", **more: Any
) -> dict:
    """A reading."""
    body = {"station": station, "quantity": quantity, "value": value, "unit": unit, "point": point, "instrument": instrument}
    return entry("reading", body, **more)


def air(station: str, dry_bulb: float, rh: float, **more: Any) -> list[dict[str, Any]]:
    """Dry bulb [°C] and relative humidity [%]."""
    return [
        reading(station, "dry_bulb", dry_bulb, "degC", **more),
        reading(station, "relative_humidity", rh, "percent", **more),
    ]


def across(station: str, dry_bulb: float, rh: float, points: int = 6, **more: Any) -> list[dict[str, Any]]:
    """As `air`, at several points of a duct that has no layers: its own half-width becomes small."""
    return [each for number in range(1, points + 1) for each in air(station, dry_bulb, rh, point=number, **more)]


def flow(m3s: float, **more: Any) -> dict[str, Any]:
    """Airflow at the return, ±3 %."""
    made = reading("return", "airflow", m3s, "m3/s", instrument=None, **more)
    made["body"]["plus_minus"] = 0.03 * m3s
    return made


STARTED = ("run", {"event": "started"}, 0)


def started() -> dict[str, Any]:
    """The unit starts at minute 0."""
    return entry(*STARTED)


def worked(document: dict[str, Any], phase: str = "as_found") -> PhaseWork:
    """One phase of a visit, worked out."""
    return PhaseWork(VisitContext(read_snapshot(document)), phase)


def signs_of(document: dict[str, Any]) -> dict[str, Sign]:
    """Every symptom of the first phase, by key."""
    work = worked(document)
    found = [sign for part in work.shown for sign in part.symptoms] + work.context.seen_by_eye()
    return {sign.symptom: sign for sign in found}


def snapshot(
    entries: list[dict[str, Any]], kind: str = "furnace_with_coil", elevation_m: float = 0.0, **plate: Any
) -> dict[str, Any]:
    """A snapshot of a visit."""
    return {
        "site": {"name": "Somewhere", "elevation_m": elevation_m},
        "system": {
            "name": "Unit",
            "kind": kind,
            "nameplate": {"rated_total_w": 35169.0, **plate} if kind != "dwelling_ventilator" else plate,
        },
        "instruments": copy.deepcopy(INSTRUMENTS),
        "entries": entries,
    }
