"""An economizer's points against a reference, which is which, and its alarms, from a visit's logbook."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.alarms import ALARMS, consequence
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.entries import AlarmCheck, AlarmClosed, AlarmSeen, PointList, PointRead
from fentro_core.economizer.points import Compared, PointLine, compare, physics_checks
from fentro_core.economizer.results import AlarmCheckLine, AlarmLine, PointPage
from fentro_core.economizer.sensor_identity import Condition, Reference, SensorIdentity, audit_signs, sensor_identity
from fentro_core.economizer.sensors import CURVE_NAMES, sensor_state
from fentro_core.economizer.true_air import by_probe, signs_by_probe
from fentro_core.logbook.entry import Entry

Said = TypeVar("Said")


def last_of(entries: Iterable[Entry], kind: type[Said]) -> tuple[Said | None, str]:
    """The last thing of a kind that was said, and its entry."""
    found: tuple[Said | None, str] = (None, "")
    for entry in entries:
        if isinstance(entry.body, kind):
            found = (entry.body, entry.id)
    return found


def points_page(entries: list[Entry], planned: Configuration, phase: str) -> PointPage:
    """The audit of points in a phase: every line with its last reading, physics, which is which.

    What was read before a change and after it are never put together: a wire moved in between would be no sensor's fault.
    """
    listed, _ = last_of(entries, PointList)
    lines = (
        listed.lines
        if isinstance(listed, PointList)
        else tuple(PointLine(terminal, f"{place} air".capitalize(), place) for terminal, place in planned.terminals.items())
    )
    reads: dict[str, dict[str, PointRead]] = {}
    latest: dict[str, PointRead] = {}
    for entry in entries:
        if isinstance(entry.body, PointRead) and entry.phase == phase:
            reads.setdefault(entry.body.condition or "as it is", {})[entry.body.terminal] = entry.body
            latest[entry.body.terminal] = entry.body
    compared = tuple(
        compare(line, read.shown_c, read.reference_c, read.plus_minus_k)
        if (read := latest.get(line.terminal))
        else Compared(line)
        for line in lines
    )
    last = list(reads.values())[-1] if reads else {}
    shown = {line.place: last[line.terminal].shown_c for line in lines if line.place and line.terminal in last}
    conditions = _conditions(lines, reads)
    which, trouble = _which(lines, conditions)
    names = {line.terminal: line.name for line in lines}
    swapped = tuple(names[each.label] for each in which.sensors if each.looks_swapped) if which else ()
    return PointPage(
        compared,
        physics_checks(shown, None, None),
        tuple(reads),
        which,
        trouble,
        swapped,
        by_probe(conditions),
    )


def _conditions(lines: tuple[PointLine, ...], reads: dict[str, dict[str, PointRead]]) -> tuple[Condition, ...]:
    """Every condition: what the sensors showed that hang somewhere, and the probe at their places."""
    placed = [line for line in lines if line.place]
    found = []
    for name, each in reads.items():
        there = [(line.place, each[line.terminal]) for line in placed if line.terminal in each]
        known = {place: Reference(read.reference_c, read.plus_minus_k) for place, read in there}
        found.append(Condition(name, {read.terminal: read.shown_c for _, read in there}, known))
    return tuple(found)


def _which(lines: tuple[PointLine, ...], read: tuple[Condition, ...]) -> tuple[SensorIdentity | None, Sentence | None]:
    """By the conditions in which every placed sensor was read with its reference."""
    seen = {terminal for condition in read for terminal in condition.shown_c}
    claimed = {line.terminal: line.place for line in lines if line.terminal in seen}
    conditions = tuple(condition for condition in read if set(condition.shown_c) == seen)
    if len(seen) < 2 or not conditions:
        return None, Sentence.of("Read at least two sensors, each with a reference probe at its place, in one or two conditions.")
    try:
        return sensor_identity(conditions, claimed), None
    except Refused as refusal:
        return None, refusal.sentence


def audit_of(points: PointPage) -> dict[str, bool] | None:
    """What sensors against a reference say, and the reference alone; None until two sensors were read."""
    if points.which is None:
        return None
    return {**audit_signs(points.which), **signs_by_probe(points.by_probe)}


def alarm_lines(entries: list[Entry], planned: Configuration) -> tuple[AlarmLine, ...]:
    """Every alarm seen, with its checks and how it ended."""
    checks: dict[str, list[AlarmCheckLine]] = {}
    ends: dict[str, AlarmClosed] = {}
    for entry in entries:
        if isinstance(entry.body, AlarmCheck):
            body = entry.body
            line = AlarmCheckLine(entry.id, body.check, body.found, body.good, _resistance(body))
            checks.setdefault(body.alarm, []).append(line)
        elif isinstance(entry.body, AlarmClosed):
            ends[entry.body.alarm] = entry.body
    lines = []
    for entry in entries:
        if not isinstance(entry.body, AlarmSeen):
            continue
        kind, end = ALARMS[entry.body.alarm], ends.get(entry.id)
        lines.append(
            AlarmLine(
                entry.id,
                kind.key,
                kind.name,
                entry.body.words,
                kind.means,
                consequence(kind.key, planned),
                kind.by_itself,
                kind.caution,
                kind.checks,
                tuple(checks.get(entry.id, ())),
                end.cause if end else "",
                end.found if end else True,
                end is not None,
            )
        )
    return tuple(lines)


_STATE_WORDS = {
    "open": "an open circuit",
    "short": "a short circuit",
    "not_this_curve": "not a temperature on this curve: another sensor, or a wire that touches something",
    "drift": "a drifting sensor",
    "good": "a good sensor",
}


def _resistance(body: AlarmCheck) -> Sentence | None:
    if not body.curve or body.resistance_ohm is None or body.reference_c is None:
        return None
    try:
        found = sensor_state(body.curve, body.resistance_ohm, body.reference_c)
    except Refused as refusal:
        return refusal.sentence
    other = f" A {CURVE_NAMES[found.other_curve]} sensor would be right." if found.other_curve else ""
    if found.temperature_c is None or found.error_k is None:
        return Sentence.of(f"{{ohm}} is {_STATE_WORDS[found.state]}.{other}", ohm=(body.resistance_ohm, "resistance"))
    return Sentence.of(
        f"{{ohm}} is {{shown}}, {{error}} from the reference: {_STATE_WORDS[found.state]}.{other}",
        ohm=(body.resistance_ohm, "resistance"),
        shown=(found.temperature_c, "temperature"),
        error=(found.error_k, "temperature_difference"),
    )
