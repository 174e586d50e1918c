"""A functional test while it runs, fed by hand and at random; and the audit of sensors against a controller that misbehaves."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.places import PLACES, POINTS
from fentro_core.economizer.proof.auditing import audit, conditions_of
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.running import MOST_SAMPLES, TRACED, Run, channels, share_half_width, within
from fentro_core.economizer.proof.session import PUT_BACK, run_step
from fentro_core.economizer.proof.step import ALARMING, CHANGE, OVERRIDES, Due, Hand, Step, Stimulus
from fentro_core.economizer.true_air import (
    COMPRESSOR_ON,
    DAMPER_LITTLE_OPEN,
    DAMPER_OPEN,
    DAMPER_PART_OPEN,
    DAMPER_SHUT,
    DAMPER_WIDER,
    UNIT_OFF,
)

STEP = Step(
    "t",
    "T",
    "why",
    Sentence.of("Do."),
    (Stimulus("damper_command", 1.0),),
    (Due("damper_position", 0.9), Due("compressor", None, 0.1)),
    allowed_s=60,
    hold_s=10,
)


def points(at_s: float, position: float, compressor: float = 0.0, **more: Any) -> dict[str, Any]:
    return {
        "time_s": at_s,
        "mode": "free",
        "overridden": [],
        "alarm": "",
        "damper_position": position,
        "damper_command": position,
        "compressor": compressor,
        **more,
    }


@given(st.lists(st.tuples(st.floats(0, 1), st.sampled_from([0.0, 0.5])), min_size=20, max_size=40))
def test_a_verdict_of_holds_always_has_everything_due_at_its_end(course: list[tuple[float, float]]) -> None:
    """Whatever a unit does: what is called as due was so, for the whole time it had to stay so."""
    run = Run(STEP, {})
    for index, (position, compressor) in enumerate(course):
        if run.over:
            break
        run.take(points(index * 5.0, position, compressor))
    seen = run.seen("" if run.over else "stopped")
    if verdict(seen).mark != "holds":
        return
    tail = [sample.values for sample in run.samples if sample.at_s >= run.samples[-1].at_s - STEP.hold_s]
    assert all(within(STEP.expected, values) for values in tail)
    assert seen.reached_s is not None


def test_the_trace_is_thinned_and_keeps_its_last_sample() -> None:
    long = dataclasses.replace(STEP, allowed_s=2000)
    run = Run(long, {})
    for second in range(1500):
        run.take(points(float(second), 0.5))
    seen = run.seen("stopped")
    assert len(seen.trace) <= MOST_SAMPLES + 1
    assert seen.trace[-1].at_s == 1499
    assert all(set(sample.values) <= set(TRACED) for sample in seen.trace)


def test_the_clock_is_the_controllers_own() -> None:
    run = Run(STEP, {})
    for at in (5000.0, 5030.0, 5061.0):
        run.take(points(at, 0.2))
    assert run.over
    assert run.seen().seconds == 61


def test_values_are_the_average_of_the_end() -> None:
    run = Run(dataclasses.replace(STEP, hold_s=20), {})
    for index, position in enumerate((0.1, 0.5, 0.92, 0.94, 0.96, 0.98, 1.0)):
        run.take(points(index * 5.0, position))
    assert run.over
    assert run.seen().values["damper_position"] == pytest.approx((0.92 + 0.94 + 0.96 + 0.98 + 1.0) / 5)


def test_what_follows_from_the_points() -> None:
    found = channels(points(0, 0.3, alarm="sensor_mixed", overridden=["fan", "compressor"], mode="compressor"), {})
    assert found[ALARMING] == 1.0
    assert found[OVERRIDES] == 2.0
    assert found["mode_free"] == 0.0
    run = Run(dataclasses.replace(STEP, expected=(Due(CHANGE, 0.1),)), {})
    run.take(points(0, 0.3))
    run.take(points(5, 0.45))
    assert run.samples[-1].values[CHANGE] == pytest.approx(0.15)


@pytest.mark.parametrize(
    ("outdoor", "share", "low", "high"), [(4.0, 0.2, 0.02, 0.04), (20.0, 0.2, 0.1, 0.2), (23.0, 0.2, 0.4, 0.7)]
)
def test_the_shares_half_width_grows_as_the_air_grows_alike(outdoor: float, share: float, low: float, high: float) -> None:
    width = share_half_width({"outdoor_temperature": outdoor, "return_temperature": 24.0, "outdoor_share": share})
    assert low < width < high
    assert share_half_width({}) == 1.0


# a controller that misbehaves


class Stub:
    """A controller whose air stands still, unless it is told to trip, to wander, to refuse or to go away."""

    def __init__(self, trips: bool = False, wanders: bool = False, refuses: str = "", goes_at: int = 10**9) -> None:
        self.trips, self.wanders, self.refuses, self.goes_at = trips, wanders, refuses, goes_at
        self.held: dict[str, float] = {}
        self.asked = 0
        self.time_s = 0.0
        self.tripped = False
        self.hands: list[tuple[str, str]] = []

    def wait(self, seconds: float) -> None:
        self.time_s += seconds
        self.tripped = self.tripped or (self.trips and self.held.get("damper_command", 0.0) > 0.4)

    def points(self) -> Mapping[str, Any]:
        self.asked += 1
        if self.asked > self.goes_at:
            raise DeviceGone
        drift = self.time_s / 20 if self.wanders else 0.0
        temperatures = {f"{place}_temperature": 10.0 + 3 * index + drift for index, place in enumerate(PLACES)}
        mode = "freeze_trip" if self.tripped else "minimum"
        return {**temperatures, "time_s": self.time_s, "mode": mode, "overridden": sorted(self.held), "damper_position": 0.0}

    def override(self, point: str, value: float) -> None:
        assert point in POINTS
        if point == self.refuses:
            raise DeviceRefused("No.")
        self.held[point] = value

    def release(self, point: str) -> None:
        self.held.pop(point, None)

    def alarms(self) -> list[Mapping[str, Any]]:
        return [{"key": "freeze_trip"}] if self.tripped else []

    def save(self) -> dict[str, Any]:
        return {}

    def load(self, configuration: dict[str, Any]) -> None:
        raise DeviceRefused("No.")

    def hand(self, action: str, value: str) -> None:
        self.hands.append((action, value))
        self.tripped = self.tripped and action != "freeze_reset"


def probe(place: str) -> float:
    return 10.0 + 3 * list(PLACES).index(place)


def test_an_audit_reads_every_sensor_in_every_condition_and_releases_all() -> None:
    stub = Stub()
    found = audit(stub, stub.wait, probe, stub.hand)
    assert [condition.name for condition in found] == [DAMPER_SHUT, DAMPER_OPEN, COMPRESSOR_ON]
    assert all(set(condition.shown_c) == set(PLACES) for condition in found)
    assert stub.held == {}


def test_an_audit_compares_a_tripped_unit_as_it_stands_and_leaves_out_what_never_settles() -> None:
    stub = Stub(trips=True)
    names = [condition.name for condition in audit(stub, stub.wait, probe, stub.hand)]
    assert names == [DAMPER_SHUT, UNIT_OFF, COMPRESSOR_ON]
    assert ("freeze_reset", "") in stub.hands
    wandering = Stub(wanders=True)
    assert audit(wandering, wandering.wait, probe, wandering.hand) == ()
    assert wandering.held == {}


def test_a_hot_day_begins_with_the_compressor_and_a_cold_one_opens_in_part() -> None:
    hot, mild, cold = (conditions_of(outdoor, 23.0) for outdoor in (31.0, 16.0, -5.0))
    assert [name for name, _, _ in hot] == [COMPRESSOR_ON, DAMPER_SHUT, DAMPER_OPEN]
    assert [compressor for _, _, compressor in hot] == [1.0, 1.0, 0.0]
    assert mild[1] == (DAMPER_OPEN, 1.0, 0.0)
    steps = [DAMPER_LITTLE_OPEN, DAMPER_PART_OPEN, DAMPER_WIDER]
    assert [name for name, _, _ in cold] == [DAMPER_SHUT, *steps, DAMPER_OPEN, COMPRESSOR_ON]
    assert [position for _, position, _ in cold] == [0.0, 0.25, 0.45, 0.7, 1.0, 0.15]
    assert [name for name, _, _ in conditions_of(4.0, 23.0)][1:3] == steps[1:], "no frost, no small step"


@pytest.mark.parametrize(
    ("mixed_c", "opened"),
    [
        ({0.25: 11.9}, [DAMPER_LITTLE_OPEN]),
        ({0.25: 18.0, 0.45: 11.0}, [DAMPER_LITTLE_OPEN, DAMPER_PART_OPEN]),
        ({0.25: 16.0, 0.45: 14.0}, [DAMPER_LITTLE_OPEN, DAMPER_PART_OPEN]),
        ({0.25: 14.0}, [DAMPER_LITTLE_OPEN]),
        ({0.25: 20.0, 0.45: 18.0, 0.7: 11.0}, [DAMPER_LITTLE_OPEN, DAMPER_PART_OPEN, DAMPER_WIDER]),
        ({0.25: 20.0, 0.45: 18.0, 0.7: 15.0, 1.0: 4.0}, [DAMPER_LITTLE_OPEN, DAMPER_PART_OPEN, DAMPER_WIDER, DAMPER_OPEN]),
    ],
)
def test_in_the_cold_an_audit_opens_wider_only_while_the_mixed_air_stays_warm(
    mixed_c: Mapping[float, float], opened: list[str]
) -> None:
    stub = Stub()

    def reference(place: str) -> float:
        return {"outdoor": -5.0, "mixed": mixed_c.get(stub.held.get("damper_command", 0.0), 21.0)}.get(place, 22.0)

    names = [condition.name for condition in audit(stub, stub.wait, reference, stub.hand)]
    assert names == [DAMPER_SHUT, *opened, COMPRESSOR_ON]
    assert stub.held == {}


class LetsGo(Stub):
    """Says nothing against an override of its damper, and does not hold it."""

    def points(self) -> Mapping[str, Any]:
        return {**super().points(), "overridden": sorted(set(self.held) - {"damper_command"})}


def test_an_audit_believes_no_condition_that_was_not_held() -> None:
    stub = LetsGo()
    assert audit(stub, stub.wait, probe, stub.hand) == ()
    assert stub.held == {}


HANDS = dataclasses.replace(
    STEP, hand=Hand("unplug", "outdoor", "Unplug it", "Plug it in", "sensor"), expected=(Due("damper_position", None, 0.1),)
)


def test_what_a_hand_did_is_put_back_however_the_test_ends() -> None:
    stub = Stub()
    assert run_step(stub, HANDS, stub.wait, stub.hand).ended == "done"
    assert stub.hands == [("unplug", "outdoor"), ("unplug", PUT_BACK["unplug"])]
    gone = Stub(goes_at=3)
    assert run_step(gone, HANDS, gone.wait, gone.hand).ended == "gone"
    assert gone.hands[-1] == ("unplug", "")
    assert run_step(Stub(), HANDS, lambda seconds: None, None).ended == "stopped", "nobody to do it"


def test_a_refusal_half_way_releases_the_first_half() -> None:
    two = dataclasses.replace(STEP, stimulus=(Stimulus("occupied", 1.0), Stimulus("fan", 1.0)))
    stub = Stub(refuses="fan")
    assert run_step(stub, two, stub.wait).ended == "refused"
    assert stub.held == {}
