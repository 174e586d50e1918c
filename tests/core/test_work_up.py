"""A visit worked out: from entries to results, verdicts, ribbon, route."""

import copy
from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.visit import phase_work
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.work_up import work_up
from tests.core.bodies import BODIES, of_kind
from tests.core.visits import across, air, entry, flow, reading, snapshot, started

COOLING = [*air("return", 24.6, 58), *air("supply", 13.8, 91), flow(1.80)]


def worked(entries: list, *words: Any, **more: Any) -> WorkUp:
    return work_up(read_snapshot(snapshot(entries, *words, **more)))


def result(phase: PhaseResult, key: str) -> Result:
    return next(each for each in phase.results if each.key == key)


def line(phase: PhaseResult, key: str) -> VerdictLine:
    return next(each for each in phase.verdicts if each.key == key)


def test_a_cooling_check_from_end_to_end() -> None:
    found = worked([started(), *COOLING]).phases[0]
    assert result(found, "split").quantity.value == pytest.approx(10.8)
    assert result(found, "total").quantity.value == pytest.approx(35367, rel=0.005)
    assert result(found, "latent").quantity.value == pytest.approx(12199, rel=0.006)
    assert line(found, "split").mark == "holds"
    assert not line(found, "split").early
    assert result(found, "total").lines


def test_the_site_s_height_counts() -> None:
    low, high = (worked(COOLING, elevation_m=height).phases[0] for height in (0.0, 1655.0))
    assert result(high, "sensible").quantity.value == pytest.approx(0.815 * result(low, "sensible").quantity.value, rel=0.01)


def test_a_barometer_goes_before_the_elevation() -> None:
    given = snapshot(COOLING, elevation_m=1655.0)
    given["site"]["barometer_pa"] = 101325.0
    assert result(work_up(read_snapshot(given)).phases[0], "total").quantity.value == pytest.approx(35367, rel=0.005)


def test_one_probe_for_both_makes_the_split_surer_than_two() -> None:
    one = worked([*across("return", 24.6, 58), *across("supply", 13.8, 91)]).phases[0]
    two = worked([*across("return", 24.6, 58), *across("supply", 13.8, 91, instrument="B")]).phases[0]
    assert result(one, "split").quantity.plus_minus ** 2 < result(two, "split").quantity.plus_minus ** 2 - 0.17


def test_contributions_are_named_and_add_up() -> None:
    contributions = result(worked(COOLING).phases[0], "total").contributions
    assert sum(each.share for each in contributions) == pytest.approx(1, abs=0.03)
    assert all("instrument:" not in each.label and "reading:" not in each.label for each in contributions)


def test_without_a_measured_flow_the_nominal_is_used_and_marked() -> None:
    found = worked(COOLING[:-1]).phases[0]
    flow_used = result(found, "airflow")
    assert flow_used.nominal
    assert flow_used.quantity.plus_minus == pytest.approx(0.25 * flow_used.quantity.value)
    assert any("nominal" in note.say() for note in line(found, "capacity").notes)
    plate = worked(COOLING[:-1], rated_airflow_m3s=1.5).phases[0]
    assert result(plate, "airflow").quantity.value == 1.5


def test_what_is_missing_is_said() -> None:
    found = worked(air("return", 24.6, 58)).phases[0]
    assert "supply" in line(found, "split").sentence.say().lower()
    assert line(found, "total").mark == "not_measured"
    assert result(found, "total").missing == ("Supply dry bulb", "Supply humidity")


def test_a_split_taken_too_early_is_marked() -> None:
    early = worked([started(), *air("return", 24.6, 58, minute=4), *air("supply", 13.8, 91, minute=5)]).phases[0]
    assert line(early, "split").early
    assert "ten minutes" in line(early, "split").notes[-1].say()
    unknown = worked(COOLING).phases[0]
    assert "Nobody noted" in line(unknown, "split").notes[-1].say()


def test_wetter_supply_air_is_a_finding_not_a_capacity() -> None:
    found = worked([*air("return", 25.0, 40), *air("supply", 16.0, 97)]).phases[0]
    assert result(found, "latent").quantity is None
    assert result(found, "water").quantity is None
    assert line(found, "moisture").mark == "off"
    assert result(found, "sensible").quantity is not None


def test_a_dry_coil_is_told_without_a_negative_number() -> None:
    found = worked([*air("return", 25.0, 40), *air("supply", 14.0, 81)]).phases[0]
    assert result(found, "latent").quantity is None
    assert line(found, "moisture").mark is None


def test_an_impossible_pair_spoils_its_station_only() -> None:
    wrong = [reading("return", "dry_bulb", 20, "degC"), reading("return", "wet_bulb", 22, "degC")]
    found = worked([*wrong, *air("supply", 13.8, 91)]).phases[0]
    assert line(found, "trouble:return").mark == "off"
    assert next(each for each in found.stations if each.station == "supply").dry_bulb is not None


def test_points_far_apart_ask_for_more() -> None:
    found = worked([*air("return", 24.0, 50), *air("return", 28.0, 42, point=2), *air("supply", 14.0, 88)]).phases[0]
    assert "more points" in line(found, "spread:return").sentence.say()


