"""The steps of a visit, what is looked at in each, and the cautions that stand beside them.

What belongs to one part of the job stands in that part and is added here.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

StepId = Literal["arrive", "trace", "settle", "measure", "work_out", "set_up", "prove", "restore", "hand_over"]


@dataclass(frozen=True)
class CheckItem:
    """Something to see or do, answered by one tap. `kinds`: only for these kinds of system; empty means all."""

    key: str
    step: StepId
    text: str
    kinds: tuple[str, ...] = ()


@dataclass(frozen=True)
class Caution:
    """A safety word beside a step. `places`: words of where it applies; `kinds` then say where nobody knows the place."""

    step: StepId
    text: str
    kinds: tuple[str, ...] = ()
    places: tuple[str, ...] = ()

    def applies(self, kind: str, location: str) -> bool:
        """To a system of this kind that stands there."""
        if self.places and location.strip():
            return any(word in location.lower() for word in self.places)
        return not self.kinds or kind in self.kinds


STEP_NAMES: dict[StepId, str] = {
    "arrive": "Arrive",
    "trace": "Trace",
    "settle": "Settle",
    "measure": "Measure",
    "work_out": "Work out",
    "set_up": "Set up",
    "prove": "Prove",
    "restore": "Restore",
    "hand_over": "Hand over",
}

STEP_LEADS: dict[StepId, str] = {
    "arrive": "What was reported, what the nameplate says, what was left last time.",
    "trace": "Follow the air. The filter's arrow gives the way.",
    "settle": "Most wrong conclusions come from reading too early.",
    "measure": "Dry bulb and humidity at each station, as found.",
    "work_out": "What the readings give, with how far they can be trusted.",
    "set_up": "Write down each change: what it was, what it is now, why.",
    "prove": "Measure again after a change, and compare.",
    "restore": "Leave nothing overridden, disconnected or open.",
    "hand_over": "A record that a stranger can follow.",
}
"""What a step is for, in one line."""

NOWHERE = ""
"""No kind of system: said only where the place is known."""

_COOLS = ("packaged_rooftop", "furnace_with_coil", "split_heat_pump")

GENERAL_CHECKS: tuple[CheckItem, ...] = (
    CheckItem("reported_heard", "arrive", "Heard what was reported, and wrote it down"),
    CheckItem("plate_agrees", "arrive", "The nameplate on the unit agrees with the one here"),
    CheckItem("hazards_looked_for", "arrive", "Looked for hazards: access, electricity, gas, heat"),
    CheckItem("air_traced", "trace", "Followed the air; the filter's arrow agrees with the picture"),
    CheckItem("filter_in", "settle", "Filter in, and not clogged"),
    CheckItem("registers_open", "settle", "Registers and grilles open"),
    CheckItem("doors_on", "settle", "Unit doors and panels on"),
    CheckItem("unit_calling", "settle", "Unit calling steadily", _COOLS),
    CheckItem("nothing_to_change", "set_up", "Nothing needed changing"),
    CheckItem("overrides_released", "restore", "Every override released"),
    CheckItem("wires_back", "restore", "Every wire reconnected, every jumper out"),
    CheckItem("holes_plugged", "restore", "Every test hole plugged"),
    CheckItem("running_normally", "restore", "Unit seen running normally, panels on"),
)

GENERAL_CAUTIONS: tuple[Caution, ...] = (
    Caution("arrive", "Roof and ladder: three points of contact, stay back from the edge.", ("packaged_rooftop",), ("roof",)),
    Caution(
        "arrive",
        "Attic: heat builds up fast. Drink, take breaks. Leave asbestos-like insulation alone.",
        ("furnace_with_coil", "split_heat_pump", "dwelling_ventilator"),
        ("attic", "loft"),
    ),
    Caution(
        "arrive",
        "Crawl space: cramped, often damp. Take a light and gloves, keep the way out free, tell somebody you are in there.",
        (NOWHERE,),
        ("crawl",),
    ),
    Caution(
        "settle",
        "Lock out power before opening a panel. Capacitors hold charge. Keep hands from a blower until it stands still.",
    ),
    Caution("measure", "Drill test holes only where you know what is behind: never into a coil, a heat exchanger or wiring."),
    Caution("set_up", "Local code, the maker's instructions and licensed practice come before anything shown here."),
    Caution("restore", "An override left in can freeze a coil in winter. Look twice."),
)

CHECKS: dict[str, CheckItem] = {}
CAUTIONS: list[Caution] = []
"""Everything to see, and every caution: the general ones, then those of the parts."""


def add(checks: Iterable[CheckItem], cautions: Iterable[Caution]) -> None:
    """Make checks and cautions known."""
    CHECKS.update({item.key: item for item in checks})
    CAUTIONS.extend(cautions)


add(GENERAL_CHECKS, GENERAL_CAUTIONS)


def checks_of(step: str, kind: str) -> list[CheckItem]:
    """The checks of a step for a kind of system."""
    return [item for item in CHECKS.values() if item.step == step and (not item.kinds or kind in item.kinds)]


def cautions_of(step: str, kind: str, location: str = "") -> list[str]:
    """The cautions of a step for a kind of system, and for where it stands."""
    return [caution.text for caution in CAUTIONS if caution.step == step and caution.applies(kind, location)]
