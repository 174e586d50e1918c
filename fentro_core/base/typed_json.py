"""JSON in and out of the core's frozen dataclasses: reading with a field path for every complaint, and JSON Schema."""

from __future__ import annotations

import dataclasses
import enum
import types
from collections.abc import Callable
from typing import Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

import cattrs
from cattrs.errors import (
    AttributeValidationNote,
    BaseValidationError,
    ForbiddenExtraKeysError,
    IterableValidationNote,
)

from fentro_core.base import fields
from fentro_core.base.refusal import Refused

T = TypeVar("T")
Json = dict[str, Any]

_converter = cattrs.Converter(forbid_extra_keys=True, detailed_validation=False)
_explaining = cattrs.Converter(forbid_extra_keys=True)
_schemas: dict[type, Json | Callable[[], Json]] = {}


MOST = 1e15
"""No number of this job is larger: not a pressure, not a heat, not a count."""


def number(given: object, path: str = "") -> float:
    """An ordinary number.

    Raises
    ------
    Refused
        No number, not finite, or too large for anything that is measured.
    """
    if type(given) is not float and (isinstance(given, bool) or not isinstance(given, int | float)):
        raise Refused("This must be a number.", path)
    if not -MOST <= given <= MOST:
        raise Refused("This must be an ordinary number, not endless and not beyond all measure.", path)
    return float(given)


def _number(given: object, _: type) -> float:
    return number(given)


def _text(given: object, _: type) -> str:
    if not isinstance(given, str):
        raise Refused("This must be text.")
    if unkeepable(given):
        raise Refused("There is a letter in this text that can't be kept. Type it again.")
    return given


def unkeepable(given: str) -> bool:
    """A letter in it is one that no file, database or printer can keep: NUL, or half of a pair.

    >>> unkeepable("25 °C"), unkeepable("a\\x00b"), unkeepable("\\ud800")
    (False, True, True)
    """
    return "\x00" in given or (not given.isascii() and any("\ud800" <= letter <= "\udfff" for letter in given))


def _whole(given: object, _: type) -> int:
    if isinstance(given, bool) or not isinstance(given, int):
        raise Refused("This must be a whole number.")
    if not -MOST <= given <= MOST:
        raise Refused("This whole number is beyond all measure.")
    return given


def _yes_no(given: object, _: type) -> bool:
    if not isinstance(given, bool):
        raise Refused("This must be yes or no (true or false).")
    return given


def _choice(given: object, of: Any) -> Any:
    allowed = get_args(of)
    if given not in allowed:
        raise Refused(f"This must be one of: {', '.join(map(str, allowed))}.")
    return given


def _is_choice(kind: Any) -> bool:
    origin: Any = get_origin(kind)
    return origin is Literal


for _each in (_converter, _explaining):
    _each.register_structure_hook(float, _number)
    _each.register_structure_hook(str, _text)
    _each.register_structure_hook(int, _whole)
    _each.register_structure_hook(bool, _yes_no)
    _each.register_structure_hook_func(_is_choice, _choice)


def register(
    kind: type[T], read: Callable[[Any], T], schema: Json | Callable[[], Json], write: Callable[[T], Json] | None = None
) -> None:
    """Teach the reader a type that is not read field by field; `write` where it is not written so either.

    `schema` may be a function where it is only known once everything is loaded.
    """
    if write is not None:
        _converter.register_unstructure_hook(kind, write)
    for converter in (_converter, _explaining):
        converter.register_structure_hook(kind, lambda given, _: read(given))
    _schemas[kind] = schema


def read(given: object, kind: type[T]) -> T:
    """Build `kind` from JSON. What the quick reader can't build, a second one reads again to say exactly why.

    Raises
    ------
    Refused
        With the path of the first field that is missing, unknown or of the wrong type.
    """
    try:
        return _converter.structure(given, kind)
    except _COMPLAINTS:
        pass
    try:
        return _explaining.structure(given, kind)
    except _COMPLAINTS as error:
        raise _as_refusal(error) from error


_COMPLAINTS = (BaseValidationError, Refused, ForbiddenExtraKeysError, ValueError, TypeError, KeyError, AttributeError)


def write(value: object) -> Any:
    """Plain JSON of a dataclass, tuple, mapping or scalar."""
    return _converter.unstructure(value)


