"""Gateways belong to a company: registered by a lead at an address the operator allows, and of no use to anybody else."""

from __future__ import annotations

import http.server
import threading
from collections.abc import Iterator
from typing import Any

import pytest
from django.test import Client, override_settings

from fentro_core.base.refusal import Refused
from fentro_server.controllers.gateway import controller
from fentro_server.gateways.addresses import reach
from fentro_server.gateways.models import Gateway, Kind, gateway_of
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Visit
from tests.server.conftest import House, post, signed_in


class Answering(http.server.BaseHTTPRequestHandler):
    """Answers what the test set: by path, status and body."""

    says: dict[str, tuple[int, bytes]] = {}
    asked: list[tuple[str, str, str]] = []

    def do_GET(self) -> None:
        """Note what was asked, and by whom."""
        self.asked.append((self.path, self.headers.get("Host", ""), self.headers.get("Authorization", "")))
        status, body = self.says.get(self.path, (404, b"{}"))
        self.send_response(status)
        if status == 302:
            self.send_header("Location", "/v1/elsewhere")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    do_PUT = do_GET  # noqa: N815

    def log_message(self, *_: Any) -> None:
        """Quiet."""


@pytest.fixture
def machine() -> Iterator[str]:
    """A machine on loopback that answers."""
    Answering.says, Answering.asked = {"/v1/units": (200, b'{"units": [{"unit": "RTU-1"}]}')}, []
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Answering)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def lead(ours: House) -> Client:
    return signed_in(ours.people["lead"])


def register(client: Client, address: str, **more: Any) -> Any:
    return post(client, "/api/v1/gateways", {"kind": "controllers", "name": "Roof", "address": address, **more})


def test_a_lead_registers_checks_and_removes(lead: Client, machine: str) -> None:
    made = register(lead, machine, token="s3cret").json()
    assert made["answered"] is True
    assert "1 units (RTU-1)" in made["words"]
    assert "s3cret" not in str(lead.get("/api/v1/gateways").json())
    assert Answering.asked == [("/v1/units", machine.removeprefix("http://"), "Bearer s3cret")]
    Answering.says = {"/v1/units": (401, b"")}
    assert "another token" in post(lead, f"/api/v1/gateways/{made['id']}/check", {}).json()["words"]
    assert register(lead, machine).status_code == 422, "one name, one gateway"
    assert lead.delete(f"/api/v1/gateways/{made['id']}").json() == {"removed": True}
    assert lead.get("/api/v1/gateways").json()["gateways"] == []


@pytest.mark.parametrize(
    ("status", "body", "words"),
    [
        (302, b"", "redirects elsewhere"),
        (200, b"<html>", "not a gateway of this kind"),
        (200, b'{"probes": []}', "not a gateway of this kind"),
        (200, b"[]", "not a gateway of this kind"),
        (500, b"{}", "not a gateway of this kind"),
        (403, b"{}", "another token"),
    ],
)
def test_what_answers_wrongly_is_said(lead: Client, machine: str, status: int, body: bytes, words: str) -> None:
    Answering.says = {"/v1/units": (status, body), "/v1/elsewhere": (200, b'{"units": []}')}
    made = register(lead, machine).json()
    assert made["answered"] is False
    assert words in made["words"]
    assert [path for path, _, _ in Answering.asked] == ["/v1/units"], "it is not followed"


def test_a_machine_that_is_switched_off_is_registered_all_the_same(lead: Client) -> None:
    made = register(lead, "http://127.0.0.1:1").json()
    assert made["answered"] is False
    assert "Nothing answers there" in made["words"]


@pytest.mark.parametrize(
    "address",
    [
        "ftp://127.0.0.1",
        "http://",
        "127.0.0.1:80",
        "http://somebody@127.0.0.1",
        "http://127.0.0.1/../admin",
        "http://127.0.0.1/%2e%2e/admin",
        "http://127.0.0.1\\@169.254.169.254",
        "http://127.0.0.1:99999",
        "http://127.0.0.1?x=1",
        "http://127.0.0.1#x",
        "http://127.0.0.1 .example",
        "http://[::1",
        "http://169.254.169.254/latest",
        "http://10.0.0.1",
        "http://0.0.0.0",
        "http://[::1]:80",
        "http://0x0a000001",
        "http://localhost.nowhere.invalid",
        "http://ｌocalhost",
        "http://" + "a" * 200,
    ],
)
def test_an_address_that_leads_elsewhere_is_refused_at_its_field(lead: Client, address: str) -> None:
    refused = register(lead, address)
    assert refused.status_code == 422
    assert refused.json()["refusals"][0]["path"].endswith("address")
    assert not Gateway.objects.exists()


