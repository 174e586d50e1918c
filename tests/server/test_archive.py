"""A company's archive: everything out, everything in again elsewhere, and nothing of a file that is not whole."""

from __future__ import annotations

import io
import json
import threading
from datetime import date, timedelta
from typing import Any

import pytest
from asgiref.sync import async_to_sync
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_server.accounts.models import ApiToken, Company, Person, Role
from fentro_server.audit.models import Event, What
from fentro_server.gateways.models import Gateway
from fentro_server.measuring.models import ColumnMapping, Sample, Series
from fentro_server.photos.models import Photo
from fentro_server.planning.models import Appointment
from fentro_server.records import archive
from fentro_server.records.models import Edition, Signature
from fentro_server.visits.models import Entry, Visit
from tests.server.conftest import House, add, make_house, new_entry, signed_in
from tests.server.test_photos import keep, picture
from tests.server.test_records import sign, signed


def fill(house: House) -> None:
    """Something in every table that a company owns."""
    technician, lead = house.people[Role.TECHNICIAN], house.people[Role.LEAD]
    keep(technician, house, picture())
    wrong = new_entry()
    right = {**new_entry(), "replaces": wrong["id"], "reason": "misread"}
    odd = new_entry("note", {"text": "±0.1 °C, “so” he said\n\ttwice 🌡", "step": "arrive"})
    assert add(signed_in(technician), house.visit, wrong, right, odd).json()["refused"] == []
    series = Series.objects.create(
        visit=house.visit, instrument=house.instrument, station="return", quantity="dry_bulb", origin="live"
    )
    at = timezone.now()
    Sample.objects.bulk_create(Sample(series=series, at=at + timedelta(seconds=n), value=24 + n / 7) for n in range(450))
    ColumnMapping.objects.create(company=house.company, header="a,b", mapping={"columns": []})
    Gateway.objects.create(company=house.company, kind="probes", name="Van", address="http://10.0.0.1", token="secret-of-the-van")
    Appointment.objects.create(
        company=house.company, system=house.system, person=technician, starts_at=at, minutes=30, words="Filters", revision=3
    )
    ApiToken.objects.create(person=lead, name="script", hashed="f" * 64, ends_on=date(2027, 1, 1))
    house.instrument.calibrated_on = date(2026, 2, 3)
    house.instrument.save()
    house.company.letterhead = "Quay 4"
    house.company.save()
    signed(house)
    assert sign(lead, house, "lead").status_code == 200


def whole(answer: Any) -> str:
    async def joined() -> bytes:
        return b"".join([part async for part in answer.streaming_content])

    return async_to_sync(joined)().decode()


def text_of(company: Company) -> str:
    return "".join(archive.lines(company))


def comparable(text: str) -> Any:
    """Less when it was made and its fingerprint; rows that get a new number here without it."""
    lines = [json.loads(line) for line in text.splitlines()]
    head, rows, end = lines[0], lines[1:-1], lines[-1]
    head.pop("made_at")
    for line in rows:
        if line["table"] in ("event", "series"):
            at = line["fields"].index("id")
            line["rows"] = [[each for index, each in enumerate(row) if index != at] for row in line["rows"]]
        if line["table"] == "sample":
            at = line["fields"].index("series_id")
            line["rows"] = [[each for index, each in enumerate(row) if index != at] for row in line["rows"]]
    return head, rows, end["end"]


def load(text: str) -> Company:
    return archive.load(lambda: (line.encode() for line in io.StringIO(text)))


@pytest.fixture
def taken(db: None) -> str:
    """An archive of a company that is not here any more."""
    sid = transaction.savepoint()
    house = make_house("ours")
    fill(house)
    text = text_of(house.company)
    transaction.savepoint_rollback(sid)
    assert not Company.objects.exists()
    return text


def test_everything_comes_back_as_it_was(taken: str) -> None:
    company = load(taken)
    assert comparable(text_of(company)) == comparable(taken)
    tables = {json.loads(line)["table"] for line in taken.splitlines()[1:-1]}
    assert tables == set(archive.TABLES), "every table has something in it, so that this test sees it"


def test_what_came_back_works(taken: str) -> None:
    company = load(taken)
    lead = Person.objects.get(company=company, role=Role.LEAD)
    visit = Visit.objects.get()
    client = signed_in(lead)
    assert client.get("/api/v1/day").json()["today"][0]["id"] == str(visit.pk)
    page = client.get(f"/api/v1/visits/{visit.pk}").json()
    assert [each["kind"] for each in page["entries"]] == ["reading", "reading", "note", "reading", "closing"]
    assert page["entries"][2]["body"]["text"].endswith("🌡")
    edition = Edition.objects.get()
    found = client.post("/api/v1/records/verify", {"fingerprint": edition.fingerprint}, content_type="application/json").json()
    assert found["holds"] is True
    assert client.get(f"/api/v1/visits/{visit.pk}/report/pdf?edition=1").content.startswith(b"%PDF")
    assert Sample.objects.filter(series__visit=visit).count() == 450
    call_command("verify_chains")


