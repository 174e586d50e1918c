"""Symptoms of the airflow: what each can be, and how to look."""

from __future__ import annotations

from fentro_core.diagnosis.people import ANYONE, ELECTRICAL, HEIGHT, POWER_OFF, ROOF
from fentro_core.diagnosis.symptom import Group, Symptom, by_eye, by_number

REGISTER_SHARE = 0.90
"""Registers that bring less than this share of the unit's air have lost some on the way. Ours."""

SYMPTOMS: tuple[Symptom, ...] = (
    by_number(
        key="airflow",
        title="Airflow against the nameplate",
        low="Airflow low",
        right="Airflow as on the nameplate",
        high="Airflow high",
        ask="Measure the airflow: hood, traverse or fan table.",
        minutes=10,
        stations=("return",),
        group=Group.FLOW,
        says="airflow",
    ),
    Symptom(
        key="flows",
        title="Airflow by several ways",
        states={"agree": "Ways to the airflow agree", "apart": "Two ways to the airflow disagree"},
        ordinary="agree",
        ask="Measure the airflow a second way.",
        minutes=10,
        stations=("return_traverse",),
        group=Group.FLOW,
    ),
    by_number(
        key="registers",
        title="Registers' sum against the airflow",
        low="Less air at the registers than through the unit",
        right="Registers' sum agrees with the airflow",
        high="More air at the registers than through the unit",
        ask="Hood at every register.",
        minutes=20,
        group=Group.TARGET,
        number="register_share",
        least=REGISTER_SHARE,
        most=1 / REGISTER_SHARE,
        says="register_share",
    ),
    by_eye(
        key="registers_shut",
        title="Registers shut or covered",
        ask="Walk the rooms. Are registers shut or covered?",
        minutes=6,
        who=ANYONE,
        telling=True,
    ),
    by_eye(
        key="duct_crushed",
        title="Duct crushed",
        ask="Is a duct kinked, crushed or too long?",
        minutes=15,
        caution=HEIGHT,
        telling=True,
    ),
    by_eye(
        key="wheel_dirty",
        title="Blower wheel caked",
        ask="Look into the blower wheel. Are its blades caked?",
        minutes=12,
        caution=POWER_OFF,
        telling=True,
    ),
    by_eye(
        key="tap_low",
        title="Blower on a low speed",
        ask="Is the blower on a lower tap or speed than this job needs?",
        minutes=5,
        caution=POWER_OFF,
        telling=True,
    ),
    by_eye(
        key="tap_high",
        title="Blower on a high speed",
        ask="Is the blower on a higher tap or speed than this job needs?",
        minutes=5,
        caution=POWER_OFF,
        telling=True,
    ),
    by_eye(
        key="belt_slips",
        title="Belt slips",
        ask="Is the belt loose, glazed or dusty?",
        minutes=6,
        caution=POWER_OFF,
        telling=True,
        kinds=ROOF,
    ),
    by_eye(
        key="motor_weak",
        title="Blower motor weak",
        ask="Is the capacitor out of range, or does the motor run hot or slow?",
        minutes=10,
        who=ELECTRICAL,
        caution=POWER_OFF,
        telling=True,
    ),
    by_eye(
        key="zones_shut",
        title="Zone dampers shut",
        ask="Are zone or balancing dampers shut?",
        minutes=6,
        telling=True,
    ),
    by_eye(
        key="worst_room_far",
        besides=0.15,
        title="Only some rooms uncomfortable",
        ask="Are only one or two rooms uncomfortable?",
        minutes=1,
        who=ANYONE,
    ),
)
