"""Symptoms of leaking ducts: what each can be, and how to look."""

from __future__ import annotations

from fentro_core.diagnosis.people import ANYONE, COOLING, HEIGHT
from fentro_core.diagnosis.symptom import Group, Symptom, by_eye

SYMPTOMS: tuple[Symptom, ...] = (
    Symptom(
        key="pickup",
        title="Return plenum against grille",
        states={"same": "Return plenum as warm as the grille", "changed": "Return plenum differs from the grille by over 1.5 K"},
        ordinary="same",
        ask="Read the return grille with the probe used in the plenum.",
        minutes=3,
        stations=("return_grille",),
        group=Group.DUCT,
        says="return_pickup",
    ),
    Symptom(
        key="layers",
        tells=True,
        title="Points across the return",
        states={"even": "Points across the return agree", "apart": "Points across the return differ by over 1.5 K"},
        ordinary="even",
        ask="Read two points or more across the return, left and right.",
        minutes=2,
        stations=("return",),
        group=Group.DUCT,
    ),
    Symptom(
        key="supply_layers",
        tells=True,
        title="Points across the supply",
        states={"even": "Points across the supply agree", "apart": "Points across the supply differ by over 1.5 K"},
        ordinary="even",
        ask="Read two points or more across the supply.",
        minutes=2,
        stations=("supply",),
        group=Group.DUCT,
    ),
    Symptom(
        key="leak",
        title="Return leak test",
        states={"tight": "Return leak test: none found", "leaks": "Return leak test: air is leaking in"},
        ordinary="tight",
        ask="Read the grille, and the air around the duct.",
        minutes=5,
        caution=HEIGHT,
        telling=True,
        stations=("surroundings",),
        group=Group.DUCT,
        says="leak_share",
    ),
    by_eye(
        key="seam_open",
        title="Return run open",
        ask="Is there a gap, open seam or missing panel in the return run?",
        minutes=12,
        caution=HEIGHT,
        telling=True,
    ),
    by_eye(
        key="return_bare",
        title="Return run bare",
        ask="Is the return duct bare where it is hot or cold around it?",
        minutes=6,
        caution=HEIGHT,
        telling=True,
    ),
    by_eye(
        key="supply_open",
        title="Supply duct open",
        ask="Is a supply duct off its collar or leaking?",
        minutes=15,
        caution=HEIGHT,
        telling=True,
    ),
    by_eye(
        key="better_when_cool",
        title="Better when it is cool around the duct",
        ask="Does it cool better in the evening, when the air around the duct is cool?",
        minutes=1,
        who=ANYONE,
        mode=COOLING,
    ),
)
