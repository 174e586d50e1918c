"""Cooling: split, capacity by enthalpy, what this unit should give now, and the split's targets side by side."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from typing import Literal

from fentro_core.air.state import AirState
from fentro_core.airflow.ways import Airflow, KnownWay
from fentro_core.base.measured import Measured, propagate, weighted_sum
from fentro_core.base.quantity import Quantity, quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.cooling import capacity as capacity_formula
from fentro_core.cooling import expected, judging
from fentro_core.cooling.capacity import Capacity, capacity, split, withhold_negative_latent
from fentro_core.cooling.causes import CAUSES
from fentro_core.cooling.expected import (
    CAPACITY_TOLERANCE_SHARE,
    SPLIT_TOLERANCE_K,
    USUAL_SHR,
    ExpectedCooling,
    expected_cooling,
    return_to_supply,
)
from fentro_core.cooling.fan import fan_heat
from fentro_core.cooling.judging import (
    FIXED_BAND_K,
    FIXED_BAND_REASON,
    OWN_TARGET_REASON,
    TARGETS,
    four_way,
    humidity_target_k,
    judge_split,
    judge_split_by_humidity,
    judge_split_by_target,
)
from fentro_core.cooling.page import CoolingPage, FourWay, SplitTarget
from fentro_core.cooling.stations import stations
from fentro_core.cooling.symptoms import SYMPTOMS
from fentro_core.cooling.verdicts import verdicts
from fentro_core.diagnosis.signs import Sign
from fentro_core.instruments.station_air import StationAir
from fentro_core.phase.context import PartContext, missing, said
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import Result
from fentro_core.phase.verdicts import gravest
from fentro_core.system.nameplate import MODEL_SOURCE, CoolingNameplate

Context = PartContext[CoolingNameplate]

_KIND = "temperature_difference"

_CAPACITY_FIELDS = {
    "total": "total_w",
    "sensible": "sensible_w",
    "latent": "latent_w",
    "shr": "sensible_heat_ratio",
    "water": "water_kg_per_s",
}

NEEDED_FOR_CAPACITY = ("Return", "Supply")


def work(context: Context) -> PartResult:
    """Everything of cooling; while the unit heats or defrosts, nothing."""
    if not context.cools:
        return PartResult()
    flow = context.given("airflow", Airflow) or Airflow()
    airflow = context.result_of("airflow", "airflow")
    first = _split(context)
    capacities = _capacity(context, flow.in_use)
    expected_now = _expected(context, flow)
    if context.number("split_residual") is not None:
        first = replace(first, remark=OWN_TARGET_REASON)
    results = (first, *([airflow] if airflow else []), *capacities, *expected_now)
    targets = _targets(context)
    return PartResult(
        results=results,
        page=CoolingPage(targets, _four_way(context)),
        mark=gravest(target.mark for target in targets if target.used),
        verdicts=tuple(verdicts(context, {result.key: result for result in results})),
        symptoms=(*context.signs_by_number(), *_moisture_sign(context)),
    )


def _split(context: Context) -> Result:
    return_, supply = context.air("return"), context.air("supply")
    if return_ is None or supply is None:
        return missing("split", [f"{n} dry bulb" for n, a in (("Return", return_), ("Supply", supply)) if not a])
    working = Working()
    split(return_.dry_bulb.value, supply.dry_bulb.value, working)
    return context.keep("split", return_.dry_bulb - supply.dry_bulb, working, FIXED_BAND_REASON)


def _capacity(context: Context, flow: KnownWay | None) -> list[Result]:
    return_, supply = context.air("return"), context.air("supply")
    lacking = [
        f"{name} {what}"
        for name, air in zip(NEEDED_FOR_CAPACITY, (return_, supply), strict=True)
        for what, there in (("dry bulb", air), ("humidity", air and air.humidity_ratio))
        if not there
    ]
    if flow is None:
        lacking.append("Airflow")
    keys = [*_CAPACITY_FIELDS, "water_per_day", *(["rated_share"] if context.nameplate.rated_total_w else [])]
    if lacking or not (return_ and supply and flow and return_.humidity_ratio and supply.humidity_ratio):
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
        entering = AirState(t_r, max(w_r, 0.0), context.pressure_pa)
        leaving = AirState(t_s, max(w_s, 0.0), context.pressure_pa)
        return capacity(entering, leaving, flow, at, work or Working(silent=True))

    working = Working()
    centre = vars(worked(**{name: given.value for name, given in inputs.items()}, work=working))
    fields = propagate(lambda **given: vars(worked(**given)), inputs, centre)
    shown = withhold_negative_latent({name: {"value": m.value, "plus_minus": m.plus_minus} for name, m in fields.items()})
    dries = shown["water_kg_per_s"] is not None
    if not dries:
        fields["total_w"] = Measured(fields["sensible_w"].value, fields["total_w"].parts)
    ratio = fields["sensible_heat_ratio"]
    context.note("shr_any", Measured(min(ratio.value, 1.0), ratio.parts))
    found = []
    for key, name in _CAPACITY_FIELDS.items():
        if shown[name] is None or (key == "shr" and fields["total_w"].value <= 0):
            found.append(said(key, _MOISTURE.get(shown["moisture"], _HEATED)))
            if key == "latent":
                context.note("latent_withheld", fields[name])
        else:
            held = HELD_EQUAL if key == "total" and not dries else None
            found.append(context.keep(key, fields[name], working if key == "total" else None, held))
    return [*found, *_derived(context, fields, dries=dries)]


HELD_EQUAL = Sentence.of("Moisture held equal: the supply reads no drier than the return, so the total is the sensible part.")


def _derived(context: Context, fields: Mapping[str, Measured], *, dries: bool) -> list[Result]:
    found = []
    if dries:
        found.append(context.keep("water_per_day", fields["water_kg_per_s"]))
    rated = context.nameplate.rated_total_w
    if rated:
        working = Working()
        total = fields["total_w"]
        working.step(
            "share of rated",
            "R",
            "100 * Q / Q_rated",
            total.value / rated,
            "share",
            source="the nameplate, at 80/67 °F entering and 95 °F outdoor: another day gives another share",
            Q=(total.value, "power"),
            Q_rated=(rated, "power"),
        )
        share = propagate(lambda total: {"share": total / rated}, {"total": total})["share"]
        found.append(context.keep("rated_share", share, working))
    return found


LOWER_STAGE = "a lower stage"

MODEL_SHARE = 0.13
"""95 % half-width of the model itself, as a share: another rating curve and another unit of the same plate lie so far apart.
Said beside the target. Verdicts have it in their tolerances already. Ours; measured on machines of other curves
(`bin/bench stranger`)."""

DRY_SHARE = 0.2
"""The same over a coil that takes out no water, where rating curves go no further and models part. Ours, measured as above."""

OUTDOOR_SHARE, UNREAD_MORE = 0.15, 0.10
OUTDOOR_SOURCE = "Outdoor air that the unit takes in"
"""With an economizer some outdoor air is taken in: return to supply is not all the coil's. Unread it may be a quarter in all;
that is said beside the target. Verdicts and drift go by the first, for a minimum is the same from visit to visit. Ours."""

USUAL_TAKEN = Measured(0.12, {OUTDOOR_SOURCE: OUTDOOR_SHARE})
"""What such units take in at their minimum; a share that was measured no better is held against it. Ours."""

TARGET_KEYS = ("target_split", "target_total")


def _expected(context: Context, airflow: Airflow) -> list[Result]:
    """What this unit should show now, and how far the measured split and cooling lie from it."""
    return_, supply, outdoor, flow = context.air("return"), context.air("supply"), context.air("outdoor"), airflow.in_use
    rated, rated_flow = context.nameplate.rated_total_w, airflow.rated_m3s
    cools = return_ and supply and supply.dry_bulb.value < return_.dry_bulb.value
    if not (cools and rated and rated_flow and return_ and supply and flow and return_.humidity_ratio):
        return []
    if outdoor is None:
        return [missing(key, ["Outdoor dry bulb"]) for key in TARGET_KEYS]
    shr = context.nameplate.rated_sensible_heat_ratio or USUAL_SHR
    fan = fan_heat(context)
    inputs = {
        "t_r": return_.dry_bulb,
        "w_r": return_.humidity_ratio,
        "t_s": supply.dry_bulb,
        "t_o": outdoor.dry_bulb,
        "flow": flow.flow,
        **({"fan": fan} if fan else {}),
    }
    taken = _taken(context)
    damp = outdoor.humidity_ratio.value if outdoor.humidity_ratio else return_.humidity_ratio.value

    @cache
    def entering(t_r: float, w_r: float) -> AirState:
        return AirState(t_r, max(w_r, 0.0), context.pressure_pa)

    def expect(t_r: float, w_r: float, t_o: float, flow: float, fan: float, work: Working) -> ExpectedCooling:
        return expected_cooling(entering(t_r, w_r), t_o, flow, rated, rated_flow, shr, fan, work)

    silent = Working(silent=True)

    @cache
    def model(t_r: float, w_r: float, t_o: float, flow: float, fan: float) -> ExpectedCooling:
        return expect(t_r, w_r, t_o, flow, fan, silent)

    def worked(
        t_r: float, w_r: float, t_s: float, t_o: float, flow: float, own: float, taken: float, more: float, fan: float = 0.0
    ) -> dict[str, float]:
        found, design = model(t_r, w_r, t_o, flow, fan), model(t_r, w_r, t_o, rated_flow, fan)
        within, without = entering(t_r, w_r), entering(t_o, damp)
        split, _ = return_to_supply(found, taken, flow, within, without)
        design_split, design_total = return_to_supply(design, taken, rated_flow, within, without)
        said_split, said_total = return_to_supply(found, taken + more, flow, within, without)
        return {
            "split": said_split + (own - 1) * found.split_k,
            "total": said_total + (own - 1) * found.total_w,
            "residual": t_r - t_s - split,
            "design_residual": t_r - t_s - design_split,
            "design_total": design_total,
            "shr": found.sensible_heat_ratio,
        }

    try:
        working = Working()
        values = {name: given.value for name, given in inputs.items() if name != "t_s"}
        central = expect(**{"fan": 0.0, **values}, work=working)
        outside = (*central.outside, LOWER_STAGE) if context.lower_stage else central.outside
        own = Measured(1.0, {MODEL_SOURCE: DRY_SHARE if central.dry_coil else MODEL_SHARE})
        unread = context.number("outdoor_share") is None and context.nameplate.has_economizer
        more = Measured(0.0, {OUTDOOR_SOURCE: UNREAD_MORE} if unread else {})
        fields = propagate(worked, {**inputs, "own": own, "taken": taken, "more": more})
        if taken.value:
            within, without = entering(values["t_r"], values["w_r"]), entering(values["t_o"], damp)
            return_to_supply(central, taken.value, flow.flow.value, within, without, working)
    except Refused as refusal:
        return [said(key, refusal.sentence) for key in TARGET_KEYS]
    remark = _remark(outside, context.nameplate.rated_sensible_heat_ratio is None, fan)
    found = [
        context.keep("target_split", fields["split"], working, remark),
        context.keep("target_total", fields["total"], working, remark),
    ]
    if not set(outside) - {"airflow"}:
        _against_target(context, fields, within=not outside, nominal=flow.nominal)
    return found


def _taken(context: Context) -> Measured:
    """Share of outdoor air in what enters the coil: none before it is measured, but that may be wrong where there is a damper.

    As measured; where that is weak, with what is usual, each by how well it is known.
    """
    measured, damper = context.number("outdoor_share"), context.nameplate.has_economizer
    if measured is None:
        return Measured(0.0, {OUTDOOR_SOURCE: OUTDOOR_SHARE} if damper else {})
    if not damper:
        return measured
    weight = OUTDOOR_SHARE**2 / (OUTDOOR_SHARE**2 + measured.plus_minus**2)
    return weighted_sum([(weight, measured), (1 - weight, USUAL_TAKEN)])


def _remark(outside: tuple[str, ...], ordinary_shr: bool, fan: Measured | None) -> Sentence | None:
    if outside:
        return Sentence.of(f"Outside what the model knows ({', '.join(outside)}): no verdict comes from it.")
    if ordinary_shr:
        return Sentence.of("With an ordinary rated sensible heat ratio, 0.76: the nameplate says none.")
    if fan:
        return Sentence.of("With the blower's heat, {fan}, taken off the split.", fan=(fan.value, "electric_power"))
    return None


def _against_target(context: Context, fields: Mapping[str, Measured], *, within: bool, nominal: bool) -> None:
    """How far split, cooling and sensible heat ratio lie from their targets."""
    context.note("design_residual", fields["design_residual"])
    if within:
        context.note("split_residual", fields["residual"])
    total, shr = context.number("total"), context.number("shr_any")
    if total is not None and shr is not None and not nominal:
        inputs = {"measured": total, "expected": fields["design_total"]}
        share = propagate(lambda measured, expected: {"share": measured / expected}, inputs)["share"]
        context.note("capacity_share", share)
        context.note("shr_residual", shr - fields["shr"])


def _targets(context: Context) -> tuple[SplitTarget, ...]:
    """Band, humidity target and the unit's own target side by side: what each says of this split, and why one is the default."""
    measured = context.number("split")
    if measured is None or context.mode != "cooling" or context.lower_stage:
        return ()
    return_ = context.air("return")
    by_band = judge_split(measured, return_.properties.get("relative_humidity") if return_ else None)
    own, residual = context.number("target_split"), context.number("split_residual")
    middle = sum(FIXED_BAND_K) / 2
    band = Quantity(middle, FIXED_BAND_K[1] - middle, _KIND)
    mark = judge_split_by_target(measured, own, residual).mark if own and residual else "not_measured"
    return (
        SplitTarget("band", *TARGETS["band"], band, by_band.mark, own is None),
        _by_humidity(measured, return_),
        SplitTarget("own", *TARGETS["own"], quantity(own, _KIND) if own else None, mark, own is not None),
    )


