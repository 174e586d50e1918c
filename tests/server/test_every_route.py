"""Every route of the API, walked by nobody, by each role, and by another company's person.

A route that is not in `CASES` fails the test: adding one means saying here who may use it.
"""

from __future__ import annotations

import json
import re
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone

from fentro_server.accounts.models import Role
from fentro_server.api.root import api
from fentro_server.gateways.models import Gateway
from tests.server.conftest import House, new_entry, signed_in

ALL = dict.fromkeys(Role.values, 200)
RECORDERS = {"technician": 200, "lead": 200, "viewer": 403}
NO_ECONOMIZER = dict.fromkeys(Role.values, 422)
NO_PLAN = dict.fromkeys(Role.values, 422)
NO_CONTROLLER = {"technician": 422, "lead": 422, "viewer": 403}
LEADS = {"technician": 403, "lead": 200, "viewer": 403}


@dataclass(frozen=True)
class Case:
    """What a call of a route answers: to nobody, to each role of the owning company, to another company's lead."""

    nobody: int = 401
    roles: dict[str, int] = field(default_factory=lambda: ALL)
    stranger: int = 404
    path: Callable[[House], dict[str, Any]] = lambda house: {}
    body: Callable[[House], Any] = lambda house: None
    files: Callable[[], dict[str, Any]] | None = None


def visit_path(house: House) -> dict[str, Any]:
    return {"visit_id": house.visit.pk}


def instrument_path(house: House) -> dict[str, Any]:
    return {"instrument_id": house.instrument.pk}


def gateway_path(house: House) -> dict[str, Any]:
    made, _ = Gateway.objects.get_or_create(
        company=house.company, name="Van", defaults={"kind": "probes", "address": "http://127.0.0.1:1"}
    )
    return {"gateway_id": made.pk}


def visit_file(house: House) -> dict[str, Any]:
    """The visit of the company under test, as a file."""
    document: dict[str, Any] = signed_in(house.people["lead"]).get(f"/api/v1/visits/{house.visit.pk}/snapshot").json()
    return document


def appointment(house: House) -> dict[str, Any]:
    return {"id": str(uuid.uuid4()), "system": str(house.system.pk), "starts_at": timezone.now().isoformat()}


def logger_file() -> dict[str, Any]:
    """A small file of a logger and how to read it."""
    content = "time,temp C\n2026-07-01 10:00:00,24.0\n2026-07-01 10:00:10,24.1\n"
    column = {"index": 1, "quantity": "dry_bulb", "unit": "degC", "station": "return"}
    return {
        "file": SimpleUploadedFile("log.csv", content.encode(), content_type="text/csv"),
        "mapping": json.dumps({"time_columns": [0], "time_format": "iso", "columns": [column]}),
        "mode": "check",
    }


