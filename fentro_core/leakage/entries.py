"""The return run as measured by the technician."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.fields import kind_of
from fentro_core.base.refusal import Refused
from fentro_core.leakage.combined import USUAL_LIMIT_M3S_PER_M2
from fentro_core.leakage.return_side import Where
from fentro_core.logbook.kinds import EntryKind, register


@dataclass(frozen=True)
class ReturnDuct:
    """The return run outside the rooms: length, perimeter, its wall, where it would leak; a limit for the floor it serves."""

    length_m: float
    perimeter_m: float
    resistance_m2k_per_w: float
    where: Where = "spread"
    floor_area_m2: float | None = None
    limit_m3s_per_m2: float = USUAL_LIMIT_M3S_PER_M2


_MOST = {
    "length_m": 200.0,
    "perimeter_m": 12.0,
    "resistance_m2k_per_w": 5.0,
    "floor_area_m2": 20_000.0,
    "limit_m3s_per_m2": 0.01,
}


def _check(body: ReturnDuct) -> None:
    for name, most in _MOST.items():
        value = getattr(body, name)
        if value is not None and not 0 < value <= most:
            raise Refused("This must be above zero and at most {high}.", name, high=(most, kind_of(name)))


register(EntryKind(key="return_duct", body=ReturnDuct, name="Return run measured", check=_check))
