"""What is seen that is no number, and causes that were ruled out."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.refusal import Refused
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.logbook.kinds import EntryKind, register


@dataclass(frozen=True)
class Observation:
    """Something seen that is no number: the filter's arrow, the blower's speed tap, a symptom answered yes, no or ``cant``."""

    item: str
    value: str


CANT = "cant"
"""The answer to a look that can't be had: no tool for it, no way to the place, or not this person's to do."""

ITEMS: dict[str, dict[str, str]] = {
    "filter_arrow": {
        "agrees": "The arrow agrees",
        "against": "It points the other way",
        "no_filter": "No filter, or no arrow",
    },
    "fan_tap": {},
    "stage": {
        "full": "Its full stage",
        "first": "Lower, or slowed down",
        "one": "It has only one",
    },
    "auxiliary": {
        "off": "The compressor alone",
        "on": "The electric heater too",
        "alone": "The electric heater alone",
    },
}
"""Things to see besides symptoms, with the answers that may be given; none named: any words."""


def _check_observation(body: Observation) -> None:
    symptom = SYMPTOMS.get(body.item)
    if symptom is not None and body.value == CANT:
        return
    if symptom is not None and symptom.by_eye:
        if body.value not in ("yes", "no"):
            raise Refused("Answer yes or no, or that it can't be seen.", "value")
    elif body.item not in ITEMS:
        raise Refused("There is no such thing to look at.", "item")
    elif ITEMS[body.item] and body.value not in ITEMS[body.item]:
        raise Refused(f"Choose one of these: {', '.join(ITEMS[body.item].values())}.", "value")
    if not body.value.strip() or len(body.value) > 60:
        raise Refused("Write what you saw, in at most 60 letters.", "value")


@dataclass(frozen=True)
class Rejection:
    """A proposed cause that the technician has ruled out, and why."""

    cause: str
    why: str


def _check_rejection(body: Rejection) -> None:
    if body.cause not in CAUSES:
        raise Refused("There is no such cause.", "cause")
    if not body.why.strip():
        raise Refused("Say why it can't be this: the next one will want to know.", "why")


register(
    EntryKind(key="observation", body=Observation, name="Seen", check=_check_observation),
    EntryKind(key="rejection", body=Rejection, name="Cause ruled out", check=_check_rejection),
)
