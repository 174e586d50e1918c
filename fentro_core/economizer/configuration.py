"""A controller's configuration as an open document: the sequence, its settings, which sensor hangs where, which loop reads what.

The same document is what the plan sets, what the tests are generated from, and what a controller saves and loads.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Number
from fentro_core.base.typed_json import Json
from fentro_core.economizer.changeover import CAP_F, FIXED_ENTHALPY_J_PER_KG
from fentro_core.economizer.places import PLACES
from fentro_core.system.nameplate import ChangeoverMethod

FORMAT = "fentro.economizer"
VERSION = 1

Sequence = Literal["integrated", "exclusive"]
Damper = Literal["closed", "minimum", "full"]
HeatingDamper = Literal["closed", "minimum"]
Relief = Literal["barometric", "relief_fan", "return_fan"]

TERMINALS = {"AI-1": "outdoor", "AI-2": "return", "AI-3": "mixed", "AI-4": "supply"}
"""Which place each input's sensor hangs at, as usual."""

LOOPS = {"supply_loop": "supply", "low_limit": "mixed", "freeze": "mixed", "changeover": "outdoor"}
"""Which sensor each loop reads, as it should be."""


@dataclass(frozen=True)
class Configuration:
    """Everything that decides what the dampers do. Temperatures [°C], differences [K], pressures [Pa], positions 0 to 1.

    `on_sensor_failure`: the outdoor damper when a sensor it needs has failed; `locks_out`: such a failure stops the
    compressor too. `terminals`: place by input; `loops`: the place whose sensor a loop reads.
    """

    model: str = ""
    sequence: Sequence = "integrated"
    changeover: ChangeoverMethod = "fixed_dry_bulb"
    high_limit_c: float = (CAP_F - 32) / 1.8
    high_limit_j_per_kg: float = FIXED_ENTHALPY_J_PER_KG
    differential_k: float = 1.0
    minimum_position: float = 0.2
    supply_setpoint_c: float = 13.0
    loop_gain_per_k_s: float = 0.001
    cooling_setpoint_c: float = 24.0
    heating_setpoint_c: float = 20.0
    mixed_low_limit_c: float = 7.2
    freeze_c: float = 3.3
    freeze_delay_s: float = 300.0
    heating_damper: HeatingDamper = "minimum"
    on_sensor_failure: Damper = "minimum"
    locks_out: bool = False
    relief: Relief = "barometric"
    relief_opens_pa: float = 12.5
    stages: int = 2
    terminals: dict[str, str] = field(default_factory=lambda: dict(TERMINALS))
    loops: dict[str, str] = field(default_factory=lambda: dict(LOOPS))
    format: Literal["fentro.economizer"] = "fentro.economizer"
    version: Literal[1] = 1


LABELS: dict[str, tuple[str, str]] = {
    "sequence": ("Sequence", ""),
    "changeover": ("Changeover", ""),
    "high_limit_c": ("Dry-bulb high limit", "temperature"),
    "high_limit_j_per_kg": ("Enthalpy high limit", "enthalpy"),
    "differential_k": ("Switching differential", "temperature_difference"),
    "minimum_position": ("Minimum position", "share"),
    "supply_setpoint_c": ("Supply air setpoint", "temperature"),
    "loop_gain_per_k_s": ("Supply loop's gain per K and second", "ratio"),
    "cooling_setpoint_c": ("Cooling setpoint", "temperature"),
    "heating_setpoint_c": ("Heating setpoint", "temperature"),
    "mixed_low_limit_c": ("Mixed-air low limit", "temperature"),
    "freeze_c": ("Freeze protection", "temperature"),
    "freeze_delay_s": ("Freeze protection waits", "seconds"),
    "heating_damper": ("Outdoor damper on a heating call", ""),
    "on_sensor_failure": ("Outdoor damper when a sensor fails", ""),
    "locks_out": ("Sensor failure stops the compressor", ""),
    "relief": ("Relief", ""),
    "relief_opens_pa": ("Relief opens at", "pressure"),
    "stages": ("Compressor stages", "count"),
}
"""Every setting of the plan in its order: name, kind of number."""

LOOP_SETPOINTS = {
    "supply_loop": "supply_setpoint_c",
    "low_limit": "mixed_low_limit_c",
    "freeze": "freeze_c",
    "changeover": "high_limit_c",
}
"""The setting each loop holds or compares with."""

LOOP_NAMES = {
    "supply_loop": "Supply temperature loop",
    "low_limit": "Mixed-air low limit",
    "freeze": "Freeze protection",
    "changeover": "Changeover",
}

WORDS: dict[str, str] = {
    "integrated": "integrated: compressor may run with the outdoor damper open",
    "exclusive": "exclusive: outdoor air or compressor, never both",
    "fixed_dry_bulb": "fixed dry bulb",
    "differential_dry_bulb": "differential dry bulb",
    "fixed_enthalpy": "fixed enthalpy",
    "differential_enthalpy": "differential enthalpy",
    "closed": "closed",
    "minimum": "at minimum",
    "full": "fully open",
    "barometric": "barometric damper",
    "relief_fan": "relief fan",
    "return_fan": "return fan",
}

CHOICES: dict[str, dict[str, str]] = {
    key: {value: WORDS[value] for value in values}
    for key, values in {
        "sequence": ("integrated", "exclusive"),
        "changeover": ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy"),
        "heating_damper": ("closed", "minimum"),
        "on_sensor_failure": ("closed", "minimum", "full"),
        "relief": ("barometric", "relief_fan", "return_fan"),
    }.items()
} | {"locks_out": {"yes": "yes", "no": "no"}}
"""Settings that are words, and what may be chosen."""

