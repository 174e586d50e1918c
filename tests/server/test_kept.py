"""What is kept between requests: read entries by visit, and the lines of lists. Nothing of it is ever stale or in the way."""

from __future__ import annotations

import uuid
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from django.core.management import call_command
from django.db import DataError, connection, transaction
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_core.base.version import fingerprint
from fentro_server.accounts import office
from fentro_server.api import work
from fentro_server.visits import kept, lines, logbook, snapshots
from fentro_server.visits.kept import Shelf, committed, shelf
from fentro_server.visits.management.commands import work_lines
from fentro_server.visits.models import Entry, Visit
from tests.server.conftest import House, new_entry, post, signed_in


def reading(value: float, station: str = "return", **more: Any) -> dict[str, Any]:
    return new_entry(body={"station": station, "quantity": "dry_bulb", "value": value, "unit": "degC", **more})


def answer(house: House, *entries: Any, after: int = 0) -> Any:
    client = signed_in(house.people["technician"])
    return post(client, f"/api/v1/visits/{house.visit.pk}/entries", {"entries": list(entries), "after": after}).json()


def page(house: House) -> Any:
    return signed_in(house.people["technician"]).get(f"/api/v1/visits/{house.visit.pk}").json()


@pytest.fixture(autouse=True)
def nothing_kept() -> None:
    shelf.clear()


# entries


def test_the_answer_brings_only_what_came_since(ours: House) -> None:
    first, second, third = reading(24.0), reading(24.1, point=2), reading(24.2, point=3)
    whole = answer(ours, first, second)["visit"]
    assert (whole["after"], whole["number"], len(whole["entries"])) == (0, 2, 2)
    later = answer(ours, third, after=2)["visit"]
    assert (later["after"], later["number"]) == (2, 3)
    assert [each["id"] for each in later["entries"]] == [third["id"]]
    assert len(page(ours)["entries"]) == 3
    assert [each["id"] for each in answer(ours, third, after=2)["visit"]["entries"]] == [third["id"]], "a lost answer"


@pytest.mark.django_db(transaction=True)
def test_an_entry_costs_as_many_statements_after_five_hundred_as_after_one(ours: House) -> None:
    client = signed_in(ours.people["technician"])

    def statements(entry: Any) -> list[str]:
        with CaptureQueriesContext(connection) as seen:
            post(client, f"/api/v1/visits/{ours.visit.pk}/entries", {"entries": [entry], "after": 10**6})
        return [each["sql"] for each in seen]

    client.get("/api/v1/session")
    answer(ours, reading(20.0))
    few = statements(reading(20.1, point=2))
    answer(ours, *[reading(20 + point / 100, point=point % 30 + 1) for point in range(500)])
    many = statements(reading(20.1, point=3))
    assert len(many) == len(few) <= 7
    assert not any('number" >' in sql for sql in many), "what is kept is not asked for again"
    assert sum("FOR UPDATE" in sql for sql in many) == 1


