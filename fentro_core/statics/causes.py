"""Causes in static pressures and what they show: what each shows, what proves it, what to do, and who may.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A symptom that a cause says nothing about may be in any
state.
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import STARVED, Cause
from fentro_core.diagnosis.people import ANYONE, DRAFT, POWER_OFF

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="filter_clogged",
        name="Filter clogged",
        area="Airflow",
        why="Dust holds the air back: little flow, large drop over the filter.",
        do="Change the filter; read the drop again with the new one.",
        shows={
            **STARVED,
            "filter_drop": {"high"},
            "static": {"high", "right"},
            "coil_drop": {"right", "low"},
            "return_drop": {"right", "low"},
            "supply_drop": {"right", "low"},
            "filter_seen": {"yes"},
        },
        proof="filter_seen",
        who=ANYONE,
        caution=POWER_OFF,
        does={"r_filter": (4.0, 6.5, 9.0)},
    ),
    Cause(
        key="filter_thick",
        name="Filter too fine for this blower",
        area="Airflow",
        why="A fine filter drops more than the blower has to spare.",
        do="A larger or deeper filter of the same fineness.",
        shows={
            **STARVED,
            "filter_drop": {"high"},
            "static": {"high", "right"},
            "coil_drop": {"right", "low"},
            "filter_seen": {"no"},
            "filter_thick": {"yes"},
        },
        proof="filter_thick",
        caution=POWER_OFF,
        rare=True,
        does={"r_filter": (2.8, 4.0, 5.5)},
    ),
    Cause(
        key="coil_dirty",
        name="Coil face dirty",
        area="Airflow",
        why="Dust mats on the coil's wet face: large drop, little flow, little heat moved.",
        do="Clean the coil; look how dust got past the filter.",
        shows={
            **STARVED,
            "capacity": {"low"},
            "coil_drop": {"high"},
            "static": {"high", "right"},
            "filter_drop": {"right", "low"},
            "return_drop": {"right", "low"},
            "coil_dirty": {"yes"},
        },
        proof="coil_dirty",
        caution=POWER_OFF,
        does={"r_coil": (2.5, 3.5, 4.8), "surface": (0.88, 0.8, 0.7)},
    ),
    Cause(
        key="return_small",
        name="Return too small",
        area="Airflow",
        why="The return duct or grille is too small: high suction before the filter.",
        do="A second return, or a larger grille and duct.",
        shows={
            **STARVED,
            "return_drop": {"high"},
            "static": {"high", "right"},
            "filter_drop": {"right", "low"},
            "coil_drop": {"right", "low"},
            "supply_drop": {"right", "low"},
            "return_whistles": {"yes"},
        },
        proof="return_whistles",
        does={"r_return": (4.0, 6.5, 9.5)},
        often={"return_whistles": 0.65},
        by_flame=DRAFT,
    ),
    Cause(
        key="filter_missing",
        name="Filter missing, or air goes past it",
        area="Airflow",
        why="No drop over the filter, dust goes to the coil.",
        do="Put a filter in, close the gaps, look at the coil.",
        shows={
            "filter_drop": {"low"},
            "airflow": {"right", "high"},
            "split": {"right", "low"},
            "capacity": {"right", "high"},
            "filter_missing": {"yes"},
        },
        proof="filter_missing",
        who=ANYONE,
        caution=POWER_OFF,
        does={"r_filter": (0.03,)},
    ),
)
