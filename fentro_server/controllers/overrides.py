"""What the app holds at a controller, and the ledger: written before it is held, undone once a release is confirmed."""

from __future__ import annotations

import contextlib
import time
import uuid
from collections.abc import Callable, Iterable, Mapping
from datetime import UTC, datetime
from typing import Any

from fentro_core.base import units
from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.economizer.answers import out_of_range
from fentro_core.economizer.places import POINTS
from fentro_core.logbook.entry import standing
from fentro_core.logbook.temporary import Temporary, ledger
from fentro_server.accounts.models import Person
from fentro_server.controllers.gateway import HttpController
from fentro_server.visits import logbook
from fentro_server.visits.kept import committed
from fentro_server.visits.models import LEDGER_KINDS, Visit


def new_entry(kind: str, body: Mapping[str, Any], phase: str = "as_found", reason: str = "") -> dict[str, Any]:
    """An entry made by the server in the name of a person."""
    return {
        "id": str(uuid.uuid4()),
        "kind": kind,
        "at": datetime.now(UTC).isoformat(),
        "body": dict(body),
        "phase": phase,
        "reason": reason,
    }


def write_down(visit: Visit, person: Person, entries: list[dict[str, Any]]) -> None:
    """Append entries; each must be taken.

    Raises
    ------
    Refused
        The first that is not.
    """
    done = logbook.append(visit.pk, person, entries)
    if done.refused:
        raise done.refused[0][2]


def held_words(point: str, value: float) -> str:
    """What is held, in both systems of units."""
    known = POINTS[point]
    if point == "occupied":
        return f"Schedule held at {'occupied' if value >= 0.5 else 'unoccupied'}"
    shown = [units.show(value, known.kind, system) for system in ("SI", "US")] if known.kind in units.KINDS else [f"{value:g}"]
    said = shown[0] if len(set(shown)) == 1 else f"{shown[0]} ({shown[1]})"
    return f"{known.name} held at {said}"


def open_points(visit: Visit) -> dict[str, list[str]]:
    """Open changes that hold a point of a controller or a zone of a board: entries by point."""
    found: dict[str, list[str]] = {}
    known = committed(visit.pk)
    for change in ledger(standing([entry for entry in known.entries if entry.kind in LEDGER_KINDS])):
        body = known.by_id[change.entry].body
        if isinstance(body, Temporary) and body.point:
            found.setdefault(body.point, []).append(change.entry)
    return found


def in_range(point: str, value: float) -> None:
    """Refuses what an override may not say."""
    if not out_of_range(point, value):
        return
    known = POINTS[point]
    if known.kind in ("share", "relative_humidity"):
        raise Refused(f"{known.name}: a share from 0 to 1. For {value:g} % it is {value / 100:g}.", "value")
    raise Refused(
        f"{known.name} lies between {{low}} and {{high}}.", "value", low=(known.low, known.kind), high=(known.high, known.kind)
    )


def hold(visit: Visit, person: Person, controller: HttpController, wanted: Mapping[str, float], why: str) -> dict[str, str]:
    """Write every override into the ledger, then hold it; answers the entries that were opened, by point.

    Raises
    ------
    Refused
        A value beyond the point's range: nothing is held then.
    DeviceRefused, DeviceGone
        See `ledger_first`.
    """
    for point, value in wanted.items():
        in_range(point, value)
    bodies = {
        point: {"what": held_words(point, value), "undo": "Release it at the controller", "value": value}
        for point, value in wanted.items()
    }

    def hold_one(point: str) -> None:
        controller.override(point, wanted[point])

    return ledger_first(visit, person, bodies, hold_one, DeviceRefused, "refused by the controller", why)


def ledger_first(
    visit: Visit,
    person: Person,
    bodies: Mapping[str, Mapping[str, Any]],
    hold_one: Callable[[str], None],
    refusal: type[Exception],
    how: str,
    why: str = "",
) -> dict[str, str]:
    """Write down what is about to be held, by point, then hold each; what is open in the ledger already is not opened twice.
    Answers the entries that were opened, by point.

    What was written for points that were not held is undone again after a `refusal`, as `how` says; it stays open when the
    device went away: nobody knows then. Whatever `hold_one` raises is raised.
    """
    known = open_points(visit)
    fresh = {
        point: new_entry("temporary", {"kind": "override", "point": point, **body}, reason=why)
        for point, body in bodies.items()
        if point not in known
    }
    if fresh:
        write_down(visit, person, list(fresh.values()))
    done: set[str] = set()
    try:
        for point in bodies:
            hold_one(point)
            done.add(point)
    except refusal:
        undone = [new_entry("undone", {"change": entry["id"], "how": how}) for point, entry in fresh.items() if point not in done]
        if undone:
            write_down(visit, person, undone)
        raise
    return {point: entry["id"] for point, entry in fresh.items()}


RELEASE_TRIES, RELEASE_AGAIN_S = 3, 0.4
"""A release is tried again until the controller no longer names the point."""


def release(visit: Visit, person: Person, controller: HttpController, points: Iterable[str] | None = None) -> list[str]:
    """Release points (all of them for None), and close in the ledger what the controller confirms. Answers what it still holds.

    Raises
    ------
    DeviceGone
        It does not answer: the ledger stays open.
    """
    wanted = set(points) if points is not None else set(controller.points()["overridden"]) | set(open_points(visit)) & set(POINTS)
    still = wanted
    for again in range(RELEASE_TRIES):
        if again:
            time.sleep(RELEASE_AGAIN_S)
        for point in sorted(wanted & still):
            with contextlib.suppress(DeviceRefused, DeviceGone):
                controller.release(point)
        still = set(controller.points()["overridden"])
        if not wanted & still:
            break
    known = open_points(visit)
    undone = [
        new_entry("undone", {"change": entry, "how": "released, confirmed by the controller"})
        for point in sorted(wanted - still)
        for entry in known.get(point, ())
    ]
    if undone:
        write_down(visit, person, undone)
    return sorted(wanted & still)


def strays(visit: Visit, overridden: Iterable[str]) -> list[str]:
    """Points that the controller holds and this visit's ledger knows nothing of."""
    return sorted(set(overridden) - set(open_points(visit)))
