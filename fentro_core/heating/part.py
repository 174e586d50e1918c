"""Heating: rise against the nameplate, heat given against what gas, electricity or outdoor air allow."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.airflow.heat_input import heat_input, heater_power
from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured, propagate, weighted_sum
from fentro_core.base.quantity import Quantity, quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.base.working import Working
from fentro_core.diagnosis.people import HEATING
from fentro_core.diagnosis.signs import Sign
from fentro_core.heating import heat
from fentro_core.heating.causes import CAUSES
from fentro_core.heating.heat import (
    CARBON_MONOXIDE,
    HEAT_TOLERANCE_SHARE,
    WHO_MAY,
    electric_rise,
    heat_output,
    heat_pump_expected,
    judge_rise,
    rise,
)
from fentro_core.heating.page import HeatingPage, WhoMay
from fentro_core.heating.stations import stations
from fentro_core.heating.symptoms import SYMPTOMS
from fentro_core.instruments.station_air import StationAir
from fentro_core.logbook.steps import Caution
from fentro_core.phase.context import PartContext, missing, said
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.known import Known, Missing
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import gravest, softened
from fentro_core.system.nameplate import MODEL_SOURCE, CoolingNameplate

Context = PartContext[CoolingNameplate]

_KIND = "temperature_difference"
LEAST_ELECTRIC_W = 500.0
"""An electric heater that draws less is off."""

TARGET_KEYS = ("target_heat", "target_rise")

MODEL_SHARE = 0.07
"""95 % half-width of the heat pump's model itself, as a share. Ours; measured on machines of other curves."""


def work(context: Context) -> PartResult:
    """Everything of heating while the unit heats; the page always, on a system that can."""
    results: tuple[Result, ...] = ()
    if context.mode == HEATING:
        results = tuple(_results(context, context.given("airflow", Airflow) or Airflow()))
    page = _page(context)
    return PartResult(
        results=results,
        page=page,
        mark=gravest([page.mark]) if page else None,
        details=tuple(_verdicts(context)),
        symptoms=(*context.signs_by_number(), *_signs(context)),
    )


def _results(context: Context, airflow: Airflow) -> Iterator[Result]:
    """Rise, airflow, heat given and heat expected, in the order they are shown."""
    return_, supply = context.air("return"), context.air("supply")
    in_use = context.result_of("airflow", "airflow")
    if return_ is None or supply is None:
        yield missing("rise", ["Return and supply dry bulb"])
        yield from (in_use,) if in_use else ()
        return
    working = Working()
    rise(return_.dry_bulb.value, supply.dry_bulb.value, working)
    allowed = context.nameplate.rise_range_k
    remark = None
    if allowed:
        remark = Sentence.of("The nameplate allows {low} to {high}.", low=(allowed[0], _KIND), high=(allowed[1], _KIND))
    yield context.keep("rise", supply.dry_bulb - return_.dry_bulb, working, remark)
    yield from (in_use,) if in_use else ()
    context.note("outlet", supply.dry_bulb)
    _note_heater(context)
    given = _given(context, airflow, return_, supply)
    expected = _expected(context, airflow, return_)
    yield given
    yield from expected
    heat_total, target = context.number("heat_total"), context.number("target_heat")
    if heat_total and target:
        inputs = {"heat": heat_total, "target": target}
        context.note("heat_share", propagate(lambda heat, target: {"share": heat / target}, inputs)["share"])


def _note_heater(context: Context) -> None:
    """What the electric heater draws of its nameplate's watts, where it is called."""
    read, rated = heater_power(context.readings), context.nameplate.electric_heater_w
    if isinstance(read, Known) and rated and context.auxiliary in ("on", "alone"):
        context.note("heater_share", weighted_sum([(1 / rated, read.value)]))


