"""Does a gateway's unit speak the protocol of docs/controller.md? A list of what holds and what does not."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.economizer.alarms import ALARMS
from fentro_core.economizer.answers import not_held, out_of_range, read_points
from fentro_core.economizer.configuration import read_configuration
from fentro_core.economizer.places import MODES, POINTS, TEMPERATURES
from fentro_server.controllers.gateway import HttpController

NEEDED = (*TEMPERATURES.values(), "damper_command", "damper_position", "fan", "compressor")
"""Points without which no proof can be run."""

USEFUL = ("room_temperature", "occupied", "building_pressure", "relief", "heating", "outdoor_humidity", "return_humidity")
"""Points without which single tests can't be run, or are not observed."""

HELD_AT_ITS_OWN = "cooling_setpoint"
"""Held at the value it has, it changes nothing at the unit."""

SHOWN_WITHIN_S, EVERY_S = 15.0, 0.5
CLOCK_WATCHED_S = 3.0
CLOCK_APART = 0.5


@dataclass(frozen=True)
class Line:
    """One thing that was tried. `holds`: None where it could not be tried, or is no must."""

    holds: bool | None
    what: str
    words: str = ""


class _Fails(Exception):
    """It does not hold: why."""


def conformance(device: HttpController, *, hold: bool, wait: Callable[[float], None] = time.sleep) -> Iterator[Line]:
    """Try everything that can be tried.

    Parameters
    ----------
    hold : bool
        Also hold a setpoint, at the value that it has, and let it go. Without it nothing is changed.
    wait : callable
        Lets so many seconds pass.
    """
    yield _tried("points are answered, with “overridden”", lambda: _raw(device))
    try:
        points = device.points()
    except (DeviceGone, DeviceRefused):
        return
    yield _tried("points that every test needs are there", lambda: _there(points, NEEDED))
    missing = [key for key in USEFUL if key not in points]
    yield Line(
        None if missing else True,
        "points that single tests need are there",
        f"Not there: {', '.join(missing)}" if missing else "",
    )
    yield _tried("values are SI, shares 0 to 1", lambda: _units(points))
    yield _tried("“mode” is one of the known words", lambda: _mode(points))
    yield Line(
        "alarm" in points,
        "“alarm” is told, empty where there is none",
        "" if "alarm" in points else "“No alarm” is never observed.",
    )
    yield _tried("“time_s” goes as ours does", lambda: _clock(device, wait))
    yield _tried("alarms are answered, by known keys", lambda: _alarms(device))
    yield _tried("the configuration is answered, in the open form", lambda: read_configuration(device.save()))
    yield _tried("a point that is none is refused", lambda: _refused(lambda: device.override("no_such_point", 1.0)))
    if hold and "damper_command" not in points["overridden"]:
        yield _tried("a value beyond its range is refused", lambda: _range(device))
    yield _tried("releasing what is not held is harmless", lambda: _harmless(device, points))
    if hold and HELD_AT_ITS_OWN in points and HELD_AT_ITS_OWN not in points["overridden"]:
        yield _tried("what is held is named, shown, and let go", lambda: _held(device, points[HELD_AT_ITS_OWN], wait))
    else:
        yield Line(
            None, "what is held is named, shown, and let go", "Not tried: ask for it, with a cooling setpoint that is free."
        )
    with contextlib.suppress(DeviceGone, DeviceRefused):
        if device.scene() is not None:
            yield Line(None, "a scene is answered", "This is a simulated unit.")


def _tried(what: str, of: Callable[[], Any]) -> Line:
    try:
        of()
    except _Fails as fails:
        return Line(False, what, str(fails))
    except Refused as refused:
        return Line(False, what, refused.sentence.say())
    except DeviceRefused as refusal:
        return Line(False, what, f"Refused: {refusal}")
    except DeviceGone as gone:
        return Line(False, what, str(gone) or "No answer in time.")
    return Line(True, what)


def _raw(device: HttpController) -> None:
    read_points(device.asked("GET", "/points").get("points"))


def _there(points: dict[str, Any], wanted: tuple[str, ...]) -> None:
    missing = [key for key in wanted if key not in points]
    if missing:
        raise _Fails(f"Not there, or not a number: {', '.join(missing)}")


def _units(points: dict[str, Any]) -> None:
    wrong = [
        f"{key} {value:g}"
        for key, value in points.items()
        if key in POINTS and isinstance(value, float) and out_of_range(key, value)
    ]
    if wrong:
        raise _Fails(f"Beyond their range: {', '.join(wrong)}. A share in percent, or °F?")


def _mode(points: dict[str, Any]) -> None:
    if points["mode"] not in MODES:
        raise _Fails(f"“{points['mode']}” is none of {', '.join(MODES)}: free cooling and freeze trips are not seen.")


def _clock(device: HttpController, wait: Callable[[float], None]) -> None:
    first, began = device.points().get("time_s"), time.monotonic()
    wait(CLOCK_WATCHED_S)
    last, ours = device.points().get("time_s"), time.monotonic() - began
    if first is None or last is None:
        raise _Fails("There is none. Tests use our clock.")
    if device.scene() is None and abs((last - first) - ours) > CLOCK_APART * CLOCK_WATCHED_S:
        raise _Fails(f"It went {last - first:.1f} s in {ours:.1f} s. Tests use our clock.")


def _alarms(device: HttpController) -> None:
    unknown = sorted({str(each["key"]) for each in device.alarms()} - set(ALARMS))
    if unknown:
        raise _Fails(f"Not known: {', '.join(unknown)}. They are shown as “{ALARMS['other'].name}”.")


def _refused(tell: Callable[[], None]) -> None:
    try:
        tell()
    except DeviceRefused:
        return
    except DeviceGone as gone:
        raise _Fails(str(gone) or "No answer, where a refusal (422) is due.") from None
    raise _Fails("It was taken.")


def _range(device: HttpController) -> None:
    try:
        _refused(lambda: device.override("damper_command", 20.0))
    finally:
        device.release("damper_command")


def _harmless(device: HttpController, points: dict[str, Any]) -> None:
    free = next((key for key in NEEDED if key not in points["overridden"]), None)
    if free is None:
        raise _Fails("Everything is held.")
    device.release(free)
    if device.points()["overridden"] != points["overridden"]:
        raise _Fails("Something else was let go.")


def _held(device: HttpController, value: float, wait: Callable[[float], None]) -> None:
    try:
        device.override(HELD_AT_ITS_OWN, value)
        _until(lambda: not not_held({HELD_AT_ITS_OWN: value}, device.points()), "It was taken, and is not held.", wait)
    finally:
        device.release(HELD_AT_ITS_OWN)
    _until(lambda: HELD_AT_ITS_OWN not in device.points()["overridden"], "It is not let go. Release it at the controller.", wait)


def _until(so: Callable[[], bool], words: str, wait: Callable[[float], None]) -> None:
    spent = 0.0
    while not so():
        if spent >= SHOWN_WITHIN_S:
            raise _Fails(words)
        wait(EVERY_S)
        spent += EVERY_S
