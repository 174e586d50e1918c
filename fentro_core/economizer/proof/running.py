"""A test while it runs: what to hold, what came back, when it is over. No clock and no wire of its own."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fentro_core.economizer.answers import not_held
from fentro_core.economizer.proof.step import (
    ALARMING,
    CHANGE,
    HALF_WIDTHS,
    MODE,
    OVERRIDES,
    RISE,
    SHARE,
    Due,
    Sample,
    Step,
    Stimulus,
    TestRun,
)

SHOWN_AFTER_S = 15.0
"""So long a controller may take to show what it was told to hold."""

MOST_SAMPLES = 90
LEAST_CONTRAST_K = 1.0
TRACED = (
    "damper_position",
    "outdoor_temperature",
    "return_temperature",
    "mixed_temperature",
    "after_coil_temperature",
    "supply_temperature",
    "compressor",
    "building_pressure",
    SHARE,
)


def channels(points: Mapping[str, Any], ambient: Mapping[str, float]) -> dict[str, float]:
    """Numbers of a controller's points, with what follows from them: outdoor share, alarm, overrides left.

    `ambient`: what the temperature sensors showed before anything was overridden; an overridden one says nothing.
    """
    found = {key: float(value) for key, value in points.items() if isinstance(value, int | float) and key != "time_s"}
    held = set(points.get("overridden", ()))
    if "alarm" in points:
        found[ALARMING] = 1.0 if points["alarm"] else 0.0
    found[OVERRIDES] = float(len(held))
    found["mode_free"] = 1.0 if points.get("mode") in ("free", "free_and_compressor") else 0.0
    air = {place: _own(points, held, ambient, f"{place}_temperature") for place in ("outdoor", "return", "mixed")}
    supply = None if "supply_temperature" in held else _own(points, held, ambient, "supply_temperature")
    if supply is not None and air["mixed"] is not None:
        found[RISE] = supply - air["mixed"]
    outdoor, back, mixed = air["outdoor"], air["return"], air["mixed"]
    if outdoor is not None and back is not None and mixed is not None and abs(outdoor - back) >= LEAST_CONTRAST_K:
        found[SHARE] = (mixed - back) / (outdoor - back)
    return found


def _own(points: Mapping[str, Any], held: set[str], ambient: Mapping[str, float], key: str) -> float | None:
    if key in held:
        return None if key == "mixed_temperature" else ambient.get(key)
    value = points.get(key)
    return float(value) if isinstance(value, int | float) and -45 < value < 85 else None


def share_half_width(values: Mapping[str, float]) -> float:
    """95 % half-width of the outdoor share by three sensors of the controller, by first order."""
    outdoor, back, share = values.get("outdoor_temperature"), values.get("return_temperature"), values.get(SHARE, 0.0)
    if outdoor is None or back is None:
        return 1.0
    contrast = max(abs(outdoor - back), 0.1)
    width = HALF_WIDTHS["mixed_temperature"]
    return float(width * (1 + share * share + (1 - share) ** 2) ** 0.5 / contrast)


def within(bands: tuple[Due, ...], values: Mapping[str, float]) -> bool:
    """Every band is met by what is known."""
    for band in bands:
        value = values.get(band.point)
        if value is None:
            continue
        if (band.low is not None and value < band.low) or (band.high is not None and value > band.high):
            return False
    return True


BY_ITSELF = {"minimum", "heating", "free", "free_and_compressor", "compressor", "drying"}
"""Modes between which a controller changes by its own judgement."""


def mode_as_found(now: str, found: str) -> float | None:
    """1 where the mode is as it was found, or one that the controller may have changed to by itself; None: can't be told."""
    if not now or not found:
        return None
    if now == found or {now, found} <= BY_ITSELF:
        return 1.0
    return 0.0 if {now, found} <= BY_ITSELF | {"off", "start_up", "freeze_trip"} else None


def state_before(points: Mapping[str, Any]) -> tuple[dict[str, float], str]:
    """Fan and schedule as they stand, where nobody holds them, and the mode."""
    held = set(points.get("overridden", ()))
    kept = {
        key: float(points[key]) for key in ("fan", "occupied") if key not in held and isinstance(points.get(key), int | float)
    }
    return kept, "" if held else str(points.get("mode", ""))


