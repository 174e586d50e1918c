"""What one piece of duct loses at a flow: friction by its roughness, fittings, damper, register; and how fast its air is."""

from __future__ import annotations

from dataclasses import dataclass
from math import log10

from fentro_core.air.constants import STANDARD_DENSITY
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import flows, within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.ducts.fittings import FITTINGS, ROUGHNESS_M, compression_factor, damper_k, fitting_k
from fentro_core.system.ducts import Piece, RoomBranch

VISCOSITY_PA_S = 1.81e-5
"""Of air at about 20 °C; a kelvin changes it by a quarter of a percent."""

DENSITY = (0.5, 1.6)

OPEN_END_K = 1.0
"""A branch without a register's rated point ends so: all of its speed is lost."""

LEAST_REGISTER_OPEN = 0.05
"""A register shut by hand still lets a little through: no more than this share of its stroke is reckoned shut."""


def friction_factor(reynolds: float, relative_roughness: float) -> float:
    """Darcy friction factor, explicit.

    Serghides' form of Colebrook's equation ("Estimate friction factor accurately", Chem. Eng. 91, 1984), within 0.003 % of it;
    64/Re below 2,300, a straight line between there and 4,000.

    >>> round(friction_factor(1e5, 4.4e-4), 5), friction_factor(1000.0, 0.01)
    (0.02008, 0.064)
    """
    if reynolds <= 2300.0:
        return 64.0 / max(reynolds, 1.0)
    if reynolds < 4000.0:
        share = (reynolds - 2300.0) / 1700.0
        return (1.0 - share) * 64.0 / 2300.0 + share * friction_factor(4000.0, relative_roughness)
    rough = relative_roughness / 3.7
    a = -2.0 * log10(rough + 12.0 / reynolds)
    b = -2.0 * log10(rough + 2.51 * a / reynolds)
    c = -2.0 * log10(rough + 2.51 * b / reynolds)
    return (a - (b - a) ** 2 / (c - 2.0 * b + a)) ** -2


@dataclass(frozen=True)
class Losses:
    """What a piece loses at its flow, by cause [Pa]."""

    friction_pa: float
    fittings_pa: float
    damper_pa: float = 0.0
    register_pa: float = 0.0

    @property
    def total_pa(self) -> float:
        """All of it."""
        return self.friction_pa + self.fittings_pa + self.damper_pa + self.register_pa


class Resistance:
    """A piece made ready for many flows: everything that does not change with the flow is worked out once.

    `factor`: it loses so many times as much as drawn, by what was measured: its register included, not a blade damper, of which
    the position is seen. `handle`: how many times as much what its handle sets loses: the blade, or else a register partly
    open.
    """

    __slots__ = (
        "area_m2",
        "damper",
        "dynamic",
        "factor",
        "handle",
        "hydraulic_m",
        "register",
        "rough",
        "shut",
        "stretch",
        "velocity",
    )

    def __init__(self, piece: Piece, before: Piece | None, density: float, factor: float = 1.0) -> None:
        area = piece.area_m2
        self.area_m2, self.hydraulic_m = area, piece.hydraulic_m
        self.factor, self.shut, self.handle = factor, False, 1.0
        self.velocity = density / (2.0 * area * area)
        """Velocity pressure for each (m³/s)² [Pa]."""
        stretch = compression_factor(piece.compressed, self.hydraulic_m) if piece.wall == "flexible" else 1.0
        self.stretch = piece.length_m / self.hydraulic_m * stretch
        self.rough = ROUGHNESS_M[piece.wall] / self.hydraulic_m
        self.dynamic = piece.more_loss + sum(fitting_k(key, piece, before) for key in piece.fittings)
        self.damper = self.register = 0.0
        if isinstance(piece, RoomBranch):
            self.turn(piece.damper, piece.damper_deg)
            self.register = self._register(piece, density)

    def turn(self, damper: str, angle_deg: float) -> None:
        """The damper at another angle from open [°]."""
        self.shut = damper == "inflatable" and angle_deg >= 45.0
        self.damper = damper_k(angle_deg) if damper == "blade" else 0.0

    def _register(self, branch: RoomBranch, density: float) -> float:
        """Loss coefficient of the register on the branch's velocity pressure: open by half, it loses four times as much."""
        if branch.register_pa and branch.register_m3s:
            rated = branch.register_pa / branch.register_m3s**2 * density / STANDARD_DENSITY / self.velocity
        else:
            rated = OPEN_END_K
        return rated / max(branch.register_open, LEAST_REGISTER_OPEN) ** 2

    @property
    def handled(self) -> tuple[float, float]:
        """Loss coefficients of damper and register, with what their handle was found to do."""
        return (self.damper * self.handle, self.register) if self.damper else (0.0, self.register * self.handle)

    def friction(self, flow: float, density: float) -> float:
        """Loss coefficient of the friction at a flow [m³/s]."""
        reynolds = density * flow / self.area_m2 * self.hydraulic_m / VISCOSITY_PA_S
        return friction_factor(reynolds, self.rough) * self.stretch

    def per_square(self, flow: float, density: float) -> float:
        """Pressure for each (m³/s)² at a flow [Pa s²/m⁶]."""
        damper, register = self.handled
        own = (self.friction(flow, density) + self.dynamic + register) * self.factor
        return (own + damper) * self.velocity

    def losses(self, flow: float, density: float) -> Losses:
        """By cause, at a flow [m³/s]."""
        squared = self.velocity * flow * flow
        damper, register = self.handled
        return Losses(
            self.friction(flow, density) * self.factor * squared,
            self.dynamic * self.factor * squared,
            damper * squared,
            register * self.factor * squared,
        )


