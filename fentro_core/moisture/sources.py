"""Where the water comes from: a balance of a room's water in kg an hour, source by source."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.saturation import saturation
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

PERSON_KG_PER_S = 0.065 / 3600
"""Water that a person at light work gives off at 24 °C (45 W latent)."""

MOST_M3S = 50.0


LEAK_EXPONENT = 0.65
"""Of flow through a building's gaps with the pressure across them."""


def drawn_in(blower_door_m3s: float, building_pa: float) -> float:
    """Outdoor air that a building's pressure draws in through its gaps [m³/s]; nothing while it is not below outdoors.

    Parameters
    ----------
    blower_door_m3s : float
        Flow through the gaps at 50 Pa.
    building_pa : float
        Pressure in the building against outdoors [Pa].

    >>> round(drawn_in(1.0, -4.0), 3), drawn_in(1.0, 2.0)
    (0.194, 0.0)
    """
    return blower_door_m3s * (-building_pa / 50.0) ** LEAK_EXPONENT if building_pa < 0 else 0.0


@dataclass(frozen=True)
class WaterBalance:
    """What each brings into the room [kg/s]; below zero it dries. `unexplained`: what leaves beyond all of them.

    Names end as their unit; `from_outdoor_kg_per_s` is air through the unit, `from_leaks_kg_per_s` through the building's gaps,
    `from_duct_kg_per_s` through the return duct.
    """

    from_outdoor_kg_per_s: float
    from_leaks_kg_per_s: float
    from_duct_kg_per_s: float
    from_people_kg_per_s: float
    from_wet_kg_per_s: float
    from_process_kg_per_s: float
    brought_kg_per_s: float
    unexplained_kg_per_s: float


@calculation("moisture.sources", "Where the water comes from: outdoor air, gaps, return leak, people, wet surfaces, processes")
def sources(
    room: AirState,
    outdoor: AirState,
    removed_kg_per_s: float,
    outdoor_m3s: float = 0.0,
    infiltration_m3s: float = 0.0,
    duct_leak_m3s: float = 0.0,
    around: AirState | None = None,
    occupants: float = 0.0,
    wet_area_m2: float = 0.0,
    water_c: float = 20.0,
    velocity_m_per_s: float = 0.1,
    process_kg_per_s: float = 0.0,
    work: Working = SILENT,
) -> WaterBalance:
    """While the room's humidity stays, what comes in leaves: the coil takes out what the sources bring.

    Parameters
    ----------
    room, outdoor : AirState
        The room's air as it returns, and outdoor air; at the same pressure.
    removed_kg_per_s : float
        Water that the unit takes out [kg/s], zero or more.
    outdoor_m3s, infiltration_m3s, duct_leak_m3s : float
        Outdoor air through the unit, through the building's gaps, and air that leaks into the return duct [m³/s], zero or more.
    around : AirState, optional
        The air around the return duct; needed with a leak there.
    occupants : float
        People in the room, 0 to 5000.
    wet_area_m2 : float
        Open water or wet floor [m²], zero or more.
    water_c : float
        Temperature of that water [°C], 0 to 60.
    velocity_m_per_s : float
        Air over it [m/s], 0 to 2.
    process_kg_per_s : float
        Water that a process gives off [kg/s], where it is known.

    Raises
    ------
    Refused
        Figures below zero or out of range, two pressures, a duct leak without the air around it.

    References
    ----------
    Balance of water; evaporation from open water ``A (p_w - p_a)(0.089 + 0.0782 v) / Y``, ASHRAE Handbook, HVAC Applications,
    natatoriums chapter.

    >>> room, outdoor = AirState.from_rh(24.0, 0.6), AirState.from_rh(31.0, 0.7)
    >>> round(sources(room, outdoor, 0.004, outdoor_m3s=0.3).from_outdoor_kg_per_s * 3600, 1)
    10.6
    """
    same_pressure(room=room, outdoor=outdoor)
    for name, value, most in (
        ("removed_kg_per_s", removed_kg_per_s, 0.5),
        ("outdoor_m3s", outdoor_m3s, MOST_M3S),
        ("infiltration_m3s", infiltration_m3s, MOST_M3S),
        ("duct_leak_m3s", duct_leak_m3s, MOST_M3S),
        ("occupants", occupants, 5000.0),
        ("wet_area_m2", wet_area_m2, 5000.0),
        ("water_c", water_c, 60.0),
        ("velocity_m_per_s", velocity_m_per_s, 2.0),
        ("process_kg_per_s", process_kg_per_s, 0.5),
    ):
        if not 0 <= value <= most:
            raise Refused("This must not be below zero, and not beyond what a building has.", name)
    if duct_leak_m3s and around is None:
        raise Refused("Read the air around the return duct first: what leaks in is that air.", "around")

    def carried(name: str, symbol: str, flow: float, air: AirState) -> float:
        mass = flow / air.specific_volume_m3_per_kg
        brought = mass * (air.humidity_ratio - room.humidity_ratio)
        if flow:
            work.step(
                name,
                symbol,
                "3.6 * V / 1000 / v * (W_o - W_r)",
                brought,
                "water_rate",
                us="60 * V / v * (W_o - W_r) / 7000",
                source="balance of water",
                V=(flow, "airflow"),
                v=(air.specific_volume_m3_per_kg, "specific_volume"),
                W_o=(air.humidity_ratio, "humidity_ratio"),
                W_r=(room.humidity_ratio, "humidity_ratio"),
            )
        return brought

    by_outdoor = carried("with outdoor air", "w_o", outdoor_m3s, outdoor)
    by_gaps = carried("through gaps", "w_g", infiltration_m3s, outdoor)
    by_duct = carried("into the return duct", "w_d", duct_leak_m3s, around) if around else 0.0
    by_people = occupants * PERSON_KG_PER_S
    if occupants:
        work.step(
            "from people",
            "w_p",
            "0.065 * n",
            by_people,
            "water_rate",
            us="0.1433 * n",
            source="light work at 24 °C",
            n=(occupants, "ratio"),
        )
    wet = saturation(water_c)[0]
    evaporates = max((wet - room.vapour_pa) / 1000, 0.0) * (0.089 + 0.0782 * velocity_m_per_s) / 2430.0
    by_wet = wet_area_m2 * evaporates
    if wet_area_m2:
        work.step(
            "from open water",
            "w_w",
            "curve(A, T_w, u)",
            by_wet,
            "water_rate",
            source="vapour pressure at the water's surface against the room's, and the air over it",
            A=(wet_area_m2, "area"),
            T_w=(water_c, "temperature"),
            u=(velocity_m_per_s, "velocity"),
        )
    brought = by_outdoor + by_gaps + by_duct + by_people + by_wet + process_kg_per_s
    work.step(
        "not explained",
        "w_x",
        "w - w_s",
        removed_kg_per_s - brought,
        "water_rate",
        source="what leaves beyond what is known to come in, while the room stays as humid",
        w=(removed_kg_per_s, "water_rate"),
        w_s=(brought, "water_rate"),
    )
    return WaterBalance(by_outdoor, by_gaps, by_duct, by_people, by_wet, process_kg_per_s, brought, removed_kg_per_s - brought)
