"""Controllers that answer oddly: a sentence names the trouble, the page stays usable, nothing is held unseen or let go unasked."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from datetime import timedelta
from io import StringIO
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from fentro_core.economizer.configuration import Configuration, configuration_json, read_configuration
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.plan import plan
from fentro_server.accounts.models import Person
from fentro_server.controllers.conformance import conformance
from fentro_server.controllers.gateway import HttpController
from fentro_server.controllers.proof_run import ProofRun
from fentro_server.gateways.addresses import reach
from fentro_server.gateways.models import Gateway
from fentro_server.places.models import System
from fentro_server.visits.models import Entry, Visit
from tests.server.at_gateway import at, at_gateway, finished, open_changes, words
from tests.server.conftest import House, add, new_entry, post, signed_in
from tests.server.odd_gateway import SILENCE, OddGateway, odd_gateway

PLATE = {"maker": "Norrand", "model": "NR-1", "economizer": True, "controller": "RTU-1"}


@pytest.fixture
def odd(ours: House) -> Iterator[OddGateway]:
    with odd_gateway() as (gateway, address):
        gateway.configuration = {**configuration_json(Configuration()), "model": "NR-1"}
        Gateway.objects.create(company=ours.company, kind="controllers", name="Roof", address=address)
        yield gateway


@pytest.fixture
def roof(ours: House, odd: OddGateway) -> Visit:
    system = System.objects.create(company=ours.company, site=ours.site, name="Roof", kind="packaged_rooftop", nameplate=PLATE)
    return a_visit(system, ours, "technician")


def a_visit(system: System, house: House, role: str) -> Visit:
    who = house.people[role]
    return Visit.objects.create(id=uuid.uuid4(), company=house.company, system=system, technician=who, opened_at=timezone.now())


@pytest.fixture
def client(ours: House) -> Client:
    return signed_in(ours.people["technician"])


def address_of() -> str:
    return Gateway.objects.get(name="Roof").address


def a_run(visit: Visit, house: House, key: str = "closed", over_held: bool = False) -> ProofRun:
    step = next(each for each in plan(Configuration(), Day(13.5, 23.5)) if each.key == key)
    device = HttpController(*at_gateway(address_of()), "RTU-1")
    return ProofRun(visit, house.people["technician"], device, step, "as_found", over_held=over_held)


# answers of every shape


@pytest.mark.parametrize(
    ("status", "body", "said"),
    [
        (200, b"[]", "does not speak this protocol"),
        (200, b"null", "does not speak this protocol"),
        (200, b'"points"', "does not speak this protocol"),
        (200, b"", "does not speak this protocol"),
        (200, b'{"points": {"fan": 1.0', "does not speak this protocol"),
        (200, b"<html>Sign in</html>", "does not speak this protocol"),
        (204, b"", "does not speak this protocol"),
        (200, b"{}", "has no points"),
        (200, b'{"points": null}', "has no points"),
        (200, b'{"points": [1, 2]}', "has no points"),
        (200, b'{"points": {"fan": 1.0}}', "does not say what is overridden"),
        (200, b'{"points": {"overridden": null}}', "does not say what is overridden"),
        (200, b'{"points": {"overridden": {"fan": 1}}}', "does not say what is overridden"),
        (401, b"{}", "does not let us in"),
        (403, b"no", "does not let us in"),
        (404, b"{}", "knows no unit"),
        (409, b'{"detail": "Somebody else {is} at it."}', "Somebody else (is) at it."),
        (422, b'{"detail": 7}', "refuses"),
        (429, b"{}", "too much to do"),
        (503, b"", "too much to do"),
        (500, b"Traceback", "fails with error 500"),
        (302, b"", "fails with error 302"),
        (504, b"{}", "does not answer"),
    ],
)
def test_an_odd_answer_is_named_on_a_page_that_stays_usable(
    roof: Visit, client: Client, odd: OddGateway, status: int, body: bytes, said: str
) -> None:
    odd.says["GET", "/points"] = (status, body)
    answer = client.get(at(roof, "controller"))
    assert answer.status_code == 200
    assert not answer.json()["connected"]
    assert said in answer.json()["words"]
    for what, given in (
        ("override", {"point": "fan", "value": 1.0}),
        ("release", {}),
        ("save", {}),
        ("compare", {"condition": "x"}),
    ):
        assert post(client, at(roof, f"controller/{what}"), given).status_code in (200, 422), what


@pytest.mark.parametrize("missing", ["mode", "alarm", "time_s", "mixed_temperature", "fan"])
def test_a_point_that_is_not_told_leaves_the_page_standing(roof: Visit, client: Client, odd: OddGateway, missing: str) -> None:
    odd.changed = lambda points: {key: value for key, value in points.items() if key != missing}
    shown = client.get(at(roof, "controller")).json()
    assert shown["connected"]
    assert missing not in {point["key"] for point in shown["points"]}


@pytest.mark.parametrize("body", [b"null", b"[1]", b'{"alarms": 3}', b'{"alarms": [{"since_s": 2}, 5, {"key": "odd"}]}'])
def test_alarms_of_any_shape_leave_it_standing(roof: Visit, client: Client, odd: OddGateway, body: bytes) -> None:
    odd.says["GET", "/alarms"] = (200, body)
    assert client.get(at(roof, "controller")).status_code == 200


def test_a_configuration_that_can_not_be_read_hides_nothing_else(roof: Visit, client: Client, odd: OddGateway) -> None:
    assert post(client, at(roof, "controller/save"), {}).status_code == 200
    odd.configuration = {"format": "somebody else's"}
    shown = client.get(at(roof, "controller")).json()
    assert shown["connected"]
    assert "can't be read" in shown["configuration_words"]
    assert shown["differs"] == []


# nothing passes unseen, nothing stays held


@pytest.mark.django_db(transaction=True)
def test_yes_and_holding_nothing_ends_a_test_as_not_proven(
    roof: Visit, ours: House, odd: OddGateway, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("fentro_core.economizer.proof.running.SHOWN_AFTER_S", 0.5)
    odd.takes = lambda point: point != "damper_command"
    ended = finished(a_run(roof, ours))[-1]
    assert (ended["ended"], ended["mark"]) == ("not_held", "not_measured")
    assert "Outdoor damper, command" in ended["words"]
    assert odd.held == {}
    assert open_changes(roof) == []
    assert Entry.objects.get(visit=roof, kind="test_seen").body["seen"]["ended"] == "not_held"


@pytest.mark.django_db(transaction=True)
def test_a_clock_that_stands_still_does_not_keep_a_test_running(roof: Visit, ours: House, odd: OddGateway) -> None:
    odd.changed = lambda points: {**points, "time_s": 7.0}
    run = a_run(roof, ours)
    object.__setattr__(run.step, "allowed_s", 1.0)
    object.__setattr__(run.step, "hold_s", 0.5)
    ended = finished(run)[-1]
    assert ended["event"] == "ended"
    assert ended["mark"] in ("off", "not_measured")


def test_a_release_is_tried_again_until_it_is_confirmed(roof: Visit, client: Client, odd: OddGateway) -> None:
    post(client, at(roof, "controller/override"), {"point": "fan", "value": 1.0})
    odd.lets_go_after = 3
    assert post(client, at(roof, "controller/release"), {}).json()["not_released"] == []
    assert odd.released["fan"] == 3
    assert open_changes(roof) == []


def test_percent_is_refused_before_anything_is_held(roof: Visit, client: Client, odd: OddGateway) -> None:
    answer = post(client, at(roof, "controller/override"), {"point": "damper_command", "value": 20.0})
    assert "For 20 % it is 0.2" in words(answer)
    assert "lies between" in words(post(client, at(roof, "controller/override"), {"point": "room_temperature", "value": 300.0}))
    assert odd.held == {}
    assert not any(method == "PUT" for method, _ in odd.asked)
    assert open_changes(roof) == []


# what is somebody's own


@pytest.mark.django_db(transaction=True)
def test_what_a_person_holds_is_asked_about_and_put_back(roof: Visit, ours: House, odd: OddGateway) -> None:
    client = signed_in(ours.people["technician"])
    post(client, at(roof, "controller/override"), {"point": "damper_command", "value": 0.35, "why": "smoke test"})
    asked = finished(a_run(roof, ours))[-1]
    assert asked["event"] == "trouble"
    assert asked["held"] == ["damper_command"]
    assert odd.held == {"damper_command": 0.35}
    run = a_run(roof, ours, over_held=True)
    run.stop.set()
    finished(run)
    again = a_run(roof, ours, over_held=True)
    object.__setattr__(again.step, "allowed_s", 1.0)
    object.__setattr__(again.step, "hold_s", 0.5)
    assert finished(again)[-1]["event"] == "ended"
    assert ("PUT", "/v1/units/RTU-1/overrides/damper_command") in odd.asked[2:]
    assert odd.held == {"damper_command": 0.35}
    assert open_changes(roof) == ["Outdoor damper, command held at 35 %"]


def test_what_another_visit_holds_is_named_and_let_go_only_when_asked_for(roof: Visit, ours: House, odd: OddGateway) -> None:
    theirs = a_visit(roof.system, ours, "lead")
    post(signed_in(ours.people["lead"]), at(theirs, "controller/override"), {"point": "fan", "value": 1.0})
    mine = signed_in(ours.people["technician"])
    shown = mine.get(at(roof, "controller")).json()
    assert ours.people["lead"].name in shown["held_by"][0]
    for what, given in (
        ("override", {"point": "relief", "value": 0.0}),
        ("release", {"points": ["fan"]}),
        ("run", {"step": "closed"}),
    ):
        answer = post(mine, at(roof, f"controller/{what}"), given)
        assert answer.status_code == 422, what
        assert ours.people["lead"].name in words(answer)
    odd.held["relief"] = 0.0
    post(mine, at(roof, "controller/release"), {})
    assert odd.held == {"fan": 1.0}, "all of mine and nobody's; not another visit's"
    assert open_changes(theirs) == ["Fan held at 100 %"]
    post(mine, at(roof, "controller/release"), {"others": True})
    assert odd.held == {}
    assert open_changes(theirs) == []
    assert Entry.objects.filter(visit=theirs, kind="undone").get().by == ours.people["technician"]


# configurations


def saved(visit: Visit, client: Client, odd: OddGateway, **changes: Any) -> dict[str, Any]:
    post(client, at(visit, "controller/save"), {"reason": "As found"})
    return {"document": {**odd.configuration, **changes}, "reason": "By the plan"}


def revisions(visit: Visit) -> list[tuple[str, float]]:
    rows = Entry.objects.filter(visit=visit, kind="configuration").order_by("number")
    return [(row.body["source"], row.body["document"]["minimum_position"]) for row in rows]


def test_a_configuration_is_written_down_before_it_is_sent_and_a_refusal_too(
    roof: Visit, client: Client, odd: OddGateway
) -> None:
    wanted = saved(roof, client, odd, minimum_position=0.3)
    odd.says["PUT", "/configuration"] = (422, b'{"detail": "Not while it dries."}')
    assert "Not while it dries" in words(post(client, at(roof, "controller/load"), wanted))
    assert revisions(roof) == [("controller", 0.2), ("loaded", 0.3), ("controller", 0.2)]
    assert read_configuration(odd.configuration).minimum_position == 0.2
    odd.says.clear()
    assert post(client, at(roof, "controller/load"), wanted).status_code == 200
    assert read_configuration(odd.configuration).minimum_position == 0.3


def test_silence_while_it_is_sent_is_not_called_loaded(roof: Visit, client: Client, odd: OddGateway) -> None:
    wanted = saved(roof, client, odd, minimum_position=0.3)
    odd.says["PUT", "/configuration"] = (SILENCE, b"")
    post(client, at(roof, "controller/load"), wanted)
    assert revisions(roof)[-1] == ("unconfirmed", 0.3)
    odd.says.clear()
    page = client.get(at(roof, "controller")).json()
    assert page["differs"], "what runs is another, and the page says so once it answers"


def test_a_closed_visit_sends_no_configuration(roof: Visit, client: Client, odd: OddGateway) -> None:
    wanted = saved(roof, client, odd, minimum_position=0.3)
    add(client, roof, new_entry("closing", {"summary": ""}))
    assert "closed" in words(post(client, at(roof, "controller/load"), wanted))
    assert not any(call == ("PUT", "/v1/units/RTU-1/configuration") for call in odd.asked)


# the check that anyone can run


def test_a_gateway_that_speaks_the_protocol_passes(ours: House, odd: OddGateway) -> None:
    device = HttpController("odd", reach(address_of()), "RTU-1")
    lines = {line.what: line for line in conformance(device, hold=True, wait=lambda seconds: None)}
    wrong = [line for line in lines.values() if line.holds is False]
    assert wrong == [], wrong
    assert sum(line.holds is True for line in lines.values()) >= 10
    assert odd.held == {}


@pytest.mark.parametrize(
    ("break_it", "what"),
    [
        (lambda odd: setattr(odd, "changed", lambda points: {**points, "damper_position": 20.0}), "values are SI"),
        (lambda odd: setattr(odd, "changed", lambda points: {**points, "mode": "cooling"}), "“mode”"),
        (
            lambda odd: setattr(odd, "changed", lambda points: {**points, "mixed_temperature": None}),
            "points that every test needs",
        ),
        (lambda odd: setattr(odd, "changed", lambda points: {k: v for k, v in points.items() if k != "alarm"}), "“alarm”"),
        (lambda odd: setattr(odd, "takes", lambda point: False), "what is held is named"),
        (lambda odd: setattr(odd, "lets_go_after", 99), "what is held is named"),
        (lambda odd: odd.says.update({("PUT", "/overrides/no_such_point"): (200, b"{}")}), "a point that is none"),
        (lambda odd: odd.says.update({("PUT", "/overrides/damper_command"): (200, b"{}")}), "a value beyond"),
        (lambda odd: odd.says.update({("GET", "/configuration"): (200, b"{}")}), "the configuration"),
        (lambda odd: odd.says.update({("GET", "/alarms"): (200, b'{"alarms": [{"key": "boo"}]}')}), "alarms are answered"),
    ],
)
def test_one_that_does_not_is_told_what(ours: House, odd: OddGateway, break_it: Any, what: str) -> None:
    break_it(odd)
    device = HttpController("odd", reach(address_of()), "RTU-1")
    wrong = [line.what for line in conformance(device, hold=True, wait=lambda seconds: None) if line.holds is False]
    assert any(each.startswith(what) for each in wrong), wrong


def test_the_command_says_it_line_by_line(ours: House, odd: OddGateway, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("fentro_server.controllers.conformance.CLOCK_WATCHED_S", 0.5)
    out = StringIO()
    call_command("check_controller", address_of(), "RTU-1", "--hold", stdout=out)
    assert "Everything that was tried holds." in out.getvalue()
    odd.says["GET", "/points"] = (200, b"[]")
    with pytest.raises(CommandError, match="do not hold"):
        call_command("check_controller", address_of(), "RTU-1", stdout=StringIO())
    with pytest.raises(CommandError, match="allows"):
        call_command("check_controller", "http://203.0.113.7", "RTU-1", stdout=StringIO())


def test_what_was_left_held_is_told_to_everybody_and_on_the_units_page(roof: Visit, ours: House, odd: OddGateway) -> None:
    """As after a crash: the ledger knows, and nobody is there."""
    post(signed_in(ours.people["technician"]), at(roof, "controller/override"), {"point": "fan", "value": 1.0})
    other = signed_in(ours.people["lead"])
    page = other.get(f"/api/v1/systems/{roof.system_id}").json()
    assert "holds this unit" in page["held"][0]
    colleague = Person.objects.create_person(ours.company, "c@ours.example", None, name="Cleo", role="technician")
    seen = signed_in(colleague)
    assert seen.get("/api/v1/temporary").json() == [], "a test may still be running"
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("fentro_server.api.temporary.LEFT_AFTER", timedelta(0))
        assert [line["what"] for line in seen.get("/api/v1/temporary").json()] == ["Fan held at 100 %"]
    odd.held.clear()
    post(other, at(roof, "controller/release"), {})
    assert other.get(f"/api/v1/systems/{roof.system_id}").json()["held"] == []