class Run:
    """Feed it the controller's points as time passes; it says what to hold and when it is over.

    Parameters
    ----------
    step : Step
    ambient : mapping
        What the sensors showed before the test, by point, SI.
    before : mapping, optional
        The controller's points before the test.
    """

    def __init__(self, step: Step, ambient: Mapping[str, float], before: Mapping[str, Any] | None = None) -> None:
        self.step = step
        self.found, self.mode_found = state_before(before or {})
        self.ambient = ambient
        self.stage = "first" if step.first else "test"
        self.began_s: float | None = None
        self.stage_s = 0.0
        self.met_s: float | None = None
        self.reached_s: float | None = None
        self.broken = False
        self.before: float | None = None
        self.samples: list[Sample] = []
        self.lost = ""
        self.lost_s: float | None = None
        self.moved: set[str] = set()
        self.over = False
        self.ended = "done"

    @property
    def holds(self) -> tuple[Stimulus, ...]:
        """What must be held now."""
        return self.step.first if self.stage == "first" else self.step.stimulus

    @property
    def hand_due(self) -> bool:
        """The thing to be done by hand is due."""
        return self.stage == "test" and self.step.hand is not None

    def take(self, points: Mapping[str, Any], now_s: float | None = None) -> None:
        """The controller's points; `now_s`: by our clock, else by the controller's own."""
        now = float(points["time_s"]) if now_s is None else now_s
        if self.began_s is None:
            self.began_s = self.stage_s = now
        values = channels(points, self.ambient)
        if self.before is None and self.stage == "test":
            self.before = values.get("damper_command", 0.0)
        if self.before is not None:
            values[CHANGE] = values.get("damper_command", 0.0) - self.before
        like = mode_as_found(str(points.get("mode", "")), self.step.mode)
        if like is not None:
            values[MODE] = like
        self.samples.append(Sample(round(now - self.began_s, 1), values))
        spent = now - self.stage_s
        if points.get("mode") == "freeze_trip":
            self._end("tripped")
            return
        if self._let_go(points, now):
            return
        if self.stage == "first":
            self._first(now, spent, values)
        else:
            self._test(now, spent, values)

    def _let_go(self, points: Mapping[str, Any], now: float) -> bool:
        """Whether something is not held as it should be, for longer than a controller takes to show it: that ends the test."""
        self.lost = not_held({each.point: each.value for each in self.holds}, points)
        if not self.lost:
            self.lost_s = None
            return False
        self.lost_s = now if self.lost_s is None else self.lost_s
        if now - self.lost_s < SHOWN_AFTER_S:
            return False
        self._end("not_held")
        return True

    def _first(self, now: float, spent: float, values: Mapping[str, float]) -> None:
        if within(self.step.ready, values) and spent >= self.step.ready_after_s:
            self.stage, self.stage_s, self.met_s = "test", now, None
        elif spent >= self.step.allowed_s + 200:
            self._end("not_ready")

    def _test(self, now: float, spent: float, values: Mapping[str, float]) -> None:
        step, met = self.step, within(self.step.expected, values)
        self.moved |= {band.point for band in step.moves if band.point in values and within((band,), values)}
        if step.throughout:
            if spent >= step.settle_s and not met:
                self.broken = True
            if self.broken and self.met_s is None:
                self.met_s = now
            if spent >= step.allowed_s or (self.broken and now - (self.met_s or now) >= 30):
                self.reached_s = None if self.broken else step.settle_s
                self._end("done")
            return
        if not met:
            self.met_s = None
            self.reached_s = None
        elif self.met_s is None:
            self.met_s, self.reached_s = now, now - self.stage_s
        held = self.met_s is not None and now - self.met_s >= step.hold_s
        if held and spent < step.allowed_s and self._still_to_move():
            return
        if held or spent >= step.allowed_s + (step.hold_s if self.met_s is not None else 0.0):
            self._end("done")

    def _still_to_move(self) -> bool:
        """What must move for the test to count is shown by the controller, and has not moved yet."""
        return any(band.point not in self.moved and self._shown(band.point) for band in self.step.moves)

    def _end(self, how: str) -> None:
        self.over, self.ended = True, "not_held" if how == "done" and self.lost else how

    def seen(self, ended: str = "") -> TestRun:
        """What was seen, to be written down: last values over the end of the test, their half-widths, a thinned trace."""
        ended = ended or self.ended
        last = self.samples[-1].at_s if self.samples else 0.0
        window = min(self.step.hold_s, 20.0)
        tail = [each.values for each in self.samples if each.at_s >= last - window]
        keys = {band.point for band in self.step.expected} | set(TRACED)
        there = [key for key in sorted(keys) if tail and all(key in each for each in tail)]
        values = {key: sum(each[key] for each in tail) / len(tail) for key in there}
        if self.step.throughout and self.broken:
            values |= self._worst()
        widths = {key: HALF_WIDTHS[key] for key in values if key in HALF_WIDTHS}
        if SHARE in values:
            own = {key: self.ambient.get(key, values.get(key, 0.0)) for key in ("outdoor_temperature", "return_temperature")}
            widths[SHARE] = share_half_width({**own, SHARE: values[SHARE]})
        every = max(1, len(self.samples) // MOST_SAMPLES + 1)
        kept = [each for index, each in enumerate(self.samples) if index % every == 0 or index == len(self.samples) - 1]
        trace = tuple(_thin(each) for each in kept)
        return TestRun(
            test=self.step.key,
            how="controller",
            values={key: round(value, 5) for key, value in values.items()},
            plus_minus={key: round(value, 5) for key, value in widths.items()},
            expected=self.step.expected,
            seconds=last,
            reached_s=self.reached_s,
            allowed_s=self.step.allowed_s,
            ended=ended,  # type: ignore[arg-type]
            trace=trace,
            unmoved=tuple(band.point for band in self.step.moves if band.point not in self.moved and self._shown(band.point)),
            before=self.found,
            mode_before=self.mode_found,
        )

    def _shown(self, point: str) -> bool:
        """The controller tells it: what it does not tell is not held against it."""
        return any(point in each.values for each in self.samples)

    def _worst(self) -> dict[str, float]:
        """For a test that had to hold throughout: the value farthest outside, by point."""
        begin = self.stage_s - (self.began_s or 0.0) + self.step.settle_s
        worst: dict[str, float] = {}
        for band in self.step.expected:
            seen = [each.values[band.point] for each in self.samples if each.at_s >= begin and band.point in each.values]
            for value in seen:
                out = max((band.low or -1e9) - value, value - (band.high if band.high is not None else 1e9), 0.0)
                if out > 0:
                    worst[band.point] = value
        return worst


def _thin(sample: Sample) -> Sample:
    return Sample(sample.at_s, {key: round(sample.values[key], 4) for key in TRACED if key in sample.values})
