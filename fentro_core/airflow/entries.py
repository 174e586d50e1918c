"""The duct at a traverse station."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.airflow.traverse import Duct, check_duct
from fentro_core.base.refusal import inside
from fentro_core.logbook.kinds import EntryKind, register


@dataclass(frozen=True)
class Plane:
    """The duct at a traverse station, measured inside."""

    station: str
    duct: Duct


def _check_plane(body: Plane) -> None:
    with inside("duct"):
        check_duct(body.duct)


register(
    EntryKind(
        key="plane",
        body=Plane,
        name="Duct measured",
        check=_check_plane,
        station=lambda body: str(body.station),
        station_is=("traverse", "A duct is measured at a traverse station."),
        uses_station=True,
    ),
)
