"""The functional tests of a visit, whichever part they belong to: every proof shows tests with a title, words and a mark."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import fields
from typing import Any

from fentro_core.base.sentence import Sentence
from fentro_core.economizer.results import EconomizerPage
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.parts import PARTS, parts_of
from fentro_core.report.content import ReportTest
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.zones import zones_of


def tests_of(snapshot: Snapshot, phases: Sequence[PhaseResult], economizer: EconomizerPage | None) -> tuple[ReportTest, ...]:
    """Every test that was seen, part by part."""
    here = {part.key for part in parts_of(snapshot.system.kind, snapshot.system.nameplate)}
    names = {part.key: part.name for part in PARTS}
    found: list[ReportTest] = []
    if economizer:
        found += _of_economizer(names["economizer"], economizer)
    if "zoning" in here:
        proof = zones_of(snapshot).proof
        found += _of_proof(names["zoning"], proof) if proof else ()
    pages = phases[-1].pages
    for each in fields(pages):
        proof = getattr(getattr(pages, each.name), "proof", None)
        if proof is not None:
            found += _of_proof(names[each.name], proof)
    return tuple(found)


def _of_economizer(part: str, page: EconomizerPage) -> Iterator[ReportTest]:
    for line in (*page.tests, *page.loops):
        for phase, seen in (("as_found", line.as_found), ("as_left", line.as_left)):
            if seen:
                yield ReportTest(part, phase, line.step.title, Sentence(line.step.purpose), seen.sentence, seen.mark)


def _of_proof(part: str, proof: Any) -> Iterator[ReportTest]:
    """Tests that were seen: those whose line names its entry."""
    for line in proof.tests:
        if line.entry:
            yield ReportTest(part, "", line.title, line.do, line.words, line.mark)
