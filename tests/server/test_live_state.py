"""The state of live probes by itself: what is judged, shown, kept, dropped; without a database."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from fentro_core.instruments.instrument import Accuracy, Instrument
from fentro_server.measuring import exports
from fentro_server.measuring.live_state import KEPT_S, UNSENT, LiveState, Place, Situation
from fentro_server.measuring.logger_files import opened
from fentro_server.measuring.probe_source import Frame

START = datetime(2026, 7, 1, 10, tzinfo=UTC)
ACCURACY = {
    "dry_bulb": Accuracy(0.3, 0.0, 0.1, 0.1),
    "relative_humidity": Accuracy(0.02, 0.0, 0.01, 0.01),
    "static_pressure": Accuracy(1.0, 0.01, 0.1, 2.0),
}
NAMES = {"return": "Return", "supply": "Supply", "outdoor": "Outdoor", "supply_static": "Supply static"}


def state(running_min: float | None = 30.0, closed: bool = False, **places: str) -> LiveState:
    """A state with a probe for each place, named by serial."""
    instruments = {serial: Instrument(f"id-{serial}", f"Probe {serial}", serial=serial, accuracy=ACCURACY) for serial in "ABCD"}
    hung = {f"id-{serial}": Place(station) for serial, station in places.items()}
    since = None if running_min is None else START - timedelta(minutes=running_min)
    made = LiveState(Situation(instruments, hung, NAMES, since, closed))
    made.connected = True
    return made


def frames(seconds: int, start: int = 0, quantity: str = "dry_bulb", **courses: Any) -> Iterable[Frame]:
    """A frame a second; a course is a function of the second."""
    for second in range(start, start + seconds):
        values = {serial: {quantity: course(second)} for serial, course in courses.items()}
        yield Frame(START + timedelta(seconds=second), values, frozenset(), dict.fromkeys(courses, 0.5))


def flat(level: float) -> Any:
    return lambda second: level + 0.02 * (second % 3)


def falling(end: float, tau: float = 240.0) -> Any:
    return lambda second: end + 11 * math.exp(-second / tau)


def test_the_whole_waits_for_the_slowest() -> None:
    made = state(A="return", B="supply")
    made.take(frames(420, A=flat(24.0), B=falling(13.0)))
    picture = made.picture()
    assert picture["state"] == "moving"
    assert "Supply dry bulb" in picture["words"]["text"]
    assert "Return" not in picture["words"]["text"]
    made.take(frames(1400, start=420, A=flat(24.0), B=flat(13.0)))
    assert made.picture()["state"] == "steady"


def test_outdoor_air_is_judged_by_itself_and_not_waited_for() -> None:
    made = state(A="return", C="outdoor")
    made.take(frames(300, A=flat(24.0), C=lambda second: 30 + second / 100))
    picture = made.picture()
    states = {channel["station"]: channel["state"] for channel in picture["channels"]}
    assert states == {"return": "steady", "outdoor": "moving"}
    assert picture["state"] == "steady"


def test_statics_are_waited_for_and_named_once() -> None:
    made = state(D="supply_static")
    made.take(frames(300, quantity="static_pressure", D=lambda second: 60 + second / 5))
    picture = made.picture()
    assert picture["state"] == "moving"
    assert "Supply static." in picture["words"]["text"]


@pytest.mark.parametrize(("running", "expected"), [(30.0, "steady"), (2.0, "too_short"), (None, "steady")])
def test_ten_minutes_of_running_are_needed(running: float | None, expected: str) -> None:
    made = state(running, A="return")
    made.take(frames(200, A=flat(24.0)))
    picture = made.picture()
    assert picture["state"] == expected
    if running is None:
        assert "Nobody noted" in picture["words"]["text"]
        assert picture["running_s"] is None


def test_probes_in_the_hand_are_shown_and_neither_judged_for_the_visit_nor_kept() -> None:
    made = state(A="")
    made.take(frames(200, A=flat(24.0), B=falling(13.0)))
    picture = made.picture()
    assert {channel["station"] for channel in picture["channels"]} == {""}
    assert picture["state"] == "too_short"
    assert "No probe" in picture["words"]["text"]
    assert made.keep() == []


def test_a_closed_visit_keeps_nothing() -> None:
    made = state(closed=True, A="return")
    made.take(frames(50, A=flat(24.0)))
    assert made.keep() == []


def test_memory_does_not_grow_with_the_visit() -> None:
    made = state(A="return")
    made.take(frames(int(6 * KEPT_S), A=flat(24.0)))
    (stream,) = made.streams.values()
    assert len(stream.times) <= 2 * KEPT_S + 2
    assert len(stream.unsent) == UNSENT
    assert made.picture()["channels"][0]["samples"][-1][1] == pytest.approx(24.0, abs=0.05), "the newest are sent"
    assert len(made.keep()) == int(6 * KEPT_S), "and all are stored"


def test_a_sample_twice_or_late_counts_once() -> None:
    made = state(A="return")
    made.take(frames(20, A=flat(24.0)))
    made.take(frames(10, start=5, A=flat(99.0)))
    (stream,) = made.streams.values()
    assert len(stream.values) == 20
    assert max(stream.values) < 25


def test_a_slow_reader_gets_the_present_picture() -> None:
    made = state(A="return")
    made.take(frames(30, A=flat(24.0)))
    made.picture()
    made.take(frames(60, start=30, A=falling(20.0)))
    picture = made.picture()
    assert len(picture["channels"][0]["samples"]) == 60
    assert picture["at"] == (START + timedelta(seconds=89)).isoformat()


def test_a_low_battery_is_told() -> None:
    made = state(A="return")
    made.take([Frame(START, {"A": {"dry_bulb": 24.0}}, frozenset(), {"A": 0.07})])
    assert made.picture()["channels"][0]["low_battery"] is True
    made.take([Frame(START + timedelta(seconds=1), {"A": {"dry_bulb": 24.0}}, frozenset(), {"A": 0.9})])
    assert made.picture()["channels"][0]["low_battery"] is False


def test_unknown_probes_and_quantities_are_passed_over() -> None:
    made = state(A="return")
    made.take([Frame(START, {"Z": {"dry_bulb": 24.0}, "A": {"mood": 1.0, "relative_humidity": 1.4}})])
    assert made.picture()["channels"] == []


# files and exports


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_a_file_is_read_in_its_own_encoding_again_and_again(encoding: str) -> None:
    import io

    text = "Zeit;Rücklauf °C\n31.07.2026 10:00;24,0\n31.07.2026 10:01;24,1\n"
    found = opened(io.BytesIO(text.encode(encoding)))
    assert found.layout.columns[1].heading == "Rücklauf °C"
    assert [line.rstrip("\r\n") for line in found.lines()] == text.splitlines()
    assert len(list(found.lines())) == 3, "twice from the start"


@pytest.mark.parametrize(
    ("cell", "written"),
    [("=1+1", "'=1+1"), ("+49", "'+49"), ("@sum", "'@sum"), ("-", "'-"), ("-4.5", "-4.5"), ("Return", "Return"), (24.5, "24.5")],
)
def test_no_cell_is_taken_for_a_formula_and_numbers_stay(cell: Any, written: Any) -> None:
    assert list(exports._written(("a",), iter([(cell,)])))[1] == f"{written}\r\n"


def test_lines_go_out_one_by_one_with_a_heading() -> None:
    lines = list(exports._written(("a", "b"), iter([(1, "x, y"), (2, 'say "so"')])))
    assert lines[0] == "\ufeffa,b\r\n"
    assert lines[1:] == ['1,"x, y"\r\n', '2,"say ""so"""\r\n']