def test_a_reading_typed_in_us_units_is_the_same_air() -> None:
    us = [reading("return", "dry_bulb", 76.28, "degF"), reading("return", "wet_bulb", 66.0, "degF")]
    si = [reading("return", "dry_bulb", 24.6, "degC"), reading("return", "wet_bulb", 18.889, "degC")]
    first, second = (worked(each).phases[0].stations[0] for each in (us, si))
    assert first.dry_bulb.value == pytest.approx(second.dry_bulb.value, abs=1e-6)
    assert first.properties["enthalpy_j_per_kg"].value == pytest.approx(second.properties["enthalpy_j_per_kg"].value, abs=5)


def test_a_correction_counts_and_what_it_replaces_does_not() -> None:
    wrong = reading("return", "dry_bulb", 42.6, "degC")
    right = reading("return", "dry_bulb", 24.6, "degC", replaces=wrong["id"], reason="typed wrong")
    back = entry("withdrawal", {}, replaces=right["id"], reason="taken back")
    assert worked([wrong, right]).phases[0].stations[0].dry_bulb.value == pytest.approx(24.6)
    assert worked([wrong, right, back]).phases[0].stations[0].dry_bulb is None


def test_as_found_and_as_left_are_compared_and_a_common_probe_cancels() -> None:
    left = {"phase": "as_left"}
    change = entry("setting", {"what": "Filter", "was": "old", "now": "new"})
    found = worked([*COOLING, change, *air("return", 24.6, 58, **left), *air("supply", 14.8, 89, **left), flow(1.9, **left)])
    compared = {each.key: each for each in found.comparison}
    assert compared["split"].change.value == pytest.approx(-1.0)
    assert compared["split"].real
    assert compared["split"].change.plus_minus < 0.2
    assert not compared["airflow"].real or compared["airflow"].change.value > compared["airflow"].change.plus_minus
    assert [phase.phase for phase in found.phases] == ["as_found", "as_left"]
    prove = next(step for step in found.route if step.id == "prove")
    assert prove.state == "done"


def test_outdoor_share_and_its_usefulness() -> None:
    stations = [*air("return", 24.0, 50), *air("mixed", 19.0, 52)]
    cold = worked([*stations, *air("outdoor", 4.0, 60)], "packaged_rooftop", economizer=True).phases[0]
    assert result(cold, "outdoor_share").quantity.value == pytest.approx(0.25)
    mild = worked(
        [*air("return", 24.0, 50), *air("mixed", 23.5, 50, instrument="B"), *air("outdoor", 22.5, 50)],
        "packaged_rooftop",
        economizer=True,
    )
    assert "can't be told" in line(mild.phases[0], "outdoor_share").sentence.say()
    outside = worked(
        [*air("return", 24.0, 50), *air("mixed", 27.0, 40), *air("outdoor", 4.0, 60)], "packaged_rooftop", economizer=True
    )
    assert line(outside.phases[0], "outdoor_share").mark == "off"


@pytest.mark.parametrize(
    ("kind", "plate", "elements", "joints", "bands"),
    [
        ("packaged_rooftop", {"economizer": True}, {"mixing", "coil"}, ["relief", "outdoor"], 1),
        ("packaged_rooftop", {}, {"coil"}, [], 1),
        ("furnace_with_coil", {"branches": [{"room": "A"}, {"room": "B", "diameter_m": 0.3}]}, {"heat_exchanger", "coil"}, [], 1),
        ("split_heat_pump", {"night_cooling": True}, {"mixing", "coil"}, ["relief", "outdoor"], 1),
        ("dwelling_ventilator", {"heat_recovery": True}, {"core"}, [], 2),
    ],
)
def test_the_ribbon_is_drawn_from_the_system(kind: str, plate: dict, elements: set, joints: list, bands: int) -> None:
    found = worked([], kind, **plate)
    path, ribbon = found.path, found.phases[0].ribbon
    assert len(path.bands) == len(ribbon.bands) == bands
    assert elements <= {element.kind for element in path.bands[0].elements}
    assert [joint.id for joint in path.bands[0].joints] == joints
    assert all(segment.dry_bulb is None for band in ribbon.bands for segment in band.segments)
    assert sum(branch.share for branch in ribbon.branches) == pytest.approx(1 if "branches" in plate else 0)


def test_tint_follows_the_air_and_stays_open_where_nothing_was_read() -> None:
    segments = worked(COOLING, "packaged_rooftop", economizer=True).phases[0].ribbon.bands[0].segments
    known = {segment.element: segment.dry_bulb and round(segment.dry_bulb.value, 1) for segment in segments}
    assert known == {"grille": 24.6, "mixing": None, "filter": None, "coil": 13.8, "blower": 13.8, "registers": 13.8}


def test_the_route_tells_what_is_left() -> None:
    found = worked([entry("check", {"item": "hazards_looked_for"}), *air("return", 24.6, 58)])
    steps = {step.id: step for step in found.route}
    assert found.next_step == "arrive"
    assert steps["arrive"].state == "begun"
    assert steps["measure"].left == ("Supply: dry bulb and humidity",)
    assert steps["prove"].state == "not_needed"
    undone = worked(
        [entry("check", {"item": "hazards_looked_for"}), entry("check", {"item": "hazards_looked_for", "done": False})]
    )
    assert undone.route[0].state == "to_do"


