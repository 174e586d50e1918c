"""The night afterwards: what was planned against what loggers saw, how much air really came in, and the house it teaches.

The rooms' course of the night is followed from the hour in which blowing was to begin, while nothing cools: house, gains and the
share of the planned air that came in are found together, each held to what was thought of it as far as the samples say nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.measured import Measured
from fentro_core.base.quantity import Quantity
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.base.working import SILENT, Working
from fentro_core.night.fit import LEAST_NIGHT_H, OUT_C, ROOM_C, HouseFit
from fentro_core.night.house import free_run
from fentro_core.night.tonight import EVENING, weather_of
from fentro_core.system.night_setup import MOST_HOURS, House, NightPlanned, NightSetup

LONGEST_NIGHT_H = 14
NEAR_K = 0.8
"""Rooms at wake-up so near to the plan are as planned. Ours: what a forecast and a typical house are good for."""

SAMPLE_K = 0.3
MOST_MISFIT_K = 0.9
LITTLE_AIR, MUCH_AIR = 0.7, 1.5
"""Of the planned air: less came not in as planned, more neither. Ours, beside the doubt of a night's samples."""

TELLING = 0.3
"""Air of which less than this may have come in is not said to have come in. Ours."""

COLD_K = 0.3
WARMER_K = 0.4
"""Rooms that did not stay warmer than the plan's house by this do not speak of missing air, whatever else fits better. Ours, by
simulated mornings (`bin/bench night`)."""


@dataclass(frozen=True)
class NightSamples:
    """Outdoor air and the rooms by the hour [°C], 7 to 72 of each, from an hour of the day on."""

    first_hour: int
    outdoor_c: tuple[float, ...]
    room_c: tuple[float, ...]

    def check(self) -> None:
        """Refuse what no logger says."""
        if not 0 <= self.first_hour <= 23:
            raise Refused("An hour of the day lies between 0 and 23.", "first_hour")
        if not LEAST_NIGHT_H <= len(self.outdoor_c) <= MOST_HOURS:
            raise Refused("Give 7 to 72 hours of samples: the night, and what lies around it.", "outdoor_c")
        if len(self.room_c) != len(self.outdoor_c):
            raise Refused("Give as many samples of the rooms as of outdoors.", "room_c")
        for name, limits in (("outdoor_c", OUT_C), ("room_c", ROOM_C)):
            for index, value in enumerate(getattr(self, name)):
                within(value, limits, f"{name}.{index}", "temperature")


@dataclass(frozen=True)
class NightAfter:
    """What the night was.

    Attributes
    ----------
    wake, planned_wake
        The rooms at wake-up, as the loggers saw them and as planned; None where there is no sample, or no plan of them.
    difference
        Of the rooms at wake-up from what the plan's house does in the weather that it became: above zero it stayed warmer.
    air_share
        Of the planned air that came in, with its 95 % half-width; None where nothing was to be blown.
    misfit_k
        Root mean square of what the learned house leaves of the samples [K].
    house, mass_times, outside_times
        The house as it is known now; its mass and losses against what was thought of them.
    hours
        That were followed.
    course_c, expected_c
        By the hour from the beginning of blowing: the rooms as seen, and as the learned house has them.
    mark, words
        In one sentence.
    teaches
        Whether a plan may learn from it: the samples go as a house goes, and the air was not missing.
    """

    wake: Quantity | None
    planned_wake: Quantity | None
    difference: Quantity | None
    air_share: Quantity | None
    misfit_k: float
    house: House
    mass_times: float
    outside_times: float
    hours: int
    first_hour: int
    course_c: tuple[float, ...]
    expected_c: tuple[float, ...]
    mark: Mark
    words: Sentence
    teaches: bool = False


