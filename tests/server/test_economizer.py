"""The economizer over HTTP: its page, files, and a connected controller with its ledger, against the real simulated units."""

from __future__ import annotations

import json
import uuid
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.economizer.configuration import read_configuration
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.plan import plan
from fentro_server.accounts.models import Person
from fentro_server.controllers.gateway import HttpController
from fentro_server.controllers.overrides import held_words, hold, release
from fentro_server.controllers.proof_run import ProofRun, only_one
from fentro_server.gateways.addresses import reach
from fentro_server.gateways.models import Gateway
from fentro_server.places.models import System
from fentro_server.visits.models import Entry, Visit
from tests.patience import caller
from tests.server.apart import apart
from tests.server.at_gateway import at, at_gateway, finished, held, open_changes, play, streamed, words
from tests.server.conftest import House, add, new_entry, post, signed_in


@pytest.fixture
def rooftop(ours: House, gateway: str) -> Visit:
    """A visit to a rooftop unit with a connected controller that has nothing wrong."""
    play(gateway, preset="sound", reachable=True, refuses=[])
    ours.site.climate_zone = "3A"
    ours.site.save()
    plate = {
        "maker": "Norrand",
        "model": "NR-1",
        "economizer": True,
        "controller": "RTU-1",
        "changeover": "differential_enthalpy",
    }
    system = System.objects.create(company=ours.company, site=ours.site, name="Roof", kind="packaged_rooftop", nameplate=plate)
    System.objects.create(company=ours.company, site=ours.site, name="Roof 2", kind="packaged_rooftop", nameplate=plate)
    Gateway.objects.create(company=ours.company, kind="controllers", name="Roof", address=gateway)
    return Visit.objects.create(
        id=uuid.uuid4(), company=ours.company, system=system, technician=ours.people["technician"], opened_at=timezone.now()
    )


@pytest.fixture
def client(ours: House) -> Client:
    return signed_in(ours.people["technician"])


# the page and its files


def test_the_page_follows_the_logbook(rooftop: Visit, client: Client) -> None:
    setting = new_entry(
        "plan_setting", {"setting": "minimum_position", "stage": "planned", "number": 0.16, "reason": "by the share"}
    )
    assert add(client, rooftop, setting).json()["refused"] == []
    page = client.get(at(rooftop, "economizer")).json()["page"]
    assert page["planned"]["minimum_position"] == 0.16
    assert page["climate_zone"] == "3A"
    assert "economizer" in client.get(f"/api/v1/visits/{rooftop.pk}").json()["work_up"]["parts"]


def test_the_hours_of_a_year_by_the_zones_year_or_a_file(rooftop: Visit, client: Client) -> None:
    made_up = post(client, at(rooftop, "year-hours"), {}).json()
    assert made_up["made_up"]
    file = client.get(at(rooftop, "weather.epw")).content.decode()
    from_file = post(client, at(rooftop, "year-hours"), {"weather": file, "sensor_k": 0.6}).json()
    assert not from_file["made_up"]
    assert [method["free"] for method in from_file["methods"]] == [method["free"] for method in made_up["methods"]]
    assert "not an EPW" in words(post(client, at(rooftop, "year-hours"), {"weather": "hello"}))


def test_a_point_list_goes_in_and_out(rooftop: Visit, client: Client) -> None:
    looked = post(client, "/api/v1/points/look", {"text": "place,terminal,name\noutdoor,UI-3,OAT\n"}).json()
    add(client, rooftop, new_entry("point_list", {"lines": looked, "name": "list.csv"}))
    assert "UI-3,OAT,outdoor" in client.get(at(rooftop, "points.csv")).content.decode()
    answer = post(client, "/api/v1/points/look", {"text": "terminal;label\n"})
    assert answer.status_code == 422
    assert words(answer).startswith("The list lacks the columns: name, place.")


def test_sister_units_are_those_of_the_same_make(rooftop: Visit, client: Client) -> None:
    found = client.get(at(rooftop, "sisters")).json()
    assert [(each["name"], each["visit"]) for each in found] == [("Roof 2", None)]


def test_traces_come_with_the_economizers_page_alone(rooftop: Visit, client: Client) -> None:
    seen = {"test": "closed", "how": "controller", "trace": [{"at_s": 0.0, "values": {"fan": 1.0}}]}
    add(client, rooftop, new_entry("test_seen", {"title": "Damper closed", "seen": seen}))
    entries = client.get(f"/api/v1/visits/{rooftop.pk}").json()["entries"]
    assert entries[0]["body"]["seen"]["trace"] == []
    page = client.get(at(rooftop, "economizer")).json()["page"]
    closed = next(test for test in page["tests"] if test["step"]["key"] == "closed")
    assert closed["as_found"]["seen"]["trace"]


