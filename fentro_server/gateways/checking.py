"""Does a gateway answer, and if not, why."""

from __future__ import annotations

import httpx
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_server.gateways.addresses import reach
from fentro_server.gateways.models import Gateway, Kind

ASKED = {
    Kind.PROBES: ("/v1/probes", "probes"),
    Kind.CONTROLLERS: ("/v1/units", "units"),
    Kind.ZONE_BOARDS: ("/v1/boards", "boards"),
    Kind.VENTILATORS: ("/v1/ventilators", "ventilators"),
}
WITHIN_S = 3.0
MOST_BYTES = 1_000_000


def check_connection(gateway: Gateway) -> None:
    """Ask it for what it leads to, and note on the row what came of it; the row is saved."""
    gateway.answered, gateway.words = _asked(gateway)
    gateway.checked_at = timezone.now()
    gateway.save(update_fields=["answered", "words", "checked_at"])


def _asked(gateway: Gateway) -> tuple[bool, str]:
    path, what = ASKED[Kind(gateway.kind)]
    try:
        reached = reach(gateway.address, gateway.token)
    except Refused as refused:
        return False, refused.sentence.say()
    try:
        with httpx.Client(timeout=WITHIN_S, trust_env=False, follow_redirects=False) as client:
            answer = client.get(f"{reached.base}{path}", headers=reached.headers, extensions=reached.extensions)
    except httpx.ConnectError:
        return False, "Nothing answers there. Is it switched on, and is the port right?"
    except httpx.TimeoutException:
        return False, "It does not answer in time. Is something in between holding it back?"
    except httpx.HTTPError:
        return False, "What answers there does not speak this protocol."
    if answer.status_code in (httpx.codes.UNAUTHORIZED, httpx.codes.FORBIDDEN):
        return False, "It wants another token."
    if answer.is_redirect:
        return False, "It redirects elsewhere. Give the final address."
    try:
        found = answer.json()[what] if answer.is_success and len(answer.content) <= MOST_BYTES else None
    except (ValueError, KeyError, TypeError):
        found = None
    if not isinstance(found, list):
        return False, "What answers there is not a gateway of this kind."
    shown = ", ".join(_name(each) for each in found[:5])
    return True, f"It answers: {len(found)} {what}{f' ({shown})' if shown else ''}."


def _name(each: object) -> str:
    """A probe or a unit as the gateway calls it."""
    known = each if isinstance(each, dict) else {"name": each}
    return str(known.get("name") or known.get("unit") or known.get("serial") or "?")[:40]
