"""The whole proof against the other unit through the real wire: as a gateway that nobody of us wrote would answer."""

from __future__ import annotations

from typing import Any

import pytest

from bench.otherunit.score import drawn
from bench.otherunit.unit import OtherUnit
from fentro_core.base.device import DeviceRefused
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.diagnosis import Diagnosis
from fentro_core.economizer.proof.session import whole_proof
from fentro_server.controllers.conformance import conformance
from fentro_server.controllers.gateway import HttpController
from fentro_server.gateways.addresses import reach
from tests.server.odd_gateway import OddGateway, odd_gateway, said


class Behind(OddGateway):
    """The other unit behind the odd gateway's calls."""

    def __init__(self, unit: OtherUnit) -> None:
        super().__init__()
        self.unit = unit

    def _of_unit(self, method: str, short: str, given: Any) -> tuple[int, bytes]:
        if short == "/points":
            return said({"points": dict(self.unit.points())})
        if short == "/alarms":
            return said({"alarms": self.unit.alarms()})
        if short == "/configuration":
            return said(self.unit.save())
        point = short.removeprefix("/overrides/")
        if method == "DELETE":
            self.unit.release(point)
            return 204, b""
        try:
            self.unit.override(point, given["value"])
        except DeviceRefused as refusal:
            return said({"detail": str(refusal)}, 422)
        return said({})


def over_http(hidden: tuple[str, ...], seed: int) -> tuple[Diagnosis, OtherUnit]:
    """The proof with audit, every call over HTTP."""
    unit, planned = drawn(hidden, seed)
    unit.advance(900)
    with odd_gateway(Behind(unit)) as (_, address):
        device = HttpController("other", reach(address), "RTU-1")
        found, _ = whole_proof(device, planned, unit.advance, unit.reference, unit.hand, unit.pressure_pa)
        device.close()
    return found, unit


@pytest.mark.parametrize("hidden", ["", "low_limit_tied", "relief_blocked"])
def test_the_proof_over_the_wire_is_right_or_open(hidden: str) -> None:
    found, unit = over_http((hidden,) if hidden else (), 50_010)
    assert found.found in ("", hidden)
    assert unit.held == {}


def test_the_other_unit_keeps_the_protocol() -> None:
    unit, planned = drawn((), 50_011)
    assert isinstance(planned, Configuration)

    def wait(seconds: float) -> None:
        unit.advance(2.0)

    with odd_gateway(Behind(unit)) as (_, address):
        device = HttpController("other", reach(address), "RTU-1")
        lines = list(conformance(device, hold=True, wait=wait))
        device.close()
    wrong = {line.what for line in lines if line.holds is False}
    assert wrong <= {"“time_s” goes as ours does", "a value beyond its range is refused"}, (
        "it lives by the bench's clock, and takes any value"
    )