# the controller and its ledger


def test_a_controller_is_seen_with_all_its_points(rooftop: Visit, client: Client) -> None:
    found = client.get(at(rooftop, "controller")).json()
    assert found["connected"]
    assert found["simulated"]
    assert {"outdoor_temperature", "damper_command"} <= {point["key"] for point in found["points"]}


def test_an_override_stands_in_the_ledger_and_keeps_the_visit_open_until_released(
    rooftop: Visit, client: Client, gateway: str
) -> None:
    found = post(client, at(rooftop, "controller/override"), {"point": "damper_command", "value": 0.5}).json()
    assert [point["key"] for point in found["points"] if point["overridden"]] == ["damper_command"]
    assert open_changes(rooftop) == ["Outdoor damper, command held at 50 %"]
    refused = add(client, rooftop, new_entry("closing", {"summary": ""})).json()["refused"]
    assert "still open" in refused[0]["refusal"]["sentence"]["text"]
    again = post(client, at(rooftop, "controller/override"), {"point": "damper_command", "value": 0.7})
    assert again.status_code == 200
    assert len(open_changes(rooftop)) == 1, "held anew, not opened twice"
    done = post(client, at(rooftop, "controller/release"), {}).json()
    assert done["not_released"] == []
    assert open_changes(rooftop) == []
    assert held(gateway) == []
    assert add(client, rooftop, new_entry("closing", {"summary": ""})).json()["refused"] == []


def test_words_of_an_override_in_both_systems() -> None:
    assert held_words("outdoor_temperature", 12.0) == "Outdoor temperature held at 12.0 °C (53.6 °F)"


def test_a_refused_override_says_so_and_leaves_nothing_open(rooftop: Visit, client: Client, gateway: str) -> None:
    play(gateway, refuses=["fan"])
    answer = post(client, at(rooftop, "controller/override"), {"point": "fan", "value": 1.0})
    assert answer.status_code == 422
    assert "refuses to override “Fan”" in words(answer)
    assert open_changes(rooftop) == []
    assert held(gateway) == []
    assert "no such point" in words(post(client, at(rooftop, "controller/override"), {"point": "moon", "value": 1.0}))
    kinds = list(Entry.objects.filter(visit=rooftop).order_by("number").values_list("kind", flat=True))
    assert kinds == ["temporary", "undone"], "written down before it was asked, and closed again"


def test_a_silent_controller_leaves_the_ledger_open_and_later_confirms(rooftop: Visit, client: Client, gateway: str) -> None:
    post(client, at(rooftop, "controller/override"), {"point": "fan", "value": 1.0})
    play(gateway, reachable=False)
    answer = post(client, at(rooftop, "controller/release"), {})
    assert answer.status_code == 422
    assert "does not answer" in words(answer)
    assert open_changes(rooftop) == ["Fan held at 100 %"]
    seen = client.get(at(rooftop, "controller")).json()
    assert not seen["connected"]
    assert seen["simulated"]
    assert "stays in the ledger" in seen["words"]
    play(gateway, reachable=True)
    post(client, at(rooftop, "controller/release"), {})
    assert open_changes(rooftop) == []


def test_what_someone_else_holds_is_shown_as_a_stray(rooftop: Visit, client: Client, gateway: str) -> None:
    caller.put(f"{gateway}/v1/units/RTU-1/overrides/fan", json={"value": 1.0})
    assert client.get(at(rooftop, "controller")).json()["strays"] == ["fan"]
    post(client, at(rooftop, "controller/release"), {})
    assert held(gateway) == []


def test_the_process_dies_after_writing_and_the_ledger_still_knows(rooftop: Visit, ours: House) -> None:
    class Dies(HttpController):
        def override(self, point: str, value: float) -> None:
            raise DeviceGone

    with pytest.raises(DeviceGone):
        hold(rooftop, ours.people["technician"], Dies("roof", reach("http://127.0.0.1:1"), "RTU-1"), {"fan": 1.0}, "")
    assert open_changes(rooftop) == ["Fan held at 100 %"]


