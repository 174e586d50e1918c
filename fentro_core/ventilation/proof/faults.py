"""What may be wrong with a ventilator, and what each fault would show in every test."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from fentro_core.system.fresh_air import Ventilator
from fentro_core.ventilation.proof.step import LOCKOUTS, VentilatorTest

Looks = Mapping[str, tuple[str, ...]]
"""By what is looked at: what may be seen then, each as likely."""


@dataclass(frozen=True)
class VentilatorFault:
    """A kind of fault: its name, what to do, who may."""

    key: str
    name: str
    do: str
    who: str = "technician"


FAULTS: Mapping[str, VentilatorFault] = {
    fault.key: fault
    for fault in (
        VentilatorFault(
            "fan_dead",
            "Its fan does not run",
            "Power off. Does it turn freely by hand? Then its capacitor, its plug, the relay in its control, in this order.",
        ),
        VentilatorFault(
            "damper_shut",
            "Its damper stays shut",
            "Power off. Is its wire on, does the blade move by hand, is its linkage tight? Free it, or renew the actuator.",
        ),
        VentilatorFault(
            "damper_open",
            "Its damper does not shut",
            "Power off. Move the blade by hand: ice, a leaf, a slipped linkage, a spring that is out? Outdoor air leaks in.",
        ),
        VentilatorFault(
            "reversed",
            "The air goes the wrong way",
            "Power off. Follow both ducts from the hoods to the collars: they are changed over, or a fan turns backwards.",
        ),
        VentilatorFault(
            "filter", "A filter is dirty", "Power off. Clean or renew it, write the date on it, measure the flows again."
        ),
        VentilatorFault(
            "screen",
            "The outdoor screen is clogged",
            "Clear it. Set the ladder on firm ground, and have somebody hold it. Measure again.",
        ),
        VentilatorFault(
            "no_screen",
            "The outdoor screen is missing",
            "Fit one: a mesh that keeps birds and leaves out and can be brushed clean.",
        ),
        VentilatorFault(
            "settings",
            "Its control is not set as the card says",
            "Enter the card's values once more, line by line, and see that the control keeps them after its power was off.",
        ),
        VentilatorFault(
            "timer",
            "It does not run the minutes that it is set to",
            "Does another control call it too, or its own switch? Take the others off one by one, and count an hour again.",
        ),
        VentilatorFault(
            "sensor",
            "Its outdoor sensor shows a wrong temperature",
            "Is it in the sun, over an exhaust, on a warm wall? Move it. Else read its resistance against the maker's table.",
        ),
        VentilatorFault(
            "lockout",
            "A lockout does not stop it",
            "Is the lockout switched on in its menu, its sensor wired to it? Its limits protect core and rooms.",
        ),
        VentilatorFault(
            "interlock",
            "The system's blower does not run with it",
            "Follow the two wires from its control to the blower's terminal on the board of the furnace or air handler.",
        ),
        VentilatorFault(
            "boost",
            "A boost does not come back by itself",
            "Look for a switch that holds, and at the boost's time in its menu. Until then it runs day and night.",
        ),
    )
}


def possible(ventilator: Ventilator, tests: Mapping[str, VentilatorTest]) -> tuple[str, ...]:
    """Faults that this one can have and its tests can show."""
    gone = set()
    if not ventilator.damper:
        gone |= {"damper_shut", "damper_open"}
    if not any(kind in tests for kind in LOCKOUTS):
        gone.add("lockout")
    for fault, test in (("sensor", "sensor"), ("boost", "boost"), ("settings", "settings"), ("timer", "hour")):
        if test not in tests:
            gone.add(fault)
    if "run" not in tests or "blower" not in tests["run"].asks:
        gone.add("interlock")
    return tuple(key for key in FAULTS if key not in gone)


_EVERY: Looks = {
    "as_card": ("yes",),
    "sensor": ("right",),
    "minutes": ("right",),
}


def due(test: VentilatorTest) -> Looks:
    """What a sound one shows."""
    return {ask: (test.due[ask],) if ask in test.due else _EVERY[ask] for ask in test.asks}


def shown(fault: str, test: VentilatorTest, fan: str = "") -> Looks:
    """What would be seen instead with this fault; only what differs from what is due.

    `fan`: as it was seen; where a lockout should have stopped it, the damper goes with it.
    """
    kind = test.kind
    differs: dict[str, tuple[str, ...]] = {ask: values for ask, values in _differs(fault, kind).items() if ask in test.asks}
    if fan and kind in LOCKOUTS and fault in ("lockout", "settings") and "damper" in differs:
        differs["damper"] = ("open",) if fan == "runs" else ("shut",)
    return differs


def _differs(fault: str, kind: str) -> dict[str, tuple[str, ...]]:
    running, locked = kind in ("run", "boost"), kind in LOCKOUTS
    match fault:
        case "fan_dead" if running:
            return {"fan": ("stands",), "air": ("none",), "damper": ("open", "shut"), "blower": ("runs", "stands")}
        case "fan_dead" if locked:
            return {"again": ("stands",)}
        case "fan_dead" if kind == "hour":
            return {"minutes": ("off",)}
        case "damper_shut" if kind == "run":
            return {"damper": ("shut",), "air": ("none", "none", "little")}
        case "damper_open" if kind == "stop":
            return {"damper": ("open",), "air": ("none", "none", "none", "little", "right", "wrong")}
        case "damper_open" if locked:
            return {"damper": ("open",)}
        case "reversed" if kind == "run":
            return {"air": ("wrong",)}
        case "filter" if kind == "filters":
            return {"filters": ("dirty", "blocked")}
        case "screen" if kind == "filters":
            return {"screen": ("clogged",)}
        case "no_screen" if kind == "filters":
            return {"screen": ("missing",)}
        case "filter" | "screen" if kind == "run":
            return {"air": ("right", "right", "little")}
        case _:
            return _set_wrong(fault, kind)


def _set_wrong(fault: str, kind: str) -> dict[str, tuple[str, ...]]:
    """Faults of its control and of what hangs on it."""
    locked = kind in LOCKOUTS
    match fault, kind:
        case "settings", "settings":
            return {"as_card": ("no",)}
        case "settings", "hour":
            return {"minutes": ("right", "off", "off")}
        case "timer", "hour":
            return {"minutes": ("off",)}
        case "sensor", "sensor":
            return {"sensor": ("off",)}
        case "settings" | "timer", "boost":
            return {"again": ("stands", "runs")}
        case "interlock", "run":
            return {"blower": ("stands",)}
        case "boost", "boost":
            return {"again": ("runs",)}
    if fault == "lockout" and locked:
        return {"fan": ("stands", "runs", "runs"), "damper": ("shut", "open", "open")}
    if fault == "settings" and locked:
        return {"fan": ("stands", "stands", "runs"), "damper": ("shut", "shut", "open")}
    return {}
