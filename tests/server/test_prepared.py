"""Queries written once give what Django's own give."""

from __future__ import annotations

import uuid
from datetime import timedelta

import pytest
from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import IntegrityError, connection, transaction
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from fentro_server.accounts.backends import ByName
from fentro_server.accounts.models import Company, Person
from fentro_server.accounts.sessions import SessionStore
from fentro_server.places.models import Site
from fentro_server.prepared import Prepared, insert_and_update, update
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.snapshots import full_snapshot
from tests.server.conftest import PASSWORD, House, post, signed_in


@pytest.fixture
def visit(ours: House) -> Visit:
    """A visit with a line."""
    ours.visit.line = {"a": [1, None]}
    ours.visit.purpose = "Yearly"
    ours.visit.save()
    return ours.visit


@pytest.fixture
def technician(ours: House) -> Client:
    """Their client."""
    return signed_in(ours.people["technician"])


WITH_ALL: Prepared[Visit] = Prepared(
    lambda company, visit: (
        Visit.objects.filter(company_id=company, pk=visit)
        .select_related("system__site", "technician")
        .select_for_update(of=("self",))
    ),
    uuid.UUID(int=1),
    uuid.UUID(int=2),
)


@pytest.mark.django_db
def test_the_row_is_the_same_with_what_hangs_on_it(visit: Visit) -> None:
    with transaction.atomic():
        found = WITH_ALL.first(visit.company_id, visit.pk)
    own = Visit.objects.select_related("system__site", "technician").get(pk=visit.pk)
    assert found is not None
    assert not found._state.adding
    with CaptureQueriesContext(connection) as asked:
        for row, same in (
            (found, own),
            (found.system, own.system),
            (found.system.site, own.system.site),
            (found.technician, own.technician),
        ):
            assert {field.attname: getattr(row, field.attname) for field in row._meta.concrete_fields} == {
                field.attname: getattr(same, field.attname) for field in same._meta.concrete_fields
            }
    assert not asked.captured_queries
    assert isinstance(found.system.site, Site)
    assert found.line == {"a": [1, None]}


@pytest.mark.django_db
def test_values_differ_from_call_to_call_and_never_mix(visit: Visit) -> None:
    with transaction.atomic():
        assert WITH_ALL.first(visit.company_id, uuid.uuid4()) is None
        assert WITH_ALL.first(uuid.uuid4(), visit.pk) is None
        assert WITH_ALL.first(visit.company_id, visit.pk) == visit
        with pytest.raises(TypeError):
            WITH_ALL.first(visit.pk)


@pytest.mark.django_db(transaction=True)
def test_a_row_is_locked(visit: Visit) -> None:
    with transaction.atomic(), CaptureQueriesContext(connection) as asked:
        WITH_ALL.first(visit.company_id, visit.pk)
    assert asked.captured_queries[-1]["sql"].endswith('FOR UPDATE OF "visits_visit"')


@pytest.mark.django_db
def test_an_update_stores_the_named_fields_alone(visit: Visit) -> None:
    visit.line, visit.purpose, visit.closed_at = {"b": "it's"}, "Other", timezone.now()
    update(visit, "line", "closed_at")
    again = Visit.objects.get(pk=visit.pk)
    assert (again.line, again.closed_at, again.purpose) == (visit.line, visit.closed_at, "Yearly")
    visit.line = None
    update(visit, "line")
    assert Visit.objects.filter(pk=visit.pk, line__isnull=True).exists()


@pytest.mark.django_db
def test_what_is_not_there_is_not_updated(visit: Visit) -> None:
    visit.pk = uuid.uuid4()
    with pytest.raises(Visit.DoesNotExist):
        update(visit, "purpose")


@pytest.mark.django_db
def test_a_session_counts_until_it_expires(technician: Client) -> None:
    assert technician.get("/api/v1/day").status_code == 200
    key = technician.session.session_key
    assert "_auth_user_id" in SessionStore(key).load()
    Session.objects.update(expire_date=timezone.now() - timedelta(seconds=1))
    assert SessionStore(key).load() == {}
    assert technician.get("/api/v1/day").status_code == 401


@pytest.mark.django_db
def test_every_request_asks_anew_who_may_come_in(technician: Client, ours: House) -> None:
    assert technician.get("/api/v1/day").status_code == 200
    Company.objects.update(is_active=False)
    assert technician.get("/api/v1/day").status_code == 401
    Company.objects.update(is_active=True)
    Person.objects.filter(pk=ours.people["technician"].pk).update(is_active=False)
    assert technician.get("/api/v1/day").status_code == 401
    Person.objects.filter(pk=ours.people["technician"].pk).update(is_active=True)
    assert technician.get("/api/v1/day").status_code == 200
    ours.people["technician"].sign_out_everywhere()
    assert technician.get("/api/v1/day").status_code == 401