def test_what_the_controller_does_not_let_go_of_stays_open(rooftop: Visit, ours: House, gateway: str) -> None:
    class Clings(HttpController):
        def release(self, point: str) -> None:
            """It says yes, and holds on."""

    clinging = Clings(*at_gateway(gateway), "RTU-1")
    hold(rooftop, ours.people["technician"], clinging, {"fan": 1.0}, "")
    assert release(rooftop, ours.people["technician"], clinging) == ["fan"]
    assert open_changes(rooftop) == ["Fan held at 100 %"]
    assert release(rooftop, ours.people["technician"], HttpController(*at_gateway(gateway), "RTU-1")) == []
    assert open_changes(rooftop) == []


# configuration


def test_save_as_found_change_compare_and_restore(rooftop: Visit, client: Client, gateway: str) -> None:
    play(gateway, preset="low_limit_tied")
    document = caller.get(f"{gateway}/v1/units/RTU-1/configuration").json()
    mended = {**document, "loops": {**document["loops"], "low_limit": "mixed"}}
    early = post(client, at(rooftop, "controller/load"), {"document": mended, "reason": "x"})
    assert "Save the configuration as found first" in words(early)
    post(client, at(rooftop, "controller/save"), {"reason": "As found"})
    assert "Say why" in words(post(client, at(rooftop, "controller/load"), {"document": mended, "reason": " "}))
    loaded = post(client, at(rooftop, "controller/load"), {"document": mended, "reason": "Low limit read the outdoor air"}).json()
    assert loaded["mode_key"] == "start_up"
    revisions = client.get(at(rooftop, "economizer")).json()["page"]["revisions"]
    assert [(each["number"], each["source"]) for each in revisions] == [(0, "controller"), (1, "loaded")]
    assert revisions[1]["changes"][0]["now"] == "mixed air"
    assert client.get(at(rooftop, "controller")).json()["differs"] == []
    caller.put(f"{gateway}/v1/units/RTU-1/configuration", json={**mended, "minimum_position": 0.4})
    assert [each["key"] for each in client.get(at(rooftop, "controller")).json()["differs"]] == ["minimum_position"]
    post(client, at(rooftop, "controller/load"), {"document": revisions[0]["document"], "reason": "Restored revision 0"})
    assert caller.get(f"{gateway}/v1/units/RTU-1/configuration").json()["loops"]["low_limit"] == "outdoor"


def test_a_configuration_of_another_model_changes_nothing(rooftop: Visit, client: Client, gateway: str) -> None:
    post(client, at(rooftop, "controller/save"), {})
    document = caller.get(f"{gateway}/v1/units/RTU-1/configuration").json()
    answer = post(client, at(rooftop, "controller/load"), {"document": {**document, "model": "Other 7"}, "reason": "x"})
    assert "for another model: Other 7" in words(answer)
    assert "not an economizer configuration" in words(
        post(client, at(rooftop, "controller/load"), {"document": {"format": "x"}, "reason": "x"})
    )
    assert Entry.objects.filter(visit=rooftop, kind="configuration").count() == 1


def test_sensors_are_compared_with_the_simulated_probe(rooftop: Visit, client: Client, gateway: str) -> None:
    play(gateway, preset="drifted_sensor")
    post(client, at(rooftop, "controller/compare"), {"condition": "as it is"})
    points = client.get(at(rooftop, "economizer")).json()["page"]["points"]
    assert {each["line"]["place"]: each["mark"] for each in points["lines"]}["mixed"] == "off"
    assert points["which"]["swapped"] is False


# automatic tests


def a_run(visit: Visit, house: House, gateway: str, key: str) -> ProofRun:
    step = next(each for each in plan(_planned(gateway), Day(13.5, 23.5)) if each.key == key)
    return ProofRun(visit, house.people["technician"], HttpController(*at_gateway(gateway), "RTU-1"), step, "as_found")


def _planned(gateway: str) -> Any:
    return read_configuration(caller.get(f"{gateway}/v1/units/RTU-1/configuration").json())


@pytest.mark.django_db(transaction=True)
def test_a_test_runs_to_its_verdict_and_leaves_nothing_behind(rooftop: Visit, ours: House, gateway: str) -> None:
    events = finished(a_run(rooftop, ours, gateway, "power"))
    assert sum(event["event"] == "sample" for event in events) > 3
    assert events[-1]["event"] == "ended"
    assert events[-1]["mark"] == "holds"
    assert open_changes(rooftop) == []
    assert held(gateway) == []
    kinds = [row.kind for row in Entry.objects.filter(visit=rooftop).order_by("number")]
    assert kinds.count("temporary") == kinds.count("undone") == 3, "two points, and the wire that was pulled"
    assert kinds[-1] == "test_seen"
    held_for = Entry.objects.filter(visit=rooftop, kind="temporary", body__kind="override").values_list("reason", flat=True)
    assert set(held_for) == {"Power loss: spring return closes"}


