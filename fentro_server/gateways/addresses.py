"""Where a gateway is reached: looked up once, held against what the operator allows, and then connected to as it was looked up.

A lead types the address, so it must lead nowhere but to gateways: not to a service beside this one, not by a name that answers
otherwise the second time, not by a redirect.
"""

from __future__ import annotations

import ipaddress
import socket
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from django.conf import settings

from fentro_core.base.refusal import Refused

LONGEST = 200
PORTS = {"http": 80, "https": 443}

NOT_ALLOWED = "This address is not among those that the operator of this installation allows."


@dataclass(frozen=True)
class Reached:
    """An address that may be connected to: with the number that its name stands for, and what goes with every request."""

    base: str
    headers: dict[str, str] = field(default_factory=dict)
    extensions: dict[str, Any] = field(default_factory=dict)


def check(address: str) -> tuple[str, str, int, str]:
    """The parts of an address: scheme, host, port, path.

    Raises
    ------
    Refused
        It is none, or has parts that no gateway's has.
    """
    if len(address) > LONGEST or not address.isascii() or any(letter.isspace() for letter in address):
        raise Refused("An address looks like this: http://10.20.0.5:8045", "address")
    try:
        parts = urlsplit(address)
        port = parts.port
    except ValueError:
        raise Refused("An address looks like this: http://10.20.0.5:8045", "address") from None
    if parts.scheme not in PORTS or not parts.hostname:
        raise Refused("An address begins with http:// or https://, and names a machine.", "address")
    odd = any(each in address for each in ("..", "\\", "%"))
    if odd or parts.username or parts.password or parts.query or parts.fragment:
        raise Refused("Give the machine, its port, and at most a plain path.", "address")
    return parts.scheme, parts.hostname, port or PORTS[parts.scheme], parts.path.rstrip("/")


def reach(address: str, token: str = "") -> Reached:
    """Look an address up, once, and see whether it is allowed.

    Raises
    ------
    Refused
        It is none, is not known, or is not allowed here.
    """
    scheme, host, port, path = check(address)
    try:
        found = [entry[4][0] for entry in socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)]
    except (OSError, UnicodeError):
        raise Refused("No machine of this name is known here.", "address") from None
    numbers = [ipaddress.ip_address(str(each).partition("%")[0]) for each in found]
    if not numbers or not all(_allowed(host, number) for number in numbers):
        raise Refused(NOT_ALLOWED, "address")
    number = numbers[0]
    shown = f"[{number}]" if number.version == 6 else str(number)
    named = host if port == PORTS[scheme] else f"{host}:{port}"
    headers = {"Host": named, **({"Authorization": f"Bearer {token}"} if token else {})}
    return Reached(f"{scheme}://{shown}:{port}{path}", headers, {"sni_hostname": host} if scheme == "https" else {})


def _allowed(host: str, number: ipaddress.IPv4Address | ipaddress.IPv6Address) -> bool:
    if number.is_multicast or number.is_unspecified:
        return False
    for allowed in settings.FENTRO_GATEWAY_HOSTS:
        try:
            if number in ipaddress.ip_network(allowed, strict=False):
                return True
        except ValueError:
            if host.lower() == allowed.lower():
                return True
    return False
