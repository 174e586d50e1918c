"""The zone board's wiring: what the transformer must give, and what the wire takes of its voltage."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.working import SILENT, Working

SPARE_SHARE = 0.2
DROP_SHARE = 0.1
"""A motor runs with a tenth of its voltage gone; more, and it may stall."""

Gauge = Literal["22", "20", "18", "16", "14"]

OHM_PER_M: Mapping[Gauge, float] = {"22": 0.0530, "20": 0.0333, "18": 0.0209, "16": 0.01317, "14": 0.00829}
"""Of copper wire by its gauge, at 20 °C [Ω/m]."""


@calculation("zoning.transformer", "What a zone board's transformer must give", result="need_va")
def transformer(
    dampers: int, damper_va: float, board_va: float, controls: int = 0, control_va: float = 0.0, work: Working = SILENT
) -> float:
    """``1.2 (n S_damper + S_board + m S_control)`` [VA]: all that moves together, and 20 % to spare.

    Parameters
    ----------
    dampers : int
        That move at the same time, 0 to 100.
    damper_va, board_va, control_va : float
        Of one damper, of the board, of one control point [VA].
    controls : int
        Control points fed by it.

    Raises
    ------
    Refused
        Counts below zero or beyond 100; loads below zero or beyond 200 VA.

    References
    ----------
    Class 2 control circuits: the sum of what draws at once, with a fifth to spare.

    >>> round(transformer(5, 6.5, 4.0, 2, 2.0), 1)
    48.6
    """
    for count, name in ((dampers, "dampers"), (controls, "controls")):
        within(float(count), (0.0, 100.0), name, "ratio")
    for load, name in ((damper_va, "damper_va"), (board_va, "board_va"), (control_va, "control_va")):
        within(load, (0.0, 200.0), name, "apparent_power")
    return work.step(
        "transformer",
        "S",
        "1.2 * (n * S_d + S_b + m * S_c)",
        (1.0 + SPARE_SHARE) * (dampers * damper_va + board_va + controls * control_va),
        "apparent_power",
        source="all that moves together, a fifth to spare",
        n=(float(dampers), "ratio"),
        S_d=(damper_va, "apparent_power"),
        S_b=(board_va, "apparent_power"),
        m=(float(controls), "ratio"),
        S_c=(control_va, "apparent_power"),
    )


@calculation("zoning.wire", "Voltage lost along a control wire", result="drop_v")
def wire_drop(load_va: float, one_way_m: float, gauge: Gauge = "18", supply_v: float = 24.0, work: Working = SILENT) -> float:
    """``2 L r S / U`` [V]: there and back, at the current that the load draws.

    Parameters
    ----------
    load_va : float
        At the far end [VA], 0 to 200.
    one_way_m : float
        Length of the cable [m], 0 to 300.
    gauge : str
        Of the copper wire: 22, 20, 18, 16 or 14.
    supply_v : float
        At the transformer [V], 5 to 240.

    Raises
    ------
    Refused
        Beyond these.

    References
    ----------
    Ohm's law; resistance of copper wire at 20 °C by gauge.

    >>> round(wire_drop(40.0, 30.0, "18"), 2)
    2.09
    """
    within(load_va, (0.0, 200.0), "load_va", "apparent_power")
    within(one_way_m, (0.0, 300.0), "one_way_m", "length")
    within(supply_v, (5.0, 240.0), "supply_v", "voltage")
    per_m = OHM_PER_M[gauge]
    ohm = 2.0 * one_way_m * per_m
    work.step(
        "resistance there and back",
        "R",
        f"2 * L * {per_m}",
        ohm,
        "resistance",
        us=f"2 * L * 0.3048 * {per_m}",
        source="copper by gauge, 20 °C",
        L=(one_way_m, "length"),
    )
    return work.step(
        "voltage lost",
        "dU",
        "R * S / U",
        ohm * load_va / supply_v,
        "voltage",
        source="Ohm's law",
        R=(ohm, "resistance"),
        S=(load_va, "apparent_power"),
        U=(supply_v, "voltage"),
    )


def gauge_for(load_va: float, one_way_m: float, supply_v: float = 24.0) -> Gauge | None:
    """The thinnest usual wire, 18 gauge at least, that loses no more than a tenth; None where none of them does.

    >>> gauge_for(6.5, 30.0), gauge_for(40.0, 60.0)
    ('18', '14')
    """
    for gauge in OHM_PER_M:
        if gauge in ("18", "16", "14") and wire_drop(load_va, one_way_m, gauge, supply_v) <= DROP_SHARE * supply_v:
            return gauge
    return None


@dataclass(frozen=True)
class Load:
    """A transformer against its rating [VA]."""

    need_va: float
    rated_va: float | None

    @property
    def enough(self) -> bool | None:
        """It gives what is needed; None where its rating is not known."""
        return None if self.rated_va is None else self.rated_va >= self.need_va
