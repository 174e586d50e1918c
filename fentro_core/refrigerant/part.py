"""The refrigerant's side, when gauges were connected by a certified person; nothing here is ever asked for."""

from __future__ import annotations

from collections.abc import Callable

from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.diagnosis.people import COOLING, HEATING
from fentro_core.diagnosis.signs import Sign
from fentro_core.logbook.steps import Caution
from fentro_core.phase.context import PartContext, said
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Number
from fentro_core.phase.results import Result
from fentro_core.refrigerant import circuit
from fentro_core.refrigerant.causes import CAUSES
from fentro_core.refrigerant.circuit import (
    BUBBLE,
    CERTIFIED_ONLY,
    LEAST_TARGET_K,
    SANE_SUPERHEAT_K,
    SUPERHEAT_TOLERANCE_K,
    saturation_temperature,
    subcooling,
    superheat,
    target_superheat,
)
from fentro_core.refrigerant.stations import stations
from fentro_core.refrigerant.symptoms import SYMPTOMS
from fentro_core.system.nameplate import CoolingNameplate, Refrigerant

Context = PartContext[CoolingNameplate]

_KIND = "temperature_difference"

ORDINARY_SUCTION_C = (2.0, 19.0)
CONTACT_K = 1.0
"""Half-width of a pipe's temperature by a clamp, beside the clamp's own: paint, a curve and the air around. Ours."""

RECIRCULATION_K = 2.5
"""A condenser inlet this much warmer than outdoor air draws in its own breath. Ours."""


def work(context: Context) -> PartResult:
    """Superheat with its target, subcooling; symptoms by clamp and by the condenser's air, also without gauges."""
    results = _results(context) if context.mode == COOLING else []
    _for_symptoms(context)
    return PartResult(results=tuple(results), symptoms=(*context.signs_by_number(), *_signs(context)))


def _results(context: Context) -> list[Result]:
    refrigerant = context.nameplate.refrigerant
    if refrigerant is None:
        gauged = [at for at in ("suction_line", "liquid_line") if context.readings.at(at, "gauge_pressure")]
        words = Sentence.of("The nameplate does not say which refrigerant this is: without it no superheat follows.")
        return [said({"suction_line": "superheat", "liquid_line": "subcooling"}[at], words) for at in gauged]
    found = _line(context, refrigerant, "superheat", "suction_line", superheat)
    if found and context.nameplate.metering == "restrictor":
        found += _target(context)
    liquid = _line(context, refrigerant, "subcooling", "liquid_line", subcooling)
    _condensing(context, refrigerant)
    return [*found, *liquid]


def _line(context: Context, refrigerant: Refrigerant, key: str, station: str, formula: Callable[..., float]) -> list[Result]:
    gauge = context.readings.average(station, "gauge_pressure")
    pipe = context.readings.average(station, "pipe_temperature")
    if gauge is None or pipe is None:
        return []
    working = Working()
    pressure = context.pressure_pa
    source = f"{context.phase}/{station}:contact"  # a clamp is put on anew
    context.readings.labels[source] = "The clamp's contact with the pipe"
    inputs = {"gauge": gauge, "pipe": Measured(pipe.value, {**pipe.parts, source: CONTACT_K})}
    try:
        formula(refrigerant, gauge.value, pipe.value, pressure, working)
        value = propagate(lambda gauge, pipe: {"value": formula(refrigerant, gauge, pipe, pressure)}, inputs)["value"]
    except Refused as refusal:
        return [said(key, refusal.sentence)]
    return [context.keep(key, value, working, Sentence.of(CERTIFIED_ONLY))]


def _target(context: Context) -> list[Result]:
    return_, outdoor = context.air("return"), context.air("outdoor")
    wet_bulb = return_.properties.get("wet_bulb_c") if return_ else None
    if wet_bulb is None or outdoor is None:
        return []
    working = Working()
    try:
        central = target_superheat(wet_bulb.value, outdoor.dry_bulb.value, working)
        inputs = {"wet": wet_bulb, "dry": outdoor.dry_bulb}
        value = propagate(lambda wet, dry: {"target": target_superheat(wet, dry).superheat_k}, inputs)["target"]
    except Refused as refusal:
        return [said("target_superheat", refusal.sentence)]
    if not central.usable:
        words = "Today's target would be below {least}: no charge check by superheat in these conditions."
        return [said("target_superheat", Sentence.of(words, least=(LEAST_TARGET_K, _KIND)))]
    measured = context.number("superheat")
    if measured is not None:
        context.note("superheat_residual", measured - value)
    return [context.keep("target_superheat", value, working)]


