"""What the air path drawing shows: temperature and share of flow along every band."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from fentro_core.base.measured import Measured
from fentro_core.base.quantity import Quantity
from fentro_core.instruments.station_air import StationAir
from fentro_core.phase.results import StationResult
from fentro_core.system.air_path import AirPath, Band, Joint
from fentro_core.visit.results import Ribbon, RibbonBand, RibbonBranch, RibbonJoint, Segment

ASSUMED_OUTDOOR_SHARE = 0.2
"""Width drawn for outdoor air while its share is not known; marked as assumed."""

_EXCHANGES_HEAT = {"coil", "heat_exchanger", "core"}


def ribbon(
    path: AirPath,
    airs: Mapping[str, StationAir],
    share: Measured | None,
    stations: Iterable[StationResult] = (),
    used: Collection[str] = (),
    around: Measured | None = None,
) -> Ribbon:
    """The ribbon of one phase.

    `share`: outdoor air in the mixed air, where it is known. `used`: stations placed, or with a probe, beyond those read.
    `around`: the share that passes around the coil, where it is known.
    """
    read = {station.station for station in stations if station.readings}
    known = share is not None and 0 <= share.value <= 1 and share.plus_minus <= 0.25
    outdoor = share.value if known and share is not None else ASSUMED_OUTDOOR_SHARE
    bands = tuple(RibbonBand(band.id, _segments(band, airs, outdoor, known)) for band in path.bands)
    joints = tuple(
        _joint(joint, airs, around if joint.direction == "around" else share) for band in path.bands for joint in band.joints
    )
    more = tuple(each.id for each in path.stations if not each.core and (each.id in read or each.id in used))
    return Ribbon(bands, joints, _branches(path, _register_flows(path, stations)), more)


def _joint(joint: Joint, airs: Mapping[str, StationAir], share: Measured | None) -> RibbonJoint:
    """Air that joins, leaves, or passes around the coil, as wide as its share."""
    share_known = share is not None and 0 <= share.value <= 1 and share.plus_minus <= 0.25
    wide = share.value if share_known and share is not None else ASSUMED_OUTDOOR_SHARE
    station = joint.station
    if joint.direction == "around":
        station = "mixed" if "mixed" in airs else "return"
    elif joint.direction == "leaves":
        station = station or "return"
    return RibbonJoint(joint.id, _dry_bulb(airs, station), wide, share_known)


def _segments(band: Band, airs: Mapping[str, StationAir], outdoor: float, known: bool) -> tuple[Segment, ...]:
    """Air after each element: what was read upstream holds until the last heat exchange, what was read last holds after it."""
    joins_at = next((joint.at for joint in band.joints if joint.direction == "joins"), None)
    exchanging = [index for index, element in enumerate(band.elements) if element.kind in _EXCHANGES_HEAT]
    changed_at = exchanging[-1] if exchanging else len(band.elements) - 1
    whole = joins_at is None
    current: Quantity | None = None
    segments = []
    for index, element in enumerate(band.elements):
        whole = whole or element.id == joins_at
        if index >= changed_at:
            current = _dry_bulb(airs, band.elements[-1].station)
        elif element.station:
            current = _dry_bulb(airs, element.station)
        segments.append(Segment(element.id, current, 1.0 if whole else 1.0 - outdoor, whole or known))
    return tuple(segments)


def _dry_bulb(airs: Mapping[str, StationAir], station: str) -> Quantity | None:
    air = airs.get(station)
    return Quantity(air.dry_bulb.value, air.dry_bulb.plus_minus, "temperature") if air else None


def _register_flows(path: AirPath, stations: Iterable[StationResult]) -> list[float] | None:
    """The flow of every register in the order of the branches; None until each is read."""
    flows = {each.station: each.values["airflow"].value for each in stations if "airflow" in each.values}
    found = [flows.get(each.id) for each in path.stations if each.kind == "register"]
    known = [flow for flow in found if flow is not None]
    return known if known and len(known) == len(path.branches) else None


def _branches(path: AirPath, flows: list[float] | None) -> tuple[RibbonBranch, ...]:
    widths = flows or [(branch.diameter_m or 0.15) ** 2 for branch in path.branches]
    total = sum(widths)
    return tuple(
        RibbonBranch(branch.room, branch.floor, width / total) for branch, width in zip(path.branches, widths, strict=True)
    )
