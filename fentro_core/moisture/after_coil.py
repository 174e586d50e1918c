"""What happens between coil and supply, by a reading after the coil: reheat that is on, and the share that passes around."""

from __future__ import annotations

from typing import Any

from fentro_core.air.constants import heat_capacity
from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.cooling.fan import fan_heat
from fentro_core.moisture.bypass import bypass_share_read
from fentro_core.phase.context import PartContext
from fentro_core.phase.results import Result
from fentro_core.system.nameplate import CoolingNameplate

TELLS_SHARE = 0.10
"""A share known to no better than this says nothing about a bypass damper."""

ORDINARY_FAN_K = 1.0
"""What a blower warms the supply by, where nobody read its power; in doubt by as much. Ours."""

Context = PartContext[CoolingNameplate]


def seen_around(context: Context) -> tuple[list[Result], tuple[Sentence, ...]]:
    """Numbers and remarks; nothing where the nameplate has neither reheat nor bypass, or nothing was read after the coil."""
    plate = context.nameplate
    after, supply = context.air("after_coil"), context.air("supply")
    if not (after and supply and (plate.reheats or plate.return_bypass)):
        return [], ()
    fan = _fan_rise(context)
    if plate.return_bypass and plate.reheats:
        words = "Reheat and bypass both warm the air: turn reheat off to read the share, shut the bypass to read the heat."
        return [], (Sentence.of(words),)
    return _share(context, fan) if plate.return_bypass else _heat(context, fan)


def _fan_rise(context: Context) -> Measured:
    """What the blower after the coil warms the air by [K]."""
    if not context.nameplate.blower_after_coil:
        return Measured(0.0)
    power, airflow, supply = fan_heat(context), context.given("airflow", Airflow), context.air("supply")
    flow = airflow.in_use if airflow else None
    if power is None or flow is None or supply is None:
        context.readings.labels["usual fan rise"] = "What the blower warms the air by"
        return Measured(ORDINARY_FAN_K, {"usual fan rise": ORDINARY_FAN_K})
    per_kelvin = 1.2 * heat_capacity(0.01)
    return propagate(lambda power, flow: {"rise": power / (flow * per_kelvin)}, {"power": power, "flow": flow.flow})["rise"]


def _share(context: Context, fan: Measured) -> tuple[list[Result], tuple[Sentence, ...]]:
    return_, after, supply = context.air("return"), context.air("after_coil"), context.air("supply")
    if return_ is None or after is None or supply is None:
        return [], ()
    inputs = {
        "return_c": return_.dry_bulb,
        "leaving_dry_bulb_c": after.dry_bulb,
        "supply_c": supply.dry_bulb,
        "fan_k": fan,
    }
    working = Working()
    try:
        bypass_share_read(**{name: given.value for name, given in inputs.items()}, work=working)
        share = propagate(lambda **given: {"share": bypass_share_read(**{**given, "fan_k": max(given["fan_k"], 0.0)})}, inputs)[
            "share"
        ]
    except Refused as refused:
        return [], (refused.sentence,)
    if share.plus_minus > TELLS_SHARE:
        words = "The share around the coil can't be told from these three: ±{width}. Read the blower's power, and more points."
        return [], (Sentence.of(words, width=(share.plus_minus, "share")),)
    return [context.keep("around_coil", share, working)], ()


def _heat(context: Context, fan: Measured) -> tuple[list[Result], tuple[Sentence, ...]]:
    after, supply = context.air("after_coil"), context.air("supply")
    airflow = context.given("airflow", Airflow)
    flow = airflow.in_use if airflow else None
    if after is None or supply is None or flow is None:
        return [], ()
    inputs: dict[str, Any] = {"t_c": after.dry_bulb, "t_s": supply.dry_bulb, "fan": fan, "flow": flow.flow}
    volume = 0.84 * 101_325.0 / context.pressure_pa
    capacity = heat_capacity(after.humidity_ratio.value if after.humidity_ratio else 0.01)
    heat = propagate(lambda t_c, t_s, fan, flow: {"heat": flow / volume * capacity * (t_s - fan - t_c)}, inputs)["heat"]
    full = context.nameplate.reheat_w
    numbers = {"heat": (heat.value, "power"), "full": (full or 0.0, "power")}
    found = [context.keep("reheat_now", heat)]
    if heat.high < 0:
        return found, (Sentence.of("The supply is colder than after the coil: one of the two readings is wrong."),)
    if heat.low <= 0:
        return found, (Sentence.of("Reheat is off, as far as these readings tell."),)
    notes = [Sentence.of("Reheat is on and gives {heat}: it warms, and takes out no water.", **numbers)]
    if full and heat.low > full:
        notes = [
            Sentence.of("After the coil the air takes up {heat}, more than the reheat coil's {full}: read again.", **numbers)
        ]
    if not context.nameplate.reheat_modulates:
        notes.append(Sentence.of("This reheat is either on or off: the supply swings, and the room feels it."))
    return found, tuple(notes)
