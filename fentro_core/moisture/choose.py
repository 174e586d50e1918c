"""Which way to dry a room: plain coil, less air over it, return bypass, reheat, both, or none, at the room's own load."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from fentro_core.air.constants import EVAPORATION_J_PER_KG, heat_capacity, vapour_enthalpy
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import flows
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.moisture.bypass import COIL_LEAVES_AT, LEAST_COIL_FLOW, coil_heat
from fentro_core.moisture.coil import apparatus_dew_point, freezes
from fentro_core.moisture.mass_flow import dry_air

Option = Literal["plain", "less_air", "bypass", "reheat", "both"]
Source = Literal["hot_gas", "electric", "hot_water"]
Why = Literal["", "too_little_water", "freezes", "no_reheat", "no_bypass", "no_less_air"]

USUAL_COP = 3.2
"""Cooling for each unit of electricity, where nobody knows better. Ours."""

BOILER = 0.85
"""Of the gas that a boiler burns, what arrives in the hot water. Ours."""

COLDEST_COIL_C = 1.0
USUAL_MOST_BYPASS = 1 - LEAST_COIL_FLOW


@dataclass(frozen=True)
class Dried:
    """One way at the room's load.

    `meets`: it takes out the room's water at the room's temperature; `why`: why not. `supply_c`, `supply_ratio`: what it blows;
    `leaving_dry_bulb_c`: after the coil; `apparatus_dew_point_c`: the surface; `power_w`: electricity, or gas for hot water.
    `water_kg_per_s`: out of the room; the coil takes out the water of outdoor air mixed in besides. `air_share`: of today's air.
    """

    option: Option
    meets: bool
    why: Why
    supply_c: float
    supply_ratio: float
    leaving_dry_bulb_c: float
    apparatus_dew_point_c: float | None
    bypass_share: float
    reheat_w: float
    water_kg_per_s: float
    total_w: float
    power_w: float
    air_share: float = 1.0


@dataclass(frozen=True)
class Choice:
    """The ways in the order of their needs, the one with the least energy that meets the load ("" for none), and the load.

    `needed_c`, `needed_ratio`: the supply that holds the room; `sensible_heat_ratio`: the room's.
    """

    best: Option | Literal[""]
    options: tuple[Dried, ...]
    needed_c: float
    needed_ratio: float
    sensible_heat_ratio: float


@calculation("moisture.choose", "Which way to dry this room: coil alone, less air, bypass, reheat, or none")
def choose(
    room: AirState,
    airflow_m3s: float,
    room_sensible_w: float,
    room_water_kg_per_s: float,
    reheat_source: Source | None = "electric",
    most_bypass: float = USUAL_MOST_BYPASS,
    cop: float = USUAL_COP,
    entering: AirState | None = None,
    least_air: float = LEAST_COIL_FLOW,
    work: Working = SILENT,
) -> Choice:
    """The supply that holds the room follows from its load; each way either gives it or does not.

    Parameters
    ----------
    room : AirState
        The air to be held, as it returns.
    airflow_m3s : float
        At that air [m³/s], above zero.
    room_sensible_w : float
        Heat that must leave the room [W], zero or more.
    room_water_kg_per_s : float
        Water that must leave the room [kg/s], zero or more.
    reheat_source : str, optional
        ``hot_gas``, ``electric``, ``hot_water``; None where no reheat can be had.
    most_bypass : float
        Largest share that may pass around the coil, 0 to 0.6; 0 where no bypass can be had.
    cop : float
        Cooling for each unit of electricity, 1 to 10.
    entering : AirState, optional
        The air that enters the coil, where outdoor air is mixed in; the room's where nothing is. At the same pressure.
    least_air : float
        Of today's air, the least that the blower may be turned down to, 0.4 to 1; 1 where it cannot.

    Raises
    ------
    Refused
        No airflow, a load below zero or beyond what air can carry, figures out of range.

    References
    ----------
    Balances of heat and water of the room and of two mixed streams; a wet coil is taken to leave at 95 %. Less air over the coil
    dries as a bypass of the same share does: of two that need the same, the one with nothing to build is named.

    >>> found = choose(AirState.from_rh(24.0, 0.58), 1.2, 12_700.0, 12.0 / 3600)
    >>> found.best, [each.meets for each in found.options]
    ('both', [False, False, False, True, True])
    """
    flows(airflow_m3s)
    if not 0 <= room_sensible_w <= 2e6:
        raise Refused("The room's heat must be between 0 and 2,000 kW.", "room_sensible_w")
    if not 0 <= room_water_kg_per_s <= 0.5:
        raise Refused("The room's water must be between 0 and 1,800 kg/h.", "room_water_kg_per_s")
    if not 0 <= most_bypass <= 0.6:
        raise Refused("A bypass carries 0 to 60 % of the air.", "most_bypass")
    if not 1 <= cop <= 10:
        raise Refused("Cooling for each unit of electricity lies between 1 and 10.", "cop")
    if not 0.4 <= least_air <= 1:
        raise Refused("No coil is made for less than 40 % of its air. Give 40 to 100 %.", "least_air")
    mass = airflow_m3s / room.specific_volume_m3_per_kg
    needed_c = room.dry_bulb_c - room_sensible_w / (mass * heat_capacity(room.humidity_ratio))
    needed_ratio = room.humidity_ratio - room_water_kg_per_s / mass
    if needed_c < -5:
        raise Refused("This air can't carry that much heat: it would have to be blown far below freezing.", "room_sensible_w")
    if needed_ratio < 0.001:
        raise Refused("This air can't carry that much water: it would have to be blown bone dry.", "room_water_kg_per_s")
    latent = room_water_kg_per_s * vapour_enthalpy(room.dry_bulb_c)
    if not work.silent:
        _write_down(work, room, airflow_m3s, mass, room_sensible_w, room_water_kg_per_s, needed_c, needed_ratio)
    if entering is not None:
        same_pressure(room=room, entering=entering)
    options = tuple(_Ways(room, entering or room, mass, needed_c, needed_ratio, reheat_source, most_bypass, cop, least_air).all())
    good = [each for each in options if each.meets]
    best = min(good, key=lambda each: round(each.power_w)).option if good else ""
    whole = room_sensible_w + latent
    return Choice(best, options, needed_c, needed_ratio, room_sensible_w / whole if whole else 1.0)


@dataclass(frozen=True)
class _Ways:
    """Every way at one load."""

    room: AirState
    entering: AirState
    mass: float
    needed_c: float
    needed_ratio: float
    source: Source | None
    most_bypass: float
    cop: float
    least_air: float

    def all(self) -> Iterator[Dried]:
        yield self._dried("plain", self.needed_c, 0.0)
        yield self._less_air()
        around = self._bypass()
        yield around
        yield self._reheat("reheat", 0.0)
        yield self._reheat("both", around.bypass_share)

    def _wet(self, celsius: float) -> AirState:
        wet = AirState.from_rh(celsius, COIL_LEAVES_AT, self.room.pressure_pa)
        return AirState(celsius, min(wet.humidity_ratio, self.entering.humidity_ratio), self.room.pressure_pa)

    def _coil_c(self, share: float) -> float:
        """What the coil must leave at, for the supply temperature without reheat."""
        return (self.needed_c - share * self.room.dry_bulb_c) / (1 - share)

    def _ratio(self, coil_c: float, share: float) -> float:
        return share * self.room.humidity_ratio + (1 - share) * self._wet(coil_c).humidity_ratio

    def _freezes(self, coil_c: float) -> bool:
        return coil_c < COLDEST_COIL_C or freezes(self.entering, self._wet(coil_c))

    def _wrong(self, coil_c: float, ratio: float) -> Why:
        """Why a coil at this temperature does not do, where its supply comes with so much water."""
        if self._freezes(coil_c):
            return "freezes"
        return "too_little_water" if ratio > self.needed_ratio * 1.0005 + 1e-6 else ""

    def _dried(self, option: Option, coil_c: float, share: float, why: Why = "") -> Dried:
        leaving = self._wet(max(coil_c, -20.0))
        ratio = share * self.room.humidity_ratio + (1 - share) * leaving.humidity_ratio
        mixed_c = share * self.room.dry_bulb_c + (1 - share) * leaving.dry_bulb_c
        warmed = max(self.needed_c - mixed_c, 0.0) * self.mass * heat_capacity(ratio)
        total = (1 - share) * self.mass * coil_heat(self.entering, leaving)
        why = why or self._wrong(coil_c, ratio)
        return Dried(
            option,
            not why,
            why,
            mixed_c + warmed / (self.mass * heat_capacity(ratio)),
            ratio,
            leaving.dry_bulb_c,
            apparatus_dew_point(self.entering, leaving) if self.entering.humidity_ratio > leaving.humidity_ratio else None,
            share,
            warmed,
            self.mass * (self.room.humidity_ratio - ratio),
            total,
            total / self.cop + self._reheat_power(warmed),
        )

    def _reheat_power(self, warmed: float) -> float:
        return {"hot_gas": 0.0, "electric": warmed, "hot_water": warmed / BOILER, None: 0.0}[self.source]

    def _turned_down(self, share: float) -> _Ways:
        """At this share of today's air the supply must be colder and drier for the same load."""
        needed_c = self.room.dry_bulb_c - (self.room.dry_bulb_c - self.needed_c) / share
        needed_ratio = self.room.humidity_ratio - (self.room.humidity_ratio - self.needed_ratio) / share
        return replace(self, mass=share * self.mass, needed_c=needed_c, needed_ratio=needed_ratio)

    def _with_air(self, share: float) -> Dried:
        turned_down = self._turned_down(share)
        return replace(turned_down._dried("less_air", turned_down.needed_c, 0.0), air_share=share)

    def _fails(self, share: float) -> Why:
        """Why so much air does not do, without all that it would take."""
        turned_down = self._turned_down(share)
        return turned_down._wrong(turned_down.needed_c, turned_down._wet(max(turned_down.needed_c, -20.0)).humidity_ratio)

    def _less_air(self) -> Dried:
        """The most air that takes out enough; the least that may be where none does."""
        if self.least_air >= 1:
            return self._dried("less_air", self.needed_c, 0.0, "no_less_air")
        low, high = self.least_air, 1.0
        if self._fails(low) == "freezes":
            frosts, low = low, high
            for _ in range(40):
                middle = (frosts + low) / 2
                frosts, low = (middle, low) if self._fails(middle) == "freezes" else (frosts, middle)
        if self._fails(low):
            return self._with_air(low)
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (low, middle) if self._fails(middle) else (middle, high)
        return self._with_air(low)

    def _bypass(self) -> Dried:
        """The smallest share that takes out enough; the largest that may be where none does."""
        if self.most_bypass <= 0:
            return self._dried("bypass", self.needed_c, 0.0, "no_bypass")
        most = self._largest_bypass()
        if self._ratio(self._coil_c(most), most) > self.needed_ratio or self.needed_c >= self.room.dry_bulb_c:
            return self._dried("bypass", self._coil_c(most), most)
        low, high = 0.0, most
        for _ in range(40):
            middle = (low + high) / 2
            if self._ratio(self._coil_c(middle), middle) <= self.needed_ratio:
                high = middle
            else:
                low = middle
        return self._dried("bypass", self._coil_c(high), high)

    def _largest_bypass(self) -> float:
        """The largest share at which the coil does not freeze."""
        if not self._freezes(self._coil_c(self.most_bypass)):
            return self.most_bypass
        low, high = 0.0, self.most_bypass
        for _ in range(40):
            middle = (low + high) / 2
            if self._freezes(self._coil_c(middle)):
                high = middle
            else:
                low = middle
        return low

    def _reheat(self, option: Option, share: float) -> Dried:
        """The warmest coil that takes out enough, and what it takes to warm the air again."""
        if option == "both" and share <= 0:
            return self._dried(option, self.needed_c, 0.0, "no_bypass")
        if self.source is None:
            return self._dried(option, self._coil_c(share), share, "no_reheat")
        warm = min(self._coil_c(share), self.room.dry_bulb_c)
        cold = COLDEST_COIL_C
        if warm <= cold or self._ratio(warm, share) <= self.needed_ratio:
            return self._dried(option, warm, share)
        if self._ratio(cold, share) > self.needed_ratio:
            return self._dried(option, cold, share, "too_little_water")
        for _ in range(40):
            middle = (warm + cold) / 2
            if self._ratio(middle, share) > self.needed_ratio:
                warm = middle
            else:
                cold = middle
        return self._dried(option, cold, share)


