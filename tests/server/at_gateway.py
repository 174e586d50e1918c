"""What tests ask of the simulated units' gateway, and of a visit beside it."""

from __future__ import annotations

from typing import Any

from fentro_core.logbook.entry import standing
from fentro_core.logbook.temporary import ledger
from fentro_server.controllers.proof_run import ProofRun
from fentro_server.gateways.addresses import Reached, reach
from fentro_server.gateways.models import Gateway
from fentro_server.visits.kept import read_row
from fentro_server.visits.models import Entry, Visit
from tests.patience import caller
from tests.server.apart import in_a_loop


def play(gateway: str, unit: str = "RTU-1", **scene: Any) -> None:
    """Set the simulated unit's scene."""
    caller.post(f"{gateway}/v1/units/{unit}/scene", json={"speed": 60, **scene}).raise_for_status()


def at_gateway(address: str) -> tuple[str, Reached]:
    """The registered gateway's name and where it is reached."""
    found = Gateway.objects.filter(address=address).first()
    return str(found.pk) if found else "none", reach(address)


def at(visit: Visit, what: str) -> str:
    return f"/api/v1/visits/{visit.pk}/{what}"


def open_changes(visit: Visit) -> list[str]:
    rows = Entry.objects.filter(visit=visit).in_order()
    return [change.what for change in ledger(standing([read_row(row).entry for row in rows]))]


def held(gateway: str, unit: str = "RTU-1") -> list[str]:
    answer = caller.get(f"{gateway}/v1/units/{unit}/points")
    return list(answer.json()["points"]["overridden"])


def words(answer: Any) -> str:
    return str(answer.json()["refusals"][0]["sentence"]["text"])


def finished(run: ProofRun) -> list[dict[str, Any]]:
    """Run to the end, and everything it said."""
    run.run()
    events: list[dict[str, Any]] = []
    while (event := run.events.get(timeout=1)) is not None:
        events.append(event)
    return events


def streamed(answer: Any) -> list[str]:
    """The lines of a streamed answer."""

    async def collect() -> list[bytes]:
        return [chunk async for chunk in answer.streaming_content]

    return b"".join(in_a_loop(collect)).decode().splitlines()
