"""Heating: rise against the plate, heat given against what gas, electricity or outdoor air allow."""

from __future__ import annotations

from fentro_core.measured import Measured, propagate
from fentro_core.measuring.stations import StationAir
from fentro_core.performance.heating import (
    CARBON_MONOXIDE,
    HEAT_TOLERANCE_SHARE,
    WHO_MAY,
    electric_rise,
    heat_output,
    heat_pump_expected,
    rise,
)
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark, judge
from fentro_core.visit.bench import Bench, missing, said
from fentro_core.visit.nameplate import FurnacePlate, HeatPumpPlate
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import HeatingPage, Quantity, Result, WhoMay
from fentro_core.working import Working


def results(bench: Bench, airflow: Result) -> list[Result]:
    """Rise, airflow, heat given and heat expected, in the order they are shown."""
    return_, supply = bench.air("return"), bench.air("supply")
    if return_ is None or supply is None:
        return [missing("rise", ["Return and supply dry bulb"]), airflow]
    work = Working()
    rise(return_.dry_bulb.value, supply.dry_bulb.value, work)
    plate = bench.plate
    remark = None
    if isinstance(plate, FurnacePlate) and plate.rise_low_k and plate.rise_high_k:
        kind = "temperature_difference"
        remark = Sentence.of("The plate allows {low} to {high}.", low=(plate.rise_low_k, kind), high=(plate.rise_high_k, kind))
    found = [bench.keep("rise", supply.dry_bulb - return_.dry_bulb, "temperature_difference", work, remark), airflow]
    bench.measured["outlet"] = supply.dry_bulb
    return [*found, *_heat(bench, return_, supply)]


def page(bench: Bench) -> HeatingPage | None:
    """What the heating part of Work out shows; None on a system that does not heat."""
    if not bench.heats:
        return None
    plate, measured = bench.plate, bench.measured
    kind = "temperature_difference"
    furnace = isinstance(plate, FurnacePlate)
    low = high = most = None
    mark: Mark = "not_measured"
    if isinstance(plate, FurnacePlate):
        low = Quantity(plate.rise_low_k, 0.0, kind) if plate.rise_low_k else None
        high = Quantity(plate.rise_high_k, 0.0, kind) if plate.rise_high_k else None
        most = Quantity(plate.max_outlet_c, 0.0, "temperature") if plate.max_outlet_c else None
    elif "rise_residual" in measured:
        target = measured["target_rise"].value
        low, high = (Quantity(target * factor, 0.0, kind) for factor in (1 - HEAT_TOLERANCE_SHARE, 1 + HEAT_TOLERANCE_SHARE))
    rise_now = measured.get("rise")
    if rise_now and low and high:
        mark = judge(rise_now, low.value, high.value).mark
    outlet = measured.get("outlet")
    who = tuple(WhoMay(*row) for row in WHO_MAY if furnace or "analyser" not in row[0])
    return HeatingPage(
        quantity(rise_now, kind) if rise_now else None,
        low,
        high,
        quantity(outlet, "temperature") if outlet else None,
        most,
        mark,
        who,
        CARBON_MONOXIDE if furnace else "",
    )


def _humidity(air: StationAir) -> Measured:
    return air.humidity_ratio or Measured(0.0)


def _heat(bench: Bench, return_: StationAir, supply: StationAir) -> list[Result]:
    """Heat by a flow that was not itself worked out from heat; then the share of what was to be expected."""
    flow = bench.flow_apart_from_heat
    if flow is None or flow.flow is None:
        return [missing("heat_total", ["Airflow by hood, traverse, fan table or drop"]), *_expected(bench, return_)]
    inputs = {
        "airflow_m3s": flow.flow,
        "return_dry_bulb_c": return_.dry_bulb,
        "supply_dry_bulb_c": supply.dry_bulb,
        "humidity_ratio": _humidity(return_),
    }
    work = Working()

    def worked(work: Working, **given: float) -> float:
        return heat_output(
            **{**given, "humidity_ratio": max(given["humidity_ratio"], 0.0)}, pressure_pa=bench.pressure_pa, work=work
        )

    worked(work, **{name: each.value for name, each in inputs.items()})
    silent = Working(silent=True)
    heat = propagate(lambda **given: {"heat": worked(silent, **given)}, inputs)["heat"]
    found = [bench.keep("heat_total", heat, "power", work)]
    found += _expected(bench, return_)
    if "target_heat" in bench.measured:
        given = {"heat": heat, "target": bench.measured["target_heat"]}
        bench.measured["heat_share"] = propagate(lambda heat, target: {"share": heat / target}, given)["share"]
    return found


