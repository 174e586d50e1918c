"""The extra air must leave: size of a relief opening, and what building pressure does to a door."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import STATIC_PA, flows, within
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import SILENT, Working

DISCHARGE = 0.6
HARD_TO_OPEN_N = 67.0
"""Added by pressure alone, this much makes a door hard to open; local code rules."""

USUAL_PRESSURE_PA = (10.0, 15.0)
"""A barometric relief is commonly set to open here."""


@dataclass(frozen=True)
class ReliefWay:
    """A way for the extra air to leave, and when it is taken."""

    name: str
    when: Sentence


RELIEF_WAYS: dict[str, ReliefWay] = {
    "barometric": ReliefWay(
        "Barometric damper",
        Sentence.of(
            "Short return, small building. Set by its counterweight to open below the building's limit, commonly at "
            "{low} to {high}.",
            low=(USUAL_PRESSURE_PA[0], "pressure"),
            high=(USUAL_PRESSURE_PA[1], "pressure"),
        ),
    ),
    "relief_fan": ReliefWay(
        "Relief fan",
        Sentence.of(
            "Building pressure rises though the damper is open, or wind holds it shut. Staged or variable, by building pressure."
        ),
    ),
    "return_fan": ReliefWay(
        "Return fan", Sentence.of("Long ducted returns: the supply fan alone can't pull the air back and push it out.")
    ),
}
"""By the configuration's word for it."""


@calculation("economizer.relief_area", "Free area that a relief opening needs", result="opening_area_m2")
def relief_area(airflow_m3s: float, drop_pa: float, density_kg_per_m3: float = 1.2, work: Working = SILENT) -> float:
    """``A = V / (Cd sqrt(2 dp / rho))`` [m²] with Cd 0.6.

    Parameters
    ----------
    airflow_m3s : float
        Air that must leave [m³/s], above zero.
    drop_pa : float
        Building pressure at which it must [Pa], above zero.
    density_kg_per_m3 : float
        Of the air that leaves [kg/m³], about 1.2 at sea level.

    Raises
    ------
    Refused
        A flow, pressure or density of zero or below.

    References
    ----------
    Orifice equation, discharge coefficient 0.6 for a sharp-edged opening.

    >>> round(relief_area(1.2, 12.5), 4)
    0.4382
    """
    for name, value in (("airflow_m3s", airflow_m3s), ("drop_pa", drop_pa), ("density_kg_per_m3", density_kg_per_m3)):
        if not value > 0:
            raise Refused("This must be above zero.", name)
    flows(airflow_m3s)
    within(drop_pa, (0.1, STATIC_PA[1]), "drop_pa", "pressure")
    within(density_kg_per_m3, (0.3, 3.0), "density_kg_per_m3", "density")
    return work.step(
        "free area",
        "A",
        "1e4 * V / 1000 / (0.6 * sqrt(2 * P / d))",
        airflow_m3s / (DISCHARGE * sqrt(2 * drop_pa / density_kg_per_m3)),
        "opening",
        us="144 * V / 60 / (0.6 * sqrt(2 * P * 5.2023 * 32.174 / d))",
        source="flow through a sharp opening, Cd 0.6",
        V=(airflow_m3s, "airflow"),
        P=(drop_pa, "pressure"),
        d=(density_kg_per_m3, "density"),
    )


@calculation("economizer.door_force", "Force that building pressure adds at a door's handle", result="force_n")
def door_force(
    door_width_m: float, door_height_m: float, drop_pa: float, handle_from_edge_m: float = 0.07, work: Working = SILENT
) -> float:
    """``F = W H dp W / (2 (W - d))`` [N]; d the handle's distance from the free edge. Over 67 N it is hard to open.

    Parameters
    ----------
    door_width_m, door_height_m : float
        Of the door [m], above zero.
    drop_pa : float
        Building pressure against outside [Pa], above zero.
    handle_from_edge_m : float
        Handle from the free edge [m], less than the width.

    Raises
    ------
    Refused
        A door or a pressure of zero, or a handle that is not on the door.

    References
    ----------
    Moments about the hinge; 67 N (15 lbf) is the usual most for an interior door to be opened by anyone.

    >>> round(door_force(0.91, 2.13, 12.5), 2)
    13.12
    """
    if not 0 <= handle_from_edge_m < door_width_m:
        raise Refused("The handle must lie on the door.", "handle_from_edge_m")
    within(door_width_m, (0.3, 10.0), "door_width_m", "door")
    within(door_height_m, (0.5, 10.0), "door_height_m", "door")
    within(drop_pa, STATIC_PA, "drop_pa", "pressure")
    force = door_width_m * door_height_m * drop_pa * door_width_m / (2 * (door_width_m - handle_from_edge_m))
    return work.step(
        "force at the handle",
        "F",
        "W * H * P * W / (2 * (W - d))",
        force,
        "force",
        us="W * H * P * 5.2023 * W / (2 * (W - d))",
        source="pressure over the door about its hinges",
        W=(door_width_m, "door"),
        H=(door_height_m, "door"),
        P=(drop_pa, "pressure"),
        d=(handle_from_edge_m, "door"),
    )
