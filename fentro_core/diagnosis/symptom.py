"""What a cause is told by: each symptom, the states it can be in, and how to look at it.

Numbers give most of them; the rest are questions a technician answers by eye. What is in its ordinary state supports a cause
weakly, what is out of order supports it fully. The symptoms themselves stand in their parts.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import IntEnum

from fentro_core.diagnosis.people import RISK_MINUTES, TECHNICIAN


class Group(IntEnum):
    """What a symptom is told by.

    A cause's symptoms are listed in this order, and of two looks worth the same the first is asked.
    """

    MODE = 0
    TARGET = 1
    FLOW = 2
    NAMEPLATE = 3
    PRESSURE = 4
    DUCT = 5
    OTHER = 6
    MEASURING = 7
    EYE = 8


@dataclass(frozen=True, kw_only=True)
class Symptom:
    """One thing to look at.

    `states`: what it can be, each in words; `ordinary`: the state of a sound system. `ask`: how to find out. `telling`: counts
    double, because it hardly comes from anything else. `mode`: only while cooling or heating. `kinds`: only these systems.
    `context`: says what is so, never that something is out of order. `number`: key of the number that tells it by itself, with
    its ordinary limits; `says`: key of the number said beside it. `apart`: a matter of its own, such as single branches; out of
    order, it is held only against causes of the same matter that do not explain it. `tells`: its states weigh by themselves; the
    others come from readings that the machine's model is held against. `besides`: how often it is answered yes where no cause
    of it is there. `by_flame`: the caution besides, where the unit burns gas. `place`: where it is seen, if whoever looks there
    sees more than this (`fentro_core.diagnosis.places`). `item`: what is answered instead of it, where there is more to say
    than yes or no (`fentro_core.diagnosis.entries.ITEMS`).
    """

    key: str
    title: str
    states: Mapping[str, str]
    ordinary: str
    ask: str
    minutes: float = 3.0
    who: str = TECHNICIAN
    caution: str = ""
    telling: bool = False
    by_eye: bool = False
    mode: str = ""
    kinds: tuple[str, ...] = ()
    context: bool = False
    stations: tuple[str, ...] = ()
    group: Group = Group.EYE
    number: str = ""
    least: float | None = None
    most: float | None = None
    says: str = ""
    apart: str = ""
    tells: bool = False
    besides: float = 0.04
    by_flame: str = ""
    place: str = ""
    item: str = ""

    @property
    def cost(self) -> float:
        """Minutes, and what can hurt counted in minutes; any caution is worth one."""
        return self.minutes + (RISK_MINUTES.get(self.caution, 1.0) if self.caution else 0.0)


def by_number(*, low: str, right: str, high: str, **more: object) -> Symptom:
    """A symptom that is low, right or high."""
    states = {"low": low, "right": right, "high": high}
    return Symptom(states=states, ordinary="right", **more)  # type: ignore[arg-type]


def by_eye(*, key: str, title: str, **more: object) -> Symptom:
    """A question answered yes or no; no is ordinary."""
    states = {"yes": f"{title}: yes", "no": f"{title}: no"}
    return Symptom(key=key, title=title, states=states, ordinary="no", by_eye=True, **more)  # type: ignore[arg-type]


SYMPTOMS: dict[str, Symptom] = {}
"""Every symptom by key, filled from the parts (`fentro_core.parts`)."""
