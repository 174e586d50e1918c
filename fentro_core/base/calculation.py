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
from functools import cached_property
from math import isfinite
from typing import Any, TypeVar, get_type_hints

from fentro_core.base import fields
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import MISSING, Json, field_schema, number, read, result_schema, write
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
    present_schema: Present | None = None

    @cached_property
    def inputs(self) -> dict[str, inspect.Parameter]:
        """Parameters that come from JSON."""
        return {n: p for n, p in inspect.signature(self.function).parameters.items() if n != "work"}

    @cached_property
    def needed(self) -> tuple[str, ...]:
        """Inputs that can't be left out."""
        return tuple(n for n, p in self.inputs.items() if p.default is inspect.Parameter.empty)

    @cached_property
    def output(self) -> Json:
        """JSON Schema of the result as `run` gives it."""
        schema = result_schema(self.result, self.hints["return"])
        return self.present_schema(schema) if self.present_schema else schema

    @cached_property
    def hints(self) -> dict[str, Any]:
        """Types of parameters and of the return value."""
        return get_type_hints(self.function)


REGISTRY: dict[str, Calculation] = {}


def calculation(
    name: str,
    title: str,
    *,
    result: str = "value",
    present: Present | None = None,
    present_schema: Present | None = None,
) -> Callable[[F], F]:
    """Register a function under `name`.

    Parameters
    ----------
    result : str
        Name of the output when the function returns a bare float.
    present : callable, optional
        Last word on the result's JSON, with half-widths known: withholds what must not be printed.
    present_schema : callable, optional
        What that does to the result's JSON Schema.
    """

    def keep(function: F) -> F:
        REGISTRY[name] = Calculation(name, title, function, result, present, present_schema)
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
            "required": list(found.needed),
            "additionalProperties": False,
        },
        "output": found.output,
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
    for field in given:
        if field not in found.inputs:
            raise Refused("This field is not known here.", str(field))
    plain, quantities = _split_quantities(given)
    work = Working()
    arguments = _arguments(found, plain)
    centre = _call(found, arguments, work)
    flat = _flat(found, centre)
    if any(each.parts for each in quantities.values()):
        results = _with_doubt(found, plain, arguments, quantities, flat)
    else:
        results = {key: Measured(value) for key, value in flat.items()}
    output = _nest(centre, results)
    shares = {key: value.shares() for key, value in results.items() if value.parts}
    if found.present:
        output = found.present(output)
    return {"calculation": name, "result": output, "shares": shares, "working": write(work.lines)}


Path = tuple[str | int, ...]


def _arguments(found: Calculation, plain: Json) -> dict[str, Any]:
    for name in found.needed:
        if name not in plain:
            raise Refused(MISSING, name)
    return {name: _argument(found, name, given) for name, given in plain.items()}


def _argument(found: Calculation, name: str, given: object) -> Any:
    try:
        return read(given, found.hints[name])
    except Refused as refusal:
        raise refusal.under(name) from refusal


def _call(found: Calculation, arguments: Mapping[str, Any], work: Working) -> Any:
    try:
        return found.function(**arguments, work=work)
    except ArithmeticError as error:
        raise Refused(NO_NUMBER) from error


NO_NUMBER = "No ordinary number comes out of these inputs: one of them is far too large or too small."


def _with_doubt(
    found: Calculation, plain: Json, arguments: dict[str, Any], quantities: Mapping[Path, Measured], centre: dict[str, float]
) -> dict[str, Measured]:
    """Every result with its half-width: one input moved at a time, only what it stands in read again."""
    for name, argument in arguments.items():
        plain[name] = _settled(plain[name], argument)
    inputs = _moved_together(quantities)

    def moved(**moved: float) -> dict[str, float]:
        changed = {key: value - inputs[key].value for key, value in moved.items() if value != inputs[key].value}
        if not changed:
            return centre
        again, now = dict(arguments), dict(plain)
        for key, by in changed.items():
            for path in inputs[key].paths:
                name, *rest = path
                now[str(name)] = _with(now[str(name)], rest, quantities[path].value + by)
                again[str(name)] = now[str(name)]
        for name in again:
            if again[name] is now.get(name):
                again[name] = _argument(found, name, now[name])
        return {**centre, **_flat(found, _call(found, again, SILENT))}

    try:
        return propagate(moved, {key: each.measured for key, each in inputs.items()})
    except Refused as refusal:
        if refusal.path in inputs:
            raise refusal.at(_dotted(inputs[refusal.path].paths[0])) from refusal
        raise


@dataclass(frozen=True)
class _Input:
    """An uncertain input and every place where it stands: one, but for what a site has only one of."""

    measured: Measured
    paths: tuple[Path, ...]

    @property
    def value(self) -> float:
        return self.measured.value


ONE_OF_A_SITE = "pressure_pa"
"""All air of one site is at one pressure: wherever it stands in the inputs, it is moved together."""