@pytest.mark.django_db(transaction=True)
def test_a_batch_rolled_back_leaves_nothing(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    answer(ours, reading(24.0))
    lost = reading(30.0)

    def fails(*_: Any) -> None:
        raise RuntimeError("the plug is pulled")

    with monkeypatch.context() as broken:
        broken.setattr(logbook, "put_line", fails)
        with pytest.raises(RuntimeError):
            answer(ours, lost)
    assert committed(ours.visit.pk).number == 1
    again = {**lost, "body": {**lost["body"], "value": 20.0}}
    found = answer(ours, again)
    assert found["accepted"] == [lost["id"]]
    assert found["visit"]["entries"][-1]["body"]["value"] == 20.0


@pytest.mark.django_db(transaction=True)
def test_what_a_transaction_wrote_itself_is_not_kept_before_it_is_committed(ours: House) -> None:
    with transaction.atomic():
        logbook.append(ours.visit.pk, ours.people["technician"], [reading(24.0)])
        logbook.append(ours.visit.pk, ours.people["technician"], [reading(24.1, point=2)])
        transaction.set_rollback(True)
    assert shelf.get(ours.visit.pk).number == 0
    assert committed(ours.visit.pk).number == 0


@pytest.mark.django_db(transaction=True)
def test_what_another_process_added_is_seen(ours: House) -> None:
    answer(ours, reading(24.0))
    here = shelf.get(ours.visit.pk)
    answer(ours, reading(24.1, point=2))
    shelf.clear()
    shelf.put(ours.visit.pk, here)
    assert [each["number"] for each in [answer(ours, reading(24.2, point=3))["visit"]]] == [3]
    assert len(page(ours)["entries"]) == 3


@pytest.mark.django_db(transaction=True)
def test_what_is_kept_of_another_database_is_read_anew(ours: House) -> None:
    """A visit of the same id, restored from before: what is kept here is not its logbook."""
    answer(ours, reading(24.0), reading(24.1, point=2))
    before = shelf.get(ours.visit.pk)
    other = kept.Logbook().with_more(replace(each, chain="other") for each in before.kept)
    for stale in (other, before.with_more([replace(before.kept[-1], number=3, id=str(uuid.uuid4()))])):
        shelf.clear()
        shelf.put(ours.visit.pk, stale)
        found = answer(ours, reading(24.2, point=3))
        assert [each["number"] for each in [found["visit"]]] == [Entry.objects.filter(visit=ours.visit).count()]
        assert len(found["visit"]["entries"]) == found["visit"]["number"]


def test_the_shelf_lets_go_of_what_was_not_asked_for_longest() -> None:
    small = Shelf(most=10)
    visits = [uuid.uuid4() for _ in range(4)]
    entry = kept.KeptEntry(1, "a", None, b"{}")  # type: ignore[arg-type]
    for number, visit in enumerate(visits):
        small.put(visit, kept.Logbook(tuple(kept.KeptEntry(n, f"{number}/{n}", entry.entry, b"{}") for n in range(1, 5))))
        small.get(visits[0])
    assert [small.get(visit).number for visit in visits] == [4, 0, 0, 4]
    small.put(visits[0], kept.Logbook())
    assert small.get(visits[0]).number == 4, "never an older one over a newer one"


# one bad entry, one bad visit


def test_odd_entries_are_refused_each_by_itself(ours: House) -> None:
    odd = [
        new_entry("note", {"text": "a\x00b"}),
        new_entry("note", {"text": "a\ud800b"}),
        {**reading(24.0), "at": "2026-07-01T10:00:00+99:00"},
        {**reading(24.0), "at": "2026-07-01T10:00:00+23:59"},
        {**reading(24.0), "id": "\ud800"},
        {**reading(24.0), "reason": "\x00"},
        reading(24.0, point=10**30),
        {**reading(24.0), "replaces": "\x00"},
        {**reading(24.0), "kind": "\x00"},
        {**reading(24.0), "phase": ["as_found"]},
        {"id": {}, "kind": [], "at": 7, "body": None},
        None,
        [],
    ]
    good = [reading(24.0), reading(24.1, point=2)]
    found = answer(ours, good[0], *odd, good[1])
    assert found["accepted"] == [each["id"] for each in good]
    assert [each["index"] for each in found["refused"]] == list(range(1, len(odd) + 1))


@pytest.mark.django_db(transaction=True)
def test_what_the_database_refuses_takes_no_other_along(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    bad, good = reading(25.0), [reading(24.0), reading(24.1, point=2)]
    row = logbook._row

    def spoiled(visit: Visit, person: Any, entry: Any, number: int) -> Entry:
        made = row(visit, person, entry, number)
        if entry.id == bad["id"]:
            made.phase = "far longer than the column"
        return made

    monkeypatch.setattr(logbook, "_row", spoiled)
    found = answer(ours, good[0], bad, good[1])
    assert found["accepted"] == [each["id"] for each in good]
    assert [(each["index"], each["id"]) for each in found["refused"]] == [(1, bad["id"])]
    with pytest.raises(DataError), transaction.atomic():
        logbook.append(ours.visit.pk, ours.people["technician"], [bad])


@pytest.mark.django_db(transaction=True)
def test_an_id_that_another_visit_has_is_refused_alone(ours: House, theirs: House) -> None:
    used = reading(24.0)
    answer(theirs, used)
    good = [reading(24.1), reading(24.2, point=2)]
    found = answer(ours, good[0], used, good[1])
    assert found["accepted"] == [each["id"] for each in good]
    (refused,) = found["refused"]
    assert (refused["index"], refused["id"]) == (1, used["id"])
    assert "already used" in str(refused["refusal"])
    assert Entry.objects.get(pk=used["id"]).visit_id == theirs.visit.pk


def worked_without(bad: str, why: Exception) -> Any:
    """A core that fails on one entry."""
    honest = snapshots.work_up

    def work_up(snapshot: Any, causes: bool = True) -> Any:
        if any(entry.id == bad for entry in snapshot.entries):
            raise why
        return honest(snapshot)

    return work_up


@pytest.mark.parametrize("why", [Refused("The pad is broken."), ZeroDivisionError()])
def test_a_visit_goes_on_without_an_entry_it_cant_be_worked_out_with(
    ours: House, monkeypatch: pytest.MonkeyPatch, why: Exception
) -> None:
    good, bad, after = reading(24.0), reading(25.0, point=2), reading(14.0, "supply")
    monkeypatch.setattr(snapshots, "work_up", worked_without(bad["id"], why))
    found = answer(ours, good, bad, after)
    assert found["accepted"] == [good["id"], bad["id"], after["id"]]
    (left,) = found["visit"]["left_out"]
    assert left["entry"] == bad["id"]
    assert left["words"]["text"]
    client = signed_in(ours.people["lead"])
    (line,) = client.get("/api/v1/day").json()["open"]
    assert "Open the visit" in line["trouble"]["text"]
    assert line["numbers"], "and the others count"
    assert client.get(f"/api/v1/systems/{ours.system.pk}").json()["visits"][0]["trouble"]
    assert client.get(f"/api/v1/systems/{ours.system.pk}/history").status_code == 200
    back = new_entry("withdrawal", {}, replaces=bad["id"], reason="taken back") | {"body": {}}
    monkeypatch.undo()
    answer(ours, back)
    assert client.get("/api/v1/day").json()["open"][0]["trouble"] is None


def test_many_bad_entries_are_left_out_without_an_endless_search(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    entries = [reading(20 + point / 10, point=point) for point in range(1, 31)]
    tried = 0

    def work_up(snapshot: Any, causes: bool = True) -> Any:
        nonlocal tried
        tried += 1
        if len(snapshot.entries) > 3:
            raise ZeroDivisionError
        return honest(snapshot)

    honest = snapshots.work_up
    monkeypatch.setattr(snapshots, "work_up", work_up)
    assert len(answer(ours, *entries)["visit"]["left_out"]) == 27
    assert tried < 60


def test_an_entry_of_an_older_core_is_shown_and_can_be_taken_back(ours: House) -> None:
    person = ours.people["technician"]
    old = Entry.objects.create(
        id=uuid.uuid4(), visit=ours.visit, number=1, kind="reading", phase="as_found", at=timezone.now(), by=person, body={"x": 1}
    )
    Visit.objects.filter(pk=ours.visit.pk).update(entries_number=1)
    found = page(ours)
    assert [each["entry"] for each in found["left_out"]] == [str(old.pk)]
    assert answer(ours, reading(24.0))["accepted"]
    back = new_entry("withdrawal", {}, replaces=str(old.pk), reason="old") | {"body": {}}
    assert answer(ours, back)["accepted"] == [back["id"]]
    assert page(ours)["left_out"] == []
    assert page(ours)["work_up"]["phases"][0]["stations"][0]["readings"]


def test_a_site_that_cant_be_is_said_in_its_line_and_loses_nothing(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(snapshots, "site_json", lambda site: {"name": "Mill", "elevation_m": 99_000.0})
    entry = reading(24.0)
    found = answer(ours, entry)
    assert (found["accepted"], found["visit"]) == ([entry["id"]], None)
    client = signed_in(ours.people["technician"])
    assert client.get("/api/v1/day").json()["open"][0]["trouble"]["text"]
    assert client.get(f"/api/v1/visits/{ours.visit.pk}").status_code == 422
    monkeypatch.undo()
    assert len(page(ours)["entries"]) == 1


# lines


def test_lists_work_nothing_out_that_is_stored(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    answer(ours, reading(25.1), reading(14.0, "supply"))
    client = signed_in(ours.people["technician"])
    paths = ("/api/v1/day", f"/api/v1/systems/{ours.system.pk}", f"/api/v1/systems/{ours.system.pk}/history")
    first = [client.get(path).json() for path in paths]
    assert first[0]["open"][0]["numbers"][0]["quantity"]["value"] == pytest.approx(11.1)
    monkeypatch.setattr(lines, "worked", lambda *_: pytest.fail("worked out again"))
    assert [client.get(path).json() for path in paths] == first


@pytest.mark.parametrize(
    "change",
    [
        lambda house: type(house.site).objects.filter(pk=house.site.pk).update(elevation_m=1655.0),
        lambda house: type(house.system).objects.filter(pk=house.system.pk).update(nameplate={"rated_total_w": 9000.0}),
        lambda house: (
            type(house.instrument).objects.filter(pk=house.instrument.pk).update(accuracy={"dry_bulb": {"plus_minus": 2.0}})
        ),
        lambda house: Visit.objects.filter(pk=house.visit.pk).update(line=None),
    ],
)
def test_a_line_is_worked_out_again_when_what_it_stands_on_changes(ours: House, change: Any) -> None:
    probe = {"instrument": str(ours.instrument.pk)}
    answer(ours, reading(25.1, **probe), reading(14.0, "supply", **probe))
    client = signed_in(ours.people["technician"])
    stands_on = Visit.objects.get(pk=ours.visit.pk).line_stands_on
    client.get("/api/v1/day")
    assert Visit.objects.get(pk=ours.visit.pk).line_stands_on == stands_on
    change(ours)
    line = client.get("/api/v1/day").json()["open"][0]
    stored = Visit.objects.get(pk=ours.visit.pk)
    assert stored.line is not None
    assert line["numbers"] == stored.line["numbers"]
    assert lines._holds(stored, {str(ours.instrument.pk): type(ours.instrument).objects.get(pk=ours.instrument.pk)})


def test_a_line_of_another_core_is_worked_out_again(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    answer(ours, reading(25.1))
    before = Visit.objects.get(pk=ours.visit.pk).line_stands_on
    monkeypatch.setattr(lines, "fingerprint", lambda: "another core")
    signed_in(ours.people["technician"]).get("/api/v1/day")
    assert Visit.objects.get(pk=ours.visit.pk).line_stands_on != before


def test_lists_come_page_by_page_and_nothing_is_cut_off(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(work, "PAGE", 3)
    monkeypatch.setattr(work, "SYSTEMS_PAGE", 2)
    now = timezone.now()
    for number in range(7):
        Visit.objects.create(
            id=uuid.uuid4(),
            company=ours.company,
            system=ours.system,
            technician=ours.people["technician"],
            opened_at=now - timedelta(days=number // 2),
        )
        type(ours.system).objects.create(company=ours.company, site=ours.site, name=f"Unit {number}", kind="furnace_with_coil")
    client = signed_in(ours.people["technician"])
    day = client.get("/api/v1/day").json()
    for first, more, path, key in (
        (day["open"], day["more_open"], "/api/v1/visits?before=", "visits"),
        (day["systems"], day["more_systems"], "/api/v1/systems?after=", "systems"),
    ):
        found = [each["id"] for each in first]
        while more:
            answered = client.get(path + more.replace("+", "%2B")).json()
            found += [each["id"] for each in answered[key]]
            more = answered["more"]
        assert len(found) == len(set(found)) == 8
    assert [each["name"] for each in client.get("/api/v1/systems?words=unit 6 mill").json()["systems"]] == ["Unit 6"]
    assert client.get("/api/v1/visits?before=yesterday").status_code == 422
    assert client.get("/api/v1/systems?after=nothing").status_code == 422


def test_lists_go_by_the_servers_clock(ours: House) -> None:
    closing = {**new_entry("closing", {"summary": "done"}), "at": "2031-01-01T00:00:00+00:00"}
    answer(ours, {**reading(24.0), "at": "2001-01-01T00:00:00+00:00"}, closing)
    stored = Visit.objects.get(pk=ours.visit.pk)
    assert stored.closed_at is not None
    assert abs(stored.closed_at - timezone.now()) < timedelta(minutes=1)
    assert signed_in(ours.people["technician"]).get("/api/v1/day").json()["today"][0]["id"] == str(ours.visit.pk)
    assert page(ours)["entries"][1]["at"].startswith("2031-01-01")


def test_a_visit_closed_meanwhile_says_so_of_each_entry(ours: House) -> None:
    answer(ours, new_entry("closing", {"summary": "done"}))
    late = reading(24.0)
    (refused,) = answer(ours, late)["refused"]
    assert refused["closed"] is True
    assert answer(ours, new_entry("reopening", {}) | {"body": {}, "reason": "One more."}, late)["accepted"][1] == late["id"]
    (other,) = answer(ours, reading(99.0, "attic"))["refused"]
    assert other["closed"] is False


def test_two_visits_of_one_id_one_is_told(ours: House) -> None:
    given = {"id": str(uuid.uuid4()), "system": str(ours.system.pk)}
    assert post(signed_in(ours.people["technician"]), "/api/v1/visits", given).status_code == 200
    told = post(signed_in(ours.people["lead"]), "/api/v1/visits", given)
    assert told.status_code == 409
    assert "already used" in told.json()["detail"]


def test_the_offices_lists_say_when_they_are_longer_than_they_show(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    client = signed_in(ours.people["lead"])
    answer(ours, *[reading(20 + point / 10, point=point) for point in range(1, 10)])
    path = "/admin/visits/entry/"
    assert "Narrow the list" not in client.get(path).content.decode()
    monkeypatch.setattr(office, "PAGED", 5)
    said = client.get(path).content.decode()
    assert "More than 5" in said
    assert client.get("/admin/visits/visit/?q=Mill").status_code == 200


# lines of visits that their devices work out


def alone(house: House, *entries: Any) -> Any:
    client = signed_in(house.people["technician"])
    given = {"entries": list(entries), "core": fingerprint()}
    return post(client, f"/api/v1/visits/{house.visit.pk}/entries", given).json()["news"]


def test_a_visit_its_device_works_out_is_listed_as_if_the_server_had(ours: House) -> None:
    answer(ours, reading(24.0))
    alone(ours, reading(14.0, "supply"), reading(14.5, "supply", point=2))
    assert [each.pk for each in Visit.objects.behind()] == [ours.visit.pk]
    assert work_lines.Command.catch_up() == 1
    assert not Visit.objects.behind().exists()
    caught_up = Visit.objects.get(pk=ours.visit.pk).line
    alone(ours, reading(14.6, "supply", point=3))
    signed_in(ours.people["lead"]).get("/api/v1/day")
    assert not Visit.objects.behind().exists(), "whoever looks first has it worked out"
    answer(ours, reading(14.7, "supply", point=4))
    assert caught_up["numbers"]
    assert [each["key"] for each in caught_up["numbers"]] == [
        each["key"] for each in Visit.objects.get(pk=ours.visit.pk).line["numbers"]
    ]
    assert work_lines.Command.catch_up() == 0


def test_lines_of_an_older_version_are_worked_out_by_command(ours: House) -> None:
    answer(ours, reading(24.0))
    Visit.objects.update(line_stands_on="older", line={**lines.NOTHING_KNOWN, "purpose": "older", "instruments": []})
    call_command("work_lines")
    found = Visit.objects.get(pk=ours.visit.pk)
    assert found.line["purpose"] != "older"
    assert found.line_stands_on != "older"


@pytest.mark.django_db(transaction=True)
def test_an_entry_that_its_device_judges_is_stored_and_no_more(ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*_: Any) -> None:
        raise AssertionError("worked out within the request")

    monkeypatch.setattr(logbook, "put_line", fails)
    with CaptureQueriesContext(connection) as seen:
        assert alone(ours, reading(24.0))["number"] == 1
    assert not any("instruments_instrument" in each["sql"] for each in seen)
