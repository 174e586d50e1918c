"""The tables the browser shares with the core, so that no rule of the job stands there twice. Written into it by a script."""

from __future__ import annotations

import dataclasses
import inspect
from typing import Any, Literal, get_args, get_origin, get_type_hints

from fentro_core.airflow.traverse import LARGEST_M, SMALLEST_M
from fentro_core.base.calculation import REGISTRY
from fentro_core.base.fields import kind_of
from fentro_core.base.typed_json import Json, write
from fentro_core.base.units import KINDS
from fentro_core.diagnosis.entries import ITEMS
from fentro_core.ducts.balance import MOST_DEG
from fentro_core.ducts.entries import OF_DUCTS
from fentro_core.ducts.fittings import FITTINGS
from fentro_core.economizer.configuration import LOOP_NAMES, LOOP_SETPOINTS
from fentro_core.economizer.mode_map import COOLING_FROM_C, HEATING_BELOW_C, MAP_MODES
from fentro_core.economizer.places import PLACES, POINTS
from fentro_core.economizer.proof.step import BY_EYE, NAMES, ON_OFF, SHOWN_AS
from fentro_core.economizer.relief import HARD_TO_OPEN_N, RELIEF_WAYS
from fentro_core.economizer.sensors import CURVE_NAMES
from fentro_core.instruments.instrument import ACCURACY_CLASSES
from fentro_core.instruments.matching import MATCH_S
from fentro_core.instruments.quantities import HUMIDITY_CHOICES, READABLE, USUAL_DRY_BULB_C, Readable
from fentro_core.instruments.steadiness import WINDOW_S
from fentro_core.logbook.kinds import MOST_POINTS, all_kinds
from fentro_core.logbook.snapshot import CLIMATE_ZONES
from fentro_core.logbook.temporary import TEMPORARY_KINDS
from fentro_core.parts import PARTS
from fentro_core.system.kind import SystemKind
from fentro_core.system.kinds import KINDS as SYSTEM_KINDS
from fentro_core.system.nameplate import NAMEPLATE_GIVES, NAMEPLATE_LABELS, OWN_KIND, WORDS
from fentro_core.ventilation.spaces import EFFECTIVENESS, RATES
from fentro_core.zoning.entries import OF_ZONES


def tables() -> Json:
    """Units and what can be read; names and limits that forms, tests and drawings show."""
    return {
        "kinds": {
            kind.key: {"si": kind.si.key, "us": kind.us.key, "units": {unit.key: write(unit) for unit in kind.units}}
            for kind in KINDS.values()
        },
        "readable": {key: _readable(readable) for key, readable in READABLE.items()},
        "humidity_choices": list(HUMIDITY_CHOICES),
        "usual_dry_bulb": {place: list(limits) for place, limits in USUAL_DRY_BULB_C.items()},
        "temporary_kinds": dict(TEMPORARY_KINDS),
        "items": ITEMS,
        "parts": {part.key: part.name for part in PARTS},
        "match_s": MATCH_S,
        "most_points": MOST_POINTS,
        "steady_window_s": WINDOW_S,
        "duct_m": [SMALLEST_M, LARGEST_M],
        "economizer": _economizer(),
        "ducts": _ducts(),
        "spaces": {
            "uses": {key: rate.name for key, rate in RATES.items()},
            "places": {key: {"name": name, "effectiveness": value} for key, (name, value) in EFFECTIVENESS.items()},
        },
        "systems": {key: _system(kind) for key, kind in SYSTEM_KINDS.items()},
        "climate_zones": list(CLIMATE_ZONES),
        "accuracy_classes": {
            key: {"name": name, "kind": kind, "accuracy": write(given)} for key, (name, kind, given) in ACCURACY_CLASSES.items()
        },
    }


def _system(kind: SystemKind) -> Json:
    """A kind of system: what the air passes in it, and what its nameplate says."""
    hints = get_type_hints(kind.nameplate)
    bands = kind.path(kind.usual or kind.nameplate()).bands
    plate = [_plate_field(each.name, hints[each.name], each.default) for each in dataclasses.fields(kind.nameplate)]
    return {
        "name": kind.name,
        "elements": [element.kind for element in bands[0].elements],
        "plate": [field for field in plate if field],
    }


def _plate_field(name: str, hint: Any, default: Any) -> Json | None:
    """A field of a nameplate as a form asks for it; tables are left to the office. `yes_no`: as it is where nobody says."""
    named = {"key": name, "label": NAMEPLATE_LABELS.get(name), "gives": NAMEPLATE_GIVES.get(name, "")}
    plain = {part for part in get_args(hint) if part is not type(None)} or {hint}
    if named["label"] is None:
        return None
    if float in plain:
        return {**named, "kind": OWN_KIND.get(name, kind_of(name))}
    if bool in plain:
        return {**named, "yes_no": "yes" if default is True else "no"}
    choices = [each for part in (*plain, hint) if get_origin(part) is Literal for each in get_args(part)]
    if choices:
        return {**named, "choices": {each: WORDS.get(each, each.replace("_", " ")) for each in choices if each}}
    return named if str in plain else None


def _readable(readable: Readable) -> Json:
    whole = write(readable)
    shared = ("key", "name", "kind", "possible", "usual", "humidity", "not_above")
    return {field: whole[field] for field in shared} | {"on_a_key": readable.on_a_key}


def _ducts() -> Json:
    return {
        "fittings": [write(each) for each in FITTINGS.values()],
        "walls": {"metal": "Sheet metal", "lined": "Lined", "flexible": "Flexible"},
        "dampers": {"none": "None", "blade": "Blade", "inflatable": "Inflatable"},
        "entries": list(OF_DUCTS),
        "zone_entries": [*OF_DUCTS, *OF_ZONES],
        "zone_dampers": {"power": "Driven open and shut", "spring": "Driven, back by a spring", "inflatable": "Inflatable"},
        "most_deg": MOST_DEG,
    }


def _economizer() -> Json:
    points = {key: (point.name, point.kind) for key, point in POINTS.items()} | NAMES
    return {
        "points": {
            key: {
                "name": name,
                "kind": kind,
                "shown_as": SHOWN_AS.get(key, ""),
                "by_eye": key in BY_EYE,
                "on_off": key in ON_OFF,
            }
            for key, (name, kind) in points.items()
        },
        "modes": MAP_MODES,
        "heating_below_c": HEATING_BELOW_C,
        "cooling_from_c": COOLING_FROM_C,
        "loops": [{"key": key, "name": name, "setpoint": LOOP_SETPOINTS[key]} for key, name in LOOP_NAMES.items()],
        "places": {key: place.name for key, place in PLACES.items()},
        "relief_ways": {key: write(way) for key, way in RELIEF_WAYS.items()},
        "hard_to_open_n": HARD_TO_OPEN_N,
        "curves": CURVE_NAMES,
        "entries": [key for key, kind in all_kinds().items() if kind.body.__module__.startswith("fentro_core.economizer")],
    }


def calculations() -> str:
    """Every calculation as Markdown: its name, what it is called, and its docstring; written into docs/calculations.md."""
    lines = [
        "# Calculations",
        "",
        "Written by tools/generated.py from the docstrings. Inputs and results are SI; `python -m fentro_core run NAME`",
        "takes and gives JSON.",
    ]
    for name, found in sorted(REGISTRY.items()):
        place = found.function.__module__.replace(".", "/") + ".py"
        text = (inspect.getdoc(found.function) or "").split(">>>")[0].rstrip()
        lines += ["", f"## {found.title}", "", f"`{name}`, in `{place}`", "", "```text", text, "```"]
    return "\n".join(lines) + "\n"