def _as_refusal(error: BaseException) -> Refused:
    if isinstance(error, Refused):
        return error
    if isinstance(error, ForbiddenExtraKeysError):
        return Refused("This field is not known here.", sorted(error.extra_fields)[0])
    if isinstance(error, BaseValidationError):
        inner = error.exceptions[0]
        refusal = _as_refusal(inner)
        for note in getattr(inner, "__notes__", ()):
            if isinstance(note, AttributeValidationNote):
                return refusal.under(note.name) if not isinstance(inner, KeyError) else Refused(MISSING, note.name)
            if isinstance(note, IterableValidationNote):
                return refusal.under(str(note.index))
        return refusal
    if isinstance(error, KeyError):
        return Refused(MISSING, str(error.args[0]))
    return Refused("This does not have the expected form.")


MISSING = "This is missing."


def schema_of(kind: Any, *, quantities: bool = False) -> Json:
    """JSON Schema (2020-12) of a type, units named at every number.

    `quantities`: as a calculation takes it, where each number may come with its half-width.
    """
    if kind in _schemas:
        known = _schemas[kind]
        return known() if callable(known) else known
    origin: Any = get_origin(kind)
    inner = get_args(kind)
    if origin is Literal:
        return {"enum": list(inner)}
    if origin in (Union, types.UnionType):
        return {"anyOf": [schema_of(part, quantities=quantities) for part in inner]}
    if origin in (tuple, list):
        return {"type": "array", "items": schema_of(inner[0], quantities=quantities)}
    if origin is dict:
        return {"type": "object", "additionalProperties": schema_of(inner[1], quantities=quantities) if inner else {}}
    if dataclasses.is_dataclass(kind):
        return _object_schema(kind, quantities)
    if isinstance(kind, type) and issubclass(kind, enum.Enum):
        return {"enum": [member.value for member in kind]}
    if kind is float and quantities:
        return {"anyOf": [{"type": "number"}, QUANTITY_SCHEMA]}
    return dict(_SCALARS.get(kind, {}))


_SCALARS: dict[Any, Json] = {
    float: {"type": "number"},
    int: {"type": "integer"},
    str: {"type": "string"},
    bool: {"type": "boolean"},
    type(None): {"type": "null"},
}

QUANTITY_SCHEMA: Json = {
    "type": "object",
    "properties": {
        "value": {"type": "number"},
        "plus_minus": {"type": "number", "minimum": 0},
        "source": {"type": ["string", "null"], "description": "Inputs with the same source share their error."},
    },
    "required": ["value"],
    "additionalProperties": False,
}


def _has_number(kind: Any) -> bool:
    return kind is float or (get_origin(kind) in (Union, types.UnionType) and float in get_args(kind))


def field_schema(name: str, kind: Any, *, quantities: bool = True) -> Json:
    """Schema of a named field; a number says its SI unit, and as an input may come with its half-width."""
    schema = schema_of(kind, quantities=quantities)
    return {**schema, "description": f"{fields.kind_of(name)}, SI"} if _has_number(kind) else schema


def result_schema(name: str, kind: Any) -> Json:
    """Schema of a calculation's result: every number of its own with half-width and kind, `name` where it is the number alone."""
    hints = {name: kind} if kind is float else get_type_hints(kind)
    fields = {field: _result_field(field, hint) for field, hint in hints.items()}
    return {"type": "object", "properties": fields, "required": list(fields), "additionalProperties": False}


def _result_field(name: str, kind: Any) -> Json:
    if not _has_number(kind):
        return schema_of(kind)
    quantity: Json = {
        "type": "object",
        "description": f"{fields.kind_of(name)}, SI",
        "properties": {"value": {"type": "number"}, "plus_minus": {"type": "number", "minimum": 0}, "kind": {"type": "string"}},
        "required": ["value", "plus_minus", "kind"],
        "additionalProperties": False,
    }
    return quantity if kind is float else {"anyOf": [quantity, {"type": "null"}]}


def _object_schema(kind: Any, quantities: bool) -> Json:
    hints = get_type_hints(kind)
    fields = dataclasses.fields(kind)
    required = [f.name for f in fields if f.default is dataclasses.MISSING and f.default_factory is dataclasses.MISSING]
    return {
        "type": "object",
        "title": kind.__name__,
        "properties": {f.name: field_schema(f.name, hints[f.name], quantities=quantities) for f in fields},
        "required": required,
        "additionalProperties": False,
    }