@pytest.mark.django_db
def test_a_session_and_whose_it_is_come_in_one_way(technician: Client, ours: House) -> None:
    assert technician.get("/api/v1/session").json()["person"]["name"], "from now on whose it is, is known"
    with CaptureQueriesContext(connection) as asked:
        technician.get("/api/v1/session")
    about = [
        each["sql"] for each in asked.captured_queries if "django_session" in each["sql"] or "accounts_person" in each["sql"]
    ]
    assert len(about) == 1
    person = ours.people["technician"]
    Person.objects.filter(pk=person.pk).update(name="Ilse Other")
    assert technician.get("/api/v1/session").json()["person"]["name"] == "Ilse Other", "as it stands now"
    Session.objects.all().delete()
    assert technician.get("/api/v1/session").json()["person"] is None


@pytest.mark.django_db
def test_a_session_that_becomes_another_persons_is_theirs(technician: Client, ours: House) -> None:
    technician.get("/api/v1/session")
    held = SessionStore(technician.cookies[settings.SESSION_COOKIE_NAME].value)
    lead = ours.people["lead"]
    held.update({"_auth_user_id": str(lead.pk), "_auth_user_hash": lead.get_session_auth_hash()})
    held.save()
    assert technician.get("/api/v1/session").json()["person"]["id"] == str(lead.pk)
    assert ByName().get_user(ours.people["technician"].pk) == ours.people["technician"], "and nobody's is left over"


@pytest.mark.django_db
def test_a_session_begun_by_the_way_in_before_still_counts(client: Client, ours: House) -> None:
    client.force_login(ours.people["technician"], backend="django.contrib.auth.backends.ModelBackend")
    assert client.get("/api/v1/day").status_code == 200


@pytest.mark.django_db
def test_a_wrong_password_is_tried_once(client: Client, ours: House, monkeypatch: pytest.MonkeyPatch) -> None:
    tried: list[str] = []
    check = Person.check_password
    monkeypatch.setattr(Person, "check_password", lambda self, raw: tried.append(raw) or check(self, raw))
    name = ours.people["technician"].sign_in_name
    assert post(client, "/api/v1/session", {"sign_in_name": name, "password": "wrong"}).status_code in (401, 422)
    assert tried == ["wrong"]
    assert post(client, "/api/v1/session", {"sign_in_name": name, "password": PASSWORD}).status_code == 200


def new_row(visit: Visit, number: int, note: str = "it's %s; --") -> Entry:
    return Entry(
        id=uuid.uuid4(),
        visit=visit,
        number=number,
        kind="note",
        phase="as_found",
        at=timezone.now(),
        received_at=timezone.now(),
        by=visit.technician,
        body={"text": note},
        chain="c" * 64,
    )


@pytest.mark.django_db
def test_new_rows_and_an_update_go_in_one_way_and_are_what_djangos_own_would_store(visit: Visit) -> None:
    rows = [new_row(visit, 1), new_row(visit, 2, "100 %")]
    visit.entries_number, visit.purpose = 2, "Other"
    with CaptureQueriesContext(connection) as asked:
        insert_and_update(rows, visit, "entries_number")
    assert len(asked.captured_queries) == 1
    assert not any(row._state.adding for row in rows)
    for row in rows:
        again = Entry.objects.get(pk=row.pk)
        assert {field.attname: getattr(again, field.attname) for field in Entry._meta.concrete_fields} == {
            field.attname: getattr(row, field.attname) for field in Entry._meta.concrete_fields
        }
    stored = Visit.objects.get(pk=visit.pk)
    assert (stored.entries_number, stored.purpose) == (2, "Yearly"), "the named field alone"
    insert_and_update([], visit, "purpose")
    assert Visit.objects.get(pk=visit.pk).purpose == "Other"


@pytest.mark.django_db
def test_of_what_can_not_be_stored_nothing_is(visit: Visit) -> None:
    insert_and_update([new_row(visit, 1)], visit, "purpose")
    visit.entries_number = 7
    with pytest.raises(IntegrityError), transaction.atomic():
        insert_and_update([new_row(visit, 2), new_row(visit, 1)], visit, "entries_number")
    assert Entry.objects.filter(visit=visit).count() == 1
    assert Visit.objects.get(pk=visit.pk).entries_number == 0
    elsewhere = Visit(pk=uuid.uuid4())
    with pytest.raises(Visit.DoesNotExist), transaction.atomic():
        insert_and_update([new_row(visit, 3)], elsewhere, "purpose")
    assert Entry.objects.filter(visit=visit).count() == 1


@pytest.mark.django_db
def test_a_nameplate_is_written_anew_where_another_is_set(ours: House) -> None:
    system = ours.system
    first = system.plate_text
    assert system.plate_text is first
    system.nameplate = {**system.nameplate, "maker": "Norrand"}
    assert "Norrand" in system.plate_text
    assert system.plate.maker == "Norrand"
    assert full_snapshot(ours.visit, committed(ours.visit.pk), []).system.nameplate.maker == ours.visit.system.plate.maker
