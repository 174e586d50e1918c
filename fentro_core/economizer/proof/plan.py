"""The test plan, generated from the configured sequence and the day: settings and tests cannot disagree."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.cautions import (
    COMPRESSOR,
    ELECTRIC,
    HEATING,
    LOCK_OUT,
    MOVING,
    PRESSURE,
    UNGUARDED,
    cold,
    hot,
)
from fentro_core.economizer.proof.day import SAFE_COOL_K, Day, cool_enough, outdoor_at
from fentro_core.economizer.proof.step import ALARMING, MODE, OVERRIDES, RISE, SHARE, Due, Hand, Step, Stimulus

PAST_K = 0.8
CALL_K = 0.35
BIG_CALL_K = 2.2
HALF = 0.5
"""Between no and yes."""

LEAST_RISE_K = 3.0
"""Supply air so much above mixed air is heated, not only warmed by the fan. Ours."""

MOST_BUILDING_PA = 7.0
"""Above the pressure at which relief opens, this much more and the relief has not done its work."""


@dataclass(frozen=True)
class Wanted:
    """What the plan says besides the configuration: the outdoor-air share at minimum position, 0 to 1, if worked out."""

    minimum_share: float | None = None


Maker = Callable[[Configuration, Day, Wanted], "Step | None"]


OCCUPIED = Stimulus("occupied", 1.0)
WARM_SUPPLY_K = 2.0


def _warm_supply(setting: Configuration) -> tuple[Stimulus, ...]:
    """Minimum air, or a compressor that should not run, may satisfy the supply loop: its sensor is held a little warm."""
    return (Stimulus("supply_temperature", setting.supply_setpoint_c + WARM_SUPPLY_K),)


def plan(setting: Configuration, day: Day, wanted: Wanted = Wanted()) -> tuple[Step, ...]:
    """Every test in the order of work, for this configuration on this day.

    >>> [step.key for step in plan(Configuration(), Day())][:5]
    ['by_hand', 'closed', 'minimum', 'full', 'cool']
    """
    steps = [step for make in _MAKERS if (step := _made(make, setting, day, wanted)) is not None]
    steps = [step if step.key in WITHOUT_FAN else replace(step, moves=(*step.moves, Due("fan", 0.5))) for step in steps]
    if not _low_limit_may_act(setting, day):
        return tuple(steps)
    return tuple(replace(step, not_today=_TOO_COLD) if step.key in OPENING else step for step in steps)


def _made(make: Maker, setting: Configuration, day: Day, wanted: Wanted) -> Step | None:
    """One test; where today's air has no stimulus for it, why not today. The others stand."""
    try:
        return make(setting, day, wanted)
    except Refused as refused:
        plain = make(replace(setting, changeover="fixed_dry_bulb"), day, wanted)
        return plain and replace(plain, not_today=refused.sentence)


WITHOUT_FAN = ("by_hand", "unoccupied", "power", "sensor", "restore")
"""Tests that say nothing of moving air."""

OPENING = ("cool", "assist", "below", "cold_mixed", "cold_outdoor")
"""Tests in which the damper must open by itself."""

_TOO_COLD = Sentence.of(
    "Not today: it is so cold that the low limit rightly holds the damper near its minimum. Come back on a milder day."
)


def _low_limit_may_act(setting: Configuration, day: Day) -> bool:
    """Even minimum outdoor air may bring the mixed air near its low limit."""
    share = min(2.2 * setting.minimum_position + 0.06, 1.0)
    return day.return_c + share * (day.outdoor_c - day.return_c) < setting.mixed_low_limit_c + 2.0


def _call(setting: Configuration, more_loss: float) -> Stimulus:
    return Stimulus("room_temperature", setting.cooling_setpoint_c + more_loss)


def _about(value: float, within: float) -> Due:
    return Due("damper_position", max(value - within, 0.0), min(value + within, 1.0))


def _at_minimum(setting: Configuration, day: Day, aim: float) -> Due:
    """Minimum or closed; on a day so cold that the low limit may rightly hold the damper lower, only not above."""
    band = _about(aim, 0.06)
    return Due(band.point, None, band.high) if _low_limit_may_act(setting, day) else band


def _by_hand(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "by_hand",
        "Power, linkage, blades and seals, by hand",
        "A controller can't see a loose linkage.",
        Sentence.of("Fan off, power locked out. Move the damper by hand over its whole way."),
        by_hand_only=True,
        hazards=(LOCK_OUT, MOVING),
        look=(
            "Linkage tight, no slip on the shaft",
            "Blades reach both ends, and no blade stays behind",
            "Seals whole",
            "Return damper moves the opposite way",
            "24 V at the actuator when the power is back",
        ),
    )


