"""The registry of calculations: a name, typed input, typed output, schema; runs JSON in, JSON out.

In JSON an input quantity is a number or ``{"value": 24.1, "plus_minus": 0.3, "source": "probe A"}``; inputs with the same
source share their error. Outputs are ``{"value", "plus_minus", "kind"}``, all SI.
"""

from __future__ import annotations

import copy
import dataclasses
import inspect
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar, get_type_hints

from fentro_core.base import units
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import MISSING, Json, field_schema, read, schema_of, write
from fentro_core.base.working import SILENT, Working

F = TypeVar("F", bound=Callable[..., Any])
Present = Callable[[Json], Json]


@dataclass(frozen=True)
class Calculation:
    """One registered function and how its JSON looks."""

    name: str
    title: str
    function: Callable[..., Any]
    result: str
    present: Present | None

    @property
    def inputs(self) -> dict[str, inspect.Parameter]:
        """Parameters that come from JSON."""
        return {n: p for n, p in inspect.signature(self.function).parameters.items() if n != "work"}

    @property
    def hints(self) -> dict[str, Any]:
        """Types of parameters and of the return value."""
        return get_type_hints(self.function)


REGISTRY: dict[str, Calculation] = {}


def calculation(name: str, title: str, *, result: str = "value", present: Present | None = None) -> Callable[[F], F]:
    """Register a function under `name`.

    Parameters
    ----------
    result : str
        Name of the output when the function returns a bare float.
    present : callable, optional
        Last word on the result's JSON, with half-widths known: withholds what must not be printed.
    """

    def keep(function: F) -> F:
        REGISTRY[name] = Calculation(name, title, function, result, present)
        return function

    return keep


def find(name: str) -> Calculation:
    """The calculation of that name, or a refusal that says how to see them all."""
    if name not in REGISTRY:
        raise Refused("There is no calculation of this name. List them to see the names.", "calculation")
    return REGISTRY[name]


def describe(name: str) -> Json:
    """Name, title, text and the JSON Schemas of input and output."""
    found = find(name)
    hints = found.hints
    inputs = found.inputs
    return {
        "name": name,
        "title": found.title,
        "description": inspect.getdoc(found.function),
        "input": {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "type": "object",
            "properties": {n: field_schema(n, hints[n]) for n in inputs},
            "required": [n for n, p in inputs.items() if p.default is inspect.Parameter.empty],
            "additionalProperties": False,
        },
        "output": schema_of(hints["return"]),
    }


def run(name: str, given: object) -> Json:
    """Run a calculation on JSON.

    Returns
    -------
    dict
        ``result`` (quantities with half-widths), ``shares`` (share of variance by source, per result), ``working``.

    Raises
    ------
    Refused
        Unknown name or unusable input, with the field's path.
    """
    found = find(name)
    if not isinstance(given, Mapping):
        raise Refused("Give the inputs as one JSON object.")
    plain, quantities = _split_quantities(dict(given))
    work = Working()
    centre = _call(found, plain, work)
    results = propagate(lambda **moved: _moved(found, plain, moved, centre), quantities)
    output = _nest(centre, results)
    shares = {path: value.shares() for path, value in results.items() if value.parts}
    if found.present:
        output = found.present(output)
    return {"calculation": name, "result": output, "shares": shares, "working": write(work.lines)}


def _call(found: Calculation, plain: Json, work: Working) -> Any:
    unknown = sorted(set(plain) - set(found.inputs))
    if unknown:
        raise Refused("This field is not known here.", unknown[0])
    arguments: dict[str, Any] = {}
    for name, parameter in found.inputs.items():
        if name not in plain:
            if parameter.default is inspect.Parameter.empty:
                raise Refused(MISSING, name)
            continue
        try:
            arguments[name] = read(plain[name], found.hints[name])
        except Refused as refusal:
            raise refusal.under(name) from refusal
    return found.function(**arguments, work=work)


def _moved(found: Calculation, plain: Json, moved: Mapping[str, float], centre: object) -> dict[str, float]:
    changed = copy.deepcopy(plain)
    for path, value in moved.items():
        *way, last = path.split(".")
        at: Any = changed
        for key in way:
            at = at[int(key)] if isinstance(at, list) else at[key]
        at[int(last) if isinstance(at, list) else last] = value
    return {**_flat(found, centre), **_flat(found, _call(found, changed, SILENT))}


def _flat(found: Calculation, result: object) -> dict[str, float]:
    if isinstance(result, float):
        return {found.result: result}
    return {name: value for name, value in _fields(result) if isinstance(value, float)}


def _fields(result: Any) -> list[tuple[str, Any]]:
    return [(f.name, getattr(result, f.name)) for f in dataclasses.fields(result)]


def _nest(centre: Any, results: Mapping[str, Measured]) -> Json:
    output: Json = {}
    for name, measured in results.items():
        output[name] = {
            "value": measured.value,
            "plus_minus": measured.plus_minus,
            "kind": units.kind_of(name),
        }
    if dataclasses.is_dataclass(centre):
        for name, value in _fields(centre):
            if not isinstance(value, float):
                output[name] = write(value)
    return output


def _split_quantities(given: Json) -> tuple[Json, dict[str, Measured]]:
    """Replace every ``{"value": ...}`` by its number; remember each number with a half-width by its path."""
    quantities: dict[str, Measured] = {}

    def walk(node: Any, path: str) -> Any:
        if isinstance(node, Mapping):
            if "value" in node and set(node) <= {"value", "plus_minus", "source"}:
                return number(node, path)
            return {key: walk(inner, f"{path}.{key}".strip(".")) for key, inner in node.items()}
        if isinstance(node, list):
            return [walk(inner, f"{path}.{index}") for index, inner in enumerate(node)]
        return node

    def number(node: Mapping[str, Any], path: str) -> float:
        try:
            value, width = read(node["value"], float), read(node.get("plus_minus", 0.0), float)
        except Refused as refusal:
            raise refusal.under(path) from refusal
        if width < 0:
            raise Refused("A half-width can't be below zero.", f"{path}.plus_minus")
        quantities[path] = Measured(value, {str(node.get("source", path)): width})
        return value

    return walk(given, ""), quantities
