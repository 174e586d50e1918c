"""Causes in leaking ducts: what each shows, what proves it, what to do, and who may.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A symptom that a cause says nothing about may be in any
state.
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.people import DRAFT, HEIGHT

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="return_leak",
        name="Air leaking into the return from around the duct",
        area="Leakage",
        why="A gap under suction: the unit cools or heats the air around the duct.",
        do="Find the gap by smoke or hand, seal it with mastic, read again.",
        shows={
            "pickup": {"changed"},
            "layers": {"apart"},
            "leak": {"leaks"},
            "split": {"right", "low", "high"},
            "capacity": {"right", "low", "high"},
            "airflow": {"right", "high"},
            "rise": {"right", "low"},
            "heat": {"right"},
            "seam_open": {"yes"},
            "better_when_cool": {"yes"},
            "superheat": {"right", "high"},
            "subcooling": {"right"},
        },
        proof="seam_open",
        caution=HEIGHT,
        does={"leak": (0.11, 0.17, 0.26)},
        often={"seam_open": 0.75, "better_when_cool": 0.6},
        by_flame=DRAFT,
    ),
    Cause(
        key="return_bare",
        name="Return duct gains heat through its wall",
        area="Leakage",
        why="A bare duct warms the air without letting any in.",
        do="Insulate it.",
        shows={
            "pickup": {"changed"},
            "layers": {"even"},
            "leak": {"tight"},
            "airflow": {"right", "high"},
            "split": {"right"},
            "capacity": {"right"},
            "return_bare": {"yes"},
            "better_when_cool": {"yes"},
        },
        proof="return_bare",
        caution=HEIGHT,
        does={"wall": (9.0, 15.0, 24.0)},
        often={"better_when_cool": 0.6},
    ),
    Cause(
        key="return_bypass",
        name="Supply air gets back into the return",
        area="Leakage",
        why="Cold supply air comes back before the filter, through a bypass or between the plenums: it is cooled twice.",
        do="Close the bypass, seal between the plenums; read the plenum against the grille again.",
        shows={
            "pickup": {"changed"},
            "split": {"low", "right"},
            "registers": {"low", "right"},
            "capacity": {"low", "right"},
            "layers": {"apart", "even"},
            "rise": {"low", "right"},
        },
        proof="pickup",
        does={"bypassed": (0.13, 0.21, 0.32)},
        rare=True,
    ),
    Cause(
        key="supply_leak",
        name="Supply duct leaks",
        area="Leakage",
        why="Conditioned air is lost before the rooms: less at the registers than through the unit.",
        do="Seal the joints; hood the registers again.",
        shows={
            "registers": {"low"},
            "airflow": {"right", "high"},
            "supply_drop": {"low", "right"},
            "split": {"right"},
            "capacity": {"right"},
            "rise": {"right"},
            "heat": {"right"},
            "pickup": {"same"},
            "supply_open": {"yes"},
            "worst_room_far": {"yes"},
        },
        proof="supply_open",
        caution=HEIGHT,
        does={"lost": (0.16, 0.24, 0.34)},
        often={"supply_open": 0.65, "worst_room_far": 0.5},
        by_flame=DRAFT,
    ),
)
