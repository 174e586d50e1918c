"""Symptoms of the zones: what the worst combination asks of the unit, and what was noted at the smallest zone."""

from __future__ import annotations

from fentro_core.diagnosis.symptom import Group, Symptom, by_number

SYMPTOMS: tuple[Symptom, ...] = (
    Symptom(
        key="zones_worst",
        title="Worst combination of zones",
        states={
            "over": "Over a limit with few zones calling",
            "right": "Every combination of zones within limits",
        },
        ordinary="right",
        ask="Group the rooms into zones: every combination is worked out.",
        minutes=10,
        telling=True,
        group=Group.DUCT,
        apart="zones",
    ),
    by_number(
        key="zone_static",
        title="Static with the smallest zone",
        low="Static low with the smallest zone calling",
        right="Static within the nameplate's with the smallest zone calling",
        high="Static too high with the smallest zone calling",
        ask="Call the smallest zone alone, and read the external static.",
        minutes=6,
        telling=True,
        group=Group.PRESSURE,
        apart="zones",
    ),
    Symptom(
        key="zone_supply",
        title="Supply air with the smallest zone",
        states={
            "past": "Supply air past its limit with the smallest zone calling",
            "right": "Supply air within its limit with the smallest zone calling",
        },
        ordinary="right",
        ask="Call the smallest zone alone for ten minutes, and read the supply air.",
        minutes=12,
        telling=True,
        group=Group.TARGET,
        apart="zones",
    ),
)
