"""What an operator relies on: logs, numbers, readiness, roles, chains, backups."""

from __future__ import annotations

import json
import logging
import os
import signal
import time
from pathlib import Path
from typing import Any

import httpx
import psycopg
import pytest
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection
from django.test import Client, override_settings

from fentro_server.visits.models import Entry, Visit
from tests.patience import PATIENCE_S
from tests.server.conftest import PASSWORD, House, add, new_entry, post, signed_in
from tools import children, keeping, serving
from tools.postgres import SERVICE, Cluster
from tools.say import Trouble
from tools.standins import Devices

# logs and numbers


@pytest.fixture
def lines(caplog: pytest.LogCaptureFixture) -> Any:
    caplog.set_level(logging.INFO, logger="fentro.requests")
    return caplog


def test_each_request_is_one_line_without_anybodys_name(ours: House, lines: Any) -> None:
    client = signed_in(ours.people["technician"])
    answer = client.get(f"/api/v1/visits/{ours.visit.pk}?words=secret", headers={"X-Request-ID": "proxy-12345678"})
    assert answer["X-Request-ID"] == "proxy-12345678"
    (record,) = [each for each in lines.records if each.name == "fentro.requests"]
    assert (record.method, record.status) == ("GET", 200)
    assert record.ms > 0
    said = json.dumps({key: str(value) for key, value in vars(record).items()})
    for hidden in (str(ours.visit.pk), "secret", "technician of ours", "127.0.0.1"):
        assert hidden not in said


@pytest.mark.parametrize("given", ["", "short", "with space 1234", "x" * 65, "bad\nline12345"])
def test_an_odd_request_id_gives_way_to_our_own(given: str) -> None:
    assert len(Client().get("/api/v1/health", headers={"X-Request-ID": given})["X-Request-ID"]) == 32


def test_lines_are_json_with_the_id_of_their_request() -> None:
    from django.conf import settings
    from pythonjsonlogger.json import JsonFormatter

    from fentro_server.operation.logs import WithRequestId, request_id

    words = {key: value for key, value in settings.LOGGING["formatters"]["json"].items() if key not in ("()", "format")}
    formatter = JsonFormatter(settings.LOGGING["formatters"]["json"]["format"], **words)
    record = logging.LogRecord("by", logging.ERROR, "f", 1, "said %s", ("it",), None)
    token = request_id.set("abc")
    assert WithRequestId().filter(record)
    request_id.reset(token)
    written = json.loads(formatter.format(record))
    assert (written["level"], written["by"], written["said"], written["request_id"]) == ("ERROR", "by", "said it", "abc")


