"""The parts of the job, in the order in which they are shown. A new part is a folder and a line here."""

from __future__ import annotations

from dataclasses import field, make_dataclass
from typing import Any

from fentro_core.airflow import part as airflow
from fentro_core.cooling import part as cooling
from fentro_core.diagnosis.cause import AREAS, CAUSES
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.ducts import part as ducts
from fentro_core.economizer import part as economizer
from fentro_core.heating import part as heating
from fentro_core.leakage import part as leakage
from fentro_core.logbook import steps
from fentro_core.measuring import part as measuring
from fentro_core.mixing import part as mixing
from fentro_core.moisture import part as moisture
from fentro_core.night import part as night
from fentro_core.phase.context import OWNERS
from fentro_core.phase.declaration import Part, in_order
from fentro_core.phase.numbers import NUMBERS
from fentro_core.refrigerant import part as refrigerant
from fentro_core.statics import part as statics
from fentro_core.system.kinds import KINDS
from fentro_core.system.stations import PART_STATIONS
from fentro_core.ventilation import part as ventilation
from fentro_core.zoning import part as zoning

PARTS: tuple[Part, ...] = (
    measuring.PART,
    cooling.PART,
    refrigerant.PART,
    heating.PART,
    statics.PART,
    airflow.PART,
    ducts.PART,
    zoning.PART,
    economizer.PART,
    leakage.PART,
    mixing.PART,
    moisture.PART,
    ventilation.PART,
    night.PART,
)

IN_ORDER: tuple[Part, ...] = in_order(PARTS)
"""The same, each after what it needs."""

Pages: Any = make_dataclass(
    "Pages",
    [(part.key, part.page | None, field(default=None)) for part in PARTS if part.page],
    frozen=True,
    namespace={"__doc__": "What each part of the job shows on its own page, by the part's key; None where there is none."},
)
Pages.__module__ = __name__


def _register() -> None:
    """Make known what the parts declare; nothing may be declared twice."""
    for part in PARTS:
        for number in part.numbers:
            assert number.key not in NUMBERS, f"two numbers are called {number.key}"
            NUMBERS[number.key] = number
            OWNERS[number.key] = part.key
        if part.stations:
            PART_STATIONS[part.key] = part.stations
        steps.add(part.checks, part.cautions)
    symptoms = [symptom for part in PARTS for symptom in part.symptoms]
    assert len({symptom.key for symptom in symptoms}) == len(symptoms), "two symptoms have one name"
    for symptom in sorted(symptoms, key=lambda symptom: symptom.group):
        SYMPTOMS[symptom.key] = symptom
    causes = [cause for part in PARTS for cause in part.causes]
    assert len({cause.key for cause in causes}) == len(causes), "two causes have one name"
    for cause in sorted(causes, key=lambda cause: AREAS.index(cause.area)):
        CAUSES[cause.key] = cause
    known = {part.key for part in PARTS}
    assert all(set(kind.parts) <= known for kind in KINDS.values()), "a kind of system names a part that is not there"


if not NUMBERS:
    _register()


def followed_on(kind: str, nameplate: Any) -> bool:
    """Whether this system has numbers that are followed over its visits."""
    return any(number.followed for part in parts_of(kind, nameplate) for number in part.numbers)


def parts_of(kind: str, nameplate: Any) -> tuple[Part, ...]:
    """The parts that a system has, in the order in which they are shown."""
    return tuple(part for part in PARTS if part.key in KINDS[kind].parts and part.applies(nameplate))
