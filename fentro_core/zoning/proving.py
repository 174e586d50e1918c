"""The proof of a visit's zones as its page shows it."""

from __future__ import annotations

from collections.abc import Sequence

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.logbook.entry import Entry
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import ZoneHardware
from fentro_core.zoning.combinations import Combination
from fentro_core.zoning.proof.diagnosis import Suspect, ZoneDiagnosis, diagnose
from fentro_core.zoning.proof.judging import Limits, indicator_due, verdict
from fentro_core.zoning.proof.plan import Proof, plan
from fentro_core.zoning.proof.step import ZoneTest, ZoneTestSeen
from fentro_core.zoning.results import RoomDue, ZoneDue, ZoneProof, ZoneSuspect, ZoneTestLine


def proof_of(
    visit: VisitContext,
    tree: DuctTree,
    given: ZoneHardware,
    limits: Limits,
    combinations: Sequence[Combination] = (),
) -> ZoneProof | None:
    """Tests, verdicts and suspects; None while no zone has a room."""
    wanted = Proof(given.school == "bypass", given.supply_v)
    tests = plan(tree, wanted, combinations)
    if not tests:
        return None
    runs = visit.entries_of(ZoneTestSeen)
    last = {body.test: (entry.id, body) for entry, body in runs}
    found = _diagnosed(tree, tests, runs, wanted, limits.most_static_pa)
    lines = tuple(_line(tree, test, last.get(test.key), limits, test.key in found.again) for test in tests)
    mark, words = _together(tree, lines, found)
    suspects = tuple(
        ZoneSuspect(_named(tree, each), each.fault.do, each.fault.who, Quantity(each.sure, 0.0, "share"))
        for each in found.suspects
    )
    wrong = any(line.mark == "off" for line in lines)
    return ZoneProof(lines, mark, words, suspects if wrong else (), sum(1 for line in lines if line.seen))


_known: dict[tuple[object, ...], ZoneDiagnosis] = {}
MOST_KNOWN = 16


def _diagnosed(
    tree: DuctTree,
    tests: tuple[ZoneTest, ...],
    runs: Sequence[tuple[Entry, ZoneTestSeen]],
    wanted: Proof,
    most_static_pa: float | None,
) -> ZoneDiagnosis:
    """Weighed once for the same looks at the same ducts; entries never change."""
    key = (tree, tuple(entry.id for entry, _ in runs), wanted, most_static_pa, tuple(test.faint for test in tests))
    if key not in _known:
        if len(_known) >= MOST_KNOWN:
            _known.pop(next(iter(_known)))
        _known[key] = diagnose(tree, {test.key: test for test in tests}, [body for _, body in runs], wanted, most_static_pa)
    return _known[key]


def _line(tree: DuctTree, test: ZoneTest, last: tuple[str, ZoneTestSeen] | None, limits: Limits, again: bool) -> ZoneTestLine:
    zone_of = {room: zone.id for zone in tree.zones for room in zone.rooms}
    rooms = tuple(
        RoomDue(branch.id, branch.called, zone_of.get(branch.id, ""), test.rooms[branch.id], branch.id in test.faint)
        for branch in tree.branches
        if branch.id in test.rooms
    )
    if test.kind == "hold":
        rooms = tuple(
            RoomDue(branch.id, branch.called, test.zone, "shut")
            for branch in tree.branches
            if zone_of.get(branch.id) == test.zone
        )
    zones = tuple(
        ZoneDue(zone.id, zone.name, zone.id in test.calling, indicator_due(test, zone)) for zone in tree.zones if zone.rooms
    )
    mark: Mark = "not_measured"
    words = Sentence.of("Not done yet.")
    if last:
        mark, words = verdict(tree, test, last[1], limits)
    entry, seen = last or ("", None)
    return ZoneTestLine(
        test.key, test.kind, test.title, test.do, test.asks, rooms, zones, mark, words, test.zone, seen, entry, again
    )


def _named(tree: DuctTree, suspect: Suspect) -> str:
    names = {zone.id: zone.name for zone in tree.zones} | {branch.id: branch.called for branch in tree.branches}
    return suspect.fault.name.replace("{at}", " and ".join(names.get(each, each) for each in suspect.at))


def _together(tree: DuctTree, lines: tuple[ZoneTestLine, ...], found: ZoneDiagnosis) -> tuple[Mark, Sentence]:
    """What all tests say: a fault only where it is sure, proved only where every test holds."""
    done = sum(1 for line in lines if line.seen)
    if not done:
        return "not_measured", Sentence.of("Nothing is proved yet.")
    bad = [line for line in lines if line.mark == "off"]
    if bad and found.found:
        return "off", Sentence.of(f"{_named(tree, found.found)}.")
    if bad and any(line.again for line in bad):
        title = next(line.title for line in bad if line.again)
        return "too_close", Sentence.of(f"One look does not fit the others. Repeat: {title}.")
    if bad:
        return "off", Sentence.of("Not as it should be, and more than one cause fits. Look at the likeliest first.")
    left = [line.title for line in lines if line.mark == "not_measured"]
    if left:
        return "not_measured", Sentence.of(f"Good so far. Next: {left[0]}.")
    if any(line.mark in ("watch", "too_close") for line in lines):
        return "watch", Sentence.of("Every zone moves as it should; some rooms get little air.")
    return "holds", Sentence.of("Every zone is proved: right dampers move, the others stay shut, the indicators agree.")
