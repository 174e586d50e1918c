"""The zones: what they say among the verdicts. Their pages come by `zoning.page`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.signs import CLEAR_FROM, Sign, state_of
from fentro_core.ducts.walked import season_of, tree_of
from fentro_core.instruments.instrument import assumed_width
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Course, Part, PartResult
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.zones import ZoneHardware
from fentro_core.zoning import bypass, wiring
from fentro_core.zoning.causes import CAUSES
from fentro_core.zoning.page import supply_limit, zoning_page
from fentro_core.zoning.proof.plan import Proof, plan
from fentro_core.zoning.proof.step import ZoneTestSeen
from fentro_core.zoning.results import ZoningPage
from fentro_core.zoning.symptoms import SYMPTOMS

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
    signs = (*_worst_signs(context, page), *_smallest_signs(context, page))
    return PartResult(details=tuple(lines), symptoms=signs, mark="off" if bad else None, speaks=bad)


def _worst_signs(context: Context, page: ZoningPage) -> Iterator[Sign]:
    """The worst combination against its limits. With a bypass only what is read at the smallest zone can tell."""
    if not page.combinations or (page.given and page.given.school == "bypass"):
        return
    worst = page.combinations[0]
    for sign in context.sign("zones_worst", "over" if worst.mark == "off" else "right"):
        words = Sentence(f"{' + '.join(worst.names)} calling: {worst.words.text}", worst.words.numbers)
        yield replace(sign, words=words, place=" + ".join(worst.names)) if sign.state == "over" else sign


def _smallest_signs(context: Context, page: ZoningPage) -> Iterator[Sign]:
    """Static and supply air as they were noted last with the smallest zone calling."""
    tested = next((line for line in page.proof.tests if line.kind == "bypass" and line.seen), None) if page.proof else None
    if tested is None or tested.seen is None or tested.seen.ended != "done":
        return
    place = next((line.zone.name for line in page.zones if line.zone.id == tested.zone), "")
    static, supply = tested.seen.static_pa, tested.seen.supply_c
    most = context.nameplate.max_external_static_pa
    if static is not None:
        noted = context.note("zone_static", Measured(static, {"zone_test": assumed_width("static_pressure", static)}))
        if most is not None:
            yield from (replace(sign, place=place) for sign in context.judge("zone_static", noted, None, most))
    if supply is not None:
        season = season_of(context.visit)
        limit = supply_limit(page.given or ZoneHardware(), season)
        margin = supply - limit if season == "cooling" else limit - supply
        noted = context.note("zone_supply_margin", Measured(margin, {"zone_test": assumed_width("dry_bulb", supply)}))
        words = Sentence.of(
            "Supply air at {supply}, its limit is {limit}.", supply=(supply, "temperature"), limit=(limit, "temperature")
        )
        state, sure = state_of(noted, 0.0, None)
        if sure >= CLEAR_FROM:
            for sign in context.sign("zone_supply", "past" if state == "low" else "right"):
                yield replace(sign, words=words, place=place)


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
    numbers=(
        Number(
            key="zone_static",
            kind="pressure",
            followed=Followed(
                name="Static with the smallest zone",
                worse="up",
                says="More static with the smallest zone: filter, coil, a damper that no longer opens, or a bypass that sticks.",
            ),
        ),
        Number(
            key="zone_supply_margin",
            kind="temperature_difference",
            followed=Followed(
                name="Supply air from its limit, smallest zone",
                worse="down",
                low=0.0,
                says="The supply comes nearer to its limit: less air over the coil, or more of it goes round.",
            ),
        ),
    ),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "zones": "Zones",
        "zones:transformer": "Power supply of the zone controls",
        "zones:proof": "Zones: tests",
    },
)
