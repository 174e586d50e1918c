"""Reports on page and paper, signing, editions that never change, fingerprints."""

from __future__ import annotations

import importlib.machinery
import json
import sys
import threading
from hashlib import sha256
from typing import Any

import pytest
from django.db import DatabaseError, connection, transaction
from django.test import Client

from fentro_server.accounts.models import Role
from fentro_server.records import pdf
from fentro_server.records.models import Edition, Signature
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, post, signed_in
from tests.server.test_photos import keep, picture

STROKES = [[[0.1, 0.5], [0.2, 0.4], [0.3, 0.6]]]


def close(house: House) -> None:
    person = house.people[Role.TECHNICIAN]
    add(signed_in(person), house.visit, new_entry(), new_entry("closing", {"summary": "All <well> & dry."}))


def head(person: Any, house: House) -> dict[str, Any]:
    found: dict[str, Any] = signed_in(person).get(f"/api/v1/visits/{house.visit.pk}/report").json()
    return found


def sign(person: Any, house: House, signed_as: str = "technician", **more: Any) -> Any:
    given = {"signed_as": signed_as, "name": person.name, "seen": head(person, house)["number"], **more}
    return post(signed_in(person), f"/api/v1/visits/{house.visit.pk}/signatures", given)


def signed(house: House) -> Edition:
    close(house)
    assert sign(house.people[Role.TECHNICIAN], house, strokes=STROKES).status_code == 200
    return Edition.objects.get(visit=house.visit)


def page(person: Any, house: House, query: str = "") -> Any:
    return signed_in(person).get(f"/api/v1/visits/{house.visit.pk}/report/page?{query}")


def test_the_page_says_what_was_read_in_the_readers_units_and_hours(ours: House) -> None:
    close(ours)
    person = ours.people[Role.VIEWER]
    si, us = page(person, ours), page(person, ours, "units=US&zone=America/Denver")
    assert "24.6 °C" in si.text
    assert "76.3 °F" in us.text
    assert "1 Jul 2026, 10:20" in si.text
    assert "1 Jul 2026, 04:20" in us.text
    assert "All &lt;well&gt; &amp; dry." in si.text, "what somebody typed is words, never marks"
    assert page(person, ours, "zone=Nowhere/At/All").status_code == 200


def test_the_page_stands_in_our_own_frame_and_in_no_other(ours: House) -> None:
    found = page(ours.people[Role.LEAD], ours)
    assert found["X-Frame-Options"] == "SAMEORIGIN"
    assert "frame-ancestors 'self'" in found["Content-Security-Policy"]
    other = signed_in(ours.people[Role.LEAD]).get("/api/v1/day")
    assert other["X-Frame-Options"] == "DENY"
    assert "frame-ancestors 'none'" in other["Content-Security-Policy"]


def test_the_same_report_is_a_pdf_with_its_photos(ours: House) -> None:
    content = picture()
    keep(ours.people[Role.TECHNICIAN], ours, content)
    client = signed_in(ours.people[Role.TECHNICIAN])
    add(client, ours.visit, new_entry("photo", {"sha256": sha256(content).hexdigest(), "of": "site", "words": "Roof"}))
    add(client, ours.visit, new_entry("photo", {"sha256": "0" * 64, "of": "other", "words": "Coming"}))
    close(ours)
    shown = page(ours.people[Role.LEAD], ours).text
    assert shown.count("<img") == 1
    assert "still on the device" in shown
    found = client.get(f"/api/v1/visits/{ours.visit.pk}/report/pdf")
    assert found.content.startswith(b"%PDF-")
    assert found["Content-Disposition"].startswith('attachment; filename="report-furnace-')
    assert b"/Subtype /Image" in found.content


