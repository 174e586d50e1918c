"""The verdict rail: gravest first, advice that fits the source of doubt, nothing hardened by an early reading."""

import pytest

from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import VerdictLine
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import across, air, entry, flow, reading, snapshot, started

RANK = {"off": 0, "too_close": 1, "watch": 2, "holds": 3, "not_measured": 4, None: 5}


def phase(entries: list, *words: object, **more: object) -> PhaseResult:
    return work_up(read_snapshot(snapshot(entries, *words, **more))).phases[0]


def split_line(entries: list) -> VerdictLine:
    return next(line for line in phase(entries).verdicts if line.key == "split")


@pytest.mark.parametrize(
    "entries",
    [
        air("return", 25, 50),
        [*air("return", 25, 50), *air("return", 28, 45, point=2), *air("supply", 14, 85), flow(1.8)],
        [*air("return", 25, 40), *air("supply", 19, 98)],
        [reading("return", "dry_bulb", 20, "degC"), reading("return", "wet_bulb", 23, "degC"), *air("supply", 13, 90)],
    ],
)
def test_the_gravest_comes_first(entries: list) -> None:
    ranks = [RANK[line.mark] for line in phase(entries).verdicts if line.key not in ("finding", "odd")]
    assert ranks == sorted(ranks)
    assert ranks


def test_two_probes_are_told_to_be_matched() -> None:
    line = split_line([*across("return", 24.2, 52, 24), *across("supply", 15.2, 82, 24, instrument="B")])
    assert line.mark == "too_close"
    assert any("Match the probes" in note.say() for note in line.notes)


def test_a_spread_is_told_to_read_more_points() -> None:
    line = split_line([*air("return", 23.5, 52), *air("return", 25.4, 47, point=2), *air("supply", 15.2, 82)])
    assert line.mark == "too_close"
    assert any("more points" in note.say() for note in line.notes)


def test_a_lone_reading_without_instrument_is_told_to_read_again() -> None:
    bare = [
        reading(station, "dry_bulb", value, "degC", instrument=None, point=point)
        for station, value in (("return", 24.2), ("supply", 15.2))
        for point in range(1, 9)
    ]
    line = split_line(bare)
    assert line.mark == "too_close"
    assert any("points" in note.say() for note in line.notes)


def test_one_point_of_a_duct_is_told_to_read_more() -> None:
    line = split_line([*air("return", 24.2, 52), *air("supply", 15.2, 82)])
    assert line.mark == "too_close"
    assert any("one point of its layers" in note.say() and "more points" in note.say() for note in line.notes)


def test_what_would_settle_it_is_in_the_users_units() -> None:
    line = split_line([*air("return", 25.0, 52), *air("supply", 15.8, 82, instrument="B")])
    note = next(note for note in line.notes if "decides" in note.text or "doubt" in note.text)
    assert "K" in note.say("SI") or "%" in note.say("SI")
    assert "{" not in note.say("US")


def test_an_early_reading_is_marked_whatever_it_says() -> None:
    for supply in (9.0, 14.0, 19.0):
        line = split_line([started(), *air("return", 25, 50, minute=3), *air("supply", supply, 85, minute=4)])
        assert line.early
    late = split_line([started(), *air("return", 25, 50, minute=12), *air("supply", 14, 85, minute=13)])
    assert not late.early


def test_a_unit_that_stopped_is_not_running() -> None:
    stopped = entry("run", {"event": "stopped"}, 15)
    found = work_up(read_snapshot(snapshot([started(), stopped])))
    assert found.running_since is None
    assert "Note when the unit started" in next(step for step in found.route if step.id == "settle").left


def test_sentences_never_show_a_place_left_open() -> None:
    for entries in (air("return", 25, 50), [*air("return", 25, 70), *air("supply", 18, 95), flow(1.7)]):
        for line in phase(entries).verdicts:
            for system in ("SI", "US"):
                assert "{" not in line.sentence.say(system)
                assert all("{" not in note.say(system) for note in line.notes)


def test_a_ventilator_has_air_but_no_cooling_verdict() -> None:
    found = phase([*air("outdoor", 29, 41), *air("supply", 25, 50)], "dwelling_ventilator", heat_recovery=True)
    assert {result.key for result in found.results} == {"flow_supply", "flow_extract"}
    assert all(result.quantity is None for result in found.results)
    assert found.verdicts == ()
    assert {station.station for station in found.stations if station.dry_bulb} == {"outdoor", "supply"}


def test_an_outdoor_share_unsure_by_its_layers_asks_for_points_not_for_another_day() -> None:
    def said(*read: dict) -> str:
        entries = [*air("outdoor", 13.2, 70), *read]
        found = phase(entries, "packaged_rooftop", economizer=True)
        return next(line.sentence.say() for line in found.verdicts if line.key == "outdoor_share")

    assert "at several points" in said(*air("return", 24.4, 60), *air("mixed", 22.0, 62))
    assert "of the mixed air" in said(*across("return", 24.4, 60), *across("mixed", 22.0, 62))
    alike = said(*across("return", 15.0, 60, 24), *across("mixed", 14.0, 62, 24, instrument="B"))
    assert "too much alike" in alike
