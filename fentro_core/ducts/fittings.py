"""Fittings, dampers and walls of ducts, and what each loses. Usual values; a maker's own figure goes first."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from math import exp, log
from typing import Literal

from fentro_core.system.ducts import DuctWall, Piece

Shape = Literal["bend", "takeoff", "entry", "end", "change"]


@dataclass(frozen=True)
class Fitting:
    """One of the list; `loss` on the velocity of the piece that it is noted with, None where the sizes decide."""

    key: str
    name: str
    shape: Shape
    loss: float | None


FITTINGS: Mapping[str, Fitting] = {
    each.key: each
    for each in (
        Fitting("bend_90", "Bend 90°, smooth", "bend", 0.15),
        Fitting("bend_90_pieces", "Bend 90°, three pieces", "bend", 0.34),
        Fitting("bend_90_mitred", "Bend 90°, mitred", "bend", 1.2),
        Fitting("bend_90_vanes", "Bend 90°, with vanes", "bend", 0.2),
        Fitting("bend_45", "Bend 45°, smooth", "bend", 0.09),
        Fitting("bend_45_pieces", "Bend 45°, pieces", "bend", 0.204),
        Fitting("plenum_entry", "Out of the plenum, sharp", "entry", 0.5),
        Fitting("bell_mouth", "Out of the plenum, bell mouth", "entry", 0.1),
        Fitting("takeoff_straight", "Take-off, straight", "takeoff", 1.2),
        Fitting("takeoff_shoe", "Take-off, shoe or 45°", "takeoff", 0.6),
        Fitting("takeoff_conical", "Take-off, conical", "takeoff", 0.5),
        Fitting("past_takeoff", "Trunk past a take-off", "takeoff", 0.1),
        Fitting("wye", "Wye", "takeoff", 0.3),
        Fitting("boot_straight", "Boot, straight", "end", 0.5),
        Fitting("boot_turning", "Boot, turning", "end", 1.1),
        Fitting("open_end", "Open end", "end", 1.0),
        Fitting("hood_screen", "Hood with screen", "end", 1.3),
        Fitting("narrowing", "Sudden narrowing", "change", None),
        Fitting("widening", "Sudden widening", "change", None),
    )
}
"""The short list, in the order in which it is shown. Usual values of the trade's fitting tables, smooth bends at r/D 1.5;
45° is 0.6 of 90°."""

ROUGHNESS_M: Mapping[DuctWall, float] = {"metal": 9e-5, "lined": 1e-3, "flexible": 1e-3}
"""Absolute roughness [m]: galvanised sheet 0.09 mm, lined and stretched flexible about 1 mm."""

BLADE_K = ((0.0, 0.19), (10.0, 0.67), (20.0, 1.76), (30.0, 4.38), (40.0, 11.2), (50.0, 32.0), (60.0, 113.0), (90.0, 1600.0))
"""Loss of a blade damper by its angle from open [°]. The last: shut, it lets 3.5 % through a branch that otherwise loses 2."""

OPEN_DEG = 0.0
SHUT_DEG = 90.0


def damper_k(angle_deg: float) -> float:
    """Loss coefficient of a blade damper at an angle from open [°, 0 to 90]: logarithms between the table's points.

    >>> damper_k(0.0), round(damper_k(25.0), 2), damper_k(60.0)
    (0.19, 2.78, 113.0)
    """
    angle_deg = min(max(angle_deg, OPEN_DEG), SHUT_DEG)
    at = min(bisect_right(BLADE_K, (angle_deg, float("inf"))), len(BLADE_K) - 1)
    (a0, k0), (a1, k1) = BLADE_K[at - 1], BLADE_K[at]
    return k0 if angle_deg == a0 else k1 if angle_deg == a1 else exp(log(k0) + log(k1 / k0) * (angle_deg - a0) / (a1 - a0))


def damper_angle(loss: float) -> float:
    """The angle from open [°] at which a blade damper has this loss: open where it is less than an open one's.

    >>> round(damper_angle(1.987), 1), damper_angle(0.1), damper_angle(1e9)
    (21.3, 0.0, 90.0)
    """
    if loss <= BLADE_K[0][1]:
        return OPEN_DEG
    for (a0, k0), (a1, k1) in pairwise(BLADE_K):
        if loss <= k1:
            return a0 + (a1 - a0) * log(loss / k0) / log(k1 / k0)
    return SHUT_DEG


def compression_factor(compressed: float, diameter_m: float) -> float:
    """What compression multiplies a flexible duct's friction by: ``1 + 0.58 r exp(-0.00496 D)``, r in %, D in mm.

    From published laboratory tests, by the duct design chapter of the Fundamentals. Single runs differ by a third to both sides.

    >>> round(compression_factor(0.15, 0.15), 1), round(compression_factor(0.30, 0.15), 1), compression_factor(0.0, 0.2)
    (5.1, 9.3, 1.0)
    """
    return 1.0 + 58.0 * compressed * exp(-4.96 * diameter_m)


def fitting_k(key: str, piece: Piece, before: Piece | None) -> float:
    """Loss of a fitting on the piece's own velocity; a change of size by both areas, none out of the plenum.

    Sudden narrowing 0.5 (1 - A2/A1) on the narrower velocity, sudden widening (1 - A1/A2)² on the narrower one.
    """
    known = FITTINGS[key].loss
    if known is not None:
        return known
    if before is None:
        return 0.0
    here, there = piece.area_m2, before.area_m2
    if key == "narrowing":
        return 0.5 * (1.0 - here / there) if here < there else 0.0
    return ((1.0 - there / here) * here / there) ** 2 if there < here else 0.0