@calculation("ventilation.night_after", "Last night against its plan")
def night_after(setup: NightSetup, planned: NightPlanned, samples: NightSamples, work: Working = SILENT) -> NightAfter:
    """How the rooms really went, how much of the planned air came in, and what the house teaches.

    Parameters
    ----------
    setup : NightSetup
        As it was planned with.
    planned : NightPlanned
        The plan that was taken over, with its speeds; without them full speed is taken for its hours.
    samples : NightSamples
        Of that night; the last night counts where they hold several.

    Raises
    ------
    Refused
        What can't be, with its field; samples without the night, or with fewer than 7 hours of it.

    References
    ----------
    Two-node model; most likely parameters by Gauss-Newton steps with normal priors on logarithms (ours).

    >>> from fentro_core.system.night_setup import Cooling, Flush
    >>> setup = NightSetup(Flush(0.5, 250.0), Cooling(24.5, 8000.0), 160.0)
    >>> plan = NightPlanned(34.0, 16.0, 24.5, 20.5, 22, 7)
    >>> seen = NightSamples(20, (20.0,) * 14, (24.5,) * 14)
    >>> found = night_after(setup, plan, seen)
    >>> found.mark, found.air_share.value < 0.8
    ('too_close', True)
    """
    for given, name in ((setup, "setup"), (planned, "planned"), (samples, "samples")):
        with inside(name):
            given.check()
    first, count = _night(setup, planned, samples)
    rooms = samples.room_c[first : first + count]
    outdoor = samples.outdoor_c[first : first + count]
    flows = _flows(setup, planned, count - 1, rooms)
    fit = HouseFit(setup.floor_area_m2, planned.start_hour, outdoor, rooms, flows, setup.house)
    theta, spread = fit.found()
    gone = fit.residuals(theta)
    misfit = sqrt(sum(each * each for each in gone) / len(gone))
    share = Measured(max(1.0 + theta[7], 0.0), {"samples": 1.96 * spread[7]}) if any(flows) else None
    wake, planned_wake = _wakes(setup, planned, samples, first, count)
    house = setup.house or House.typical(setup.floor_area_m2)
    thought = free_run(house, weather_of(setup.floor_area_m2, planned.start_hour, outdoor), flows, rooms[0], rooms[0])
    difference = wake.value - thought[(setup.flush.wake_hour - planned.start_hour) % 24][0] if wake else None
    work.step(
        "left between samples and model", "e", "sqrt(mean(dT^2))", misfit, "temperature_difference", source=f"{count} hours"
    )
    mark, words = _said(setup, share, wake, difference, misfit)
    return NightAfter(
        wake,
        planned_wake,
        Quantity(difference, SAMPLE_K, "temperature_difference") if difference is not None else None,
        Quantity(share.value, share.plus_minus, "share") if share else None,
        misfit,
        fit.house(theta),
        exp(theta[1]),
        exp(theta[3]),
        count,
        planned.start_hour,
        rooms,
        (rooms[0], *(room - left for room, left in zip(rooms[1:], gone, strict=True))),
        mark,
        words,
        misfit <= MOST_MISFIT_K and mark in ("holds", "watch", "too_close"),
    )


def _night(setup: NightSetup, planned: NightPlanned, samples: NightSamples) -> tuple[int, int]:
    """The last night of the samples: its first hour there, and how many of it nothing cooled."""
    starts = [at for at in range(len(samples.room_c)) if (samples.first_hour + at) % 24 == planned.start_hour]
    starts = [at for at in starts if len(samples.room_c) - at >= LEAST_NIGHT_H]
    if not starts:
        raise Refused("These samples don't cover the night: they must run for 7 hours from its start.", "samples.room_c")
    first = starts[-1]
    until = min(len(samples.room_c) - first, LONGEST_NIGHT_H)
    warm = (at for at in range(LEAST_NIGHT_H, until) if samples.room_c[first + at] >= setup.cooling.setpoint_c - 0.2)
    morning = (at for at in range(LEAST_NIGHT_H, until) if (planned.start_hour + at) % 24 == (setup.flush.until_hour + 1) % 24)
    return first, max(min([until, *warm, *(at + 1 for at in morning)]), LEAST_NIGHT_H)