def _given(context: Context, airflow: Airflow, return_: StationAir, supply: StationAir) -> Result:
    """Heat by a flow that was not itself worked out from heat."""
    flow = airflow.apart_from_heat
    if flow is None:
        return missing("heat_total", ["Airflow by hood, traverse, fan table or drop"])
    inputs = {
        "airflow_m3s": flow.flow,
        "return_dry_bulb_c": return_.dry_bulb,
        "supply_dry_bulb_c": supply.dry_bulb,
        "humidity_ratio": return_.humidity_ratio or Measured(0.0),
    }

    def worked(work: Working, **given: float) -> float:
        dry = {**given, "humidity_ratio": max(given["humidity_ratio"], 0.0)}
        return heat_output(**dry, pressure_pa=context.pressure_pa, work=work)

    working, silent = Working(), Working(silent=True)
    worked(working, **{name: each.value for name, each in inputs.items()})
    return context.keep("heat_total", propagate(lambda **given: {"heat": worked(silent, **given)}, inputs)["heat"], working)


def _expected(context: Context, airflow: Airflow, return_: StationAir) -> list[Result]:
    """Heat by the nameplate's fire, by the heater's watts, or by the outdoor air."""
    source = heat_input(context)
    if context.nameplate.burns_gas:
        if isinstance(source, Missing):
            return [missing("target_heat", source.what)]
        return [context.keep("target_heat", source.value, source.work, source.remark)]
    if not isinstance(source, Missing) and source.value.value > LEAST_ELECTRIC_W:
        kept = context.keep("target_heat", source.value, source.work, source.remark)
        return [kept, _electric_rise(context, airflow, source.value, return_)]
    return _heat_pump(context, airflow, return_) if context.nameplate.is_heat_pump else []


def _electric_rise(context: Context, airflow: Airflow, heat_w: Measured, return_: StationAir) -> Result:
    flow = airflow.apart_from_heat or airflow.in_use
    if flow is None:
        return missing("target_rise", ["Airflow"])
    inputs = {"heat": heat_w, "flow": flow.flow, "t_r": return_.dry_bulb}
    working = Working()
    pressure = context.pressure_pa
    electric_rise(heat_w.value, flow.flow.value, return_.dry_bulb.value, 0.0, pressure, working)
    found = propagate(lambda heat, flow, t_r: {"rise": electric_rise(heat, flow, t_r, 0.0, pressure)}, inputs)["rise"]
    return context.keep("target_rise", found, working, Sentence.of("By the heater's watts and the airflow."))


def _heat_pump(context: Context, airflow: Airflow, return_: StationAir) -> list[Result]:
    rated, rated_flow = context.nameplate.rated_pump_heat_w, airflow.rated_m3s
    outdoor, flow = context.air("outdoor"), airflow.in_use
    if not rated or not rated_flow:
        return [missing(key, ["The nameplate's rated heating"]) for key in TARGET_KEYS]
    if outdoor is None or flow is None:
        return [missing(key, ["Outdoor dry bulb"]) for key in TARGET_KEYS]
    heater = _heater_beside(context)
    if isinstance(heater, Missing):
        return [missing(key, heater.what) for key in TARGET_KEYS]
    inputs = {"t_r": return_.dry_bulb, "t_o": outdoor.dry_bulb, "flow": flow.flow, "heater": heater}
    working = Working()
    pressure = context.pressure_pa

    def worked(t_r: float, t_o: float, flow: float, heater: float, own: float) -> dict[str, float]:
        now = heat_pump_expected(t_r, t_o, flow, rated, rated_flow, pressure)
        heat_w = own * now.heat_w + heater
        return {"heat": heat_w, "rise": electric_rise(heat_w, flow, t_r, 0.0, pressure)}

    try:
        central = heat_pump_expected(
            return_.dry_bulb.value, outdoor.dry_bulb.value, flow.flow.value, rated, rated_flow, pressure, working
        )
        fields = propagate(worked, {**inputs, "own": Measured(1.0, {MODEL_SOURCE: MODEL_SHARE})})
    except Refused as refusal:
        return [said(key, refusal.sentence) for key in TARGET_KEYS]
    if central.outside:
        words = f"Outside what the model knows ({', '.join(central.outside)}): no verdict comes from it."
        remark = Sentence.of(words)
        return [
            context.result("target_heat", fields["heat"], working, remark),
            context.result("target_rise", fields["rise"], working, remark),
        ]
    remark = Sentence.of("The compressor's heat alone, not while it defrosts and without the electric heater.")
    if context.heater_beside:
        working.step(
            "with the electric heater",
            "Q",
            "Q_p + Q_h",
            central.heat_w + heater.value,
            "power",
            Q_p=(central.heat_w, "power"),
            Q_h=(heater.value, "power"),
        )
        electric_rise(central.heat_w + heater.value, flow.flow.value, return_.dry_bulb.value, 0.0, pressure, working)
        remark = Sentence.of("The compressor's heat and the electric heater's, not while it defrosts.")
    measured = context.number("rise")
    assert measured is not None
    context.note("rise_residual", measured - fields["rise"])
    return [
        context.keep("target_heat", fields["heat"], working, remark),
        context.keep("target_rise", fields["rise"], working, remark),
    ]