def _condensing(context: Context, refrigerant: Refrigerant) -> None:
    """How far condensing lies over the air that enters the condenser."""
    gauge = context.readings.average("liquid_line", "gauge_pressure")
    entering = context.air("condenser_in") or context.air("outdoor")
    if gauge is None or entering is None:
        return
    pressure = context.pressure_pa
    try:
        point = propagate(lambda gauge: {"t": saturation_temperature(refrigerant, gauge + pressure, BUBBLE)}, {"gauge": gauge})[
            "t"
        ]
    except Refused:
        return
    context.note("condensing_over", point - entering.dry_bulb)


def _for_symptoms(context: Context) -> None:
    """Numbers that only symptoms are told by."""
    nameplate = context.nameplate
    into, out = context.air("condenser_in") or context.air("outdoor"), context.air("condenser_out")
    if into and out and context.mode != HEATING:
        context.note("condenser_rise", out.dry_bulb - into.dry_bulb)
    residual, measured = context.number("superheat_residual"), context.number("superheat")
    if residual is not None:
        context.note("superheat_off", _scaled(residual, 0.0, SUPERHEAT_TOLERANCE_K))
    elif measured is not None and nameplate.metering == "valve":
        low, high = SANE_SUPERHEAT_K
        context.note("superheat_off", _scaled(measured, (low + high) / 2, (high - low) / 2))
    liquid = context.number("subcooling")
    if liquid is not None and nameplate.subcooling_k:
        context.note("subcooling_off", _scaled(liquid, nameplate.subcooling_k, 1.0))
    amps = context.readings.average("outdoor_unit", "current")
    if amps and nameplate.compressor_current_a:
        context.note("current_share", _scaled(amps, 0.0, nameplate.compressor_current_a))
    line = context.readings.average("suction_line", "pipe_temperature")
    if line and context.mode != HEATING:
        context.note("suction_line", line)


def _signs(context: Context) -> list[Sign]:
    signs: list[Sign] = []
    line = context.number("suction_line")
    if line is not None:
        signs += context.judge("suction", line, *ORDINARY_SUCTION_C, {"low": "cold", "right": "cool", "high": "warm"})
    outdoor, into = context.air("outdoor"), context.air("condenser_in")
    if outdoor and into:
        warmer = into.dry_bulb - outdoor.dry_bulb
        signs += context.judge("recirculation", warmer, None, RECIRCULATION_K, {"right": "same", "high": "warmer"})
    return signs


def _scaled(value: Measured, middle: float, half: float) -> Measured:
    return Measured((value.value - middle) / half, {source: part / half for source, part in value.parts.items()})


PART = Part(
    key="refrigerant",
    name="Refrigerant",
    work=work,
    calculations=(circuit,),
    numbers=(
        Number(key="superheat", name="Superheat", kind=_KIND, compared=True),
        Number(key="target_superheat", name="Target superheat", kind=_KIND),
        Number(key="subcooling", name="Subcooling", kind=_KIND, compared=True),
        Number(key="superheat_residual", kind=_KIND),
        Number(key="superheat_off", kind="ratio"),
        Number(key="subcooling_off", kind="ratio"),
        Number(key="condensing_over", kind=_KIND),
        Number(key="condenser_rise", kind=_KIND),
        Number(key="current_share", kind="share"),
        Number(key="suction_line", kind="temperature"),
    ),
    stations=stations,
    symptoms=SYMPTOMS,
    causes=CAUSES,
    cautions=(
        Caution(
            "measure",
            "Refrigerant circuits are for certified persons only. Everything here works without gauges.",
            ("packaged_rooftop", "furnace_with_coil", "split_heat_pump"),
        ),
    ),
)
