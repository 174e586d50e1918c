"""The economizer of a visit, from its logbook: what may be written down, and what follows from it."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.economizer.configuration import Configuration, configuration_json
from fentro_core.economizer.page import economizer_page, to_decide
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.results import EconomizerPage, SettingLine
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, snapshot


def document(*entries: dict[str, Any], zone: str = "3A", **plate: Any) -> dict[str, Any]:
    found = snapshot(list(entries), "packaged_rooftop", economizer=True, **plate)
    found["site"]["climate_zone"] = zone
    return found


def page(*entries: dict[str, Any], **more: Any) -> EconomizerPage:
    return economizer_page(read_snapshot(document(*entries, **more)))


def setting(key: str, value: float | str, stage: str = "planned", reason: str = "as measured") -> dict[str, Any]:
    said = {"text": value} if isinstance(value, str) else {"number": value}
    return entry("plan_setting", {"setting": key, "stage": stage, "reason": reason, **said})


def line(found: EconomizerPage, key: str) -> SettingLine:
    return next(each for each in found.settings if each.key == key)


def seen(
    test: str, values: dict[str, float], due: list[tuple[str, float | None, float | None]], phase: str = "as_found", **more: Any
) -> dict[str, Any]:
    expected = [{"point": point, "low": low, "high": high} for point, low, high in due]
    body = {"test": test, "how": "watched", "values": values, "expected": expected, **more}
    return entry("test_seen", {"title": f"Test {test}", "seen": body}, phase=phase)


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("plan_setting", {"setting": "colour", "stage": "planned", "text": "red", "reason": "x"}, "body.setting"),
        ("plan_setting", {"setting": "minimum_position", "stage": "planned", "number": 1.4, "reason": "x"}, "body.number"),
        ("plan_setting", {"setting": "minimum_position", "stage": "planned", "number": 0.2}, "body.reason"),
        ("plan_setting", {"setting": "minimum_position", "stage": "as_left"}, "body.number"),
        ("plan_setting", {"setting": "changeover", "stage": "as_left", "text": "by feel"}, "body.text"),
        ("plan_setting", {"setting": "locks_out", "stage": "as_left", "text": "maybe"}, "body.text"),
        ("outdoor_need", {"required_m3s": 2.0, "supply_m3s": 1.0}, "body.required_m3s"),
        ("outdoor_need", {"required_m3s": 2.0, "supply_m3s": 0.0}, "body.supply_m3s"),
        ("damper_read", {"position": 1.2, "return_c": 24, "outdoor_c": 5, "mixed_c": 20}, "body.position"),
        ("damper_read", {"position": 0.2, "return_c": 240, "outdoor_c": 5, "mixed_c": 20}, "body.return_c"),
        ("damper_read", {"position": 0.2, "return_c": 24, "outdoor_c": 5, "mixed_c": 20, "plus_minus_k": 0}, "body.plus_minus_k"),
        ("test_seen", {"title": "x", "seen": {"test": " ", "how": "watched"}}, "body.seen.test"),
        (
            "test_seen",
            {"title": "x", "seen": {"test": "a", "how": "watched", "expected": [{"point": "moon"}]}},
            "body.seen.expected",
        ),
        ("test_seen", {"title": "x", "seen": {"test": "a", "how": "watched", "values": {"fan": 1e9}}}, "body.seen.values"),
        ("point_list", {"lines": []}, "body.lines"),
        ("point_read", {"terminal": "", "shown_c": 1, "reference_c": 1}, "body.terminal"),
        ("point_read", {"terminal": "AI-1", "shown_c": 500, "reference_c": 1}, "body.shown_c"),
        ("configuration", {"document": {}, "reason": " "}, "body.reason"),
        ("configuration", {"document": {"minimum_position": 3}, "reason": "x"}, "body.document.minimum_position"),
        ("alarm", {"alarm": "gremlins"}, "body.alarm"),
        ("alarm_check", {"alarm": "a", "check": 0, "found": ""}, "body.found"),
        ("alarm_check", {"alarm": "a", "check": 0, "found": "x", "resistance_ohm": -4}, "body.resistance_ohm"),
        ("alarm_closed", {"alarm": "a", "cause": ""}, "body.cause"),
        ("intake", {"distances": {"flue_m": -2}}, "body.distances.flue_m"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(kind: str, body: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path


def test_a_system_without_an_economizer_has_no_such_page() -> None:
    with pytest.raises(Refused, match="no economizer"):
        economizer_page(read_snapshot(snapshot([], "packaged_rooftop")))


def test_an_empty_visit_has_a_plan_to_start_from() -> None:
    found = page()
    assert found.method_reason is not None
    assert [method.key for method in found.methods if method.default] == ["fixed_enthalpy"]
    assert [method.key for method in found.methods if not method.allowed] == ["differential_dry_bulb"]
    assert found.tests[0].step.key == "by_hand"
    assert not found.day_known
    assert found.suspects == ()
    assert line(found, "changeover").proposed is not None
    dry = page(zone="5B")
    assert [method.key for method in dry.methods if method.default] == ["fixed_dry_bulb"]
    assert dry.planned.high_limit_c == pytest.approx((75 - 32) / 1.8)


def test_settings_stand_as_found_planned_and_as_left_with_their_reasons() -> None:
    found = page(
        setting("minimum_position", 0.3, "as_found", ""),
        setting("minimum_position", 0.12),
        setting("minimum_position", 0.13),
        setting("minimum_position", 0.13, "as_left", ""),
        setting("locks_out", "yes"),
        setting("stages", 3.0),
    )
    minimum = line(found, "minimum_position")
    assert minimum.as_found is not None
    assert minimum.planned is not None
    assert (minimum.as_found.number.value, minimum.planned.number.value) == (0.3, 0.13)  # type: ignore[union-attr]
    assert minimum.planned.reason == "as measured"
    assert minimum.as_left is not None
    assert (found.as_found.minimum_position, found.planned.minimum_position) == (0.3, 0.13)
    assert found.planned.locks_out is True
    assert found.planned.stages == 3


def test_a_plan_that_fights_itself_says_so_and_has_no_tests() -> None:
    found = page(setting("heating_setpoint_c", 26.0))
    assert found.fights is not None
    assert "below the cooling setpoint" in found.fights.say()
    assert found.tests == ()
    assert found.plan_trouble == found.fights


def test_the_walk_says_where_to_go_next_and_when_it_cannot_tell() -> None:
    read = {"return_c": 24.0, "outdoor_c": 4.0, "plus_minus_k": 0.2}
    need = entry("outdoor_need", {"required_m3s": 0.4, "supply_m3s": 2.0})
    found = page(
        need,
        entry("damper_read", {"position": 0.2, "mixed_c": 17.8, **read}),
        entry("damper_read", {"position": 0.1, "mixed_c": 21.0, **read}),
    )
    assert [each.share.value for each in found.walk.lines if each.share] == pytest.approx([0.31, 0.15])
    assert found.walk.next is not None
    assert found.walk.next.position == pytest.approx(0.1 + 0.1 * (0.20 - 0.15) / (0.31 - 0.15))
    alike = page(need, entry("damper_read", {"position": 0.2, "return_c": 24.0, "outdoor_c": 23.5, "mixed_c": 23.9}))
    assert alike.walk.lines[0].share is None
    assert "nothing can be told" in alike.walk.lines[0].trouble.say()  # type: ignore[union-attr]
    weak = page(need, entry("damper_read", {"position": 0.2, "return_c": 24.0, "outdoor_c": 21.0, "mixed_c": 23.2}))
    assert "no better than" in weak.walk.lines[0].trouble.say()  # type: ignore[union-attr]
    assert page().walk.trouble is not None


def test_the_day_comes_from_the_visits_own_readings() -> None:
    found = page(*air("outdoor", 31.0, 60), *air("return", 25.0, 50))
    assert found.day_known
    assert (found.day.outdoor_c, found.day.return_c) == (31.0, 25.0)
    cool = next(test.step for test in found.tests if test.step.key == "cool")
    assert "too warm" in cool.do.say()


def test_the_day_comes_from_the_probe_beside_the_sensors_where_no_station_was_read() -> None:
    probed = compared("damper shut", AI1=(9.0, 5.0), AI2=(22.4, 22.0))
    assert not page(*probed[:1]).day_known
    found = page(*probed)
    assert found.day_known
    assert (found.day.outdoor_c, found.day.return_c) == (5.0, 22.0), "what the probe shows, not the sensor"
    left = [{**each, "phase": "as_left"} for each in compared("damper shut", AI1=(7.1, 7.0), AI2=(22.1, 22.0))]
    assert page(*probed, *left).day.outdoor_c == 7.0
    assert page(*probed, *air("outdoor", 31.0, 60), *air("return", 25.0, 50)).day.outdoor_c == 31.0


def test_tests_keep_their_last_run_by_phase_and_point_to_a_cause() -> None:
    retreats, stays = [("damper_position", None, 0.1)], [("damper_position", 0.2, None)]
    fine = [seen(key, {"damper_position": 0.0}, [("damper_position", None, 0.05)]) for key in ("closed", "unoccupied", "power")]
    found = page(
        *fine,
        seen("cold_mixed", {"damper_position": 0.0}, retreats),
        seen("cold_mixed", {"damper_position": 1.0}, retreats),
        seen("cold_outdoor", {"damper_position": 0.0}, stays),
        seen("cold_mixed", {"damper_position": 0.0}, retreats, "as_left"),
    )
    tests = {test.step.key: test for test in found.tests}
    assert tests["cold_mixed"].as_found is not None
    assert tests["cold_mixed"].as_left is not None
    assert (tests["cold_mixed"].as_found.mark, tests["cold_mixed"].as_left.mark) == ("off", "holds")
    assert tests["cold_mixed"].as_found.times == 2
    assert tests["cold_outdoor"].as_found.causes[0].key == "low_limit_tied"  # type: ignore[union-attr]
    assert tests["full"].as_found is None


def test_the_rail_and_the_route_say_what_the_tests_left() -> None:
    bad = seen("closed", {"damper_position": 0.4}, [("damper_position", None, 0.05)])
    found = work_up(read_snapshot(document(bad)))
    proof = next(each for each in found.phases[0].verdicts if each.key == "proof")
    assert proof.mark == "off"
    assert proof.opens == "tests"
    prove = next(step for step in found.route if step.id == "prove")
    assert prove.state == "begun"
    assert prove.left[0] == "Test: Test closed"
    assert "tests not seen yet" in prove.left[-1]
    every = [
        seen(step.key, {"fan": 1.0}, [("fan", 0.5, None)]) for step in plan(Configuration(changeover="fixed_enthalpy"), Day())
    ]
    done = next(step for step in work_up(read_snapshot(document(*every))).route if step.id == "prove")
    assert done.left == ()


def test_revisions_are_numbered_and_differ_readably() -> None:
    as_found = configuration_json(Configuration(model="ED-20", loops={"supply_loop": "supply", "low_limit": "outdoor"}))
    mended = {**as_found, "loops": {"supply_loop": "supply", "low_limit": "mixed"}}
    found = page(
        entry("configuration", {"document": as_found, "reason": "As found"}),
        entry("configuration", {"document": mended, "reason": "Low limit read the outdoor air", "source": "loaded"}),
        entry("configuration", {"document": as_found, "reason": "Restored revision 0", "source": "loaded"}),
    )
    assert [revision.number for revision in found.revisions] == [0, 1, 2]
    change = found.revisions[1].changes[0]
    assert (change.name, change.was, change.now) == ("Mixed-air low limit reads", "outdoor air", "mixed air")
    assert found.revisions[2].changes[0].now == "outdoor air"
    assert found.as_found.model == "ED-20"


def compared(condition: str, **shown_and_reference: tuple[float, float]) -> list[dict[str, Any]]:
    return [
        entry("point_read", {"terminal": f"AI-{key[2:]}", "shown_c": shown, "reference_c": reference, "condition": condition})
        for key, (shown, reference) in shown_and_reference.items()
    ]


def test_points_are_compared_and_swapped_ones_named() -> None:
    found = page(
        *compared("shut", AI1=(5.1, 5.0), AI2=(13.9, 22.0), AI3=(22.1, 14.0)),
        *compared("open", AI1=(5.2, 5.0), AI2=(10.1, 22.4), AI3=(22.3, 10.0)),
    )
    assert found.points.which is not None
    assert found.points.which.swapped
    assert set(found.points.swapped) == {"Return air", "Mixed air"}
    assert [each.mark for each in found.points.lines] == ["holds", "off", "off", "not_measured"]
    assert found.found == "swapped_sensors"
    assert page().points.which_trouble is not None


def test_one_sensor_in_the_wrong_air_and_a_coil_that_does_not_cool_are_said() -> None:
    shut = {"AI1": (5.0, 5.0), "AI2": (23.0, 23.0), "AI3": (22.0, 22.0), "AI4": (22.5, 22.5)}
    told = [*compared("damper shut", **shut)]
    cooling = {"AI1": (5.0, 5.0), "AI2": (23.0, 23.0), "AI3": (12.2, 20.0), "AI4": (12.0, 12.0)}
    found = page(*told, *compared("compressor on", **cooling))
    assert found.points.which is not None
    assert {each.sits_in for each in found.points.which.sensors} == {"", "supply"}
    assert found.points.by_probe.cooled is True
    assert found.found == "misplaced_sensor"
    warm = {"AI1": (5.0, 5.0), "AI2": (23.0, 23.0), "AI3": (20.0, 20.0), "AI4": (20.4, 20.4)}
    dead = page(*told, *compared("compressor on", **warm))
    assert dead.points.by_probe.cooled is False
    assert [each.key for each in dead.suspects][:1] == ["no_cooling"]
    assert page(*told).points.by_probe.cooled is None


def test_mixed_air_that_stays_as_the_damper_opens_is_said_and_names_the_blades() -> None:
    shut = {"AI1": (5.0, 5.0), "AI2": (23.0, 23.0), "AI3": (19.6, 19.5), "AI4": (20.2, 20.2)}
    stays = page(*compared("damper shut", **shut), *compared("damper open", **{**shut, "AI3": (19.5, 19.4)}))
    assert stays.points.by_probe.air_moves == "stands"
    assert {each.key for each in stays.suspects[:2]} == {"loose_blades", "stuck_damper"}
    assert stays.points.by_probe.open_when_shut is True
    assert stays.suspects[0].tests == ("Mixed air by the probe, damper shut and open",)
    assert page(*compared("damper shut", **shut)).points.by_probe.air_moves == ""
    opens = page(
        *compared("damper shut", **{**shut, "AI3": (22.6, 22.5)}), *compared("damper at 45 %", **{**shut, "AI3": (13.0, 13.1)})
    )
    assert opens.points.by_probe.air_moves == "moves"
    assert opens.suspects == ()


def test_what_would_decide_is_named_and_said_to_be_a_second_time() -> None:
    shut = seen("closed", {"damper_position": 0.9}, [("damper_position", None, 0.05)])
    titles = {each.step.key: each.step.title for each in page().tests}
    first = page(shut)
    assert first.found == ""
    assert first.open_between[0] == "Sensors against the reference probe"
    assert set(first.open_between[1:]) <= set(titles.values())
    assert not any("once more" in each for each in first.open_between)
    assert to_decide("closed", titles, {"closed"}, None) == f"{titles['closed']}, once more"
    assert to_decide("audit", titles, {"closed"}, {"drifted": True}) == "Sensors against the reference probe, once more"
    weak = seen("full", {"outdoor_share": 0.6}, [("outdoor_share", 0.72, None)], plus_minus={"outdoor_share": 0.4})
    nothing = page(weak)
    assert nothing.suspects == ()
    assert nothing.open_between == (titles["full"],)


def test_the_last_test_asks_for_what_ran_before_the_first() -> None:
    first = seen("closed", {"damper_position": 0.02}, [("damper_position", None, 0.05)])
    first["body"]["seen"] |= {"before": {"fan": 1.0, "occupied": 1.0}, "mode_before": "free"}
    later = seen("full", {"damper_position": 0.97}, [("damper_position", 0.95, None)])
    later["body"]["seen"] |= {"before": {"fan": 0.0, "occupied": 0.0}, "mode_before": "off"}
    found = page(first, later)
    assert (found.found_running["fan"], found.found_mode) == (1.0, "free")
    restore = next(each.step for each in found.tests if each.step.key == "restore")
    assert {band.point: band.low for band in restore.expected}["mode_as_found"] == 0.5
    assert page().found_running == {}


def test_an_imported_list_takes_the_usual_ones_place() -> None:
    lines = [{"terminal": "UI-7", "name": "OAT roof", "place": "outdoor"}, {"terminal": "AO-1", "name": "Damper", "place": ""}]
    found = page(entry("point_list", {"lines": lines, "name": "list.csv"}))
    assert [each.line.name for each in found.points.lines] == ["OAT roof", "Damper"]


def test_an_alarm_is_followed_to_its_cause() -> None:
    alarm = entry("alarm", {"alarm": "sensor_outdoor"})
    check = {
        "alarm": alarm["id"],
        "check": 2,
        "found": "Read it",
        "curve": "10k type II",
        "resistance_ohm": 18091.3,
        "reference_c": 12.1,
    }
    open_page = page(alarm, entry("alarm_check", check))
    assert not open_page.alarms[0].closed
    assert "a good sensor" in open_page.alarms[0].done[0].says.say()  # type: ignore[union-attr]
    broken = page(alarm, entry("alarm_check", {**check, "resistance_ohm": 5e6}))
    assert "open circuit" in broken.alarms[0].done[0].says.say()  # type: ignore[union-attr]
    closed = entry("alarm_closed", {"alarm": alarm["id"], "cause": "Nothing seen", "found": False})
    lists = [work_up(read_snapshot(document(*entries))).phases[0].verdicts for entries in ((alarm,), (alarm, closed))]
    assert [next(each.mark for each in verdicts if each.key.startswith("alarm")) for verdicts in lists] == ["off", "watch"]


def test_the_intakes_flags_follow_what_was_noted() -> None:
    found = page(entry("intake", {"distances": {"exhaust_m": 1.0}, "shaded": False, "screened": True}))
    assert [flag.key for flag in found.intake_flags] == ["exhaust_m", "shaded"]


def test_the_page_goes_out_as_json() -> None:
    assert write(page())["tests"][1]["step"]["title"] == "Damper closed"


def test_readings_before_and_after_a_change_are_never_put_together() -> None:
    before = compared("open", AI1=(5.1, 5.0), AI2=(14.1, 22.0), AI3=(22.1, 14.0))
    after = [{**each, "phase": "as_left"} for each in compared("open again", AI1=(5.1, 5.0), AI2=(22.0, 22.1), AI3=(14.2, 14.0))]
    found = page(*before, *after)
    assert found.points.which is not None
    assert found.points_left.which is not None
    assert (found.points.which.swapped, found.points_left.which.swapped) == (True, False)
    assert found.found == "", "mended"
    assert page(*before).points_left.which is None