RATED_HEATER_SHARE = 0.05
"""95 % half-width of what a heater draws of its nameplate's watts, for the voltage is not the rated one. Ours."""


def _heater_beside(context: Context) -> Measured | Missing:
    """What the electric heater adds to the compressor's heat [W]: as read, else as the nameplate says; none where it is off."""
    if not context.heater_beside:
        return Measured(0.0)
    read, rated = heater_power(context.readings), context.nameplate.electric_heater_w
    if isinstance(read, Known):
        return read.value
    return Measured(rated, {"heater's nameplate": RATED_HEATER_SHARE * rated}) if rated else read


def _page(context: Context) -> HeatingPage | None:
    """What the heating part of Work out shows; None until the nameplate says something of heating."""
    nameplate = context.nameplate
    if not nameplate.heats:
        return None
    low, high = _range(context)
    now, outlet, most = context.number("rise"), context.number("outlet"), nameplate.most_outlet_c
    mark: Mark = "not_measured"
    if now and low and high:
        mark = softened(judge(now, low.value, high.value).mark, context.early)
    return HeatingPage(
        rise=quantity(now, _KIND) if now else None,
        low=low,
        high=high,
        outlet=quantity(outlet, "temperature") if outlet else None,
        most_outlet=Quantity(most, 0.0, "temperature") if most else None,
        mark=mark,
        who=tuple(WhoMay(*row) for row in WHO_MAY if nameplate.burns_gas or "analyser" not in row[0]),
        carbon_monoxide=CARBON_MONOXIDE if nameplate.burns_gas else "",
    )


def _range(context: Context) -> tuple[Quantity | None, Quantity | None]:
    """Least and most rise: of the nameplate, or around what is to be expected now."""
    low, high = context.nameplate.rise_ends_k
    if low or high:
        return (Quantity(low, 0.0, _KIND) if low else None), (Quantity(high, 0.0, _KIND) if high else None)
    target = context.number("target_rise")
    if target is None or context.number("rise_residual") is None:
        return None, None
    return tuple(  # type: ignore[return-value]
        Quantity(target.value * factor, 0.0, _KIND) for factor in (1 - HEAT_TOLERANCE_SHARE, 1 + HEAT_TOLERANCE_SHARE)
    )


NO_HEAT = (
    "No heat on a cold day: it defrosts, or nobody calls for heat. Ten minutes after it heats again, read again; "
    "if it does not, look at the causes."
)