@pytest.mark.django_db(transaction=True)
def test_settings_that_were_read_speak_with_the_test_until_others_are_sent(
    rooftop: Visit, client: Client, ours: House, gateway: str
) -> None:
    def page() -> dict[str, Any]:
        return dict(client.get(at(rooftop, "economizer")).json()["page"])

    def run(phase: str) -> None:
        step = next(each for each in plan(read_configuration(page()["planned"]), Day(13.5, 23.5)) if each.key == "above")
        finished(ProofRun(rooftop, ours.people["technician"], HttpController(*at_gateway(gateway), "RTU-1"), step, phase))

    play(gateway, preset="wrong_minimum")
    as_planned = {"setting": "minimum_position", "stage": "planned", "number": 0.2, "reason": "by the share"}
    add(client, rooftop, new_entry("plan_setting", as_planned))
    run("as_found")
    beside = "The settings that run, beside the plan"
    assert beside in page()["open_between"]
    post(client, at(rooftop, "controller/save"), {"reason": "As found"})
    told = page()
    assert told["found"] == told["suspects"][0]["key"] == "wrong_minimum"
    assert beside in told["suspects"][0]["tests"]
    post(client, at(rooftop, "controller/load"), {"document": told["planned"], "reason": "Minimum as planned"})
    caller.post(f"{gateway}/v1/units/RTU-1/scene", json={"speed": 60})
    run("as_left")
    assert (page()["found"], page()["suspects"]) == ("", [])


@pytest.mark.django_db(transaction=True)
def test_a_controller_that_goes_away_mid_test_leaves_ledger_and_test_right(rooftop: Visit, ours: House, gateway: str) -> None:
    run = a_run(rooftop, ours, gateway, "closed")
    taken = run.controller.points
    calls = 0

    def goes() -> Any:
        nonlocal calls
        calls += 1
        if calls == 4:
            play(gateway, reachable=False)
        return taken()

    run.controller.points = goes  # type: ignore[method-assign]
    ended = finished(run)[-1]
    assert (ended["ended"], ended["mark"]) == ("gone", "not_measured")
    assert "stays in the ledger" in ended["words"]
    assert len(open_changes(rooftop)) == 2
    play(gateway, reachable=True)
    assert finished(a_run(rooftop, ours, gateway, "closed"))[-1]["held"] == ["damper_command", "occupied"], "asked about first"
    post(signed_in(ours.people["technician"]), at(rooftop, "controller/release"), {})
    again = finished(a_run(rooftop, ours, gateway, "closed"))
    assert again[-1]["mark"] == "holds", "repeated when it answers again"
    assert open_changes(rooftop) == []


@pytest.mark.django_db(transaction=True)
def test_a_test_is_stopped_and_releases_and_a_refusal_is_said(rooftop: Visit, ours: House, gateway: str) -> None:
    run = a_run(rooftop, ours, gateway, "full")
    run.stop.set()
    assert finished(run)[-1]["ended"] == "stopped"
    play(gateway, refuses=["damper_command"])
    refused = finished(a_run(rooftop, ours, gateway, "full"))[-1]
    assert refused["ended"] == "refused"
    assert "refuses to override" in refused["words"]
    assert open_changes(rooftop) == []
    assert held(gateway) == []


@pytest.mark.django_db(transaction=True)
def test_the_stream_tells_of_a_run_line_by_line(rooftop: Visit, client: Client, gateway: str) -> None:
    answer = post(client, at(rooftop, "controller/run"), {"step": "closed"})
    lines = [json.loads(line) for line in streamed(answer)]
    assert lines[0]["event"] == "step"
    assert lines[-1]["event"] == "ended"
    assert "no such test" in words(post(client, at(rooftop, "controller/run"), {"step": "dance"}))
    loop = post(client, at(rooftop, "controller/run"), {"step": "loop/low_limit/return"})
    assert json.loads(streamed(loop)[-1])["mark"] == "holds"


def test_a_refusal_of_the_gateway_is_its_own_words(gateway: str) -> None:
    controller = HttpController("roof", reach(gateway), "RTU-2")
    with pytest.raises(DeviceRefused, match="no such point"):
        controller.override("moon", 1.0)
    with pytest.raises(DeviceGone):
        HttpController("roof", reach(gateway), "RTU-9").points()
    with pytest.raises(DeviceGone):
        HttpController("roof", reach("http://127.0.0.1:1"), "RTU-1").points()
    assert HttpController("roof", reach(gateway), "RTU-9").scene() is None
    assert controller.alarms() == []


