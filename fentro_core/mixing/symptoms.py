"""Symptoms of outdoor air mixed in: what each can be, and how to look."""

from __future__ import annotations

from fentro_core.diagnosis.people import HEIGHT
from fentro_core.diagnosis.symptom import Group, Symptom, by_eye

SYMPTOMS: tuple[Symptom, ...] = (
    Symptom(
        key="outdoor_share",
        title="Outdoor-air share",
        states={"ordinary": "Outdoor-air share ordinary", "large": "Very much outdoor air"},
        ordinary="ordinary",
        ask="Read return, outdoor and mixed air.",
        minutes=5,
        stations=("mixed",),
        group=Group.OTHER,
        says="outdoor_share",
    ),
    by_eye(
        key="damper_open",
        title="Outdoor damper open",
        ask="Does the outdoor damper stand further open than it should?",
        minutes=4,
        caution=HEIGHT,
        telling=True,
    ),
)