def test_a_server_without_pango_says_so_and_serves_the_page(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delitem(sys.modules, "fentro_server.records.pdf")
    monkeypatch.delattr("fentro_server.records.pdf")
    monkeypatch.setattr(importlib.machinery.SourceFileLoader, "exec_module", _without_pango)
    answer = signed_in(ours.people[Role.LEAD]).get(f"/api/v1/visits/{ours.visit.pk}/report/pdf")
    assert (answer.status_code, "Pango is missing" in answer.json()["detail"]) == (422, True)
    assert page(ours.people[Role.LEAD], ours).status_code == 200


def _without_pango(loader: Any, module: Any) -> None:
    raise OSError("cannot load library 'libpango-1.0-0'")


def test_paper_takes_nothing_from_anywhere_else(ours: House, theirs: House) -> None:
    content = picture()
    keep(theirs.people[Role.TECHNICIAN], theirs, content)
    own = pdf._Own(ours.company.pk)
    for address in (
        "http://127.0.0.1:1/x.css",
        "file:///etc/passwd",
        "fentro://report/static/fonts/../../../../manage.py.woff2",
        f"fentro://report/api/v1/photos/{sha256(content).hexdigest()}",
    ):
        with pytest.raises(ValueError, match="not ours"):
            own.fetch(address)


def test_the_first_signature_freezes_an_edition_whose_fingerprint_is_its_files(ours: House) -> None:
    edition = signed(ours)
    client = signed_in(ours.people[Role.VIEWER])
    file = client.get(f"/api/v1/visits/{ours.visit.pk}/editions/1").content
    assert sha256(file).hexdigest() == edition.fingerprint
    document = json.loads(file)
    assert document["snapshot"]["visit"]["id"] == str(ours.visit.pk)
    assert [each["kind"] for each in document["snapshot"]["entries"]] == ["reading", "closing"]
    shown = head(ours.people[Role.LEAD], ours)
    assert [each["signed_as"] for each in shown["editions"][0]["signatures"]] == ["technician"]
    assert (shown["editions"][0]["current"], shown["lead"]) == (True, "")
    assert "polyline" in page(ours.people[Role.LEAD], ours, "edition=1").text


def test_a_lead_stands_under_the_same_edition(ours: House) -> None:
    edition = signed(ours)
    assert sign(ours.people[Role.LEAD], ours, "lead").status_code == 200
    assert Edition.objects.count() == 1
    assert list(edition.signatures.values_list("signed_as", flat=True)) == ["technician", "lead"]
    text = page(ours.people[Role.VIEWER], ours, "edition=1").text
    assert edition.fingerprint in text
    assert "lead of ours" in text


@pytest.mark.parametrize(
    ("who", "signed_as", "before", "words"),
    [
        (Role.TECHNICIAN, "technician", "open", "Close the visit first"),
        (Role.VIEWER, "technician", "closed", "signs here, or a lead"),
        (Role.VIEWER, "lead", "signed", "A lead countersigns"),
        (Role.TECHNICIAN, "lead", "signed", "A lead countersigns"),
        (Role.LEAD, "lead", "closed", "The technician signs first"),
        (Role.TECHNICIAN, "technician", "signed", "has signed here already"),
    ],
)
def test_who_may_not_sign_is_told_why(ours: House, who: str, signed_as: str, before: str, words: str) -> None:
    if before == "signed":
        signed(ours)
    elif before == "closed":
        close(ours)
    assert words in head(ours.people[who], ours)[signed_as]
    answer = sign(ours.people[who], ours, signed_as)
    assert (answer.status_code, words in answer.json()["detail"]) == (403, True)
    assert Signature.objects.count() == (1 if before == "signed" else 0)


def test_nobody_countersigns_what_they_signed(ours: House) -> None:
    close(ours)
    lead = ours.people[Role.LEAD]
    assert sign(lead, ours).status_code == 200, "a lead may sign in the technician's place"
    assert "Somebody else countersigns" in sign(lead, ours, "lead").json()["detail"]


@pytest.mark.parametrize(
    ("given", "path"),
    [
        ({"name": "   "}, "name"),
        ({"strokes": [[[0.1, 2.0], [0.2, 0.4]]]}, "strokes"),
        ({"strokes": [[[0.1], [0.2, 0.4]]]}, "strokes"),
        ({"strokes": [[[0.5, 0.5]] * 5000]}, "strokes"),
        ({"seen": 1}, "seen"),
    ],
)
def test_what_cannot_be_signed_is_refused_at_the_field(ours: House, given: dict[str, Any], path: str) -> None:
    close(ours)
    answer = sign(ours.people[Role.TECHNICIAN], ours, **given)
    assert answer.status_code == 422
    assert answer.json()["refusals"][0]["path"] == path
    assert Edition.objects.count() == 0


def test_what_is_added_later_makes_a_new_edition_and_leaves_the_old_one(ours: House) -> None:
    first = signed(ours)
    before = page(ours.people[Role.LEAD], ours, "edition=1").content
    person = ours.people[Role.TECHNICIAN]
    reopening = {**new_entry("reopening"), "body": {}, "reason": "The supply was missing."}
    later = new_entry(body={"station": "supply", "quantity": "dry_bulb", "value": 13.3, "unit": "degC"})
    answer = add(signed_in(person), ours.visit, reopening, later, new_entry("closing", {"summary": "Now whole."}))
    assert answer.json()["refused"] == []
    assert head(person, ours)["editions"][0]["current"] is False
    assert sign(person, ours).status_code == 200
    numbers = [(each["number"], each["current"]) for each in head(person, ours)["editions"]]
    assert numbers == [(1, False), (2, True)]
    first.refresh_from_db()
    assert page(ours.people[Role.LEAD], ours, "edition=1").content == before
    assert "13.3 °C" not in before.decode()
    assert "13.3 °C" in page(ours.people[Role.LEAD], ours, "edition=2").text
    assert page(ours.people[Role.LEAD], ours, "edition=3").status_code == 404


def test_a_frozen_report_says_the_same_after_the_site_was_put_right(ours: House) -> None:
    signed(ours)
    before = page(ours.people[Role.LEAD], ours, "edition=1").content
    ours.site.elevation_m, ours.site.name = 2200.0, "Another"
    ours.site.save()
    ours.company.name = "Renamed"
    ours.company.save()
    assert page(ours.people[Role.LEAD], ours, "edition=1").content == before


@pytest.mark.parametrize("row", [Edition, Signature])
def test_the_database_keeps_what_was_signed(ours: House, row: Any) -> None:
    signed(ours)
    rows = row.objects.all()
    for change in (lambda: rows.update(id="11111111-1111-4111-8111-111111111111"), lambda: rows._raw_delete("default")):
        with pytest.raises(DatabaseError, match="never changed"), transaction.atomic():
            change()


@pytest.mark.django_db(transaction=True)
def test_two_who_sign_at_once_make_one_edition_with_one_name() -> None:
    from tests.server.conftest import make_house

    house = make_house("ours")
    close(house)
    lead, technician = house.people[Role.LEAD], house.people[Role.TECHNICIAN]
    seen = head(lead, house)["number"]
    ready = threading.Barrier(2)
    answers: list[int] = []

    def go(person: Any) -> None:
        client: Client = signed_in(person)
        ready.wait()
        given = {"signed_as": "technician", "name": person.name, "seen": seen}
        answers.append(post(client, f"/api/v1/visits/{house.visit.pk}/signatures", given).status_code)
        connection.close()

    threads = [threading.Thread(target=go, args=(person,)) for person in (lead, technician)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert sorted(answers) == [200, 403]
    assert (Edition.objects.count(), Signature.objects.count()) == (1, 1)


def test_a_fingerprint_is_looked_for_however_it_was_typed(ours: House, theirs: House) -> None:
    edition = signed(ours)
    typed = f" {edition.fingerprint[:32].upper()}\n{edition.fingerprint[32:]} "
    client = signed_in(ours.people[Role.VIEWER])
    found = post(client, "/api/v1/records/verify", {"fingerprint": typed}).json()
    assert (found["holds"], found["edition"], found["visit"]) == (True, 1, str(ours.visit.pk))
    assert "technician of ours" in found["words"]
    stranger = signed_in(theirs.people[Role.LEAD])
    assert post(stranger, "/api/v1/records/verify", {"fingerprint": typed}).json()["holds"] is False
    refused = post(client, "/api/v1/records/verify", {"fingerprint": "12ab"})
    assert (refused.status_code, refused.json()["refusals"][0]["path"]) == (422, "fingerprint")


def test_a_file_is_held_against_what_was_signed(ours: House) -> None:
    edition = signed(ours)
    client = signed_in(ours.people[Role.VIEWER])

    def ask(body: bytes) -> Any:
        return client.post("/api/v1/records/verify-file", body, content_type="application/json")

    assert ask(edition.document.encode()).json()["holds"] is True
    again = json.dumps(json.loads(edition.document), indent=2).encode()
    assert ask(again).json()["holds"] is True, "written another way, it says the same"
    changed = json.loads(edition.document)
    changed["snapshot"]["entries"][0]["body"]["value"] = 24.7
    found = ask(json.dumps(changed).encode()).json()
    assert (found["holds"], found["edition"]) == (False, 1)
    assert "Something in it was changed" in found["words"]
    changed["snapshot"]["visit"]["id"] = "nobody's"
    assert "No report that was signed here" in ask(json.dumps(changed).encode()).json()["words"]
    for body in (edition.document.encode()[:-9], b"", b"[]", b'{"format": "fentro.visit"}', b"\xff\xd8\xff\xe0 a photo"):
        assert ask(body).status_code == 422


def test_a_visit_that_cannot_be_worked_out_says_so(ours: House) -> None:
    close(ours)
    seen = Visit.objects.get(pk=ours.visit.pk).entries_number
    ours.system.nameplate = {"rated_total_w": -4.0}
    ours.system.save()
    assert page(ours.people[Role.LEAD], ours).status_code == 422
    given = {"signed_as": "technician", "name": "x", "seen": seen}
    assert post(signed_in(ours.people[Role.LEAD]), f"/api/v1/visits/{ours.visit.pk}/signatures", given).status_code == 422


def test_the_letterhead_is_the_companys(ours: House) -> None:
    ours.company.letterhead = "Quay 4, Harbour Road\n\nLicence 4471"
    ours.company.save()
    close(ours)
    text = page(ours.people[Role.LEAD], ours).text
    assert "<p>Quay 4, Harbour Road</p>" in text
    assert "<p>Licence 4471</p>" in text