def _flows(setup: NightSetup, planned: NightPlanned, hours: int, rooms: Sequence[float]) -> list[float]:
    """What was to be blown in each hour [m³/s]: the plan's speeds, while the rooms were over its target."""
    length = (planned.stop_hour - planned.start_hour) % 24
    speeds = [*planned.speeds] or [1.0] * length
    return [
        setup.flush.full_m3s * speeds[at] if at < min(length, len(speeds)) and rooms[at] > planned.target_c - SAMPLE_K else 0.0
        for at in range(hours)
    ]


def _wakes(
    setup: NightSetup, planned: NightPlanned, samples: NightSamples, first: int, count: int
) -> tuple[Quantity | None, Quantity | None]:
    after = (setup.flush.wake_hour - planned.start_hour) % 24
    seen = Quantity(samples.room_c[first + after], SAMPLE_K, "temperature") if after < count else None
    at = (setup.flush.wake_hour - EVENING) % 24
    thought = Quantity(planned.planned_c[at], 0.0, "temperature") if at < len(planned.planned_c) else None
    return seen, thought


def _said(
    setup: NightSetup, share: Measured | None, wake: Quantity | None, difference: float | None, misfit: float
) -> tuple[Mark, Sentence]:
    """The gravest first: no air, too cold, otherwise than planned, as planned."""
    if misfit > MOST_MISFIT_K:
        words = "No simple house behaves like these rooms: was a window open, did it cool or heat, is the logger in a good place?"
        return "too_close", Sentence.of(words)
    if wake is not None and wake.value < setup.flush.floor_c - COLD_K - SAMPLE_K:
        numbers = {"wake": (wake.value, "temperature"), "floor": (setup.flush.floor_c, "temperature")}
        return "off", Sentence.of(
            "{wake} at wake-up, colder than the comfort floor of {floor}: let it learn, or raise the floor.", **numbers
        )
    if share is not None and setup.house is not None and difference is not None and difference > WARMER_K:
        found = judge(share, LITTLE_AIR, MUCH_AIR)
        about = {"share": (share.value, "share"), "half": (share.plus_minus, "share")}
        if found.mark == "off" and found.side == "low":
            words = (
                "About {share} ± {half} of the planned air came in: did the damper turn, did the blower run as fast, and in time?"
            )
            return "off", Sentence.of(words, **about)
    if difference is None or wake is None:
        return "not_measured", Sentence.of("The night was followed; a sample at wake-up is missing.")
    numbers = {"wake": (wake.value, "temperature"), "by": (abs(difference), "temperature_difference")}
    least, most = (max(share.value + side * share.plus_minus, 0.0) if share else 1.0 for side in (-1, 1))
    if abs(difference) <= NEAR_K and least < TELLING:
        words = (
            "{wake} at wake-up, {by} from what the plan gives in that weather. How much of the air came in can't be told from "
            "this night ({least} to {most}): look at the damper once while it blows."
        )
        return "too_close", Sentence.of(words, **numbers, least=(least, "share"), most=(most, "share"))
    if abs(difference) <= NEAR_K:
        return "holds", Sentence.of(
            "As planned: {wake} at wake-up, {by} from what the plan gives in last night's weather.", **numbers
        )
    if difference > 0 and least < LITTLE_AIR:
        words = (
            "{wake} at wake-up, {by} warmer than the plan gives in that weather: a heavier house, or less air ({least} to "
            "{most} of the planned came in). See that the damper turned; if it did, let the plan learn."
        )
        return "watch", Sentence.of(words, **numbers, least=(least, "share"), most=(most, "share"))
    side = "warmer" if difference > 0 else "colder"
    return "watch", Sentence.of(
        f"{{wake}} at wake-up, {{by}} {side} than planned: let the plan learn from this night.", **numbers
    )