def _moved_together(quantities: Mapping[Path, Measured]) -> dict[str, _Input]:
    inputs = {str(n): _Input(each, (path,)) for n, (path, each) in enumerate(quantities.items()) if path[-1] != ONE_OF_A_SITE}
    shared = {path: each for path, each in quantities.items() if path[-1] == ONE_OF_A_SITE}
    if shared:
        widest = max(shared.values(), key=lambda each: each.plus_minus)
        inputs[ONE_OF_A_SITE] = _Input(widest, tuple(shared))
    return inputs


def _with(node: Any, path: list[str | int], value: float) -> Any:
    """The JSON with one number changed; what does not lie on the way is shared, not copied."""
    if not path:
        return value
    changed = copy.copy(node)
    changed[path[0]] = _with(node[path[0]], path[1:], value)
    return changed


def _settled(node: Any, value: Any) -> Any:
    """The JSON with what a value has settled once for all, such as the wick of a wet bulb near freezing."""
    if isinstance(node, dict):
        if hasattr(value, "settles"):
            return {**node, **value.settles()}
        if dataclasses.is_dataclass(value):
            return {key: _settled(inner, getattr(value, key, None)) for key, inner in node.items()}
        if isinstance(value, Mapping):
            return {key: _settled(inner, value.get(key)) for key, inner in node.items()}
    if isinstance(node, list) and isinstance(value, tuple | list):
        return [_settled(inner, each) for inner, each in zip(node, value, strict=True)]
    return node


def _dotted(path: Path) -> str:
    return ".".join(map(str, path))


def _flat(found: Calculation, result: object) -> dict[str, float]:
    """The result's numbers by name, each finite."""
    if isinstance(result, float):
        flat = {found.result: result}
    else:
        flat = {name: value for name in _names(type(result)) if isinstance(value := getattr(result, name), float)}
    for value in flat.values():
        if not isfinite(value):
            raise Refused(NO_NUMBER)
    return flat


_NAMES: dict[type, tuple[str, ...]] = {}


def _names(kind: type) -> tuple[str, ...]:
    known = _NAMES.get(kind)
    if known is None:
        known = _NAMES[kind] = tuple(each.name for each in dataclasses.fields(kind))
    return known


def _nest(centre: Any, results: Mapping[str, Measured]) -> Json:
    output: Json = {}
    for name, measured in results.items():
        width = measured.plus_minus if measured.parts else 0.0
        if not isfinite(width):
            raise Refused(NO_NUMBER)
        output[name] = {"value": measured.value, "plus_minus": width, "kind": fields.kind_of(name)}
    if not isinstance(centre, float):
        for name in _names(type(centre)):
            if name not in results:
                output[name] = write(getattr(centre, name))
    return output


TOO_LARGE = "Nothing in this trade is that large. Check the number and its unit."

MOST_DOUBTED = 200
TOO_MANY = f"At most {MOST_DOUBTED} numbers may bring a half-width each: give long lists as plain numbers."
"""Each is moved by itself through the whole formula: with a list of them the work would grow with its square."""

DEEPEST = 12
"""Inputs are nested no deeper than this."""


def _split_quantities(given: Mapping[str, Any]) -> tuple[Json, dict[Path, Measured]]:
    """Replace every ``{"value": ...}`` by its number; remember each number with a half-width by its path."""
    quantities: dict[Path, Measured] = {}

    def walk(node: Any, path: Path) -> Any:
        if isinstance(node, Mapping):
            if path and "value" in node and node.keys() <= _QUANTITY:
                return quantity(node, path)
            deep(path)
            return {key: walk(inner, (*path, key)) for key, inner in node.items()}
        if isinstance(node, list):
            deep(path)
            return [walk(inner, (*path, index)) for index, inner in enumerate(node)]
        if type(node) is float or type(node) is int:
            return sized(node, path, _dotted(path))
        return node

    def sized(value: float, path: Path, dotted: str) -> float:
        named = next((step for step in reversed(path) if isinstance(step, str)), "")
        most = fields.most_of(named)
        if not -most <= value <= most:
            raise Refused(TOO_LARGE, dotted)
        return value

    def deep(path: Path) -> None:
        if len(path) > DEEPEST:
            raise Refused("This is nested too deep.", _dotted(path[:DEEPEST]))

    def quantity(node: Mapping[str, Any], path: Path) -> float:
        dotted = _dotted(path)
        value = sized(number(node["value"], f"{dotted}.value"), path, f"{dotted}.value")
        width = number(node.get("plus_minus", 0.0), f"{dotted}.plus_minus")
        sized(width, path, f"{dotted}.plus_minus")
        if not width >= 0:
            raise Refused("A half-width can't be below zero.", f"{dotted}.plus_minus")
        source = node.get("source")
        if source is not None and not isinstance(source, str):
            raise Refused("A source is the name of an instrument.", f"{dotted}.source")
        if width:
            if len(quantities) >= MOST_DOUBTED:
                raise Refused(TOO_MANY, dotted)
            quantities[path] = Measured(value, {dotted if source is None else source: width})
        return value

    return walk(given, ()), quantities


_QUANTITY = {"value", "plus_minus", "source"}