def _verdicts(context: Context) -> Iterator[VerdictLine]:
    """Rise and outlet against the nameplate, heat against what was to be expected."""
    early = context.early
    notes = (early,) if early else ()
    if context.blows_cold:
        yield VerdictLine("heat", "watch", Sentence.of(NO_HEAT), "heat_total", notes, bool(early), "heating")
    measured, allowed = context.number("rise"), context.nameplate.rise_range_k
    if measured is not None and allowed:
        verdict, words = judge_rise(measured, *allowed)
        yield VerdictLine("rise", softened(verdict.mark, early), words, "rise", notes, bool(early), "heating")
    outlet, most = context.number("outlet"), context.nameplate.most_outlet_c
    if outlet is not None and most:
        verdict = judge(outlet, None, most)
        if verdict.mark in ("off", "too_close"):
            words = Sentence.of(
                "Supply air {outlet}: the nameplate allows at most {most}. Stop, and find the missing air or the extra fire.",
                outlet=(outlet.value, "temperature"),
                most=(most, "temperature"),
            )
            # Early or not: what is too hot already only gets hotter.
            yield VerdictLine("outlet", verdict.mark, words, "rise", notes, opens="heating")
    share = context.number("heat_share")
    if share is not None:
        verdict = judge(share, 1 - HEAT_TOLERANCE_SHARE, 1 + HEAT_TOLERANCE_SHARE)
        words = Sentence.of("Heat given is {share} of what is to be expected now.", share=(share.value, "share"))
        mark = verdict.mark
        more = share.value > 1 and context.nameplate.is_heat_pump and context.number("rise_residual") is not None
        if mark == "off" and more and not context.heater_beside:
            mark = "watch"
            words = Sentence.of(
                "Heat given is {share} of the compressor's: the electric heater is on. "
                "Say so in Settle, or shut it off and read again.",
                share=(share.value, "share"),
            )
        yield VerdictLine("heat", softened(mark, early), words, "heat_total", notes, bool(early), "heating")


def _signs(context: Context) -> list[Sign]:
    """Rise and outlet against the nameplate; without one, the rise against what is to be expected."""
    measured, outlet, nameplate = context.number("rise"), context.number("outlet"), context.nameplate
    if measured is None or outlet is None:
        return []
    signs: list[Sign] = []
    if nameplate.burns_gas:
        if nameplate.rise_range_k:
            signs += context.judge("rise", measured, *nameplate.rise_range_k)
        if nameplate.most_outlet_c:
            signs += context.judge("outlet", outlet, None, nameplate.most_outlet_c, {"right": "under", "high": "over"})
        return signs
    residual, target = context.number("rise_residual"), context.number("target_rise")
    if residual is not None and target is not None:
        tolerance = HEAT_TOLERANCE_SHARE * target.value
        signs += context.judge("rise", residual, -tolerance, tolerance)
    return signs


PART = Part(
    key="heating",
    name="Heating",
    work=work,
    calculations=(heat,),
    needs=("airflow",),
    page=HeatingPage,
    numbers=(
        Number(
            key="heat_share",
            kind="share",
            followed=Followed(
                name="Heat against expected",
                low=1 - HEAT_TOLERANCE_SHARE,
                high=1 + HEAT_TOLERANCE_SHARE,
                worse="down",
                says="Less heat from visit to visit.",
            ),
        ),
        Number(
            key="rise",
            name="Temperature rise",
            kind=_KIND,
            compared=True,
            followed=Followed(worse="up", says="The rise climbs: the air gets less. Filter, coil, blower."),
        ),
        Number(key="outlet", kind="temperature"),
        Number(key="heat_total", name="Heat given to the air", kind="power", compared=True, optional=True),
        Number(key="target_heat", name="Heat expected now", kind="power", optional=True),
        Number(key="target_rise", name="Rise expected now", kind=_KIND, optional=True),
        Number(key="rise_residual", kind=_KIND),
        Number(key="heater_share", kind="share"),
    ),
    stations=stations,
    symptoms=SYMPTOMS,
    causes=CAUSES,
    cautions=(
        Caution(
            "arrive",
            "Gas: carbon monoxide can kill. Combustion is checked by a licensed person with an analyser.",
            ("furnace_with_coil",),
        ),
    ),
    subjects={
        "rise": "Warming of the air",
        "outlet": "Temperature of the air that leaves",
        "heat": "Heat given",
    },
)
