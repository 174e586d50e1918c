"""Static pressures along the air path: drop over each part against the plate or an ordinary system; the filter's state."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.airflow.airflow import check_curve
from fentro_core.base.calculation import calculation
from fentro_core.base.interpolation import Monotone
from fentro_core.base.limits import STATIC_PA, flows, within
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.system.nameplate import DropPoint

DWELLING_PA = {"return": 45.0, "filter": 60.0, "coil": 80.0, "supply": 60.0}
ROOFTOP_PA = {"return": 110.0, "filter": 75.0, "coil": 100.0, "supply": 150.0}
ORDINARY_PA: dict[str, dict[str, float]] = {
    "furnace_with_coil": DWELLING_PA,
    "split_heat_pump": DWELLING_PA,
    "packaged_rooftop": ROOFTOP_PA,
}
"""The most that each part of an ordinary system drops at its rated flow [Pa]. Ours, from practice; a plate goes before."""

CHANGE_FILTER_PA = {"furnace_with_coil": 75.0, "split_heat_pump": 75.0, "packaged_rooftop": 125.0}
"""Drop at rated flow at which a filter is changed where its maker says none [Pa]. Ours."""

CHANGE_SOON_SHARE = 0.8

WET_COIL_FACTOR = 1.4
"""A wet coil drops more than its clean, dry curve: by up to this factor it is still ordinary. Ours."""

PART_NAMES = {"return": "Return duct", "filter": "Filter", "coil": "Coil", "supply": "Supply duct"}


@calculation("airflow.drop_at_rated", "Pressure drop as it would be at rated flow", result="drop_pa")
def drop_at_rated(drop_pa: float, airflow_m3s: float, rated_airflow_m3s: float, work: Working = SILENT) -> float:
    """``drop (V_rated / V)^2`` [Pa]: at a low flow a clogged filter looks clean, unless this is done.

    Parameters
    ----------
    drop_pa : float
        Drop that was read [Pa].
    airflow_m3s, rated_airflow_m3s : float
        Flow at that moment, and the rated one [m³/s]; above zero.

    Raises
    ------
    Refused
        A flow of zero or below.

    References
    ----------
    Fan and system laws: turbulent resistance goes with the square of the flow.

    >>> drop_at_rated(40.0, 0.4, 0.56)
    78.4
    """
    within(drop_pa, STATIC_PA, "drop_pa", "pressure")
    flows(airflow_m3s)
    flows(rated_airflow_m3s, "rated_airflow_m3s")
    if drop_pa * (rated_airflow_m3s / airflow_m3s) ** 2 > 2 * STATIC_PA[1]:
        raise Refused("At rated flow no component drops that much: read drop and airflow again.", "airflow_m3s")
    return work.step(
        "drop at rated flow",
        "P_r",
        "P * (V_r / V)^2",
        round(drop_pa * (rated_airflow_m3s / airflow_m3s) ** 2, 9),
        "pressure",
        source="turbulent flow: the drop goes with the square",
        P=(drop_pa, "pressure"),
        V_r=(rated_airflow_m3s, "airflow"),
        V=(airflow_m3s, "airflow"),
    )


@calculation("statics.wet_coil_drop", "Most that a clean, wet coil drops at a flow", result="drop_pa")
def wet_coil_drop(curve: tuple[DropPoint, ...], airflow_m3s: float, work: Working = SILENT) -> float:
    """The dry coil's drop by its curve, times 1.4 [Pa]: water on the fins narrows the way.

    Parameters
    ----------
    curve : tuple of DropPoint
        Drop [Pa] and airflow [m³/s] of the clean, dry coil, two points at least.
    airflow_m3s : float
        Flow through the coil [m³/s], within the curve.

    Raises
    ------
    Refused
        A curve of one point, or a flow beyond its ends.

    References
    ----------
    The maker's curve; the factor is ours, after ordinary practice.

    >>> wet_coil_drop((DropPoint(30.0, 0.4), DropPoint(60.0, 0.57), DropPoint(90.0, 0.7)), 0.57)
    84.0
    """
    check_curve(curve)
    try:
        dry = Monotone([(point.airflow_m3s, point.drop_pa) for point in curve])(airflow_m3s)
    except Refused as refusal:
        raise refusal.under("curve") from refusal
    return work.step(
        "most of a wet coil",
        "P_w",
        "1.4 * P",
        dry * WET_COIL_FACTOR,
        "pressure",
        source="the maker's curve for the dry coil; the factor is ours",
        P=(dry, "pressure"),
    )


@dataclass(frozen=True)
class Drops:
    """Drops over the parts [Pa], all above zero on a running unit; None where a tap was not read."""

    return_: Measured | None
    filter: Measured | None
    coil: Measured | None
    supply: Measured | None

    def parts(self) -> dict[str, Measured]:
        """By part, only those known."""
        found = {"return": self.return_, "filter": self.filter, "coil": self.coil, "supply": self.supply}
        return {part: drop for part, drop in found.items() if drop is not None}


def drops(taps: dict[str, Measured], coil_taps: tuple[str, ...]) -> Drops:
    """Drops from tap readings by station id.

    >>> found = drops({"return_static": Measured(-30.0), "filter_static": Measured(-55.0)}, ())
    >>> found.return_.value, found.filter.value, found.supply
    (30.0, 25.0, None)
    """
    nothing = Measured(0.0)
    return_, after_filter = taps.get("return_static"), taps.get("filter_static")
    before, after = (taps.get(tap) for tap in coil_taps) if coil_taps else (None, None)
    blows_last = coil_taps[:1] != ("supply_static",)
    into_duct = taps.get("supply_static") if blows_last else after
    return Drops(
        nothing - return_ if return_ else None,
        return_ - after_filter if return_ and after_filter else None,
        before - after if before and after else None,
        into_duct,
    )
