"""Reheat and return bypass proved by the unit's controller, against the real simulated unit."""

from __future__ import annotations

import json
import uuid
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from fentro_core.moisture.live import live_step
from fentro_server.controllers.gateway import HttpController
from fentro_server.controllers.proof_run import ProofRun, of_drying
from fentro_server.gateways.models import Gateway
from fentro_server.places.models import System
from fentro_server.visits.models import Entry, Visit
from tests.server.at_gateway import at, at_gateway, finished, held, open_changes, play, streamed, words
from tests.server.conftest import House, post, signed_in

PLATE = {"controller": "RTU-2", "reheat": "hot_gas", "reheat_w": 16_000.0, "return_bypass": True}


@pytest.fixture
def dryer(ours: House, gateway: str) -> Visit:
    """A visit to a unit without an economizer, with reheat and bypass and a controller that shows them."""
    play(gateway, "RTU-2", preset="sound", reachable=True, refuses=[])
    system = System.objects.create(company=ours.company, site=ours.site, name="Dryer", kind="packaged_rooftop", nameplate=PLATE)
    Gateway.objects.create(company=ours.company, kind="controllers", name="Roof", address=gateway)
    return Visit.objects.create(
        id=uuid.uuid4(), company=ours.company, system=system, technician=ours.people["technician"], opened_at=timezone.now()
    )


def ran(visit: Visit, house: House, gateway: str, test: str) -> dict[str, Any]:
    """How the run of a test ended."""
    step = live_step(visit.system.plate, f"drying/{test}")
    wire = HttpController(*at_gateway(gateway), "RTU-2")
    return finished(ProofRun(visit, house.people["technician"], wire, step, "as_left", of_drying))[-1]


@pytest.mark.django_db(transaction=True)
def test_the_controller_proves_reheat_and_lets_everything_go(dryer: Visit, ours: House, gateway: str) -> None:
    ended = ran(dryer, ours, gateway, "reheat")
    assert (ended["ended"], ended["mark"]) == ("done", "holds")
    kept = Entry.objects.get(visit=dryer, kind="drying_test").body
    assert kept["test"] == "reheat"
    assert kept["supply_c"] - kept["after_c"] > 5
    assert kept["compressor"] == "runs"
    assert open_changes(dryer) == []
    assert held(gateway, "RTU-2") == []
    play(gateway, "RTU-2", preset="dry_call_dead")
    dead = ran(dryer, ours, gateway, "dehumidify")
    assert (dead["mark"], dead["sentence"]["text"]) == ("off", "The call to dry does nothing: the compressor is off.")


@pytest.mark.django_db(transaction=True)
def test_a_run_that_is_stopped_or_refused_keeps_nothing_and_says_so(dryer: Visit, ours: House, gateway: str) -> None:
    play(gateway, "RTU-2", refuses=["return_bypass"])
    refused = ran(dryer, ours, gateway, "bypass_open")
    assert (refused["ended"], refused["mark"]) == ("refused", "not_measured")
    assert "Nothing is proved" in refused["sentence"]["text"]
    assert not Entry.objects.filter(visit=dryer, kind="drying_test").exists()
    assert open_changes(dryer) == []


@pytest.mark.django_db(transaction=True)
def test_the_page_runs_it_by_its_key_and_refuses_what_the_unit_has_not(dryer: Visit, ours: House, gateway: str) -> None:
    client: Client = signed_in(ours.people["technician"])
    now = client.get(at(dryer, "controller")).json()
    assert {"after_coil_temperature", "humidity_setpoint", "reheat", "return_bypass"} <= {each["key"] for each in now["points"]}
    assert "no such test" in words(post(client, at(dryer, "controller/run"), {"step": "drying/dance"}))
    lines = streamed(post(client, at(dryer, "controller/run"), {"step": "drying/bypass_open", "phase": "as_left"}))
    assert json.loads(lines[-1])["mark"] == "holds"
    held_at = [json.loads(line)["values"] for line in lines[1:-1]]
    assert "after_coil_temperature" in held_at[-1]