def _closed(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "closed",
        "Damper closed",
        "Closed means closed: what leaks is paid for all year.",
        Sentence.of("Hold the damper command at 0 % and wait for the mixed air to settle."),
        (OCCUPIED, Stimulus("damper_command", 0.0)),
        (Due("damper_position", None, 0.05), Due(SHARE, None, 0.12)),
        allowed_s=240,
        hold_s=60,
        hazards=(MOVING,),
    )


def _minimum(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    share, aim = wanted.minimum_share, setting.minimum_position
    band = Due(SHARE, share - 0.08, share + 0.08) if share is not None else Due(SHARE, 0.5 * aim, min(2.2 * aim + 0.06, 1.0))
    return Step(
        "minimum",
        "Damper at minimum",
        "The position is set for a share of outdoor air: the air says whether it is there.",
        Sentence.of("Hold the damper command at {position} and wait for the mixed air to settle.", position=(aim, "share")),
        (OCCUPIED, Stimulus("damper_command", aim)),
        (_about(aim, 0.05), band),
        allowed_s=240,
        hold_s=60,
        hazards=(MOVING,),
    )


def _full(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "full",
        "Damper fully open",
        "The whole stroke, the time it takes, and that the blades follow the actuator.",
        Sentence.of("Hold the damper command at 100 %. Note when it arrives."),
        (OCCUPIED, Stimulus("damper_command", 1.0)),
        (Due("damper_position", 0.95), Due(SHARE, 0.72)),
        allowed_s=220,
        hold_s=50,
        hazards=(MOVING, *cold(day), *hot(day)),
    )


def _cooler(setting: Configuration, day: Day) -> tuple[tuple[Stimulus, ...], Sentence]:
    """Outdoor air that may cool: today's own, or a cooler one played to the controller."""
    if cool_enough(setting, day):
        return (), Sentence.of(
            "It is {outdoor} outside: cool enough as it is. Raise the room by setpoint or override to call for cooling.",
            outdoor=(day.outdoor_c, "temperature"),
        )
    under = SAFE_COOL_K if "enthalpy" not in setting.changeover else 5.0
    return outdoor_at(setting, day, under), Sentence.of(
        "It is {outdoor} outside: too warm for this. Hold the outdoor sensor's value in the cool, and call for cooling.",
        outdoor=(day.outdoor_c, "temperature"),
    )


def _cool(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    played, words = _cooler(setting, day)
    least = setting.minimum_position + 0.05
    low = 0.9 if day.outdoor_c > setting.supply_setpoint_c else least
    return Step(
        "cool",
        "Cool outside: dampers open, compressor off",
        "The point of it all: cooling with outdoor air alone.",
        words,
        (OCCUPIED, *played, *_warm_supply(setting), _call(setting, CALL_K)),
        (Due("damper_position", low), Due("compressor", None, 0.02)),
        allowed_s=420,
        hold_s=150 if day.outdoor_c > 6 else 60,
        hazards=(MOVING, *hot(day), *cold(day)),
    )


def _assist(setting: Configuration, day: Day, wanted: Wanted) -> Step | None:
    if setting.stages == 0 or day.outdoor_c < setting.supply_setpoint_c + 1.5:
        return None
    played, words = _cooler(setting, day)
    integrated = setting.sequence == "integrated"
    damper = Due("damper_position", 0.9) if integrated else _about(setting.minimum_position, 0.06)
    return Step(
        "assist",
        "Cool outside, but not enough" + (": compressor helps" if integrated else ": compressor alone"),
        "Integrated: full outdoor air first, then the compressor too."
        if integrated
        else "Exclusive: one or the other, never both.",
        words,
        (OCCUPIED, *played, _call(setting, BIG_CALL_K)),
        (damper, Due("compressor", 0.2)),
        allowed_s=700,
        hold_s=20,
        hazards=(MOVING, COMPRESSOR, *hot(day)),
    )


def _above(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    compressor = (Due("compressor", 0.2),) if setting.stages else ()
    return Step(
        "above",
        "Just above changeover: back to minimum",
        "Outdoor air that costs more than it saves stays outside.",
        Sentence.of("Hold the outdoor air just above the changeover point, and call for cooling."),
        (OCCUPIED, *outdoor_at(setting, day, -PAST_K), *_warm_supply(setting), _call(setting, CALL_K)),
        (_at_minimum(setting, day, setting.minimum_position), *compressor),
        allowed_s=420,
        hold_s=30,
        first=(OCCUPIED, _call(setting, -1.0)),
        ready=(Due("compressor", None, 0.02),),
        ready_after_s=20,
        hazards=(MOVING, COMPRESSOR),
    )


def _from_above(setting: Configuration, day: Day) -> tuple[tuple[Stimulus, ...], tuple[Due, ...]]:
    first = (OCCUPIED, *outdoor_at(setting, day, -PAST_K), *_warm_supply(setting), _call(setting, CALL_K))
    return first, (Due("damper_position", None, setting.minimum_position + 0.06),)


def _inside(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    first, ready = _from_above(setting, day)
    return Step(
        "inside",
        "Just inside the differential: nothing changes",
        "Without a differential the dampers hunt on a mild day.",
        Sentence.of("From above the changeover point, bring the outdoor air half a differential below it."),
        (
            OCCUPIED,
            *outdoor_at(setting, day, max(setting.differential_k, 0.6) / 2),
            *_warm_supply(setting),
            _call(setting, CALL_K),
        ),
        (_at_minimum(setting, day, setting.minimum_position),),
        allowed_s=200,
        throughout=True,
        first=first,
        ready=ready,
        ready_after_s=60,
        hazards=(MOVING,),
    )


def _below(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    first, ready = _from_above(setting, day)
    return Step(
        "below",
        "Below the differential: dampers open again",
        "It must come back as well as go.",
        Sentence.of("From above the changeover point, bring the outdoor air more than a differential below it."),
        (OCCUPIED, *outdoor_at(setting, day, setting.differential_k + PAST_K), *_warm_supply(setting), _call(setting, CALL_K)),
        (Due("damper_position", setting.minimum_position + 0.05),),
        allowed_s=420,
        hold_s=20,
        first=first,
        ready=ready,
        ready_after_s=60,
        hazards=(MOVING, *hot(day)),
    )


def _heating(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    aim = 0.0 if setting.heating_damper == "closed" else setting.minimum_position
    return Step(
        "heating",
        "Heating call: " + ("outdoor damper closed" if aim == 0 else "minimum outdoor air"),
        "Nobody pays to heat more outdoor air than needed.",
        Sentence.of("Call for heating: hold the room below the heating setpoint."),
        (OCCUPIED, Stimulus("room_temperature", setting.heating_setpoint_c - 2.0)),
        (_at_minimum(setting, day, aim), Due("compressor", None, 0.02)),
        allowed_s=420,
        hold_s=30,
        moves=(Due("heating", 0.2), Due(RISE, LEAST_RISE_K)),
        hazards=(HEATING, MOVING),
    )


def _unoccupied(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "unoccupied",
        "Fan off or unoccupied: closed",
        "A damper open at night cools the building and freezes coils.",
        Sentence.of("Hold the schedule at unoccupied."),
        (Stimulus("occupied", 0.0),),
        (Due("damper_position", None, 0.05), Due("fan", None, 0.02)),
        allowed_s=240,
        hold_s=20,
        hazards=(MOVING,),
    )


def _cold_mixed(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    played, _ = _cooler(setting, day)
    warm = _warm_supply(setting)
    first = (OCCUPIED, *played, *warm, _call(setting, CALL_K), Stimulus("mixed_temperature", setting.mixed_low_limit_c + 4.0))
    return Step(
        "cold_mixed",
        "Mixed air made cold: outdoor damper closes down",
        "The low limit keeps coils from freezing, below minimum if need be.",
        Sentence.of(
            "While outdoor air cools, hold the mixed-air sensor's value {below} below its low limit.",
            below=(2.0, "temperature_difference"),
        ),
        (*first[:-1], Stimulus("mixed_temperature", setting.mixed_low_limit_c - 2.0)),
        (Due("damper_position", None, max(setting.minimum_position - 0.03, 0.02)),),
        allowed_s=270,
        hold_s=15,
        first=first,
        ready=(Due("damper_position", setting.minimum_position + 0.02),),
        hazards=(UNGUARDED, MOVING, *hot(day)),
    )


def _cold_outdoor(setting: Configuration, day: Day, wanted: Wanted) -> Step | None:
    if setting.minimum_position < 0.06:
        return None
    cold = setting.mixed_low_limit_c - 4.0
    outdoor = tuple(each for each in outdoor_at(setting, day, SAFE_COOL_K) if each.point.startswith("return"))
    return Step(
        "cold_outdoor",
        "Cold outside, mild mixed air: no retreat",
        "The low limit must read the mixed air, not the outdoor air.",
        Sentence.of(
            "Hold the outdoor sensor's value at {cold}, the mixed-air sensor's at a mild value; call for cooling.",
            cold=(cold, "temperature"),
        ),
        (
            OCCUPIED,
            *outdoor,
            Stimulus("outdoor_temperature", cold),
            Stimulus("outdoor_humidity", 0.5),
            Stimulus("mixed_temperature", setting.mixed_low_limit_c + 6.0),
            _call(setting, CALL_K),
        ),
        (Due("damper_position", setting.minimum_position - 0.03),),
        allowed_s=240,
        throughout=True,
        settle_s=90,
        hazards=(UNGUARDED, MOVING, *hot(day)),
    )


def _power(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "power",
        "Power loss: spring return closes",
        "Without power the damper must give ordinary recirculation.",
        Sentence.of("With the damper open, take the power off its actuator."),
        (OCCUPIED, Stimulus("damper_command", 0.7)),
        (Due("damper_position", None, 0.05),),
        allowed_s=240,
        hold_s=10,
        first=(OCCUPIED, Stimulus("damper_command", 0.7)),
        ready=(Due("damper_position", 0.6),),
        hand=Hand("actuator_power", "off", "Pull the actuator's power wire", "Put the actuator's power wire back", "wire"),
        hazards=(ELECTRIC, MOVING),
    )


def _sensor(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    aim = {"closed": 0.0, "minimum": setting.minimum_position, "full": 1.0}[setting.on_sensor_failure]
    return Step(
        "sensor",
        "Outdoor sensor unplugged: safe fallback, and an alarm",
        "A failed sensor must not leave the damper open.",
        Sentence.of("Unplug the outdoor sensor while there is a call for cooling."),
        (OCCUPIED, _call(setting, CALL_K)),
        (_at_minimum(setting, day, aim), Due(ALARMING, 0.5)),
        allowed_s=300,
        hold_s=20,
        hand=Hand("unplug", "outdoor", "Unplug the outdoor sensor", "Plug the outdoor sensor in again", "sensor"),
        hazards=(ELECTRIC, MOVING),
    )


def _relief(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    most = setting.relief_opens_pa + MOST_BUILDING_PA
    return Step(
        "relief",
        "Building pressure raised: relief opens",
        "The extra air must leave.",
        Sentence.of("Damper fully open, doors shut. The building pressure stays below {most}.", most=(most, "pressure")),
        (OCCUPIED, Stimulus("damper_command", 1.0)),
        (Due("damper_position", 0.95), Due("building_pressure", -5.0, most)),
        allowed_s=240,
        hold_s=40,
        moves=(Due("building_pressure", setting.relief_opens_pa - 1.0),),
        hazards=(PRESSURE, MOVING, *hot(day)),
    )


def _restore(setting: Configuration, day: Day, wanted: Wanted) -> Step:
    return Step(
        "restore",
        "Everything released: normal running",
        "The visit ends with the unit as its own master.",
        Sentence.of("Release every override and watch the unit run by itself."),
        (),
        (Due(OVERRIDES, None, 0.5), Due("fan", None, 1.0), Due(ALARMING, None, 0.5)),
        allowed_s=240,
        hold_s=60,
    )


def as_it_was(step: Step, found: Mapping[str, float], mode: str, now: Mapping[str, float]) -> Step:
    """The last test with what must be as it was found: fan and mode.

    Parameters
    ----------
    found : mapping
        ``fan`` and ``occupied`` before the first test of the visit.
    mode : str
        The controller's mode then.
    now : mapping
        ``occupied`` now: where the schedule has turned meanwhile, the fan need not be as found.
    """
    if step.key != "restore":
        return step
    turned = "occupied" in found and "occupied" in now and abs(found["occupied"] - now["occupied"]) > HALF
    bands = [band for band in step.expected if band.point != "fan"]
    if found.get("fan", 0.0) > HALF and not turned:
        bands.append(Due("fan", HALF))
    else:
        bands.append(Due("fan", None, 1.0))
    if mode and not turned:
        bands.append(Due(MODE, HALF))
    return replace(step, expected=tuple(bands), mode="" if turned else mode)


_MAKERS: tuple[Maker, ...] = (
    _by_hand,
    _closed,
    _minimum,
    _full,
    _cool,
    _assist,
    _above,
    _inside,
    _below,
    _heating,
    _unoccupied,
    _cold_mixed,
    _cold_outdoor,
    _power,
    _sensor,
    _relief,
    _restore,
)
