"""The airflow: every way to it, the one in use, and what its size says."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.air.constants import dry_heat_per_m3
from fentro_core.airflow import airflow, external_static, intake, traverse
from fentro_core.airflow import heat_input as heat_input_formulas
from fentro_core.airflow.causes import CAUSES
from fentro_core.airflow.heat_input import heat_input
from fentro_core.airflow.page import AirflowPage
from fentro_core.airflow.symptoms import SYMPTOMS
from fentro_core.airflow.traverses import planes, traverses
from fentro_core.airflow.ways import REGISTERS, Airflow, Way, airflow_of
from fentro_core.base.measured import propagate
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.diagnosis.signs import Sign
from fentro_core.phase.context import PartContext, missing
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.known import Known
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.system.nameplate import CoolingNameplate

AIRFLOW_TOLERANCE_SHARE = 0.15
"""Airflow within ±15 % of the nameplate is as it should be."""

Context = PartContext[CoolingNameplate]


def work(context: Context) -> PartResult:
    """The flow in use, all ways, disagreements."""
    ducts = {station: duct for station, (_, duct) in planes(context.visit).items()}
    found = airflow_of(context, ducts, context.visit.item("fan_tap", context.phase))
    result = _in_use(context, found)
    _registers(context, found)
    ways = tuple(_way_result(context, way) for way in found.ways)
    return PartResult(
        results=(result,),
        page=AirflowPage(ways, found.in_use.key if found.in_use else "", tuple(traverses(context))),
        verdicts=tuple(_disagreements(found)),
        symptoms=(*context.signs_by_number(), *_signs(context, found)),
        gives=found,
    )


def _in_use(context: Context, found: Airflow) -> Result:
    way = found.in_use
    if way is None:
        return missing("airflow", ["Airflow, or the nameplate's rated cooling"])
    rated = found.rated_m3s
    if rated and not way.nominal:
        context.note("airflow_share", propagate(lambda flow: {"share": flow / rated}, {"flow": way.flow})["share"])
    return context.keep("airflow", way.flow, way.work, way.remark, nominal=way.nominal)


def _registers(context: Context, found: Airflow) -> None:
    """The registers' sum against a flow at the unit."""
    registers, unit = found.at_registers, found.apart_from_heat
    if registers and unit and unit.key != REGISTERS:
        inputs = {"sum_": registers.flow, "unit": unit.flow}
        context.note("register_share", propagate(lambda sum_, unit: {"share": sum_ / unit}, inputs)["share"])


def _way_result(context: Context, way: Way) -> Result:
    if way.flow is None:
        return Result(way.key, way.name, None, remark=way.remark, missing=way.missing)
    return context.result(way.key, way.flow, way.work or Working(), way.remark, way.nominal, name=way.name, kind="airflow")


def _disagreements(found: Airflow) -> Iterator[VerdictLine]:
    for first, second in found.disagreements:
        sentence = Sentence.of(
            f"{first.name} gives {{one}}, {second.name.lower()} {{other}}: further apart than both can explain. "
            "One of them is wrong.",
            one=(first.flow.value, "airflow"),
            other=(second.flow.value, "airflow"),
        )
        yield VerdictLine(f"flows:{first.name}:{second.name}", "off", sentence, "airflow")


def _signs(context: Context, found: Airflow) -> list[Sign]:
    way = found.apart_from_heat if context.mode == "heating" else found.measured
    band = _flow_band(context, found)
    if way is None or band is None:
        return []
    signs = context.judge("airflow", way.flow, *band)
    at_unit = [each for each in found.known if not each.nominal and each.key != REGISTERS]
    if len(at_unit) > 1:
        pairs = [pair for pair in found.disagreements if REGISTERS not in {pair[0].key, pair[1].key}]
        signs += context.sign("flows", "apart" if pairs else "agree")
    return signs


def _flow_band(context: Context, found: Airflow) -> tuple[float, float] | None:
    """The flow this unit should have: by the nameplate's rise range while heating, else its rated flow."""
    rise, return_ = context.nameplate.rise_range_k, context.air("return")
    if context.mode == "heating" and rise and return_:
        heat = heat_input(context)
        if isinstance(heat, Known):
            per_kelvin = dry_heat_per_m3(return_.dry_bulb.value, context.pressure_pa)
            return heat.value.value / rise[1] / per_kelvin, heat.value.value / rise[0] / per_kelvin
    rated = found.rated_m3s
    if rated is None:
        return None
    return rated * (1 - AIRFLOW_TOLERANCE_SHARE), rated * (1 + AIRFLOW_TOLERANCE_SHARE)


PART = Part(
    key="airflow",
    name="Airflow",
    work=work,
    calculations=(airflow, external_static, heat_input_formulas, traverse, intake),
    page=AirflowPage,
    numbers=(
        Number(
            key="airflow",
            name="Airflow",
            kind="airflow",
            compared=True,
            headline=True,
            followed=Followed(worse="down", says="Less air from visit to visit: filter, coil, blower, closed registers."),
        ),
        Number(key="airflow_share", kind="share"),
        Number(key="register_share", kind="share"),
    ),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "flows": "Airflow",
    },
)