def _by_humidity(measured: Measured, return_: StationAir | None) -> SplitTarget:
    wet_bulb = return_.properties.get("wet_bulb_c") if return_ else None
    if return_ is None or wet_bulb is None:
        return SplitTarget("humidity", *TARGETS["humidity"], None, "not_measured", False)
    inputs = {"dry_bulb_c": return_.dry_bulb, "wet_bulb_c": wet_bulb}
    try:
        target = propagate(lambda **given: {"target": humidity_target_k(**given)}, inputs)["target"]
    except Refused:
        return SplitTarget("humidity", *TARGETS["humidity"], None, "not_measured", False)
    mark = judge_split_by_humidity(measured, target)
    return SplitTarget("humidity", *TARGETS["humidity"], quantity(target, _KIND), mark, False)


def _four_way(context: Context) -> FourWay | None:
    residual, share = context.number("design_residual"), context.number("capacity_share")
    if residual is None or share is None:
        return None
    return FourWay(
        quantity(residual, _KIND),
        quantity(share, "share"),
        SPLIT_TOLERANCE_K,
        CAPACITY_TOLERANCE_SHARE,
        four_way(residual, share),
    )


def _moisture_sign(context: Context) -> list[Sign]:
    withheld = context.number("latent_withheld")
    if withheld is None and context.number("latent") is None:
        return []
    return context.sign("moisture", "wetter" if withheld is not None and withheld.high < 0 else "drier")


