"""Labels with a code to be scanned: on a unit, they open its page."""

from __future__ import annotations

import io
from collections.abc import Sequence

import segno
from django.http import HttpRequest
from django.template.loader import render_to_string

from fentro_server.places.models import Site, System


def address_of(request: HttpRequest, system: System) -> str:
    """What the code says: the system's page under the address by which this installation was asked."""
    return request.build_absolute_uri(f"/systems/{system.pk}")


def svg(address: str) -> bytes:
    """The code: it can still be read with a quarter of it scratched away."""
    written = io.BytesIO()
    segno.make(address, error="q", micro=False).save(
        written, kind="svg", scale=4, border=4, dark="#1c2624", title="To this system"
    )
    return written.getvalue()


def sheet(request: HttpRequest, site: Site, systems: Sequence[System]) -> str:
    """Labels of a site, three in a row, to be cut."""
    return render_to_string("records/labels.html", {"site": site, "systems": systems, "host": request.get_host()})
