"""Cooling: split, capacity by enthalpy, and what this unit should give now; the three schools side by side."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from typing import Literal

from fentro_core.air.state import AirState
from fentro_core.measured import Measured, propagate
from fentro_core.performance.cooling import Capacity, capacity, split, withhold_negative_latent
from fentro_core.performance.expected import USUAL_SHR, ExpectedCooling, expected_cooling
from fentro_core.performance.judging import (
    FIXED_BAND_K,
    FIXED_BAND_REASON,
    OWN_TARGET_REASON,
    SCHOOLS,
    humidity_target_k,
    judge_split,
    judge_split_by_humidity,
    judge_split_by_target,
)
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import Bench, missing, said
from fentro_core.visit.nameplate import CoolingPlate, FurnacePlate
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import Quantity, Result, School
from fentro_core.working import Working

_CAPACITY_FIELDS = {
    "total": ("total_w", "power"),
    "sensible": ("sensible_w", "power"),
    "latent": ("latent_w", "power"),
    "shr": ("sensible_heat_ratio", "ratio"),
    "water": ("water_kg_per_s", "water_rate"),
}


def results(bench: Bench, plate: CoolingPlate, airflow: Result) -> list[Result]:
    """Split, airflow, capacity and targets, in the order they are shown."""
    first = _split(bench)
    capacities = _capacity(bench, plate)
    expected = _expected(bench, plate)
    if "split_residual" in bench.measured:
        first = replace(first, remark=OWN_TARGET_REASON)
    return [first, airflow, *capacities, *expected]


def _split(bench: Bench) -> Result:
    return_, supply = bench.air("return"), bench.air("supply")
    if return_ is None or supply is None:
        return missing("split", [f"{n} dry bulb" for n, a in (("Return", return_), ("Supply", supply)) if not a])
    work = Working()
    split(return_.dry_bulb.value, supply.dry_bulb.value, work)
    return bench.keep("split", return_.dry_bulb - supply.dry_bulb, "temperature_difference", work, FIXED_BAND_REASON)


def _capacity(bench: Bench, plate: CoolingPlate) -> list[Result]:
    return_, supply, flow = bench.air("return"), bench.air("supply"), bench.flow
    lacking = [
        f"{name} {what}"
        for name, air in (("Return", return_), ("Supply", supply))
        for what, there in (("dry bulb", air), ("humidity", air and air.humidity_ratio))
        if not there
    ]
    if flow is None or flow.flow is None:
        lacking.append("Airflow")
    keys = [*_CAPACITY_FIELDS, "water_per_day", *(["rated_share"] if plate.rated_total_w else [])]
    if lacking or not (return_ and supply and flow and flow.flow and return_.humidity_ratio and supply.humidity_ratio):
        return [missing(key, lacking) for key in keys]
    at: Literal["return", "supply"] = flow.at
    inputs = {
        "t_r": return_.dry_bulb,
        "w_r": return_.humidity_ratio,
        "t_s": supply.dry_bulb,
        "w_s": supply.humidity_ratio,
        "flow": flow.flow,
    }

    def worked(t_r: float, w_r: float, t_s: float, w_s: float, flow: float, work: Working | None = None) -> Capacity:
        entering = AirState(t_r, max(w_r, 0.0), bench.pressure_pa)
        leaving = AirState(t_s, max(w_s, 0.0), bench.pressure_pa)
        return capacity(entering, leaving, flow, at, work or Working(silent=True))

    fields = propagate(lambda **given: vars(worked(**given)), inputs)
    work = Working()
    worked(**{name: given.value for name, given in inputs.items()}, work=work)
    shown = withhold_negative_latent({name: {"value": m.value, "plus_minus": m.plus_minus} for name, m in fields.items()})
    bench.measured["shr_any"] = fields["sensible_heat_ratio"]
    found = []
    for key, (name, kind) in _CAPACITY_FIELDS.items():
        if shown[name] is None or (key == "shr" and fields["total_w"].value <= 0):
            found.append(said(key, _MOISTURE.get(shown["moisture"], _HEATED)))
            if key == "latent":
                bench.measured["latent_withheld"] = fields[name]
        else:
            found.append(bench.keep(key, fields[name], kind, work if key == "total" else None))
    return [*found, *_derived(bench, plate, fields, shown["water_kg_per_s"] is not None)]


def _derived(bench: Bench, plate: CoolingPlate, fields: Mapping[str, Measured], dries: bool) -> list[Result]:
    found = []
    if dries:
        found.append(bench.keep("water_per_day", fields["water_kg_per_s"], "water_per_day"))
    if plate.rated_total_w:
        rated = plate.rated_total_w
        work = Working()
        total = fields["total_w"]
        work.step(
            "share of rated", "R", "100 * Q / Q_rated", total.value / rated, "share",
            source="the plate, at 80/67 °F entering and 95 °F outdoor: another day gives another share",
            Q=(total.value, "power"), Q_rated=(rated, "power"),
        )  # fmt: skip
        share = propagate(lambda total: {"share": total / rated}, {"total": total})["share"]
        found.append(bench.keep("rated_share", share, "share", work))
    return found


def fan_heat(bench: Bench) -> Measured | None:
    """Heat of a blower after the coil [W], when its power was read; a blower before the coil only warms what the coil sees."""
    if isinstance(bench.plate, FurnacePlate):
        return None
    power = bench.readings.average("blower_feed", "electric_power")
    if power is not None:
        return power
    volts, amps = (bench.readings.average("blower_feed", each) for each in ("voltage", "current"))
    if volts is None or amps is None:
        return None
    return propagate(lambda volts, amps: {"power": volts * amps}, {"volts": volts, "amps": amps})["power"]


def _expected(bench: Bench, plate: CoolingPlate) -> list[Result]:
    """What this unit should show now, and how far the measured split and cooling lie from it."""
    return_, supply, outdoor, flow = bench.air("return"), bench.air("supply"), bench.air("outdoor"), bench.flow
    rated, rated_flow = plate.rated_total_w, bench.rated_airflow_m3s
    cooling = return_ and supply and supply.dry_bulb.value < return_.dry_bulb.value
    if not (cooling and rated and rated_flow and return_ and supply and flow and flow.flow and return_.humidity_ratio):
        return []
    if outdoor is None:
        return [missing(key, ["Outdoor dry bulb"]) for key in ("target_split", "target_total")]
    shr = plate.rated_sensible_heat_ratio or USUAL_SHR
    fan = fan_heat(bench)
    inputs = {
        "t_r": return_.dry_bulb,
        "w_r": return_.humidity_ratio,
        "t_s": supply.dry_bulb,
        "t_o": outdoor.dry_bulb,
        "flow": flow.flow,
        **({"fan": fan} if fan else {}),
    }

    @cache
    def model(t_r: float, w_r: float, t_o: float, flow: float, fan: float) -> ExpectedCooling:
        entering = AirState(t_r, max(w_r, 0.0), bench.pressure_pa)
        return expected_cooling(entering, t_o, flow, rated, rated_flow, shr, fan)

    def worked(t_r: float, w_r: float, t_s: float, t_o: float, flow: float, fan: float = 0.0) -> dict[str, float]:
        found, design = model(t_r, w_r, t_o, flow, fan), model(t_r, w_r, t_o, rated_flow, fan)
        return {
            "split": found.split_k,
            "total": found.total_w,
            "residual": t_r - t_s - found.split_k,
            "design_residual": t_r - t_s - design.split_k,
            "design_total": design.total_w,
            "shr": found.sensible_heat_ratio,
        }

    try:
        work = Working()
        outside = expected_cooling(
            AirState(return_.dry_bulb.value, max(return_.humidity_ratio.value, 0.0), bench.pressure_pa),
            outdoor.dry_bulb.value, flow.flow.value, rated, rated_flow, shr, fan.value if fan else 0.0, work,
        ).outside  # fmt: skip
        fields = propagate(worked, inputs)
    except Refused as refusal:
        return [said(key, refusal.sentence) for key in ("target_split", "target_total")]
    remark = None
    if outside:
        remark = Sentence.of(f"Outside what the model knows ({', '.join(outside)}): no verdict comes from it.")
    elif plate.rated_sensible_heat_ratio is None:
        remark = Sentence.of("With an ordinary rated sensible heat ratio, 0.76: the plate says none.")
    elif fan:
        remark = Sentence.of("With the blower's heat, {fan}, taken off the split.", fan=(fan.value, "electric_power"))
    found = [
        bench.keep("target_split", fields["split"], "temperature_difference", work, remark),
        bench.keep("target_total", fields["total"], "power", work, remark),
    ]
    if set(outside) - {"airflow"}:
        return found
    bench.measured["design_residual"] = fields["design_residual"]
    if not outside:
        bench.measured["split_residual"] = fields["residual"]
    total = bench.measured.get("total")
    if total is not None and not flow.nominal:
        bench.measured["capacity_share"] = _share(total, fields["design_total"])
        bench.measured["shr_residual"] = bench.measured["shr_any"] - fields["shr"]
    return found


def _share(measured: Measured, expected: Measured) -> Measured:
    inputs = {"measured": measured, "expected": expected}
    return propagate(lambda measured, expected: {"share": measured / expected}, inputs)["share"]


def schools(bench: Bench) -> tuple[School, ...]:
    """Band, humidity target and the unit's own target side by side: what each says of this split, and why one is the default."""
    measured = bench.measured.get("split")
    if measured is None or bench.mode != "cooling":
        return ()
    return_ = bench.air("return")
    humidity = return_.properties.get("relative_humidity") if return_ else None
    kind = "temperature_difference"
    by_band = judge_split(measured, humidity)
    own, residual = bench.measured.get("target_split"), bench.measured.get("split_residual")
    middle = sum(FIXED_BAND_K) / 2
    rows = [School("band", *SCHOOLS["band"], Quantity(middle, FIXED_BAND_K[1] - middle, kind), by_band.mark, own is None)]
    wet_bulb = return_.properties.get("wet_bulb_c") if return_ else None
    if return_ and wet_bulb:
        inputs = {"dry_bulb_c": return_.dry_bulb, "wet_bulb_c": wet_bulb}
        target = propagate(lambda **given: {"target": humidity_target_k(**given)}, inputs)["target"]
        judged = judge_split_by_humidity(measured, target)
        rows.append(School("humidity", *SCHOOLS["humidity"], quantity(target, kind), judged, False))
    else:
        rows.append(School("humidity", *SCHOOLS["humidity"], None, "not_measured", False))
    mark = judge_split_by_target(measured, own, residual).mark if own and residual else "not_measured"
    rows.append(School("own", *SCHOOLS["own"], quantity(own, kind) if own else None, mark, own is not None))
    return tuple(rows)


_MOISTURE = {
    "none_seen": Sentence.of("No moisture removal that these instruments can see."),
    "supply_wetter_than_return": Sentence.of("Not shown: supply air is wetter than return air."),
}

_HEATED = Sentence.of("Not shown: the air is being heated, not cooled.")
