"""The economizer: what its functional tests and alarms say, and what is left to prove. Its pages come by `economizer.page`."""

from __future__ import annotations

from fentro_core.economizer import changeover, minimum_position, mode_map, relief, retrofit, sensor_identity, sensors
from fentro_core.economizer.entries import TestSeen
from fentro_core.economizer.page import planned_tests
from fentro_core.economizer.suits import unsuited
from fentro_core.economizer.verdicts import left_to_prove, verdicts
from fentro_core.economizer.visit_settings import running
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Course, Part, PartResult
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.packaged_rooftop import RooftopNameplate


def applies(nameplate: Nameplate) -> bool:
    """Where the nameplate says so."""
    return nameplate.has_economizer


def work(context: PartContext[RooftopNameplate]) -> PartResult:
    """One line for the tests of a phase, one for every alarm, one for what of its changeover does not suit the climate."""
    setting = running(context.visit, context.phase)
    found = unsuited(setting, context.visit.snapshot.site.climate_zone) if setting else ()
    lines = [VerdictLine("changeover", each.mark, each.words, opens="plan") for each in found]
    return PartResult(details=(*verdicts(context.visit.others, context.phase), *lines), speaks=True)


def course(visit: VisitContext) -> Course:
    """Once functional testing has begun, the whole plan is to be seen."""
    if not visit.entries_of(TestSeen):
        return Course("prove")
    return Course("prove", tuple(left_to_prove(visit.others, planned_tests(visit))), begun=True)


PART = Part(
    key="economizer",
    name="Economizer",
    work=work,
    calculations=(changeover, minimum_position, mode_map, relief, retrofit, sensor_identity, sensors),
    applies=applies,
    course=course,
    subjects={
        "proof": "Cooling with outdoor air: tests",
        "alarm": "Alarms of the unit",
        "changeover": "When outdoor air may cool",
    },
)
