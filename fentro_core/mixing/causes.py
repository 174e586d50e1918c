"""Causes in outdoor air mixed in: what each shows, what proves it, what to do, and who may.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A symptom that a cause says nothing about may be in any
state.
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.people import HEIGHT

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="damper_open",
        name="Outdoor damper stands too far open",
        area="Cooling",
        why="The unit cools outdoor air instead of the room's.",
        do="Linkage, actuator, minimum position.",
        shows={
            "outdoor_share": {"large"},
            "airflow": {"right", "high"},
            "split": {"low", "right", "high"},
            "damper_open": {"yes"},
        },
        proof="damper_open",
        caution=HEIGHT,
        kinds=("packaged_rooftop", "split_heat_pump"),
        does={"outdoor": (0.35, 0.5, 0.7)},
    ),
)