def test_a_name_is_looked_up_once_and_connected_to_as_it_was(monkeypatch: pytest.MonkeyPatch) -> None:
    answers = iter([["10.1.2.3"], ["169.254.169.254"], ["10.1.2.3", "192.168.0.1"]])
    looked: list[str] = []

    def lookup(host: str, port: int, **_: Any) -> list[Any]:
        looked.append(host)
        return [(2, 1, 6, "", (number, port)) for number in next(answers)]

    monkeypatch.setattr("fentro_server.gateways.addresses.socket.getaddrinfo", lookup)
    with override_settings(FENTRO_GATEWAY_HOSTS=["10.0.0.0/8"]):
        found = reach("https://van.example:8443/probes/", "t")
        assert found.base == "https://10.1.2.3:8443/probes"
        assert found.headers == {"Host": "van.example:8443", "Authorization": "Bearer t"}
        assert found.extensions == {"sni_hostname": "van.example"}
        for _ in range(2):
            with pytest.raises(Refused, match="operator"):
                reach("http://van.example")
    assert looked == ["van.example"] * 3


def test_the_operator_may_name_a_machine_or_allow_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        "fentro_server.gateways.addresses.socket.getaddrinfo", lambda *_, **__: [(2, 1, 6, "", ("203.0.113.9", 80))]
    )
    with override_settings(FENTRO_GATEWAY_HOSTS=["Van.example"]):
        assert reach("http://van.example").base == "http://203.0.113.9:80"
        with pytest.raises(Refused, match="operator"):
            reach("http://other.example")
    with override_settings(FENTRO_GATEWAY_HOSTS=[]), pytest.raises(Refused, match="operator"):
        reach("http://van.example")


@pytest.mark.parametrize("role", ["technician", "viewer"])
def test_only_a_lead_may(ours: House, machine: str, role: str) -> None:
    client = signed_in(ours.people[role])
    row = Gateway.objects.create(company=ours.company, kind="probes", name="Van", address=machine)
    assert client.get("/api/v1/gateways").status_code == 403
    assert register(client, machine).status_code == 403
    assert post(client, f"/api/v1/gateways/{row.pk}/check", {}).status_code == 403
    assert client.delete(f"/api/v1/gateways/{row.pk}").status_code == 403
    assert Answering.asked == []


def test_another_company_sees_nothing_and_moves_nothing(ours: House, theirs: House, machine: str) -> None:
    """Both have a unit of the same name and a probe of the same serial number; only the first has gateways."""
    row = Gateway.objects.create(company=ours.company, kind="controllers", name="Roof", address=machine)
    Gateway.objects.create(company=ours.company, kind="probes", name="Van", address=machine)
    plate = {"economizer": True, "controller": "RTU-1"}
    for house in (ours, theirs):
        System.objects.filter(pk=house.system.pk).update(kind="packaged_rooftop", nameplate=plate)
        house.instrument.serial = "P-1"
        house.instrument.save()
    stranger = signed_in(theirs.people["lead"])
    assert stranger.get("/api/v1/gateways").json()["gateways"] == []
    assert stranger.delete(f"/api/v1/gateways/{row.pk}").status_code == 404
    assert post(stranger, f"/api/v1/gateways/{row.pk}/check", {}).status_code == 404
    assert register(stranger, machine, site=str(ours.site.pk)).status_code == 422
    assert stranger.get("/api/v1/probes").json() == {"reachable": False, "probes": [], "scene": None}
    asked = len(Answering.asked)
    at = f"/api/v1/visits/{theirs.visit.pk}"
    assert "no gateway" in stranger.get(f"{at}/controller").json()["words"]
    assert post(stranger, f"{at}/controller/override", {"point": "fan", "value": 1.0}).status_code == 422
    assert post(stranger, f"{at}/controller/release", {}).status_code == 422
    assert stranger.get(f"{at}/live").status_code == 204
    assert len(Answering.asked) == asked
    visit = Visit.objects.select_related("system").get(pk=ours.visit.pk)
    found = controller(visit, "RTU-1")
    assert found is not None
    assert found.gateway == str(row.pk)
    found.close()
    with pytest.raises(Refused, match="dots"):
        controller(visit, "..")


def test_a_sites_own_gateway_goes_before_one_of_all_sites(ours: House) -> None:
    other = Site.objects.create(company=ours.company, name="Annex")

    def add(name: str, site: Site | None) -> Gateway:
        return Gateway.objects.create(company=ours.company, kind="probes", name=name, address="http://127.0.0.1:1", site=site)

    own = add("Z", ours.site)
    assert gateway_of(Kind.PROBES, ours.company.pk, other.pk) is None
    of_all = add("A", None)
    assert gateway_of(Kind.PROBES, ours.company.pk, ours.site.pk) == own
    assert gateway_of(Kind.PROBES, ours.company.pk, other.pk) == of_all
    assert gateway_of(Kind.PROBES, ours.company.pk) == of_all
    assert gateway_of(Kind.CONTROLLERS, ours.company.pk, ours.site.pk) is None