@dataclass(frozen=True)
class DuctLoss:
    """Pressure drop of a piece [Pa], its parts, and the speed in it [m/s]."""

    drop_pa: float
    friction_pa: float
    dynamic_pa: float
    velocity_m_per_s: float


@calculation("ducts.loss", "Pressure drop of a piece of duct")
def duct_loss(piece: Piece, airflow_m3s: float, density_kg_per_m3: float = 1.204, work: Working = SILENT) -> DuctLoss:
    """``(f L / D + sum K) rho v^2 / 2`` [Pa].

    Parameters
    ----------
    piece : Piece
        Sizes, length, wall, fittings.
    airflow_m3s : float
        Above zero [m³/s].
    density_kg_per_m3 : float
        Of the air in it [kg/m³], 0.5 to 1.6.

    Raises
    ------
    Refused
        A piece that can't be, a flow of zero or below.

    References
    ----------
    Darcy and Weisbach; friction by Serghides' explicit form of Colebrook's equation; a rectangular duct by its hydraulic
    diameter; a compressed flexible duct by `fittings.compression_factor`.

    >>> round(duct_loss(Piece(id="1", diameter_m=0.2032, length_m=8.5), 0.118).drop_pa, 2)
    7.49
    """
    with inside("piece"):
        piece.check()
        check_fittings(piece)
    flows(airflow_m3s)
    within(density_kg_per_m3, DENSITY, "density_kg_per_m3", "density")
    ready = Resistance(piece, None, density_kg_per_m3)
    velocity = work.step(
        "velocity",
        "v",
        "V / 1000 / A",
        airflow_m3s / ready.area_m2,
        "velocity",
        us="V / A",
        V=(airflow_m3s, "airflow"),
        A=(ready.area_m2, "duct_area"),
    )
    stretch = ready.stretch * ready.hydraulic_m / piece.length_m
    whole = ready.friction(airflow_m3s, density_kg_per_m3)
    friction = work.step(
        "friction, as a loss coefficient",
        "K_f",
        "f * L / D * c",
        whole,
        "ratio",
        source="f: Serghides 1984, explicit form of Colebrook; c: a compressed flexible duct",
        f=(whole / ready.stretch, "ratio"),
        L=(piece.length_m, "length"),
        D=(ready.hydraulic_m, "length"),
        c=(stretch, "ratio"),
    )
    dynamic = work.step(
        "velocity pressure",
        "p_v",
        "rho * v^2 / 2",
        density_kg_per_m3 * velocity**2 / 2,
        "pressure",
        us="rho * (v / 1096.7)^2",
        rho=(density_kg_per_m3, "density"),
        v=(velocity, "velocity"),
    )
    drop = work.step(
        "pressure drop",
        "dp",
        "(K_f + K) * p_v",
        (friction + ready.dynamic) * dynamic,
        "pressure",
        source="Darcy-Weisbach with the fittings' usual losses",
        K_f=(friction, "ratio"),
        K=(ready.dynamic, "ratio"),
        p_v=(dynamic, "pressure"),
    )
    return DuctLoss(drop, friction * dynamic, ready.dynamic * dynamic, velocity)


def check_fittings(piece: Piece) -> None:
    """Refuse a fitting that is not on the list."""
    for key in piece.fittings:
        if key not in FITTINGS:
            raise Refused("Choose a fitting from the list.", "fittings")
