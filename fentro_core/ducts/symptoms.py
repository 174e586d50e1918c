"""Symptoms of the ducts: the branch farthest from its drawing, the room served worst. Told by calibrated register flows."""

from __future__ import annotations

from fentro_core.diagnosis.people import HEIGHT
from fentro_core.diagnosis.symptom import Group, Symptom

SYMPTOMS: tuple[Symptom, ...] = (
    Symptom(
        key="branch_loss",
        title="Branches against their drawing",
        states={
            "more": "A branch loses more than drawn",
            "right": "Branches lose about as drawn",
            "less": "A branch loses less than drawn",
        },
        ordinary="right",
        ask="Walk the ducts into the app, and read the flow at every register.",
        minutes=30,
        caution=HEIGHT,
        telling=True,
        group=Group.DUCT,
        apart="ducts",
    ),
    Symptom(
        key="room_share",
        title="Room served worst",
        states={"low": "A room gets too little air", "right": "Every room that was read gets its air"},
        ordinary="right",
        ask="Enter the design flows of the rooms, and read the flow at every register.",
        minutes=30,
        telling=True,
        group=Group.DUCT,
        apart="ducts",
    ),
)
