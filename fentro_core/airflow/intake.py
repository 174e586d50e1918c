"""Where an outdoor-air intake may be: how far from what it must not draw in, screened, its sensor in the shade."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.logbook.kinds import EntryKind, register

LEAST_DISTANCE_M = 10 * 0.3048
"""10 ft from exhausts, flues and plumbing vents; more from cooking exhaust: local code rules."""

PLACING: tuple[str, ...] = (
    "Sensor in the shade, under an eave, out of any exhaust and off warm walls.",
    "Intake screened, above snow and leaves, out of standing water.",
    "Kitchen: make-up air for a hood is a separate calculation, and never assumed covered by this.",
)


@dataclass(frozen=True)
class IntakeDistances:
    """How far the intake is from what it must not draw in [m]; nothing: there is none."""

    exhaust_m: float | None = None
    flue_m: float | None = None
    plumbing_vent_m: float | None = None
    cooking_m: float | None = None


@dataclass(frozen=True)
class IntakeFlag:
    """Something too near, or to be looked up."""

    key: str
    text: str
    off: bool


_NEAR = {"exhaust_m": "An exhaust", "flue_m": "A flue", "plumbing_vent_m": "A plumbing vent", "cooking_m": "A cooking exhaust"}


@dataclass(frozen=True)
class Intake:
    """Flags of an intake's placing; `least_m`: what each must keep at least [m]."""

    flags: tuple[IntakeFlag, ...]
    least_m: float


@calculation("airflow.intake", "Whether an outdoor-air intake keeps its distance")
def intake(distances: IntakeDistances, work: Working = SILENT) -> Intake:
    """At least 10 ft from exhausts, flues and plumbing vents; cooking exhaust needs more: local code says how much.

    Parameters
    ----------
    distances : IntakeDistances
        From the intake to each kind of outlet [m], zero or more; none where it was not measured.

    Raises
    ------
    Refused
        A distance below zero.

    References
    ----------
    10 ft (3.05 m), as usual in mechanical codes. Local code rules.

    >>> [flag.key for flag in intake(IntakeDistances(flue_m=2.0)).flags]
    ['flue_m']
    """
    flags = []
    for key, name in _NEAR.items():
        value = getattr(distances, key)
        if value is None:
            continue
        if not value >= 0:
            raise Refused("A distance can't be below zero.", f"distances.{key}")
        if value < LEAST_DISTANCE_M:
            flags.append(IntakeFlag(key, f"{name} is too close: move the intake, or move that.", True))
        elif key == "cooking_m":
            flags.append(IntakeFlag(key, "Cooking exhaust needs more distance than others: look up the local code.", False))
    least = work.step(
        "distance to keep",
        "L",
        "10 * f",
        LEAST_DISTANCE_M,
        "door",
        us="L_10",
        source="usual mechanical codes; local code rules",
        f=(0.3048, "door"),
        L_10=(LEAST_DISTANCE_M, "door"),
    )
    return Intake(tuple(flags), least)


@dataclass(frozen=True)
class IntakePlacing:
    """Distances of the outdoor-air intake [m] and what was looked at."""

    distances: IntakeDistances
    shaded: bool | None = None
    screened: bool | None = None

    @property
    def flags(self) -> tuple[IntakeFlag, ...]:
        """Everything about it that is too near, to be looked up, or not as it should be."""
        flags = list(intake(self.distances).flags)
        if self.shaded is False:
            words = "The sensor is in the sun or in an exhaust: put it in the shade, under an eave."
            flags.append(IntakeFlag("shaded", words, True))
        if self.screened is False:
            flags.append(IntakeFlag("screened", "The intake has no screen: leaves, birds and snow get in.", True))
        return tuple(flags)


def _check(body: IntakePlacing) -> None:
    for name, value in vars(body.distances).items():
        if value is not None and not 0 <= value <= 200:
            raise Refused("A distance lies between 0 and 200 m.", f"distances.{name}")


register(EntryKind(key="intake", body=IntakePlacing, name="Intake looked at", check=_check))