_RANGES = {
    "high_limit_c": (5.0, 35.0),
    "high_limit_j_per_kg": (20_000.0, 80_000.0),
    "differential_k": (0.0, 6.0),
    "minimum_position": (0.0, 1.0),
    "supply_setpoint_c": (8.0, 24.0),
    "loop_gain_per_k_s": (0.0, 0.05),
    "cooling_setpoint_c": (15.0, 35.0),
    "heating_setpoint_c": (5.0, 30.0),
    "mixed_low_limit_c": (2.0, 15.0),
    "freeze_c": (-5.0, 8.0),
    "freeze_delay_s": (0.0, 1800.0),
    "relief_opens_pa": (2.0, 60.0),
}

NOT_OURS = "This is not an economizer configuration: it does not name the format fentro.economizer."
OTHER_MODEL = "This configuration is for another model: {theirs}. This controller is {ours}. Nothing was loaded."


def read_configuration(given: object) -> Configuration:
    """A configuration from JSON, checked.

    Raises
    ------
    Refused
        With the field's path: not this format, a value outside its range, a loop or terminal that names no place.
    """
    if not isinstance(given, dict) or given.get("format", FORMAT) != FORMAT:
        raise Refused(NOT_OURS, "format")
    found = typed_json.read(given, Configuration)
    check_configuration(found)
    return found


def check_configuration(found: Configuration) -> None:
    """Refuse settings that no controller takes, or that fight each other."""
    for name, (low, high) in _RANGES.items():
        if not low <= getattr(found, name) <= high:
            kind = LABELS[name][1]
            raise Refused(
                "{name} lies between {low} and {high}.".replace("{name}", LABELS[name][0]),
                name,
                low=(low, kind),
                high=(high, kind),
            )
    if not 0 <= found.stages <= 4:
        raise Refused("A unit has 0 to 4 compressor stages.", "stages")
    if found.heating_setpoint_c >= found.cooling_setpoint_c:
        raise Refused("The heating setpoint must lie below the cooling setpoint.", "heating_setpoint_c")
    if found.freeze_c >= found.mixed_low_limit_c:
        raise Refused("Freeze protection lies below the mixed-air low limit, or it trips first.", "freeze_c")
    for terminal, place in found.terminals.items():
        if place not in PLACES:
            raise Refused(f"A sensor is in one of: {', '.join(PLACES)}.", f"terminals.{terminal}")
    for loop, place in found.loops.items():
        if loop not in LOOPS:
            raise Refused(f"There is no such loop. There are: {', '.join(LOOPS)}.", f"loops.{loop}")
        if place not in PLACES:
            raise Refused(f"A loop reads the sensor of one of: {', '.join(PLACES)}.", f"loops.{loop}")


def check_model(found: Configuration, model: str) -> None:
    """Refuse a configuration that was saved from another model."""
    if found.model and model and found.model != model:
        raise Refused(OTHER_MODEL.replace("{theirs}", found.model).replace("{ours}", model), "model")


@dataclass(frozen=True)
class Difference:
    """One setting that two configurations differ in; numbers where they are numbers, words otherwise."""

    key: str
    name: str
    was: str = ""
    now: str = ""
    was_number: Number | None = None
    now_number: Number | None = None


def differences(was: Configuration, now: Configuration) -> tuple[Difference, ...]:
    """What changed from one configuration to another, in the order of the plan; readable.

    >>> [each.name for each in differences(Configuration(), Configuration(minimum_position=0.3))]
    ['Minimum position']
    """
    found = []
    for key, (name, kind) in LABELS.items():
        before, after = getattr(was, key), getattr(now, key)
        if before == after:
            continue
        if kind and kind != "count":
            found.append(Difference(key, name, was_number=Number(before, kind), now_number=Number(after, kind)))
        else:
            found.append(Difference(key, name, said(before), said(after)))
    for loop, name in LOOP_NAMES.items():
        before, after = was.loops.get(loop, ""), now.loops.get(loop, "")
        if before != after:
            found.append(Difference(f"loops.{loop}", f"{name} reads", _place(before), _place(after)))
    for terminal in sorted({*was.terminals, *now.terminals}):
        before, after = was.terminals.get(terminal, ""), now.terminals.get(terminal, "")
        if before != after:
            found.append(Difference(f"terminals.{terminal}", f"Input {terminal} is called", _place(before), _place(after)))
    return tuple(found)


def said(value: Any) -> str:
    """A setting's value in words."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return WORDS.get(value, str(value)) if isinstance(value, str) else f"{value:g}"


def _place(key: str) -> str:
    return PLACES[key].name if key in PLACES else "nothing"


def configuration_json(found: Configuration) -> Json:
    """The configuration as its open document."""
    document: Json = typed_json.write(found)
    return document


def with_setting(found: Configuration, key: str, value: Any) -> Configuration:
    """The configuration with one setting changed, checked. Loops and terminals by ``loops.low_limit``, ``terminals.AI-1``."""
    document = configuration_json(found)
    at = document
    *way, last = key.split(".", 1) if "." in key else [key]
    for each in way:
        if each not in ("loops", "terminals"):
            raise Refused("There is no such setting.", "setting")
        at = at[each]
    if not way and last not in LABELS:
        raise Refused("There is no such setting.", "setting")
    at[last] = value
    return read_configuration(document)