def afresh(given: Any) -> WorkUp:
    """Worked out from nothing."""
    phase_work._worked_out.cache_clear()
    return work_up(read_snapshot(given))


def test_the_same_snapshot_gives_the_same_answer() -> None:
    given = snapshot(COOLING)
    assert afresh(given) == afresh(given)


LEFT = {"phase": "as_left"}
BOTH = [started(), *COOLING, *air("return", 24.6, 58, **LEFT), *air("supply", 13.0, 91, **LEFT)]


def test_a_reading_leaves_the_other_phase_as_it_was() -> None:
    before = worked(BOTH)
    after = worked([*BOTH, *air("supply", 12.0, 93, **LEFT)])
    assert after.phases[0] is before.phases[0]
    assert after.phases[1] != before.phases[1]
    again = worked([*BOTH, *air("supply", 12.0, 93)])
    assert again.phases[0] != before.phases[0]
    assert again.phases[1] is before.phases[1]


@pytest.mark.parametrize("phase", ["as_found", "as_left"])
@pytest.mark.parametrize("kind", BODIES)
def test_after_any_entry_nothing_stale_is_taken_over(kind: str, phase: str) -> None:
    more = of_kind(kind, BODIES[kind])
    worked(BOTH)
    entries = [*BOTH, {**more, "phase": phase}]
    assert worked(entries) == afresh(snapshot(entries))


@pytest.mark.parametrize(
    "change",
    [
        lambda given: given["site"].update(elevation_m=1655.0),
        lambda given: given["site"].update(climate_zone="2B"),
        lambda given: given["system"]["nameplate"].update(rated_total_w=30_000.0),
        lambda given: given["instruments"][0]["accuracy"]["dry_bulb"].update(plus_minus=1.2),
        lambda given: given["entries"][1]["body"].update(value=25.0),
        lambda given: given["entries"][1].update(at="2026-07-01T10:01:00+00:00"),
        lambda given: given["entries"].pop(0),
        lambda given: given["entries"].append(entry("observation", {"item": "better_when_cool", "value": "yes"})),
    ],
)
def test_what_a_phase_stands_on_is_looked_at_and_not_its_name_alone(change: Any) -> None:
    given = snapshot(copy.deepcopy(BOTH))
    before = work_up(read_snapshot(given))
    change(given)
    assert work_up(read_snapshot(given)) == afresh(given)
    assert afresh(given).phases != before.phases


@pytest.mark.parametrize(
    ("spoil", "path"),
    [
        (lambda given: given["site"].update(elevation_m=12000), "site.elevation_m"),
        (lambda given: given["site"].update(climate_zone="9Z"), "site.climate_zone"),
        (lambda given: given["system"].update(kind="toaster"), "system.kind"),
        (lambda given: given["system"]["nameplate"].update(rated_total_w=-1), "system.nameplate.rated_total_w"),
        (lambda given: given["system"]["nameplate"].update(colour="red"), "system.nameplate.colour"),
        (lambda given: given["entries"][0]["body"].update(value="hot"), "entries.0.body.value"),
        (lambda given: given["entries"][0].update(at="yesterday"), "entries.0.at"),
        (lambda given: given["entries"][0].update(at="2026-07-01T10:00:00"), "entries.0.at"),
        (lambda given: given["instruments"][0]["accuracy"].update(smell={"plus_minus": 1}), "instruments.0.accuracy.smell"),
        (lambda given: given.pop("site"), "site"),
        (lambda given: given.update(format="other"), "format"),
    ],
)
def test_a_spoilt_snapshot_is_refused_at_its_field(spoil: Any, path: str) -> None:
    given = snapshot(air("return", 24.6, 58))
    spoil(given)
    with pytest.raises(Refused) as refused:
        work_up(read_snapshot(given))
    assert refused.value.path == path


def test_what_nobody_measured_carries_no_change() -> None:
    """After a tap change the nominal flow is the same figure for another flow: total cooling did not surely stay."""
    left = {"phase": "as_left"}
    tap = entry("setting", {"what": "Blower tap", "was": "low", "now": "high"})
    readings = [*across("return", 24.6, 58), *across("supply", 13.8, 91)]
    again = [*across("return", 24.6, 58, **left), *across("supply", 16.4, 84, **left)]
    compared = {each.key: each for each in worked([*readings, tap, *again]).comparison}
    assert compared["total"].guessed
    assert not compared["total"].real
    assert compared["total"].change.plus_minus > 0.15 * compared["total"].as_left.value
    assert (compared["split"].guessed, compared["split"].real) == (False, True)
    measured = {each.key: each for each in worked([*readings, flow(1.8), tap, *again, flow(2.0, **left)]).comparison}
    assert measured["total"].real
    assert not measured["total"].guessed
    half = {each.key: each for each in worked([*readings, flow(1.8), tap, *again]).comparison}
    assert half["total"].guessed
    assert not half["airflow"].real
