"""The zones: what they say among the verdicts. Their pages come by `zoning.page`."""

from __future__ import annotations

from fentro_core.airflow.ways import Airflow
from fentro_core.base.sentence import Sentence
from fentro_core.ducts.walked import tree_of
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Course, Part, PartResult
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.zones import ZoneHardware
from fentro_core.zoning import bypass, wiring
from fentro_core.zoning.page import zoning_page
from fentro_core.zoning.proof.plan import Proof, plan
from fentro_core.zoning.proof.step import ZoneTestSeen

MOST_AT_ONCE = 60 * 64
"""Branches times combinations: more is worked out on the page alone."""

Context = PartContext[CoolingNameplate]


def work(context: Context) -> PartResult:
    """The worst combination, where one is out of limits; a transformer that is too small: on a visit that is about zones."""
    about = any(entry.kind.startswith("zone") for entry in context.visit.others)
    tree = tree_of(context.visit)
    if not about or not tree.zones or len(tree.branches) * 2 ** len(tree.zones) > MOST_AT_ONCE:
        return PartResult()
    page = zoning_page(context.visit, context.given("airflow", Airflow))
    lines = []
    worst = next((each for each in page.combinations if each.mark == "off"), None)
    if worst:
        words = Sentence(f"{' + '.join(worst.names)} calling: {worst.words.text}", worst.words.numbers)
        lines.append(VerdictLine("zones:worst", "off", words, opens="zones"))
    if page.hardware and page.hardware.transformer_mark == "off":
        lines.append(VerdictLine("zones:transformer", "off", page.hardware.transformer_words, opens="hardware"))
    if page.proof and page.proof.done:
        lines.append(VerdictLine("zones:proof", page.proof.mark, page.proof.words, opens="zone_proof"))
    bad = any(line.mark == "off" for line in lines)
    return PartResult(details=tuple(lines), mark="off" if bad else None, speaks=bad)


def course(visit: VisitContext) -> Course:
    """Once the proof was begun, the tests that are left."""
    done = {body.test for _, body in visit.entries_of(ZoneTestSeen) if body.ended == "done"}
    if not done:
        return Course("prove")
    tree = tree_of(visit)
    given = tree.board or ZoneHardware()
    tests = plan(tree, Proof(given.school == "bypass", given.supply_v))
    return Course("prove", tuple(test.title for test in tests if test.key not in done), begun=True)


PART = Part(
    key="zoning",
    name="Zones",
    work=work,
    course=course,
    needs=("airflow",),
    calculations=(bypass, wiring),
)
