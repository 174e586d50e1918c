"""What the pages get: day sheet, system page, instruments, calculations, the office's checks, and the interface itself."""

from __future__ import annotations

import json
import uuid
from datetime import timedelta
from pathlib import Path

import pytest
from django.core.exceptions import ValidationError
from django.core.management import call_command
from django.db import IntegrityError, transaction
from django.test import Client, override_settings
from django.utils import timezone

from fentro_core.base.typed_json import write
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from fentro_server.demo import scenario
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Entry, Visit
from tests.server.conftest import House, add, new_entry, post, signed_in


def reading(station: str, quantity: str, value: float, unit: str) -> dict:
    return new_entry(body={"station": station, "quantity": quantity, "value": value, "unit": unit})


def cooling(split: float = 11.0) -> list[dict]:
    """Return and supply, dry bulb and humidity."""
    return [
        reading("return", "dry_bulb", 25.0, "degC"),
        reading("return", "relative_humidity", 50, "percent"),
        reading("supply", "dry_bulb", 25.0 - split, "degC"),
        reading("supply", "relative_humidity", 88, "percent"),
    ]


def test_the_day_sheet_says_what_is_left_and_what_was_found(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    line = client.get("/api/v1/day").json()["open"][0]
    assert line["next_step"] == "arrive"
    assert any("hazards" in left for left in line["left"])
    assert line["numbers"] == []
    add(client, ours.visit, new_entry("note", {"text": "Hot room", "step": "arrive"}), *cooling(12.0))
    line = client.get("/api/v1/day").json()["open"][0]
    assert line["purpose"] == "Hot room"
    assert [each["key"] for each in line["numbers"]] == ["split", "total"]
    assert line["worst"] == "too_close"
    assert line["mine"]


def test_the_gravest_mark_stands_for_a_visit(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    add(client, ours.visit, *cooling(4.0))
    assert client.get("/api/v1/day").json()["open"][0]["worst"] == "off"


def test_a_visit_closed_today_moves_down_and_one_closed_long_ago_is_gone(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    closing = {**new_entry("closing", {"summary": ""}), "at": timezone.now().isoformat()}
    add(client, ours.visit, closing)
    sheet = client.get("/api/v1/day").json()
    assert (len(sheet["open"]), len(sheet["today"])) == (0, 1)
    Visit.objects.update(closed_at=timezone.now() - timedelta(days=2))
    sheet = client.get("/api/v1/day").json()
    assert (len(sheet["open"]), len(sheet["today"])) == (0, 0)


def test_a_system_page_has_plate_pressure_and_visits(ours: House) -> None:
    client = signed_in(ours.people["viewer"])
    page = client.get(f"/api/v1/systems/{ours.system.pk}").json()
    assert page["elevation"]["value"] == 300
    assert page["pressure"]["value"] == pytest.approx(97773, abs=30)
    assert [line["label"] for line in page["plate"]] == ["Rated cooling, total", "Cooling coil"]
    assert [visit["id"] for visit in page["visits"]] == [str(ours.visit.pk)]


def test_instruments_say_what_they_read_whose_they_are_and_whether_they_are_due(ours: House) -> None:
    mine = Instrument.objects.create(
        company=ours.company,
        name="Zeta",
        kind="flow_hood",
        accuracy={"airflow": {"plus_minus": 0.02, "share": 0.03}},
        held_by=ours.people["technician"],
        calibration_due_on=timezone.now().date() - timedelta(days=1),
    )
    Instrument.objects.create(company=ours.company, name="Old", kind="other", in_use=False)
    lines = signed_in(ours.people["technician"]).get("/api/v1/instruments").json()
    assert [line["name"] for line in lines] == ["Zeta", "Probe"]
    assert lines[0]["quantities"] == ["airflow"]
    assert lines[0]["overdue"]
    assert lines[0]["mine"]
    assert not lines[1]["overdue"]
    assert str(mine.pk) == lines[0]["id"]


def test_an_overdue_instrument_marks_the_visit(ours: House) -> None:
    Instrument.objects.update(calibration_due_on="2026-06-01")
    client = signed_in(ours.people["technician"])
    body = {"station": "return", "quantity": "dry_bulb", "value": 25, "unit": "degC", "instrument": str(ours.instrument.pk)}
    phase = add(client, ours.visit, new_entry(body=body)).json()["visit"]["work_up"]["phases"][0]
    assert phase["stations"][0]["readings"][0]["overdue"]
    assert phase["stations"][0]["dry_bulb"]["plus_minus"] == pytest.approx(1.0), "0.6 K overdue, 0.8 K of the duct's layers"
    assert any("overdue" in line["sentence"]["text"] for line in phase["verdicts"])


def test_calculations_answer_like_the_command_line(ours: House) -> None:
    client = signed_in(ours.people["viewer"])
    assert "cooling.capacity" in [each["name"] for each in client.get("/api/v1/calculations").json()]
    assert client.get("/api/v1/calculations/air.state").json()["input"]["required"] == ["air"]
    given = {"air": {"dry_bulb_c": {"value": 24, "plus_minus": 0.3}, "relative_humidity": 0.58}}
    answer = post(client, "/api/v1/calculations/air.state", given).json()
    assert answer["result"]["dew_point_c"]["value"] == pytest.approx(15.237, abs=0.05)
    assert answer["result"]["dew_point_c"]["plus_minus"] > 0
    refused = post(client, "/api/v1/calculations/air.state", {"air": {"dry_bulb_c": 24, "wet_bulb_c": 30}})
    assert refused.status_code == 422
    assert refused.json()["refusals"][0]["path"] == "air.wet_bulb_c"
    limits = post(client, "/api/v1/calculations/air.standard_pressure", {"elevation_m": 9000}).json()["refusals"][0]
    assert limits["sentence"]["numbers"]["high"] == {"value": 5000.0, "kind": "length"}
    assert post(client, "/api/v1/calculations/no.such", {}).status_code == 422
    assert client.get("/api/v1/calculations/schema/visit").json()["title"] == "Snapshot"


@pytest.mark.parametrize("body", ["", "{", "[1]", '{"entries": 7}', '{"entries": null}'])
def test_a_broken_batch_is_refused_with_words(ours: House, body: str) -> None:
    path = f"/api/v1/visits/{ours.visit.pk}/entries"
    answer = signed_in(ours.people["technician"]).generic("POST", path, body, content_type="application/json")
    assert answer.status_code in (400, 422)
    assert answer.json()["detail"]


def test_a_batch_too_large_is_refused_whole(ours: House) -> None:
    many = [new_entry("note", {"text": "x"}) for _ in range(501)]
    assert add(signed_in(ours.people["technician"]), ours.visit, *many).status_code == 422
    assert ours.visit.entries.count() == 0


def test_no_such_visit_or_system(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    for path in (f"visits/{uuid.uuid4()}", f"systems/{uuid.uuid4()}"):
        answer = client.get(f"/api/v1/{path}")
        assert answer.status_code == 404
        assert answer.json()["detail"] == "There is no such thing here."
    assert client.get("/api/v1/visits/seven").status_code == 422


def test_entries_carry_the_devices_time_ours_and_the_person(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    given = new_entry("note", {"text": "x"})
    shown = add(client, ours.visit, {**given, "by": "somebody else"}).json()["visit"]["entries"][0]
    assert shown["by"] == "technician of ours"
    row = ours.visit.entries.get()
    assert row.at.isoformat() == given["at"]
    assert abs(row.received_at - timezone.now()) < timedelta(minutes=1)


def test_the_database_keeps_what_the_code_says(ours: House) -> None:
    wrong = (
        lambda: Site.objects.create(company=ours.company, name="Sky", elevation_m=9000),
        lambda: Site.objects.create(company=ours.company, name="Sea", barometer_pa=1000),
        lambda: Site.objects.create(company=ours.company, name="Mill"),
        lambda: System.objects.create(company=ours.company, site=ours.site, name="Odd", kind="toaster"),
        lambda: Instrument.objects.create(
            company=ours.company, name="X", kind="other", calibrated_on="2026-05-01", calibration_due_on="2026-04-01"
        ),
    )
    for make in wrong:
        with pytest.raises(IntegrityError), transaction.atomic():
            make()


@pytest.mark.parametrize(
    ("accuracy", "words"),
    [
        ({"smell": {"plus_minus": 1}}, "can't read"),
        ({"dry_bulb": {"plus_minus": -1}}, "below zero"),
        ({"dry_bulb": {}}, "missing"),
    ],
)
def test_an_instruments_accuracy_is_checked_by_the_core(ours: House, accuracy: dict, words: str) -> None:
    row = Instrument(company=ours.company, name="New", kind="other", accuracy=accuracy)
    with pytest.raises(ValidationError, match=words):
        row.full_clean()


def test_the_interface_is_served_for_every_page_and_never_for_files(ours: House, tmp_path: Path) -> None:
    (tmp_path / "index.html").write_text("<!doctype html><title>built</title>")
    with override_settings(WEB_BUILD=tmp_path):
        for path in ("/", "/sign-in", f"/visits/{ours.visit.pk}"):
            page = Client().get(path)
            assert "built" in page.content.decode()
            assert page["Cache-Control"] == "no-cache"
            assert "csrftoken" in page.cookies
        assert Client().get("/assets/missing.js").status_code == 404
        assert Client().post("/").status_code in (403, 405)
    with override_settings(WEB_BUILD=tmp_path / "nothing"):
        assert Client().get("/").status_code == 503


def test_the_demo_loads_once_and_every_visit_can_be_worked_out(db: None) -> None:
    with override_settings(INSTALLED_APPS=[*_apps(), "fentro_server.demo"]):
        call_command("load_demo")
        before = list(Visit.objects.values_list("pk", "entries__id").order_by("pk", "entries__number"))
        call_command("load_demo")
    assert list(Visit.objects.values_list("pk", "entries__id").order_by("pk", "entries__number")) == before
    lead = System.objects.first().company.people.get(role="lead")
    client = signed_in(lead)
    marks = []
    for visit in Visit.objects.all():
        page = client.get(f"/api/v1/visits/{visit.pk}").json()
        json.dumps(page, allow_nan=False)
        marks += [line["mark"] for phase in page["work_up"]["phases"] for line in phase["verdicts"]]
        assert not any(line["key"].startswith("trouble") for phase in page["work_up"]["phases"] for line in phase["verdicts"])
    assert {"holds", "watch", "too_close", "not_measured"} <= set(marks)
    assert Visit.objects.filter(closed_at__isnull=True).count() == 2


def test_a_newer_demo_adds_what_is_new_and_keeps_what_was_entered(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    newer = {"systems": scenario.SYSTEMS, "visits": scenario.VISITS, "instruments": scenario.INSTRUMENTS}
    older = {key: fields for key, fields in scenario.SYSTEMS.items() if key != "rooftop_2"}
    monkeypatch.setattr(scenario, "SYSTEMS", older)
    monkeypatch.setattr(scenario, "VISITS", tuple(visit for visit in scenario.VISITS if visit.system in older)[:4])
    monkeypatch.setattr(scenario, "INSTRUMENTS", {key: each for key, each in scenario.INSTRUMENTS.items() if key != "vane"})
    with override_settings(INSTALLED_APPS=[*_apps(), "fentro_server.demo"]):
        call_command("load_demo")
        System.objects.filter(name="Furnace and coil").update(location="Moved")
        kept = set(Entry.objects.values_list("id", flat=True))
        monkeypatch.setattr(scenario, "SYSTEMS", newer["systems"])
        monkeypatch.setattr(scenario, "VISITS", newer["visits"])
        monkeypatch.setattr(scenario, "INSTRUMENTS", newer["instruments"])
        call_command("load_demo")
    assert kept <= set(Entry.objects.values_list("id", flat=True))
    assert Visit.objects.count() == len(newer["visits"])
    assert System.objects.filter(name="Rooftop unit 2").exists()
    assert System.objects.get(name="Furnace and coil").location == "Moved"
    assert Instrument.objects.count() == len(newer["instruments"])


def test_entries_kept_ready_give_the_same_answer_as_the_snapshot(ours: House) -> None:
    """Twice, so that the second answer stands on what the first one read."""
    client = signed_in(ours.people["technician"])
    for value in (25.0, 24.8):
        body = {"station": "return", "quantity": "dry_bulb", "value": value, "unit": "degC", "point": 1}
        page = add(client, ours.visit, new_entry(body=body)).json()["visit"]
    snapshot = client.get(f"/api/v1/visits/{ours.visit.pk}/snapshot").json()
    alone = json.loads(json.dumps(write(work_up(read_snapshot(snapshot)))))
    assert page["work_up"]["phases"][0]["stations"] == alone["phases"][0]["stations"]
    assert page["work_up"]["route"] == alone["route"]


def _apps() -> list[str]:
    from django.conf import settings

    return list(settings.INSTALLED_APPS)