def _write_down(
    work: Working,
    room: AirState,
    airflow_m3s: float,
    mass: float,
    sensible_w: float,
    water: float,
    needed_c: float,
    needed_ratio: float,
) -> None:
    m = (mass, "mass_flow")
    dry_air(airflow_m3s, room, work)
    work.step(
        "supply that carries the room's heat",
        "T_s",
        "T_r - Q / (m * (1.006 + 0.00186 * W_r))",
        needed_c,
        "temperature",
        us="T_r - Q / (60 * m * (0.24028 + 0.44425 * W_r / 7000))",
        source="balance of the room's heat",
        T_r=(room.dry_bulb_c, "temperature"),
        Q=(sensible_w, "power"),
        m=m,
        W_r=(room.humidity_ratio, "humidity_ratio"),
    )
    work.step(
        "supply that carries the room's water",
        "W_s",
        "W_r - w / (3.6 * m)",
        needed_ratio,
        "humidity_ratio",
        us="W_r - 7000 * w / (60 * m)",
        source="balance of the room's water",
        W_r=(room.humidity_ratio, "humidity_ratio"),
        w=(water, "water_rate"),
        m=m,
    )


def water_of(latent_w: float) -> float:
    """Water [kg/s] of a latent load [W], by the heat of evaporation."""
    return latent_w / EVAPORATION_J_PER_KG