_MOISTURE = {
    "none_seen": Sentence.of("No moisture removal that these instruments can see."),
    "supply_wetter_than_return": Sentence.of("Not shown: supply air is wetter than return air."),
}

_HEATED = Sentence.of("Not shown: the air is being heated, not cooled.")

PART = Part(
    key="cooling",
    name="Cooling",
    work=work,
    calculations=(capacity_formula, expected, judging),
    needs=("airflow", "mixing"),
    page=CoolingPage,
    numbers=(
        Number(key="split", name="Split", kind=_KIND, compared=True, headline=True),
        Number(key="total", name="Total cooling", kind="power", compared=True, headline=True),
        Number(key="sensible", name="Sensible cooling", kind="power", compared=True),
        Number(key="latent", name="Latent cooling", kind="power", compared=True),
        Number(key="shr", name="Sensible heat ratio", kind="ratio", compared=True),
        Number(key="water", name="Water removed", kind="water_rate"),
        Number(key="water_per_day", name="Water removed in a day", kind="water_per_day"),
        Number(key="rated_share", name="Share of the nameplate's rated cooling", kind="share"),
        Number(key="target_split", name="Target split of this unit now", kind=_KIND, optional=True),
        Number(key="target_total", name="Target cooling of this unit now", kind="power", optional=True),
        Number(
            key="capacity_share",
            kind="share",
            followed=Followed(
                name="Cooling against target",
                low=1 - CAPACITY_TOLERANCE_SHARE,
                high=1 + CAPACITY_TOLERANCE_SHARE,
                worse="down",
                says="Less cooling from visit to visit: coil, charge or compressor is failing.",
            ),
        ),
        Number(
            key="split_residual",
            kind=_KIND,
            followed=Followed(
                name="Split less target",
                low=-SPLIT_TOLERANCE_K,
                high=SPLIT_TOLERANCE_K,
                worse="down",
                says="The split falls behind its target: look for charge and for heat leaking in.",
            ),
        ),
        Number(key="design_residual", kind=_KIND),
        Number(key="shr_any", kind="ratio"),
        Number(key="shr_residual", kind="ratio"),
        Number(key="latent_withheld", kind="power"),
    ),
    stations=stations,
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "split": "Cooling of the air",
        "capacity": "Cooling given",
        "total": "Cooling given",
    },
)