def _expected(bench: Bench, return_: StationAir) -> list[Result]:
    """Heat by the plate's fire, by the heater's watts, or by the outdoor air."""
    plate = bench.plate
    if isinstance(plate, FurnacePlate):
        fuel = bench.flows.heat()
        if isinstance(fuel, str):
            return [missing("target_heat", [fuel])]
        return [bench.keep("target_heat", fuel[0], "power", Working(), fuel[1])]
    electric = bench.flows.heat()
    if not isinstance(electric, str) and electric[0].value > 500:
        return [
            bench.keep("target_heat", electric[0], "power", Working(), electric[1]),
            *_electric_rise(bench, electric[0], return_),
        ]
    return _heat_pump(bench, return_) if isinstance(plate, HeatPumpPlate) else []


def _electric_rise(bench: Bench, heat: Measured, return_: StationAir) -> list[Result]:
    flow = bench.flow_apart_from_heat or bench.flow
    if flow is None or flow.flow is None:
        return [missing("target_rise", ["Airflow"])]
    inputs = {"heat": heat, "flow": flow.flow, "t_r": return_.dry_bulb}
    work = Working()
    electric_rise(heat.value, flow.flow.value, return_.dry_bulb.value, 0.0, bench.pressure_pa, work)
    found = propagate(lambda heat, flow, t_r: {"rise": electric_rise(heat, flow, t_r, 0.0, bench.pressure_pa)}, inputs)["rise"]
    return [
        bench.keep("target_rise", found, "temperature_difference", work, Sentence.of("By the heater's watts and the airflow."))
    ]


def _heat_pump(bench: Bench, return_: StationAir) -> list[Result]:
    plate, outdoor, flow = bench.plate, bench.air("outdoor"), bench.flow
    rated_flow = bench.rated_airflow_m3s
    if not isinstance(plate, HeatPumpPlate) or not plate.rated_heating_w or not rated_flow:
        return [missing(key, ["The plate's rated heating"]) for key in ("target_heat", "target_rise")]
    if outdoor is None or flow is None or flow.flow is None:
        return [missing(key, ["Outdoor dry bulb"]) for key in ("target_heat", "target_rise")]
    rated = plate.rated_heating_w
    inputs = {"t_r": return_.dry_bulb, "t_o": outdoor.dry_bulb, "flow": flow.flow}
    work = Working()
    try:
        central = heat_pump_expected(
            return_.dry_bulb.value, outdoor.dry_bulb.value, flow.flow.value, rated, rated_flow, bench.pressure_pa, work
        )

        def worked(t_r: float, t_o: float, flow: float) -> dict[str, float]:
            now = heat_pump_expected(t_r, t_o, flow, rated, rated_flow, bench.pressure_pa)
            return {"heat": now.heat_w, "rise": now.rise_k}

        fields = propagate(worked, inputs)
    except Refused as refusal:
        return [said(key, refusal.sentence) for key in ("target_heat", "target_rise")]
    if central.outside:
        remark = Sentence.of(f"Outside what the model knows ({', '.join(central.outside)}): no verdict comes from it.")
        return [
            bench.result("target_heat", "Heat expected now", fields["heat"], "power", work, remark),
            bench.result("target_rise", "Rise expected now", fields["rise"], "temperature_difference", work, remark),
        ]
    remark = Sentence.of("The compressor's heat alone, not while it defrosts and without the electric heater.")
    bench.measured["rise_residual"] = bench.measured["rise"] - fields["rise"]
    return [
        bench.keep("target_heat", fields["heat"], "power", work, remark),
        bench.keep("target_rise", fields["rise"], "temperature_difference", work, remark),
    ]
