"""The tests of a ventilator as it was left, in order: its settings and sensor, does it run and stop, its lockouts, its hour."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.base.sentence import Sentence
from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_core.ventilation.proof.step import TRAVEL_S, Ask, TestKind, VentilatorTest

BEYOND_K = 3.0
"""So far past a limit the control is made to believe it is: farther than any switching difference. Ours."""

BEYOND_RH = 0.08


def plan(ventilator: Ventilator, control: VentilatorControl | None) -> tuple[VentilatorTest, ...]:
    """Every test; without a known setting only those that need none.

    Parameters
    ----------
    ventilator : Ventilator
    control : VentilatorControl or None
        As it was left, or found.
    """
    return tuple(_tests(ventilator, control or VentilatorControl(), known=control is not None))


def _tests(ventilator: Ventilator, control: VentilatorControl, known: bool) -> Iterator[VentilatorTest]:
    wait = (TRAVEL_S, "duration")
    blade: tuple[Ask, ...] = ("damper",) if ventilator.damper else ()
    along: tuple[Ask, ...] = ("blower",) if control.interlock else ()
    if known:
        yield VentilatorTest(
            "settings",
            "Its settings",
            Sentence.of("Read every value at the control once more, against the card."),
            ("as_card",),
        )
    if control.low_c is not None or control.high_c is not None:
        words = (
            "What outdoor temperature does the control show? Hold a probe beside its sensor, in the shade, until it stands still."
        )
        yield VentilatorTest("sensor", "Its outdoor sensor", Sentence.of(words), ("sensor",))
    mild = mildly(control)
    words = "Call it, by its test or boost button. Wait {wait}. Hold a strip of tissue to every grille."
    if mild:
        words += " If a lockout keeps it off just now, make its sensor believe milder air first."
    yield VentilatorTest(
        "run",
        "Runs when called",
        Sentence.of(words, wait=wait),
        ("fan", *blade, "air", *along),
        _running(ventilator, control),
        {**mild, "run": 1.0},
    )
    yield VentilatorTest(
        "stop",
        "Rests when not called",
        Sentence.of("Let it rest. Wait {wait}. No air may move at its grilles, whichever way the wind blows.", wait=wait),
        ("fan", *blade, "air"),
        {"fan": "stands", **({"damper": "shut"} if ventilator.damper else {}), "air": "none"},
        {"run": 0.0},
    )
    yield from _lockouts(ventilator, control, blade)
    if known and control.minutes_per_hour is not None and 0 < control.minutes_per_hour < 60 and ventilator.cycle_h <= 1:
        minutes = (control.minutes_per_hour * 60.0, "duration")
        words = "Over one whole hour that no lockout cuts short, count the minutes it runs. {minutes} are due."
        yield VentilatorTest("hour", "Minutes in an hour", Sentence.of(words, minutes=minutes), ("minutes",), hold=mild)
    if control.boost_min is not None and control.minutes_per_hour != 60:
        words = "Start a boost while it should rest. Does it run, and {boost} later rest again by itself?"
        yield VentilatorTest(
            "boost",
            "Boost, and back by itself",
            Sentence.of(words, boost=(control.boost_min * 60.0, "duration")),
            ("fan", "again"),
            {"fan": "runs", "again": "stands"},
            mild,
        )
    words = "Power off. Draw the filters, look at the outdoor screen. Put both back before the flows are measured."
    yield VentilatorTest(
        "filters", "Filters and screen", Sentence.of(words), ("filters", "screen"), {"filters": "clean", "screen": "clear"}
    )


def mildly(control: VentilatorControl) -> dict[str, float]:
    """What its sensors must show so that no lockout keeps it off."""
    low, high = control.low_c, control.high_c
    held = {}
    if low is not None or high is not None:
        held["outdoor_c"] = _middle(low, high)
    if control.dew_point_c is not None:
        held["dew_point_c"] = control.dew_point_c - 2 * BEYOND_K
    if control.indoor_rh is not None:
        held["indoor_rh"] = control.indoor_rh - BEYOND_RH
    return held


def _middle(low: float | None, high: float | None) -> float:
    if low is None or high is None:
        return (high - 10.0) if high is not None else (low or 0.0) + 10.0
    return (low + high) / 2


def _running(ventilator: Ventilator, control: VentilatorControl) -> dict[str, str]:
    due = {"fan": "runs", "air": "right"}
    if ventilator.damper:
        due["damper"] = "open"
    if control.interlock:
        due["blower"] = "runs"
    return due


def _lockouts(ventilator: Ventilator, control: VentilatorControl, blade: tuple[Ask, ...]) -> Iterator[VentilatorTest]:
    wait, mild = (TRAVEL_S, "duration"), mildly(control)
    due = {"fan": "stands", **({"damper": "shut"} if ventilator.damper else {}), "again": "runs"}
    limits: tuple[tuple[TestKind, str, float | None, str, float, str], ...] = (
        ("low", "outdoor_c", control.low_c, "temperature", -BEYOND_K, "Off when it is too cold"),
        ("high", "outdoor_c", control.high_c, "temperature", BEYOND_K, "Off when it is too hot"),
        ("dew", "dew_point_c", control.dew_point_c, "temperature", BEYOND_K, "Off when it is too moist outside"),
        ("humid", "indoor_rh", control.indoor_rh, "relative_humidity", BEYOND_RH, "Off when the rooms are too moist"),
    )
    ways = {
        "low": "ice water in a bag at its sensor, or its test value",
        "high": "a warm hand or a hair dryer from afar at its sensor, or its test value",
        "dew": "a moist cloth at its sensor, or its test value",
        "humid": "breath at its sensor, or its test value",
    }
    for kind, point, limit, unit, beyond, title in limits:
        if limit is None:
            continue
        past, back = limit + beyond, limit - beyond
        if kind == "low" and control.high_c is not None:
            back = min(back, (limit + control.high_c) / 2)
        if kind == "high" and control.low_c is not None:
            back = max(back, (limit + control.low_c) / 2)
        words = f"Call it. Make it believe {{past}}: {ways[kind]}. Wait {{wait}}. Then take it back: it must run again."
        yield VentilatorTest(
            kind,
            title,
            Sentence.of(words, past=(past, unit), wait=wait),
            ("fan", *blade, "again"),
            due,
            {**mild, point: past, "run": 1.0},
            {**mild, point: back, "run": 1.0},
        )