def test_no_secret_goes_along(taken: str) -> None:
    assert "secret-of-the-van" not in taken
    assert "pbkdf2" not in taken
    assert "argon2" not in taken
    assert "f" * 64 not in taken
    company = load(taken)
    assert not any(person.has_usable_password() for person in Person.objects.filter(company=company))
    assert ApiToken.objects.count() == 0


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda lines: lines[:-1], "not whole"),
        (lambda lines: lines[: len(lines) // 2], "not whole"),
        (lambda lines: [*lines[:-2], lines[-2][: len(lines[-2]) // 2]], "not whole"),
        (lambda lines: [line.replace("Furnace", "Fumace") for line in lines], "not whole"),
        (lambda lines: [lines[0], *lines[2:]], "not whole"),
        (lambda lines: [lines[0].replace('"version":1', '"version":2'), *lines[1:]], "newer version"),
        (lambda lines: ["time,Return temp (C)\n", "1,2\n"], "no archive"),
        (lambda lines: [], "no archive"),
        (lambda lines: ['{"format": "fentro.visit"}\n'], "no archive"),
    ],
)
def test_nothing_is_read_of_a_file_that_is_not_whole(taken: str, spoil: Any, words: str) -> None:
    with pytest.raises(Refused) as refused:
        load("".join(spoil(taken.splitlines(keepends=True))))
    assert words in refused.value.sentence.say()
    assert not Company.objects.exists()


def test_an_archive_whose_entries_were_changed_is_refused_though_its_sum_is_right(taken: str) -> None:
    """Whoever changes a line can work the sum out anew, but not the chain of the entries."""
    from hashlib import sha256

    lines = [line.replace('"value":24.6', '"value":24.7') for line in taken.splitlines(keepends=True)]
    end = json.loads(lines[-1])
    end["sha256"] = sha256("".join(lines[:-1]).encode()).hexdigest()
    with pytest.raises(Refused, match="not as it was made"):
        load("".join([*lines[:-1], json.dumps(end) + "\n"]))
    assert not Company.objects.exists()


def test_a_company_comes_in_once(taken: str) -> None:
    load(taken)
    with pytest.raises(Refused, match="here already"):
        load(taken)
    assert Company.objects.count() == 1


def test_the_commands_say_what_happened(taken: str, tmp_path: Any) -> None:
    file = tmp_path / "all.jsonl"
    file.write_text(taken)
    said = io.StringIO()
    call_command("load_archive", file, stdout=said)
    assert "ours is here now" in said.getvalue()
    with pytest.raises(CommandError, match="here already"):
        call_command("load_archive", file)
    with pytest.raises(CommandError, match="no such file"):
        call_command("load_archive", tmp_path / "none")
    call_command("new_password", "lead@ours.example", stdout=said)
    assert "/invitation/" in said.getvalue()
    with pytest.raises(CommandError, match="Nobody signs in"):
        call_command("new_password", "nobody")


def test_an_archive_holds_only_the_own_company(ours: House, theirs: House) -> None:
    fill(ours)
    add(signed_in(theirs.people[Role.TECHNICIAN]), theirs.visit, new_entry())
    answer = signed_in(ours.people[Role.LEAD]).get("/api/v1/company/archive")
    text = whole(answer)
    assert "theirs" not in text
    assert str(theirs.visit.pk) not in text
    assert Event.objects.of(ours.company.pk).filter(what=What.TOOK_ALL).exists()


def test_a_company_ends_only_after_everything_was_taken_along(ours: House, theirs: House) -> None:
    fill(ours)
    client = signed_in(ours.people[Role.LEAD])

    def end(name: str) -> Any:
        return client.delete("/api/v1/company", {"name": name}, content_type="application/json")

    assert end("Ours").json()["refusals"][0]["path"] == "name"
    assert end("ours").json()["refusals"][0]["path"] == "archive"
    whole(client.get("/api/v1/company/archive"))
    with pytest.raises(CommandError, match="has not ended"):
        call_command("remove_ended", "ours")
    assert "is ended" in end("ours").json()["words"]
    assert client.get("/api/v1/day").status_code == 401
    said = io.StringIO()
    call_command("remove_ended", "ours", stdout=said)
    assert "1 visits, 5 entries" in said.getvalue()
    for table in (Company, Visit, Edition, Signature):
        assert table.objects.count() == (1 if table in (Company, Visit) else 0), table
    assert Photo.objects.count() == Sample.objects.count() == 0
    assert signed_in(theirs.people[Role.LEAD]).get("/api/v1/day").json()["open"], "the other company is not touched"
    add(signed_in(theirs.people[Role.TECHNICIAN]), theirs.visit, new_entry())
    with pytest.raises(DatabaseError, match="never changed"), transaction.atomic():
        Entry.objects.update(reason="x")


@pytest.mark.django_db(transaction=True)
def test_what_is_added_while_an_archive_is_taken_is_not_half_in_it() -> None:
    house = make_house("ours")
    add(signed_in(house.people[Role.TECHNICIAN]), house.visit, new_entry())
    taking = archive.lines(house.company)
    begun = [next(taking), next(taking)]
    added = threading.Thread(
        target=lambda: (add(signed_in(house.people[Role.TECHNICIAN]), house.visit, new_entry()), connection.close())
    )
    added.start()
    added.join()
    rows = [json.loads(line) for line in [*begun, *taking]]
    (visits,) = [line for line in rows if line.get("table") == "visit"]
    (entries,) = [line for line in rows if line.get("table") == "entry"]
    assert visits["rows"][0][visits["fields"].index("entries_number")] == len(entries["rows"]) == 1
    assert Entry.objects.count() == 2
    assert not connection.in_atomic_block


@pytest.mark.django_db(transaction=True)
def test_whoever_goes_away_leaves_no_transaction_open() -> None:
    taking = archive.lines(make_house("ours").company)
    next(taking)
    assert connection.in_atomic_block
    taking.close()
    assert not connection.in_atomic_block
