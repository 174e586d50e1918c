"""The device's answers are the server's: the same page from the same entries, by the module that the browser runs."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.utils import timezone

from bench.unchanged import demo_documents
from fentro_core import device
from fentro_core.base.version import fingerprint
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, post, signed_in


def asked(ask: str, **more: Any) -> Any:
    """The device's answer, through JSON both ways."""
    return json.loads(device.answer(json.dumps({"ask": ask, **more})))


def of_page(page: dict[str, Any], instruments: Any) -> dict[str, Any]:
    """What the interface asks with, from what it has of a visit."""
    return {"head": page["head"], "entries": page["entries"], "instruments": instruments}


def kept_on_server(house: House, document: dict[str, Any]) -> Visit:
    """A visit with all that its document says."""
    person = house.people["lead"]
    site, plan = document["site"], document["system"]
    there = Site.objects.create(company=house.company, **{**site, "name": f"{site['name']} {uuid.uuid4()}"})
    system = System.objects.create(company=house.company, site=there, **plan)
    visit = Visit.objects.create(company=house.company, system=system, technician=person, opened_at=timezone.now())
    again = {}
    for entry in document["entries"]:
        again[entry["id"]] = entry["id"] = str(uuid.uuid4())
        if entry.get("replaces"):
            entry["replaces"] = again[entry["replaces"]]
    assert add(signed_in(person), visit, *document["entries"]).json()["refused"] == []
    return visit


def test_every_demo_visit_is_worked_out_alike(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    seen = 0
    documents = dict(demo_documents())
    for each in documents["demo/rooftop-now"]["instruments"]:
        fields = {key: each[key] for key in ("name", "kind", "serial", "accuracy", "calibration_due_on")}
        Instrument.objects.create(pk=each["id"], company=ours.company, **{**fields, "name": f"Our {each['name']}"})
    instruments = client.get("/api/v1/instruments").json()
    for name, document in documents.items():
        visit = kept_on_server(ours, document)
        page = client.get(f"/api/v1/visits/{visit.pk}").json()
        answered = asked("visit", **of_page(page, instruments))
        found = answered.get("answer")
        assert found, (name, answered)
        assert found["work_up"] == page["work_up"], name
        assert (found["left_out"], found["core"]) == (page["left_out"], page["core"])
        if "economizer" in page["work_up"]["parts"]:
            there = client.get(f"/api/v1/visits/{visit.pk}/economizer").json()["page"]
            here = asked("economizer", **of_page(page, instruments))["answer"]
            for test in (*there["tests"], *here["tests"]):
                for phase in ("as_found", "as_left"):
                    if test[phase]:
                        test[phase]["seen"]["trace"] = []
            assert here == there, name
            seen += 1
    assert len(documents) > 10
    assert seen > 3


def test_an_entry_that_can_not_be_read_is_left_out_and_can_be_taken_back(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    add(client, ours.visit, new_entry())
    page = client.get(f"/api/v1/visits/{ours.visit.pk}").json()
    bad = {**new_entry(), "kind": "reading", "body": {"station": "return"}, "phase": "as_found", "waiting": True}
    given = {**of_page(page, []), "entries": [*page["entries"], bad]}
    found = asked("visit", **given)["answer"]
    assert [each["entry"] for each in found["left_out"]] == [bad["id"]]
    assert found["work_up"] == page["work_up"]
    back = {**new_entry(), "kind": "withdrawal", "body": {}, "replaces": bad["id"], "reason": "taken back", "phase": "as_found"}
    given["entries"].append(back)
    assert asked("visit", **given)["answer"]["left_out"] == []


def test_what_the_server_refuses_the_device_refuses_with_the_same_words(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    first = new_entry()
    add(client, ours.visit, first, new_entry("closing", {"summary": "done"}))
    page = client.get(f"/api/v1/visits/{ours.visit.pk}").json()
    wrong = (
        new_entry(),
        new_entry(body={"station": "roof", "quantity": "dry_bulb", "value": 20.0, "unit": "degC"}),
        new_entry(body={"station": "return", "quantity": "dry_bulb", "value": 900.0, "unit": "degC"}),
        {**new_entry(), "kind": "reopening", "body": {}, "replaces": first["id"], "reason": "more"},
        {**first, "body": {**first["body"], "value": 30.0}},
    )
    for entry in wrong:
        there = add(client, ours.visit, entry).json()["refused"][0]["refusal"]
        assert asked("accept", **of_page(page, []), entry=entry)["refusals"] == [there]
    assert asked("accept", **of_page(page, []), entry={**new_entry(), "kind": "reopening", "body": {}, "reason": "more"}) == {
        "answer": {"accepted": True}
    }


def test_a_calculation_and_a_year_are_the_servers(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    ours.site.climate_zone = "4A"
    ours.site.save()
    ours.system.kind, ours.system.nameplate = "packaged_rooftop", {"economizer": True}
    ours.system.save()
    page = client.get(f"/api/v1/visits/{ours.visit.pk}").json()
    air = {"air": {"dry_bulb_c": 24.0, "relative_humidity": 0.5}}
    there = client.post("/api/v1/calculations/air.state", air, content_type="application/json").json()
    assert asked("calculation", name="air.state", given=air)["answer"] == there
    refused = client.post("/api/v1/calculations/air.state", {"air": {}}, content_type="application/json").json()
    assert asked("calculation", name="air.state", given={"air": {}})["refusals"] == refused["refusals"]
    there = client.post(f"/api/v1/visits/{ours.visit.pk}/year-hours", {}, content_type="application/json").json()
    assert asked("year_hours", **of_page(page, []), question={}) == {"answer": there}
    assert page["core"] == fingerprint() == asked("version")["answer"]["core"]


def test_who_works_it_out_alone_is_answered_with_what_came_and_no_more(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    first, second = new_entry(), new_entry(body={"station": "supply", "quantity": "dry_bulb", "value": 14.0, "unit": "degC"})
    whole = post(client, f"/api/v1/visits/{ours.visit.pk}/entries", {"entries": [first], "core": "0" * 12}).json()
    assert (whole["visit"]["number"], whole["news"]) == (1, None)
    given = {"entries": [second], "after": 1, "core": fingerprint()}
    answer = post(client, f"/api/v1/visits/{ours.visit.pk}/entries", given).json()
    news = answer["news"]
    assert (answer["visit"], answer["accepted"], news["number"], news["after"]) == (None, [second["id"]], 2, 1)
    assert [each["id"] for each in news["entries"]] == [second["id"]]
    assert "work_up" not in news
    page = client.get(f"/api/v1/visits/{ours.visit.pk}").json()
    grown = {"head": news["head"], "entries": [*whole["visit"]["entries"], *news["entries"]], "instruments": []}
    assert asked("visit", **grown)["answer"]["work_up"] == page["work_up"]


def test_causes_that_can_wait_are_not_weighed_before_the_answer(ours: House) -> None:
    """The line that lists show is the same; who asks for the visit later gets them."""
    client = signed_in(ours.people["technician"])
    path = f"/api/v1/visits/{ours.visit.pk}/entries"

    def sent(**more: Any) -> tuple[bool, Any]:
        page = post(client, path, {"entries": [new_entry()], **more}).json()["visit"]
        return page["work_up"]["weighed"], Visit.objects.get(pk=ours.visit.pk).line

    weighed, line = sent(weigh=False)
    assert not weighed
    assert client.get(f"/api/v1/visits/{ours.visit.pk}").json()["work_up"]["weighed"]
    assert sent() == (True, line)