CASES: dict[tuple[str, str], Case] = {
    ("get", "/api/v1/health"): Case(nobody=200, stranger=200),
    ("get", "/api/v1/ready"): Case(nobody=200, stranger=200),
    ("get", "/api/v1/session"): Case(nobody=200, stranger=200),
    ("post", "/api/v1/session"): Case(
        nobody=422,
        roles=dict.fromkeys(Role.values, 422),
        stranger=422,
        body=lambda house: {"sign_in_name": str(uuid.uuid4()), "password": "wrong"},
    ),
    ("delete", "/api/v1/session"): Case(stranger=200),
    ("delete", "/api/v1/session/everywhere"): Case(stranger=200),
    ("get", "/api/v1/calculations"): Case(stranger=200),
    ("get", "/api/v1/calculations/schema/visit"): Case(stranger=200),
    ("get", "/api/v1/calculations/{name}"): Case(stranger=200, path=lambda house: {"name": "air.state"}),
    ("post", "/api/v1/calculations/{name}"): Case(
        stranger=200, path=lambda house: {"name": "air.standard_pressure"}, body=lambda house: {"elevation_m": 10}
    ),
    ("get", "/api/v1/day"): Case(stranger=200),
    ("get", "/api/v1/instruments"): Case(stranger=200),
    ("get", "/api/v1/systems/{system_id}"): Case(path=lambda house: {"system_id": house.system.pk}),
    ("get", "/api/v1/systems/{system_id}/history"): Case(path=lambda house: {"system_id": house.system.pk}),
    ("get", "/api/v1/visits"): Case(stranger=200),
    ("get", "/api/v1/systems"): Case(stranger=200),
    ("get", "/api/v1/systems/{system_id}/visits"): Case(path=lambda house: {"system_id": house.system.pk}),
    ("get", "/api/v1/temporary"): Case(stranger=200),
    ("get", "/api/v1/colleagues"): Case(stranger=200),
    ("post", "/api/v1/visits"): Case(
        roles=RECORDERS, body=lambda house: {"id": str(uuid.uuid4()), "system": str(house.system.pk)}
    ),
    ("get", "/api/v1/visits/{visit_id}"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/snapshot"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/report"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/report/page"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/report/pdf"): Case(path=visit_path),
    # The visit is open: nobody signs it, and nothing is signed yet.
    ("post", "/api/v1/visits/{visit_id}/signatures"): Case(
        path=visit_path,
        roles=dict.fromkeys(Role.values, 403),
        body=lambda house: {"signed_as": "technician", "name": "Ida", "seen": 0},
    ),
    ("get", "/api/v1/visits/{visit_id}/editions/{number}"): Case(
        path=lambda house: {**visit_path(house), "number": 1}, roles=dict.fromkeys(Role.values, 404)
    ),
    ("post", "/api/v1/records/verify"): Case(stranger=200, body=lambda house: {"fingerprint": "0" * 64}),
    ("post", "/api/v1/records/verify-file"): Case(stranger=200, body=lambda house: {"format": "fentro.edition"}),
    ("post", "/api/v1/records/bring-in"): Case(roles=LEADS, stranger=422, body=visit_file),
    ("get", "/api/v1/systems/{system_id}/label.svg"): Case(path=lambda house: {"system_id": house.system.pk}),
    ("get", "/api/v1/labels"): Case(path=lambda house: {}, roles=dict.fromkeys(Role.values, 422), stranger=422),
    ("get", "/api/v1/audit"): Case(roles=LEADS, stranger=200),
    ("get", "/api/v1/search"): Case(stranger=200),
    ("get", "/api/v1/tokens"): Case(stranger=200),
    ("post", "/api/v1/tokens"): Case(
        stranger=200, body=lambda house: {"name": "Script", "ends_on": timezone.localdate().isoformat()}
    ),
    ("delete", "/api/v1/tokens/{token_id}"): Case(
        path=lambda house: {"token_id": uuid.uuid4()}, roles=dict.fromkeys(Role.values, 404)
    ),
    ("get", "/api/v1/company"): Case(roles=LEADS, stranger=200),
    ("patch", "/api/v1/company"): Case(roles=LEADS, stranger=200, body=lambda house: {"letterhead": "Quay 4"}),
    ("get", "/api/v1/company/archive"): Case(roles=LEADS, stranger=200),
    ("delete", "/api/v1/company"): Case(
        roles={"technician": 403, "lead": 422, "viewer": 403}, stranger=422, body=lambda house: {"name": "another"}
    ),
    ("post", "/api/v1/invitations"): Case(
        roles=LEADS, stranger=200, body=lambda house: {"name": "Ida", "sign_in_name": str(uuid.uuid4())}
    ),
    ("post", "/api/v1/people/{person_id}/invitation"): Case(
        roles=LEADS, path=lambda house: {"person_id": house.people["viewer"].pk}
    ),
    ("get", "/api/v1/invitations/{person}/{token}"): Case(
        nobody=422, roles=dict.fromkeys(Role.values, 422), stranger=422, path=lambda house: {"person": "a", "token": "b"}
    ),
    ("post", "/api/v1/invitations/{person}/{token}"): Case(
        nobody=422,
        roles=dict.fromkeys(Role.values, 422),
        stranger=422,
        path=lambda house: {"person": "a", "token": "b"},
        body=lambda house: {"password": "copper-elbow-17"},
    ),
    ("post", "/api/v1/practice"): Case(roles=RECORDERS, stranger=200),
    ("delete", "/api/v1/practice"): Case(roles=LEADS, stranger=200),
    ("get", "/api/v1/week"): Case(stranger=200),
    ("post", "/api/v1/appointments"): Case(roles=RECORDERS, body=appointment),
    ("patch", "/api/v1/appointments/{appointment_id}"): Case(
        path=lambda house: {"appointment_id": uuid.uuid4()},
        roles={"technician": 404, "lead": 404, "viewer": 403},
        body=lambda house: {"cancelled": True},
    ),
    ("get", "/api/v1/appointments.ics"): Case(stranger=200),
    ("get", "/api/v1/visits/{visit_id}/live"): Case(path=visit_path, roles=dict.fromkeys(Role.values, 204)),
    ("get", "/api/v1/visits/{visit_id}/readings.csv"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/samples.csv"): Case(path=visit_path),
    ("post", "/api/v1/visits/{visit_id}/logger-files/look"): Case(roles=RECORDERS, path=visit_path, files=logger_file),
    ("post", "/api/v1/visits/{visit_id}/logger-files"): Case(roles=RECORDERS, path=visit_path, files=logger_file),
    ("get", "/api/v1/visits/{visit_id}/logged"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/logged/{series_id}"): Case(
        # Asked without its span.
        roles=dict.fromkeys(Role.values, 422),
        stranger=422,
        path=lambda house: {**visit_path(house), "series_id": 1},
    ),
    ("get", "/api/v1/probes"): Case(stranger=200),
    ("post", "/api/v1/probes/scene"): Case(
        roles={"technician": 422, "lead": 422, "viewer": 403}, stranger=422, body=lambda house: {"scenario": "ordinary"}
    ),
    ("get", "/api/v1/gateways"): Case(roles=LEADS, stranger=200),
    ("post", "/api/v1/gateways"): Case(
        roles={"technician": 403, "lead": 422, "viewer": 403},
        stranger=422,
        body=lambda house: {"kind": "probes", "name": "Van", "address": "http://10.0.0.1"},
    ),
    ("post", "/api/v1/gateways/{gateway_id}/check"): Case(roles=LEADS, path=gateway_path),
    ("delete", "/api/v1/gateways/{gateway_id}"): Case(roles=LEADS, path=gateway_path),
    ("get", "/api/v1/instruments/list"): Case(stranger=200),
    ("post", "/api/v1/sites"): Case(
        roles=RECORDERS, stranger=200, body=lambda house: {"id": str(uuid.uuid4()), "name": "Elm Ridge"}
    ),
    ("post", "/api/v1/sites/{site_id}/systems"): Case(
        roles=RECORDERS,
        path=lambda house: {"site_id": house.site.pk},
        body=lambda house: {"id": str(uuid.uuid4()), "name": "Unit", "kind": "split_heat_pump"},
    ),
    ("put", "/api/v1/sites/{site_id}"): Case(
        roles=LEADS, path=lambda house: {"site_id": house.site.pk}, body=lambda house: {"name": "Elm Ridge"}
    ),
    ("put", "/api/v1/systems/{system_id}/nameplate"): Case(
        roles=LEADS,
        path=lambda house: {"system_id": house.system.pk},
        body=lambda house: {"name": "Unit", "kind": "split_heat_pump"},
    ),
    ("put", "/api/v1/visits/{visit_id}/photos/{digest}"): Case(
        roles={"technician": 422, "lead": 422, "viewer": 403}, path=lambda house: {**visit_path(house), "digest": "0" * 64}
    ),
    ("get", "/api/v1/photos/{digest}"): Case(roles=dict.fromkeys(Role.values, 404), path=lambda house: {"digest": "0" * 64}),
    ("get", "/api/v1/people"): Case(roles=LEADS, stranger=200),
    ("post", "/api/v1/people"): Case(
        roles=LEADS,
        stranger=200,
        body=lambda house: {"name": "Ida", "sign_in_name": str(uuid.uuid4()), "password": "copper-elbow-17"},
    ),
    ("patch", "/api/v1/people/{person_id}"): Case(
        roles=LEADS, path=lambda house: {"person_id": house.people["viewer"].pk}, body=lambda house: {"name": "Ida"}
    ),
    ("post", "/api/v1/instruments"): Case(
        roles=RECORDERS,
        stranger=200,
        body=lambda house: {"name": f"New clamp {uuid.uuid4()}", "accuracy_class": "clamp"},
    ),
    ("post", "/api/v1/instruments/{instrument_id}/calibration"): Case(
        roles=LEADS,
        path=instrument_path,
        body=lambda house: {"calibrated_on": "2026-07-01", "calibration_due_on": "2027-07-01"},
    ),
    ("post", "/api/v1/instruments/{instrument_id}/taken"): Case(roles=RECORDERS, path=instrument_path),
    ("get", "/api/v1/visits/{visit_id}/economizer"): Case(path=visit_path, roles=NO_ECONOMIZER),
    ("get", "/api/v1/visits/{visit_id}/points.csv"): Case(path=visit_path, roles=NO_ECONOMIZER),
    ("get", "/api/v1/visits/{visit_id}/weather.epw"): Case(path=visit_path, roles=NO_ECONOMIZER),
    ("get", "/api/v1/visits/{visit_id}/sisters"): Case(path=visit_path),
    ("post", "/api/v1/visits/{visit_id}/year-hours"): Case(path=visit_path, roles=NO_ECONOMIZER, body=lambda house: {}),
    ("get", "/api/v1/visits/{visit_id}/ducts"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/ducts.csv"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/ducts.json"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/zones"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/filters.ics"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/season.ics"): Case(path=visit_path, roles=NO_PLAN),
    ("post", "/api/v1/ducts/look"): Case(
        stranger=200, body=lambda house: {"text": "piece,room,diameter (mm),length (m)\nbranch,Den,150,4\n"}
    ),
    ("post", "/api/v1/points/look"): Case(stranger=200, body=lambda house: {"text": "terminal,name,place\nAI-1,OAT,outdoor\n"}),
    ("get", "/api/v1/visits/{visit_id}/controller"): Case(path=visit_path),
    **{
        ("post", f"/api/v1/visits/{{visit_id}}/controller/{what}"): Case(
            path=visit_path, roles=NO_CONTROLLER, body=lambda house, body=body: body
        )
        for what, body in {
            "override": {"point": "fan", "value": 1.0},
            "release": {},
            "save": {},
            "compare": {"condition": "shut"},
            "scene": {},
            "hand": {"action": "unplug", "value": "outdoor"},
            "run": {"step": "closed"},
            "load": {"document": {}, "reason": "back"},
        }.items()
    },
    ("get", "/api/v1/visits/{visit_id}/zone-board"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/zone-board/look"): Case(path=visit_path, roles=dict.fromkeys(Role.values, 422)),
    **{
        ("post", f"/api/v1/visits/{{visit_id}}/zone-board/{what}"): Case(
            path=visit_path, roles=NO_CONTROLLER, body=lambda house, body=body: body
        )
        for what, body in {
            "call": {"zones": []},
            "release": {},
            "scene": {},
            "control": {"zone": "z1", "calls": True},
        }.items()
    },
    ("get", "/api/v1/visits/{visit_id}/ventilator"): Case(path=visit_path),
    ("get", "/api/v1/visits/{visit_id}/ventilator/look"): Case(path=visit_path, roles=dict.fromkeys(Role.values, 422)),
    **{
        ("post", f"/api/v1/visits/{{visit_id}}/ventilator/{what}"): Case(
            path=visit_path, roles=NO_CONTROLLER, body=lambda house, body=body: body
        )
        for what, body in {
            "hold": {"points": {"run": 1.0}},
            "release": {},
            "boost": {},
            "settings": {"control": {"minutes_per_hour": 20.0}},
            "scene": {},
        }.items()
    },
    ("post", "/api/v1/visits/{visit_id}/entries"): Case(
        roles=RECORDERS, path=visit_path, body=lambda house: {"entries": [new_entry()]}
    ),
}

ROUTES = sorted((method, path) for path, methods in api.get_openapi_schema()["paths"].items() for method in methods)


def test_no_route_is_left_out() -> None:
    assert set(ROUTES) == set(CASES)


def call(client: Client, route: tuple[str, str], house: House) -> Any:
    method, path = route
    case = CASES[route]
    body = case.body(house)
    if case.files:
        return getattr(client, method)(path.format(**case.path(house)), case.files())
    sent = {} if body is None else {"data": body, "content_type": "application/json"}
    return getattr(client, method)(path.format(**case.path(house)), **sent)


@pytest.mark.parametrize("route", ROUTES, ids=lambda route: " ".join(route))
def test_who_may(route: tuple[str, str], ours: House, theirs: House) -> None:
    case = CASES[route]
    assert call(signed_in(None), route, ours).status_code == case.nobody
    for role, status in case.roles.items():
        assert call(signed_in(ours.people[role]), route, ours).status_code == status, role
    stranger = call(signed_in(theirs.people["lead"]), route, ours)
    assert stranger.status_code == case.stranger
    assert stranger.streaming or not re.search(r"\bours\b", stranger.content.decode())


def test_lists_hold_only_the_own_company(ours: House, theirs: House) -> None:
    for path in ("/api/v1/day", "/api/v1/instruments", "/api/v1/instruments/list"):
        said = signed_in(theirs.people["lead"]).get(path).content.decode()
        for row in (ours.system, ours.visit, ours.instrument):
            assert str(row.pk) not in said


def test_a_switched_off_person_is_nobody(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    assert client.get("/api/v1/day").status_code == 200
    ours.people["lead"].is_active = False
    ours.people["lead"].save()
    assert client.get("/api/v1/day").status_code == 401
