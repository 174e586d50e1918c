"""Causes in cooling: what each shows, what proves it, what to do, and who may.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A symptom that a cause says nothing about may be in any
state.
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import RUNS_RIGHT, Cause
from fentro_core.diagnosis.people import COOLING, ELECTRICAL, POWER_OFF

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="heat_on",
        name="Heat is on while it cools",
        area="Cooling",
        why="A stuck relay or sequencer heats what was just cooled.",
        do="Find the relay; check the wiring.",
        shows={
            **RUNS_RIGHT,
            "split": {"low"},
            "capacity": {"low"},
            "shr": {"low"},
            "superheat": {"right", "low"},
            "condenser_air": {"right"},
            "subcooling": {"right"},
            "heat_on": {"yes"},
        },
        proof="heat_on",
        who=ELECTRICAL,
        caution=POWER_OFF,
        mode=COOLING,
        rare=True,
        does={"heater": (0.25, 0.45)},
    ),
    Cause(
        key="water_blown",
        name="Water blown off the coil, or evaporated again",
        area="Cooling",
        why="The supply air takes back what the coil took out.",
        do="Less air over the coil; fan off when cooling stops; drain and trap.",
        shows={
            "moisture": {"wetter"},
            "shr": {"high"},
            "capacity": {"low", "right"},
            "split": {"right", "low", "high"},
            "airflow": {"right", "high"},
            "drops_blown": {"yes"},
        },
        proof="drops_blown",
        mode=COOLING,
        does={"water": (0.4, 0.7)},
    ),
)
