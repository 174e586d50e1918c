"""The verdict on one test of a ventilator: what was seen against what was due. Nothing holds that was not looked at."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_core.ventilation.proof.step import VentilatorTest, VentilatorTestSeen

SENSOR_K = 2.0
"""A control's outdoor sensor may be off by so much beside a probe in the shade. Ours; a lockout is no finer."""

PROBE_K, DISPLAY_K = 0.5, 0.5
COUNT_MIN = 0.5
LEAST_MINUTES = 1.5
"""Minutes counted in an hour may differ by half of its control's step, and by this at least. Ours."""

ENDED = {
    "stopped": "Stopped before its end: nothing is proved. Repeat it.",
    "gone": "The control stopped answering: nothing is proved. Repeat it when it answers again.",
    "refused": "The control refused: nothing is proved. Do it by hand, and type what you see.",
}
ASKED: Mapping[str, str] = {
    "as_card": "its settings",
    "sensor": "its sensor against a probe",
    "fan": "its fan",
    "damper": "its damper",
    "air": "a grille",
    "blower": "the system's blower",
    "again": "what it did afterwards",
    "minutes": "the minutes",
    "filters": "the filters",
    "screen": "the outdoor screen",
}
GRAVEST: tuple[Mark, ...] = ("off", "not_measured", "too_close", "watch", "holds")


def looks_of(
    test: VentilatorTest, seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None
) -> list[tuple[str, str]]:
    """What was looked at, each with what was seen; numbers as ``right``, ``close`` or ``off``."""
    found: list[tuple[str, str]] = []
    for ask in test.asks:
        if ask == "air":
            found += [("air", air) for stream, air in seen.air.items() if stream in ventilator.streams]
            continue
        value = _look(ask, seen, ventilator, control)
        if value:
            found.append((ask, value))
    return found


def _look(ask: str, seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None) -> str:
    if ask == "as_card":
        return "" if seen.as_card is None else "yes" if seen.as_card else "no"
    if ask in ("sensor", "minutes"):
        found = sensor_off(seen) if ask == "sensor" else minutes_off(seen, ventilator, control)
        return {"holds": "right", "too_close": "close", "off": "off"}.get(found, "") if found else ""
    return str(getattr(seen, ask))


def sensor_off(seen: VentilatorTestSeen) -> Mark | None:
    """The control's sensor against a probe; None where one of both was not read."""
    return None if seen.shown_c is None or seen.probe_c is None else sensor_mark(seen.shown_c, seen.probe_c)


def sensor_mark(shown_c: float, probe_c: float) -> Mark:
    """A control's outdoor sensor against a probe in the shade beside it [°C]."""
    difference = Measured(shown_c - probe_c, {"probe": PROBE_K, "display": DISPLAY_K})
    return judge(difference, -SENSOR_K, SENSOR_K).mark


def minutes_off(seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None) -> Mark | None:
    """Minutes counted in an hour against those it is set to."""
    if seen.minutes is None or control is None or control.minutes_per_hour is None:
        return None
    may = max(ventilator.step_min / 2, LEAST_MINUTES)
    counted = Measured(seen.minutes, {"count": COUNT_MIN})
    return judge(counted, control.minutes_per_hour - may, control.minutes_per_hour + may).mark


def verdict(
    test: VentilatorTest, seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None
) -> tuple[Mark, Sentence]:
    """The gravest of everything that was looked at, and its words."""
    if seen.ended != "done":
        return "not_measured", Sentence.of(ENDED[seen.ended])
    found = list(_found(test, seen, ventilator, control))
    missing = [ASKED[ask] for ask in test.asks if _is_missing(ask, seen, ventilator, control)]
    if missing:
        found.append(("not_measured", Sentence.of(f"Not looked at: {', '.join(missing)}.")))
    for mark in GRAVEST:
        words = [sentence for each, sentence in found if each == mark]
        if words:
            numbers = {name: number for sentence in words for name, number in sentence.numbers.items()}
            return mark, Sentence(" ".join(sentence.text for sentence in words), numbers)
    return "holds", Sentence.of("As it should be.")


def _is_missing(ask: str, seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None) -> bool:
    if ask == "air":
        return any(stream not in seen.air for stream in ventilator.streams)
    return not _look(ask, seen, ventilator, control)


_WRONG: Mapping[tuple[str, str], str] = {
    ("fan", "stands"): "Its fan is stopped, and should be running.",
    ("fan", "runs"): "Its fan is running, and should be stopped.",
    ("damper", "shut"): "Its damper is shut, and should be open.",
    ("damper", "open"): "Its damper is open, and should be shut.",
    ("blower", "stands"): "The system's blower is stopped, and should run with it.",
    ("as_card", "no"): "It is not set as the card says.",
    ("screen", "clogged"): "The outdoor screen is clogged.",
    ("screen", "missing"): "The outdoor screen is missing: leaves, birds and snow get in.",
    ("filters", "blocked"): "A filter is blocked.",
}


def _found(
    test: VentilatorTest, seen: VentilatorTestSeen, ventilator: Ventilator, control: VentilatorControl | None
) -> Iterator[tuple[Mark, Sentence]]:
    for stream in ventilator.streams:
        if "air" in test.asks and stream in seen.air:
            yield from _air(test, stream, seen.air[stream])
    for ask, value in looks_of(test, seen, ventilator, control):
        if ask == "again" and value != test.due["again"]:
            back = (
                "It went on running: the boost did not come back." if test.kind == "boost" else "It did not run again afterwards."
            )
            yield "off", Sentence.of(back)
        elif ask == "filters" and value == "dirty":
            yield "watch", Sentence.of("A filter is dirty: clean it now.")
        elif (ask, value) in _WRONG and test.due.get(ask) != value:
            yield "off", Sentence.of(_WRONG[(ask, value)])
    if "sensor" in test.asks and seen.shown_c is not None and seen.probe_c is not None:
        numbers = {"shown": (seen.shown_c, "temperature"), "probe": (seen.probe_c, "temperature")}
        mark = sensor_off(seen)
        if mark == "off":
            yield "off", Sentence.of("The control shows {shown}, the probe {probe}: its limits lie wrong by as much.", **numbers)
        elif mark == "too_close":
            yield "too_close", Sentence.of("The control shows {shown}, the probe {probe}: too close to call.", **numbers)
    if "minutes" in test.asks and seen.minutes is not None:
        numbers = {"minutes": (seen.minutes * 60.0, "duration")}
        mark = minutes_off(seen, ventilator, control)
        if mark == "off":
            yield "off", Sentence.of("It ran {minutes} in the hour: not what it is set to.", **numbers)
        elif mark == "too_close":
            yield "too_close", Sentence.of("It ran {minutes} in the hour: too close to call. Count another.", **numbers)


_STREAMS = {"fresh": "Fresh air", "stale": "Stale air"}


def _air(test: VentilatorTest, stream: str, air: str) -> Iterator[tuple[Mark, Sentence]]:
    name = _STREAMS[stream]
    if test.due["air"] == "none":
        if air in ("right", "wrong"):
            yield "off", Sentence.of(f"{name}: air moves at its grille, and none should.")
        elif air == "little":
            yield "watch", Sentence.of(f"{name}: a little air moves at its grille, and none should.")
    elif air == "wrong":
        yield "off", Sentence.of(f"{name}: it goes the wrong way.")
    elif air == "none":
        yield "off", Sentence.of(f"{name}: no air at its grille.")
    elif air == "little":
        yield "watch", Sentence.of(f"{name}: only a little air at its grille.")