# who may, and what stands in the way


@pytest.mark.parametrize("what", ["override", "release", "save", "scene", "run", "hand", "load", "compare"])
def test_only_who_may_write_in_the_visit_touches_its_controller(rooftop: Visit, ours: House, gateway: str, what: str) -> None:
    bodies: dict[str, dict[str, Any]] = {
        "override": {"point": "fan", "value": 1.0},
        "hand": {"action": "unplug", "value": "outdoor"},
        "run": {"step": "closed"},
        "load": {"document": {}, "reason": "x"},
        "compare": {"condition": "shut"},
    }
    other = Person.objects.create_person(ours.company, "o@ours.example", None, name="Ola", role="technician")
    for person in (ours.people["viewer"], other):
        answer = post(signed_in(person), at(rooftop, f"controller/{what}"), bodies.get(what, {}))
        assert answer.status_code == 403
    assert held(gateway) == []
    assert Entry.objects.filter(visit=rooftop).count() == 0


def test_a_lead_may_and_a_viewer_may_look(rooftop: Visit, ours: House, gateway: str) -> None:
    lead = signed_in(ours.people["lead"])
    assert post(lead, at(rooftop, "controller/override"), {"point": "fan", "value": 1.0}).status_code == 200
    seen = signed_in(ours.people["viewer"]).get(at(rooftop, "controller")).json()
    assert seen["connected"]
    assert next(point for point in seen["points"] if point["key"] == "fan")["overridden"]
    post(lead, at(rooftop, "controller/release"), {})
    assert held(gateway) == []


def test_a_closed_visit_runs_no_test_and_holds_nothing(rooftop: Visit, client: Client, gateway: str) -> None:
    add(client, rooftop, new_entry("closing", {"summary": ""}))
    assert "closed" in words(post(client, at(rooftop, "controller/run"), {"step": "closed"}))
    assert "closed" in words(post(client, at(rooftop, "controller/override"), {"point": "fan", "value": 1.0}))
    assert held(gateway) == []


def test_no_controller_on_the_plate_or_no_gateway_is_said(rooftop: Visit, client: Client) -> None:
    registered = Gateway.objects.get()
    registered.delete()
    assert "no gateway" in client.get(at(rooftop, "controller")).json()["words"]
    registered.save()
    rooftop.system.nameplate = {**rooftop.system.nameplate, "controller": ""}
    rooftop.system.save()
    assert "names no controller" in client.get(at(rooftop, "controller")).json()["words"]


def test_a_test_that_today_cannot_show_is_refused_with_its_reason(rooftop: Visit, client: Client, gateway: str) -> None:
    play(gateway, preset="sound")
    setting = {"setting": "mixed_low_limit_c", "stage": "planned", "number": 15.0, "reason": "tender coil"}
    more = {"setting": "minimum_position", "stage": "planned", "number": 0.9, "reason": "much air"}
    add(client, rooftop, new_entry("plan_setting", setting), new_entry("plan_setting", more))
    assert "Not today" in words(post(client, at(rooftop, "controller/run"), {"step": "cool"}))


def test_a_plan_that_fights_itself_runs_no_test(rooftop: Visit, client: Client) -> None:
    add(
        client,
        rooftop,
        new_entry("plan_setting", {"setting": "heating_setpoint_c", "stage": "planned", "number": 27.0, "reason": "cold feet"}),
    )
    page = client.get(at(rooftop, "economizer")).json()["page"]
    assert page["tests"] == []
    assert "must lie below" in page["fights"]["text"]


@pytest.mark.django_db(transaction=True)
def test_one_test_at_a_time_at_a_controller(rooftop: Visit, ours: House, gateway: str) -> None:
    with only_one(at_gateway(gateway)[0], "RTU-1"):
        second = apart(lambda: finished(a_run(rooftop, ours, gateway, "closed")))
    assert second[-1] == {
        "event": "trouble",
        "words": "A test is running at this controller already. Wait for its end, or stop it.",
    }
    assert open_changes(rooftop) == []
    assert apart(lambda: finished(a_run(rooftop, ours, gateway, "closed")))[-1]["mark"] == "holds"


@pytest.mark.django_db(transaction=True)
def test_a_fault_in_the_app_itself_still_releases(
    rooftop: Visit, ours: House, gateway: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = a_run(rooftop, ours, gateway, "closed")
    monkeypatch.setattr("fentro_server.controllers.proof_run.TRACED", None)
    with pytest.raises(TypeError):
        run.run()
    assert open_changes(rooftop) == []
    assert held(gateway) == []
