"""The tables the browser shares with the core: units, kinds, readable quantities. Written into the web client by a script."""

from __future__ import annotations

from fentro_core.base.typed_json import Json, write
from fentro_core.base.units import KINDS
from fentro_core.instruments.quantities import HUMIDITY_CHOICES, READABLE, USUAL_DRY_BULB_C


def tables() -> Json:
    """Kinds with their units, and what can be read with its limits."""
    return {
        "kinds": {
            kind.key: {"si": kind.si.key, "us": kind.us.key, "units": {unit.key: write(unit) for unit in kind.units}}
            for kind in KINDS.values()
        },
        "readable": {key: write(quantity) for key, quantity in READABLE.items()},
        "humidity_choices": list(HUMIDITY_CHOICES),
        "usual_dry_bulb": {place: list(limits) for place, limits in USUAL_DRY_BULB_C.items()},
    }
