"""Loop checks by stepping: what a loop should read moves its output, by about gain and error; any other sensor moves nothing."""

from __future__ import annotations

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.configuration import LOOP_NAMES, LOOPS, Configuration
from fentro_core.economizer.places import PLACES, TEMPERATURES
from fentro_core.economizer.proof.cautions import MOVING, UNGUARDED
from fentro_core.economizer.proof.day import Day, cool_enough, outdoor_at
from fentro_core.economizer.proof.plan import CALL_K, OCCUPIED
from fentro_core.economizer.proof.step import CHANGE, Due, Step, Stimulus

STEP_K = 2.0
WATCH_S = 60.0
STILL = 0.02
ROOM_TO_CLOSE = 0.2
"""Over its minimum at least, so that a damper that is told to close can, wherever it stood before."""

CHECKED = ("supply_loop", "low_limit")
"""Loops whose output is the damper's position; the changeover is checked by its own tests."""


def loop_steps(setting: Configuration, day: Day) -> tuple[Step, ...]:
    """For each loop, step the sensor it should read, then another one.

    The unit cools with outdoor air, supply and mixed air held at the supply setpoint, so that nothing moves by itself. For
    both loops' own sensors the supply is held warm first, until the damper has opened a little: then it can close, wherever it
    stood.
    """
    return tuple(_step(setting, day, loop, place) for loop in CHECKED for place in _stepped(loop))


def loop_step(setting: Configuration, day: Day, key: str) -> Step:
    """The check of that key, as ``loop/low_limit/outdoor``."""
    found = {step.key: step for step in loop_steps(setting, day)}
    if key not in found:
        raise Refused("There is no such loop check.", "step")
    return found[key]


def _stepped(loop: str) -> tuple[str, ...]:
    believed = LOOPS[loop]
    return (believed, *(place for place in PLACES if place not in (believed, "supply" if loop == "low_limit" else "")))


def _step(setting: Configuration, day: Day, loop: str, place: str) -> Step:
    believed = LOOPS[loop] == place
    played = () if cool_enough(setting, day) else outdoor_at(setting, day, 6.0 if "enthalpy" not in setting.changeover else 5.0)
    outdoor_c = next((each.value for each in played if each.point == "outdoor_temperature"), day.outdoor_c)
    held: dict[str, float] = {
        OCCUPIED.point: 1.0,
        **{each.point: each.value for each in played},
        "outdoor_temperature": outdoor_c,
        "return_temperature": day.return_c,
        "mixed_temperature": setting.supply_setpoint_c,
        "supply_temperature": setting.supply_setpoint_c,
        "room_temperature": setting.cooling_setpoint_c + CALL_K,
    }
    # A compressor that still runs its least time, or a damper at the end of its way, is a state to wait for and no fault.
    ready: tuple[Due, ...] = (Due("mode_free", 0.5), Due("compressor", None, 0.02))
    warm: dict[str, float] = {}
    if loop == "supply_loop" and believed:
        ready = (*ready, Due("damper_command", setting.minimum_position + ROOM_TO_CLOSE))
        # The mixed air's, too: a loop that reads it by mistake opens as well, and then stands still.
        warm = {"supply_temperature": setting.supply_setpoint_c + 3.0, "mixed_temperature": setting.supply_setpoint_c + 3.0}
    if loop == "low_limit":
        ready = (*ready, Due("damper_command", setting.minimum_position + 0.1))
        warm = {"supply_temperature": setting.supply_setpoint_c + 3.0}
    stepped = dict(held)
    stepped[TEMPERATURES[place]] = _moved(setting, loop, place, held[TEMPERATURES[place]])
    if not believed:
        bands = (Due(CHANGE, -STILL, STILL),)
    elif loop == "supply_loop":
        about = setting.loop_gain_per_k_s * STEP_K * WATCH_S
        bands = (Due(CHANGE, -2.5 * about, -0.4 * about),)
    else:
        bands = (Due(CHANGE, None, -STILL),)
    name, air = LOOP_NAMES[loop], PLACES[place].name
    return Step(
        f"loop/{loop}/{place}",
        f"{name}: step the {air} sensor",
        "It is the loop's own sensor: the damper must move, the right way."
        if believed
        else "Not the loop's sensor: nothing may move.",
        Sentence.of("Cooling with outdoor air, all sensors held. Then the {air} sensor alone is moved.".replace("{air}", air)),
        tuple(Stimulus(point, value) for point, value in stepped.items()),
        bands,
        allowed_s=WATCH_S,
        throughout=True,
        settle_s=WATCH_S - 4,
        first=tuple(Stimulus(point, value) for point, value in {**held, **warm}.items()),
        ready=ready,
        ready_after_s=40,
        hazards=(MOVING, UNGUARDED),
    )


def _moved(setting: Configuration, loop: str, place: str, value: float) -> float:
    if loop == "low_limit":
        return setting.mixed_low_limit_c - STEP_K if place in ("mixed", "outdoor") else value + STEP_K
    if place == "supply":
        return setting.supply_setpoint_c - STEP_K
    return value - STEP_K if place == "outdoor" else value + STEP_K