def test_numbers_are_for_whoever_has_the_operators_token(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    add(client, ours.visit, new_entry(), new_entry(body={"station": "nowhere"}))
    assert client.get("/api/v1/metrics").status_code == 404
    with override_settings(FENTRO_METRICS_TOKEN="t0ken"):
        assert client.get("/api/v1/metrics").status_code == 404
        assert client.get("/api/v1/metrics", headers={"Authorization": "Bearer other"}).status_code == 404
        said = Client().get("/api/v1/metrics", headers={"Authorization": "Bearer t0ken"}).content.decode()
    assert 'fentro_entries_total{became="refused"}' in said
    assert 'route="/api/v1/visits/<visit_id>/entries",status="200"' in said
    assert "fentro_work_up_seconds_count" in said
    assert str(ours.visit.pk) not in said


def test_ready_is_another_thing_than_healthy(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    assert Client().get("/api/v1/ready").json() == {"state": "ready"}

    def away(*_: Any) -> None:
        raise DatabaseError("away")

    monkeypatch.setattr("fentro_server.api.root.MigrationExecutor", away)
    assert Client().get("/api/v1/ready").status_code == 503
    assert Client().get("/api/v1/health").json() == {"state": "up"}


def test_answers_of_the_api_are_kept_by_nobody_between(ours: House) -> None:
    for client in (Client(), signed_in(ours.people["lead"])):
        for path in ("/api/v1/day", "/api/v1/session", "/api/v1/nothing"):
            assert client.get(path)["Cache-Control"] == "no-store"


def test_the_apis_description_is_for_whoever_is_signed_in(ours: House) -> None:
    assert Client().get("/api/v1/openapi.json").status_code == 401
    assert signed_in(ours.people["viewer"]).get("/api/v1/openapi.json").json()["info"]["title"] == "Fentro"
    with override_settings(FENTRO_OPEN_SCHEMA=True):
        assert Client().get("/api/v1/openapi.json").status_code == 200


# signing in


def tries(name: str, address: str, count: int, password: str = "wrong") -> list[int]:
    client = Client(REMOTE_ADDR=address)
    given = {"sign_in_name": name, "password": password}
    return [post(client, "/api/v1/session", given).status_code for _ in range(count)]


def test_a_name_is_locked_from_one_address_and_free_from_another(ours: House) -> None:
    name = ours.people["lead"].sign_in_name
    assert tries(name, "10.0.0.1", 6) == [422] * 4 + [429] * 2
    assert tries(name, "10.0.0.1", 1, PASSWORD) == [429]
    assert tries(name, "10.0.0.2", 1, PASSWORD) == [200]


def test_many_addresses_lock_a_name_and_many_names_an_address(ours: House) -> None:
    name = ours.people["lead"].sign_in_name
    for number in range(10):
        tries(name, f"10.0.1.{number}", 3)
    assert tries(name, "10.0.2.1", 1, PASSWORD) == [429]
    for number in range(20):
        tries(f"guess-{number}", "10.0.3.1", 3)
    other = ours.people["technician"].sign_in_name
    assert tries(other, "10.0.3.1", 1, PASSWORD) == [429]
    assert tries(other, "10.0.3.2", 1, PASSWORD) == [200]


def test_a_forwarded_address_is_not_believed_here(ours: House) -> None:
    """The server in front (uvicorn) takes it from named proxies alone; the application never looks at the header."""
    name, client = ours.people["lead"].sign_in_name, Client(REMOTE_ADDR="10.0.0.9")
    given = {"sign_in_name": name, "password": "wrong"}
    statuses = [
        client.post(
            "/api/v1/session", given, content_type="application/json", headers={"X-Forwarded-For": f"10.9.9.{number}"}
        ).status_code
        for number in range(6)
    ]
    assert statuses[-1] == 429


@pytest.mark.parametrize("name", ["a\x00b", "\ud800", "x" * 121, "", " ", "' or 1=1 --"])
def test_odd_names_are_refused_like_any_other(db: None, name: str) -> None:
    answer = Client().post("/api/v1/session", json.dumps({"sign_in_name": name, "password": "x"}), "application/json")
    assert answer.status_code == 422
    assert answer.json()["detail"]


@pytest.mark.parametrize(
    ("body", "status"), [(b"{", 400), (b"\xff", 400), (b'{"id": 1' + b"0" * 5000 + b"}", 422), (b"[" * 100_000, 400)]
)
def test_a_body_that_is_no_json_is_said_to_be_none(ours: House, body: bytes, status: int) -> None:
    answer = signed_in(ours.people["lead"]).post("/api/v1/visits", body, "application/json")
    assert answer.status_code == status
    assert answer.json()["detail"]


def test_endless_numbers_are_their_own_entrys_refusal(ours: House) -> None:
    good, bad = new_entry(), new_entry()
    body = json.dumps({"entries": [good, bad]}).replace('"value": 24.6', '"value": 1' + "0" * 6000, 2)
    body = body.replace('"value": 1' + "0" * 6000, '"value": 24.6', 1)
    answer = signed_in(ours.people["technician"]).post(f"/api/v1/visits/{ours.visit.pk}/entries", body, "application/json").json()
    assert answer["accepted"] == [good["id"]]
    assert answer["refused"][0]["refusal"]["path"] == "body.value"


# chains


def tamper(sql: str) -> None:
    """Past the server, as an owner could."""
    with connection.cursor() as cursor:
        cursor.execute("alter table visits_entry disable trigger entries_stay")
        cursor.execute(sql)
        cursor.execute("alter table visits_entry enable trigger entries_stay")


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(
    ("sql", "number"),
    [
        ("update visits_entry set body = jsonb_set(body, '{value}', '21.0') where number = 2", 2),
        ("update visits_entry set at = at + interval '1 second' where number = 3", 3),
        ("update visits_entry set reason = 'x' where number = 1", 1),
        ("delete from visits_entry where number = 2", 2),
        ("delete from visits_entry where number = 4", 4),
        ("update visits_entry set chain = '' where number = 4", 4),
    ],
)
def test_whoever_changes_an_entry_past_the_server_is_seen(
    ours: House, capsys: pytest.CaptureFixture[str], sql: str, number: int
) -> None:
    readings = [new_entry(body={**new_entry()["body"], "point": point, "value": 20.0 + point / 3}) for point in range(1, 5)]
    add(signed_in(ours.people["technician"]), ours.visit, *readings[:2])
    add(signed_in(ours.people["technician"]), ours.visit, *readings[2:])
    call_command("verify_chains")
    assert "every entry as it was made" in capsys.readouterr().out
    tamper(sql)
    with pytest.raises(CommandError, match="1 visits"):
        call_command("verify_chains", visit=ours.visit.pk)
    assert f"visit {ours.visit.pk}, entry {number}:" in capsys.readouterr().out


def test_a_link_is_the_same_from_the_device_and_from_the_database(ours: House) -> None:
    from fentro_server.visits.chain import link

    odd = {"value": 1e-7, "unit": "degC", "station": "return", "quantity": "dry_bulb", "plus_minus": 3}
    note = new_entry("note", {"text": 'Ünï"\\ 25 °C '})
    add(signed_in(ours.people["technician"]), ours.visit, new_entry(body=odd), note)
    last = str(ours.visit.pk)
    for row in Entry.objects.filter(visit=ours.visit).order_by("number"):
        last = link(last, row)
        assert row.chain == last
    assert Visit.objects.get(pk=ours.visit.pk).chain == last


# roles and backups, with clusters of their own


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Any:
    """A cluster with the demo in it."""
    with Cluster(f"operation-{os.getpid()}", throwaway=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.bring_up_to_date(cluster, environment)
        serving.manage(environment, "load_demo")
        yield cluster


@pytest.mark.xdist_group("clusters")
@pytest.mark.parametrize(
    "sql",
    [
        "update visits_entry set body = '{}'",
        "delete from visits_entry",
        "truncate visits_entry cascade",
        "drop trigger entries_stay on visits_entry",
        "alter table visits_entry disable trigger entries_stay",
        "drop table visits_entry cascade",
        "create or replace function fentro_entries_stay() returns trigger language plpgsql as 'begin return new; end'",
        "set session_replication_role = replica",
        "delete from django_migrations",
        "create table public.mine (id int)",
    ],
)
def test_the_role_that_serves_cant_get_at_the_entries(installed: Cluster, sql: str) -> None:
    with psycopg.connect(installed.service_url) as service, pytest.raises(psycopg.errors.InsufficientPrivilege):
        service.execute(sql)


PRACTICE = """
insert into visits_visit (id, company_id, system_id, technician_id, purpose, practice, opened_at, entries_number, chain,
    line_number, line_stands_on)
select '{0}', company_id, system_id, technician_id, '', true, opened_at, 1, '', 0, '' from visits_visit limit 1;
insert into visits_entry (id, visit_id, number, kind, phase, at, received_at, by_id, body, reason, core, chain)
select '{0}', '{0}', 1, kind, phase, at, received_at, by_id, body, '', '', '' from visits_entry where kind = 'note' limit 1
""".format("0" * 8 + "-0000-4000-8000-" + "0" * 12)


@pytest.mark.xdist_group("clusters")
def test_the_role_that_serves_deletes_practice_and_nothing_else(installed: Cluster) -> None:
    with psycopg.connect(installed.service_url) as service:
        service.execute(PRACTICE)
        (practice,) = service.execute("select id from visits_visit where practice").fetchone() or ()
        with pytest.raises(psycopg.errors.InsufficientPrivilege), service.transaction():
            service.execute("delete from visits_entry where visit_id = %s", [practice])
        service.execute("select fentro_delete_practice(%s)", [practice])
        service.execute("delete from visits_visit where id = %s", [practice])
        assert service.execute("select count(*) from visits_entry where visit_id = %s", [practice]).fetchone() == (0,)
    with psycopg.connect(installed.service_url) as service, pytest.raises(psycopg.errors.RaiseException, match="Only practice"):
        service.execute("select fentro_delete_practice(id) from visits_visit")


@pytest.mark.xdist_group("clusters")
def test_the_role_that_serves_has_no_other_rights(installed: Cluster) -> None:
    with psycopg.connect(installed.url) as owner:
        row = owner.execute(
            "select rolsuper, rolcreaterole, rolcreatedb, rolbypassrls, rolreplication from pg_roles where rolname = %s",
            [SERVICE],
        ).fetchone()
    assert row == (False,) * 5


@pytest.mark.xdist_group("clusters")
def test_an_installation_restored_elsewhere_is_the_same_and_works(installed: Cluster, tmp_path: Path) -> None:
    file = tmp_path / "all.backup"
    keeping.backup(installed.url, file)
    with psycopg.connect(installed.url) as before:
        entries = before.execute("select id, chain from visits_entry order by id").fetchall()
    with Cluster(f"elsewhere-{os.getpid()}", throwaway=True) as elsewhere:
        os.environ["FENTRO_SECRET_KEY"] = serving.demo_key()
        with pytest.MonkeyPatch.context() as told:
            told.setenv("DJANGO_SETTINGS_MODULE", "fentro_server.settings.demo")
            keeping.restore(elsewhere.url, file)
            with pytest.raises(Trouble, match="not empty"):
                keeping.restore(elsewhere.url, file)
        with psycopg.connect(elsewhere.url) as after:
            assert after.execute("select id, chain from visits_entry order by id").fetchall() == entries
            with pytest.raises(psycopg.errors.RaiseException, match="never changed"):
                after.execute("update visits_entry set reason = 'x'")
        environment = serving.demo_environment(elsewhere)
        serving.bring_up_to_date(elsewhere, environment)
        with psycopg.connect(elsewhere.service_url) as service:
            assert service.execute("select count(*) from visits_entry").fetchone() == (len(entries),)


def test_a_backup_that_fails_leaves_nothing_half(tmp_path: Path) -> None:
    with pytest.raises(Trouble, match="backup failed"):
        keeping.backup("postgresql://nobody@127.0.0.1:1/none", tmp_path / "all.backup")
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(Trouble, match="no such file"):
        keeping.restore("postgresql://nobody@127.0.0.1:1/none", tmp_path / "all.backup")


@pytest.mark.xdist_group("clusters")
def test_migrations_go_back_and_forth(installed: Cluster) -> None:
    with Cluster(f"back-{os.getpid()}", throwaway=True) as cluster:
        environment = {**serving.demo_environment(cluster), "FENTRO_DATABASE_URL": cluster.url}
        serving.manage(environment, "migrate", "-v", "0")
        serving.manage(environment, "load_demo")
        for app, name in (("gateways", "zero"), ("visits", "0007"), ("accounts", "0001")):
            serving.manage(environment, "migrate", app, name, "-v", "0")
        serving.manage(environment, "migrate", "-v", "0")
        serving.manage(environment, "verify_chains")


@pytest.mark.xdist_group("clusters")
def test_the_server_ends_within_ten_seconds_whatever_is_open(installed: Cluster, tmp_path: Path) -> None:
    port, probes = serving.free_port(), Devices(tmp_path).named("probes")
    probes.start()
    environment = serving.demo_environment(installed, FENTRO_DEMO_PROBES=probes.url)
    serving.manage(environment, "load_demo")
    server = serving.start_server(environment, port, tmp_path / "log", "--workers", "2")
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}/api/v1", trust_env=False, timeout=PATIENCE_S) as client:
            client.get("/session")
            token = {"X-CSRFToken": client.cookies["csrftoken"]}
            lead = next(each for each in client.get("/demo/people").json() if each["role"] == "lead")
            client.post("/demo/session", json={"person": lead["id"]}, headers=token).raise_for_status()
            visit = client.get("/day").json()["open"][0]["id"]
            with client.stream("GET", f"/visits/{visit}/live") as stream:
                assert next(stream.iter_lines()).startswith("event: kept")
                begun = time.monotonic()
                server.send_signal(signal.SIGTERM)
                server.wait(10)
        assert time.monotonic() - begun < 10
    finally:
        children.end(server)
        probes.end()
