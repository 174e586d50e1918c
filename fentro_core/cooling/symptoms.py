"""Symptoms of cooling: what each can be, and how to look."""

from __future__ import annotations

from fentro_core.cooling.expected import CAPACITY_TOLERANCE_SHARE, SPLIT_TOLERANCE_K
from fentro_core.diagnosis.people import COOLING, POWER_OFF
from fentro_core.diagnosis.symptom import Group, Symptom, by_eye, by_number

SHR_TOLERANCE = 0.08
"""On the sensible heat ratio. Ours."""

SYMPTOMS: tuple[Symptom, ...] = (
    by_number(
        key="split",
        title="Split against target",
        low="Split below target at the nameplate's airflow",
        right="Split on target",
        high="Split above target at the nameplate's airflow",
        ask="Read return, supply and outdoor air.",
        minutes=3,
        mode=COOLING,
        stations=("return", "supply", "outdoor"),
        group=Group.TARGET,
        number="design_residual",
        least=-SPLIT_TOLERANCE_K,
        most=SPLIT_TOLERANCE_K,
        says="split",
    ),
    by_number(
        key="capacity",
        title="Cooling against target",
        low="Too little cooling",
        right="Cooling as expected",
        high="More cooling than the unit can give",
        ask="Measure the airflow, and humidity at return and supply.",
        minutes=8,
        mode=COOLING,
        stations=("return",),
        group=Group.TARGET,
        number="capacity_share",
        least=1 - CAPACITY_TOLERANCE_SHARE,
        most=1 + CAPACITY_TOLERANCE_SHARE,
        says="capacity_share",
    ),
    by_number(
        key="shr",
        title="Sensible heat ratio",
        low="Drier supply air than expected",
        right="Sensible heat ratio as expected",
        high="Dries less than expected",
        ask="Read humidity at return and supply with one probe.",
        minutes=3,
        mode=COOLING,
        stations=("return", "supply"),
        group=Group.TARGET,
        number="shr_residual",
        least=-SHR_TOLERANCE,
        most=SHR_TOLERANCE,
        says="shr_any",
    ),
    Symptom(
        key="moisture",
        title="Supply against return moisture",
        states={"drier": "Supply air no wetter than return air", "wetter": "Supply air wetter than return air"},
        ordinary="drier",
        ask="Read humidity at return and supply with one probe.",
        minutes=3,
        mode=COOLING,
        stations=("return", "supply"),
        group=Group.OTHER,
    ),
    by_eye(
        key="heat_on",
        title="Heat on while cooling",
        ask="Is electric or gas heat on while it cools?",
        minutes=4,
        caution=POWER_OFF,
        telling=True,
        mode=COOLING,
    ),
    by_eye(
        key="drops_blown",
        title="Water drops blown off",
        ask="Do drops leave the coil with the air, or does the fan run on after cooling?",
        minutes=5,
        telling=True,
        mode=COOLING,
    ),
)
