"""The refrigerant side, when gauges were connected by a certified person; nothing here is ever asked for."""

from __future__ import annotations

from collections.abc import Callable

from fentro_core.measured import Measured, propagate
from fentro_core.performance.refrigerant import (
    CERTIFIED_ONLY,
    Refrigerant,
    saturation_temperature,
    subcooling,
    superheat,
    target_superheat,
)
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import Bench, said
from fentro_core.visit.nameplate import CoolingPlate
from fentro_core.visit.results import Result
from fentro_core.working import Working

_KIND = "temperature_difference"


def results(bench: Bench, plate: CoolingPlate) -> list[Result]:
    """Superheat with its target, subcooling; empty without gauge readings."""
    if bench.mode != "cooling":
        return []
    if plate.refrigerant is None:
        gauged = [at for at in ("suction_line", "liquid_line") if bench.readings.at(at, "gauge_pressure")]
        words = Sentence.of("The plate does not say which refrigerant this is: without it no superheat follows.")
        return [said({"suction_line": "superheat", "liquid_line": "subcooling"}[at], words) for at in gauged]
    found = _line(bench, plate.refrigerant, "superheat", "suction_line", superheat)
    if found and plate.metering == "restrictor":
        found += _target(bench)
    liquid = _line(bench, plate.refrigerant, "subcooling", "liquid_line", subcooling)
    _condensing(bench, plate.refrigerant)
    return [*found, *liquid]


def _line(bench: Bench, refrigerant: Refrigerant, key: str, station: str, formula: Callable[..., float]) -> list[Result]:
    gauge = bench.readings.average(station, "gauge_pressure")
    pipe = bench.readings.average(station, "pipe_temperature")
    if gauge is None or pipe is None:
        return []
    work = Working()
    try:
        formula(refrigerant, gauge.value, pipe.value, bench.pressure_pa, work)
        value = propagate(
            lambda gauge, pipe: {"value": formula(refrigerant, gauge, pipe, bench.pressure_pa)}, {"gauge": gauge, "pipe": pipe}
        )["value"]
    except Refused as refusal:
        return [said(key, refusal.sentence)]
    return [bench.keep(key, value, _KIND, work, Sentence.of(CERTIFIED_ONLY))]


def _target(bench: Bench) -> list[Result]:
    return_, outdoor = bench.air("return"), bench.air("outdoor")
    wet_bulb = return_.properties.get("wet_bulb_c") if return_ else None
    if wet_bulb is None or outdoor is None:
        return []
    work = Working()
    try:
        central = target_superheat(wet_bulb.value, outdoor.dry_bulb.value, work)
        inputs = {"wet": wet_bulb, "dry": outdoor.dry_bulb}
        value = propagate(lambda wet, dry: {"target": target_superheat(wet, dry).superheat_k}, inputs)["target"]
    except Refused as refusal:
        return [said("target_superheat", refusal.sentence)]
    if not central.usable:
        words = "Today's target would lie under {least}: no charge check by superheat in these conditions."
        return [said("target_superheat", Sentence.of(words, least=(5 / 1.8, _KIND)))]
    if "superheat" in bench.measured:
        bench.measured["superheat_residual"] = bench.measured["superheat"] - value
    return [bench.keep("target_superheat", value, _KIND, work)]


def _condensing(bench: Bench, refrigerant: Refrigerant) -> None:
    """How far condensing lies over the air that enters the condenser."""
    gauge = bench.readings.average("liquid_line", "gauge_pressure")
    entering = bench.air("condenser_in") or bench.air("outdoor")
    if gauge is None or entering is None:
        return
    try:
        point: Measured = propagate(
            lambda gauge: {"t": saturation_temperature(refrigerant, gauge + bench.pressure_pa, 1)}, {"gauge": gauge}
        )["t"]
    except Refused:
        return
    bench.measured["condensing_over"] = point - entering.dry_bulb
