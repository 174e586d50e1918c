"""Traverses: where to hold the probe across a duct, and the flow that follows from the velocities."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, pi, radians, sin
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import VELOCITY_M_PER_S, within
from fentro_core.base.measured import Measured, weighted_sum
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import SILENT, Working
from fentro_core.instruments.averaging import weights_of

Shape = Literal["rectangular", "round"]

LOG_TCHEBYCHEFF: dict[int, tuple[float, ...]] = {
    5: (0.074, 0.288, 0.500, 0.712, 0.926),
    6: (0.061, 0.235, 0.437, 0.563, 0.765, 0.939),
    7: (0.053, 0.203, 0.366, 0.500, 0.634, 0.797, 0.947),
}
"""Fractions of a side, ISO 3966:2008."""

SIDE_LIMITS_M = ((0.76, 5), (0.91, 6), (float("inf"), 7))
"""Points along a side: 5 under 0.76 m (30 in), 6 up to 0.91 m (36 in), 7 above."""

LOG_LINEAR: dict[int, tuple[float, ...]] = {
    6: (0.032, 0.135, 0.321, 0.679, 0.865, 0.968),
    8: (0.021, 0.117, 0.184, 0.345, 0.655, 0.816, 0.883, 0.979),
    10: (0.019, 0.077, 0.153, 0.217, 0.361, 0.639, 0.783, 0.847, 0.923, 0.981),
}
"""Fractions of a diameter, ISO 3966:2008, on three diameters 60 degrees apart."""

DIAMETER_LIMITS_M = ((0.25, 6), (0.50, 8), (float("inf"), 10))
"""Points on a diameter by its size: ours, within the 6, 8 or 10 of the standard."""

MOST_VELOCITIES = 500
DIAMETERS = 3
AFTER_DIAMETERS = 7.5
BEFORE_DIAMETERS = 1.5
"""A plane closer than this after or before a bend, branch, damper or fan is flagged."""

GOOD_PLANE_SHARE = 0.02
BAD_PLANE_SHARE = 0.06
"""95 % half-width of the method as a share of the flow, beside that of the probe. Ours: ISO 3966 asks for 2 % at a good
plane; a disturbed one is at best three times as bad."""

LARGEST_M = 6.0
SMALLEST_M = 0.05


@dataclass(frozen=True)
class Duct:
    """The inside of a duct at the plane, and how far disturbances are. Lengths [m].

    `wall_m`: what the probe passes before it is in the air (sheet, lining, insulation).
    `after_m`, `before_m`: straight duct upstream and downstream of the plane; None when not looked at.
    """

    shape: Shape
    width_m: float | None = None
    height_m: float | None = None
    diameter_m: float | None = None
    wall_m: float = 0.0
    after_m: float | None = None
    before_m: float | None = None

    @property
    def area_m2(self) -> float:
        """Free area [m²]."""
        if self.shape == "round":
            return pi / 4 * (self.diameter_m or 0.0) ** 2
        return (self.width_m or 0.0) * (self.height_m or 0.0)

    @property
    def equal_diameter_m(self) -> float:
        """Hydraulic diameter [m]: 4 x area / perimeter."""
        if self.shape == "round":
            return self.diameter_m or 0.0
        return 4 * self.area_m2 / (2 * ((self.width_m or 0.0) + (self.height_m or 0.0)))


def check_duct(duct: Duct) -> None:
    """Refuse a duct without its sides, or of a size no duct has."""
    needed = ("diameter_m",) if duct.shape == "round" else ("width_m", "height_m")
    for name in needed:
        value = getattr(duct, name)
        if value is None:
            raise Refused("Measure this inside the duct and fill it in.", name)
        if not SMALLEST_M <= value <= LARGEST_M:
            raise Refused(
                "The inside of a duct must be between {low} and {high}. Check the unit.",
                name,
                low=(SMALLEST_M, "depth"),
                high=(LARGEST_M, "depth"),
            )
    for name, most in (("wall_m", 0.5), ("after_m", 200.0), ("before_m", 200.0)):
        value = getattr(duct, name)
        if value is not None and not 0 <= value <= most:
            raise Refused("This must be between 0 and {high}.", name, high=(most, "length"))


@dataclass(frozen=True)
class TraversePoint:
    """One place of the probe: hole (or diameter) and how deep, counted in the order a hand takes them.

    `depth_m` from the inside of the wall; `mark_m` from the probe's tip to the mark at the outside of the wall.
    `x`, `y`: where it lies, as shares of width and height from the lower left; for a drawing.
    """

    number: int
    hole: int
    depth_m: float
    mark_m: float
    x: float
    y: float


@dataclass(frozen=True)
class Hole:
    """Where to drill: along the side, from its end [m]; for a round duct the angle [degrees] from the first."""

    number: int
    along_m: float | None
    angle_deg: float | None


@dataclass(frozen=True)
class TraversePlan:
    """Points in order, holes, marks for the probe, and what is wrong with the plane.

    `along`: the side the holes are in ("width": top or bottom; "height": a side wall; "" for round ducts).
    """

    duct: Duct
    points: tuple[TraversePoint, ...]
    holes: tuple[Hole, ...]
    marks_m: tuple[float, ...]
    along: Literal["width", "height", ""]
    area_m2: float
    equal_diameter_m: float
    flags: tuple[Sentence, ...]


def _count(size: float, limits: tuple[tuple[float, int], ...]) -> int:
    return next(count for limit, count in limits if size < limit or limit == float("inf"))


def plan(duct: Duct) -> TraversePlan:
    """Where to hold the probe: log-Tchebycheff in rectangular ducts, log-linear in round ones.

    In each hole the probe goes in to the far mark first and is drawn out mark by mark.

    >>> found = plan(Duct("rectangular", width_m=0.6, height_m=0.4))
    >>> len(found.points), [round(mark, 3) for mark in found.marks_m]
    (25, [0.03, 0.115, 0.2, 0.285, 0.37])
    """
    with inside("duct"):
        check_duct(duct)
    if duct.shape == "round":
        return _round(duct)
    width, height = duct.width_m or 0.0, duct.height_m or 0.0
    along: Literal["width", "height"] = "width" if width >= height else "height"
    side, deep = (width, height) if along == "width" else (height, width)
    across = LOG_TCHEBYCHEFF[_count(side, SIDE_LIMITS_M)]
    depths = LOG_TCHEBYCHEFF[_count(deep, SIDE_LIMITS_M)]
    points: list[TraversePoint] = []
    for hole, place in enumerate(across, 1):
        for share in reversed(depths):
            depth = share * deep
            x, y = (place, 1 - share) if along == "width" else (share, place)
            points.append(TraversePoint(len(points) + 1, hole, depth, depth + duct.wall_m, x, y))
    holes = tuple(Hole(number, place * side, None) for number, place in enumerate(across, 1))
    marks = tuple(share * deep + duct.wall_m for share in depths)
    return TraversePlan(duct, tuple(points), holes, marks, along, duct.area_m2, duct.equal_diameter_m, plane_flags(duct))


def _round(duct: Duct) -> TraversePlan:
    diameter = duct.diameter_m or 0.0
    shares = LOG_LINEAR[_count(diameter, DIAMETER_LIMITS_M)]
    points: list[TraversePoint] = []
    for hole in range(1, DIAMETERS + 1):
        angle = radians(90 - 60 * (hole - 1))
        for share in reversed(shares):
            depth = share * diameter
            radius = 0.5 - share
            points.append(
                TraversePoint(
                    len(points) + 1,
                    hole,
                    depth,
                    depth + duct.wall_m,
                    0.5 + radius * cos(angle),
                    0.5 + radius * sin(angle),
                )
            )
    holes = tuple(Hole(number, None, 60.0 * (number - 1)) for number in range(1, DIAMETERS + 1))
    marks = tuple(share * diameter + duct.wall_m for share in shares)
    return TraversePlan(duct, tuple(points), holes, marks, "", duct.area_m2, diameter, plane_flags(duct))


def plane_flags(duct: Duct) -> tuple[Sentence, ...]:
    """What makes the plane a bad one."""
    flags = []
    size = duct.equal_diameter_m
    sides = (
        ("after_m", AFTER_DIAMETERS, "after the last bend, branch, damper or fan"),
        ("before_m", BEFORE_DIAMETERS, "before the next one"),
    )
    for name, least, words in sides:
        given = getattr(duct, name)
        if given is not None and given < least * size:
            flags.append(
                Sentence.of(
                    f"This plane lies {{given}} {words}; it should be {{needed}} or more. The flow is less sure here.",
                    given=(given, "length"),
                    needed=(least * size, "length"),
                )
            )
    return tuple(flags)


@calculation("measuring.traverse_plan", "Where to hold the probe across a duct")
def traverse_plan(duct: Duct, work: Working = SILENT) -> TraversePlan:
    """`plan` by name.

    Parameters
    ----------
    duct : Duct
        Inside of the duct, 0.05 to 6 m; straight duct before and after the plane where it is known.

    Raises
    ------
    Refused
        A duct that was not measured, or one of no such size.

    References
    ----------
    ISO 3966:2008, log-Tchebycheff and log-linear rules.
    """
    found = plan(duct)
    work.step("free area", "A", "as measured inside", found.area_m2, "duct_area")
    return found


@dataclass(frozen=True)
class Traverse:
    """Flow of a traverse, with its mean velocity; `flags` say what weakens it."""

    airflow_m3s: float
    mean_velocity_m_per_s: float
    area_m2: float
    points: int
    planned: int
    flags: tuple[Sentence, ...]


@calculation("measuring.traverse", "Airflow from the velocities of a traverse")
def traverse(duct: Duct, velocities_m_per_s: tuple[float, ...], work: Working = SILENT) -> Traverse:
    """Mean velocity times free area.

    The rules place the points so that each stands for the same part of the flow: a plain mean.

    Parameters
    ----------
    duct : Duct
        Inside of the duct, 0.05 to 6 m.
    velocities_m_per_s : tuple of float
        At the points of the plan, one at least [m/s].

    Raises
    ------
    Refused
        A duct that was not measured, or no velocity.

    References
    ----------
    ISO 3966:2008, log-Tchebycheff and log-linear rules.

    >>> round(traverse(Duct("round", diameter_m=0.2), (4.0, 5.0, 6.0)).airflow_m3s, 4)
    0.1571
    """
    with inside("duct"):
        check_duct(duct)
    if not velocities_m_per_s:
        raise Refused("Read at least one velocity.", "velocities_m_per_s")
    if len(velocities_m_per_s) > MOST_VELOCITIES:
        raise Refused(f"A traverse has at most {MOST_VELOCITIES} points.", "velocities_m_per_s")
    for index, velocity in enumerate(velocities_m_per_s):
        within(velocity, VELOCITY_M_PER_S, f"velocities_m_per_s.{index}", "velocity")
    mean = sum(velocities_m_per_s) / len(velocities_m_per_s)
    if mean < 0:
        raise Refused("More air flows back than forward: turn the probe round, or look for another plane.", "velocities_m_per_s")
    flow = mean * duct.area_m2
    work.step(
        "mean velocity",
        "c",
        "sum(c_i) / n",
        mean,
        "velocity",
        source="equal parts of the flow: plain mean",
        n=(float(len(velocities_m_per_s)), "ratio"),
    )
    if duct.shape == "round":
        work.step(
            "free area",
            "A",
            "pi / 4 * (D / 1000)^2",
            duct.area_m2,
            "duct_area",
            us="pi / 4 * (D / 12)^2",
            D=(duct.diameter_m or 0.0, "depth"),
        )
    else:
        work.step(
            "free area",
            "A",
            "W / 1000 * H / 1000",
            duct.area_m2,
            "duct_area",
            us="W / 12 * H / 12",
            W=(duct.width_m or 0.0, "depth"),
            H=(duct.height_m or 0.0, "depth"),
        )
    work.step(
        "airflow by traverse",
        "V",
        "1000 * c * A",
        flow,
        "airflow",
        us="c * A",
        source="ISO 3966",
        c=(mean, "velocity"),
        A=(duct.area_m2, "duct_area"),
    )
    planned = len(plan(duct).points)
    return Traverse(flow, mean, duct.area_m2, len(velocities_m_per_s), planned, profile_flags(duct, velocities_m_per_s))


def profile_flags(duct: Duct, velocities: tuple[float, ...]) -> tuple[Sentence, ...]:
    """Signs that the plane can't be trusted: disturbances near, air flowing back, too few points, a steep profile."""
    flags = list(plane_flags(duct))
    planned = len(plan(duct).points)
    if any(velocity < 0 for velocity in velocities):
        flags.append(Sentence.of("Air flows back at some points: choose another plane."))
    if len(velocities) < planned:
        flags.append(Sentence.of(f"{len(velocities)} of {planned} points read: the mean is not that of the whole duct yet."))
    elif sum(velocity > max(velocities) / 10 for velocity in velocities) < 0.75 * len(velocities):
        flags.append(Sentence.of("More than a quarter of the points have hardly any flow: choose another plane."))
    return tuple(flags)


def traverse_flow(duct: Duct, velocities: list[Measured], name: str) -> Measured:
    """The flow [m³/s] with its half-width: the probe's, and the method's by how good the plane is."""
    weights = weights_of([None] * len(velocities))
    mean = weighted_sum(zip(weights, velocities, strict=True))
    area = duct.area_m2
    flags = profile_flags(duct, tuple(velocity.value for velocity in velocities))
    share = BAD_PLANE_SHARE if flags else GOOD_PLANE_SHARE
    method = Measured(0.0, {f"{name}:traverse": share * abs(mean.value) * area})
    return weighted_sum([(area, mean), (1.0, method)])
