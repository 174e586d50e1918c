"""A ventilator's fresh and extract flow, read directly or by traverse."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.airflow.page import AirflowPage
from fentro_core.airflow.traverses import planes, traverses
from fentro_core.airflow.ways import Way, by_traverse, known, tightest
from fentro_core.base.sentence import Sentence
from fentro_core.phase.context import PartContext, missing
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import NUMBERS, Number
from fentro_core.phase.results import Result
from fentro_core.system.dwelling_ventilator import VentilatorNameplate
from fentro_core.ventilation import dwelling, lockouts, night, port_flow, runtime, spaces

Context = PartContext[VentilatorNameplate]

_SIDES = {"flow_supply": "supply", "flow_extract": "extract"}


def work(context: Context) -> PartResult:
    """Both flows; traverses so far."""
    return PartResult(results=tuple(_flows(context)), page=AirflowPage((), "", tuple(traverses(context))))


def _flows(context: Context) -> Iterator[Result]:
    ducts = {station: duct for station, (_, duct) in planes(context.visit).items()}
    for key, side in _SIDES.items():
        direct = context.readings.average(side, "airflow")
        ways = [Way(key, NUMBERS[key].name, direct, remark=Sentence.of("Read directly."))] if direct else []
        traversed = by_traverse(context.readings, ducts, side)
        best = tightest(known((*ways, *([traversed] if traversed else []))))
        if best:
            yield context.keep(key, best.flow, best.work, best.remark)
        else:
            yield missing(key, [f"Airflow at {context.readings.names[side].lower()}"])


PART = Part(
    key="ventilation",
    name="Ventilation",
    work=work,
    page=AirflowPage,
    calculations=(dwelling, port_flow, runtime, lockouts, spaces, night),
    numbers=(
        Number(key="flow_supply", name="Fresh-air flow", kind="airflow", compared=True, optional=True),
        Number(key="flow_extract", name="Extract flow", kind="airflow", compared=True, optional=True),
    ),
)
