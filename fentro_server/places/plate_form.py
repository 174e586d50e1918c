"""The nameplate as fields in the office: one field per thing a plate of this kind says, in the units a plate is written in."""

from __future__ import annotations

import dataclasses
import types
from collections.abc import Callable
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from django import forms

from fentro_core.base import fields, units
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.system.kinds import KINDS, read_nameplate
from fentro_core.system.nameplate import NAMEPLATE_LABELS, Nameplate
from fentro_server.places.models import System

PREFIX = "plate_"
TABLES = {
    "branches": "One branch a line: room, floor, diameter in mm, length in m. The last three may be left out.",
    "fan_table": "One line of the maker's fan table a line: speed tap, external static in Pa, flow in L/s.",
    "coil_curve": "One point of the coil's curve a line: pressure drop in Pa, flow in L/s.",
}
"""What is typed as lines, and how."""


def plate_fields(kind: str) -> dict[str, forms.Field]:
    """A form field for everything a plate of this kind says, by the plate's field name."""
    plate = KINDS[kind].nameplate
    hints = get_type_hints(plate)
    fields: dict[str, forms.Field] = {}
    for each in dataclasses.fields(plate):
        if each.name in TABLES:
            lines = forms.Textarea(attrs={"rows": 6})
            fields[each.name] = forms.CharField(required=False, widget=lines, help_text=TABLES[each.name])
        else:
            fields[each.name] = _field(each.name, hints[each.name])
        fields[each.name].label = NAMEPLATE_LABELS.get(each.name, each.name.replace("_", " ").capitalize())
    return fields


def _field(name: str, hint: Any) -> forms.Field:
    optional = get_origin(hint) in (Union, types.UnionType)
    kind = next(part for part in get_args(hint) if part is not type(None)) if optional else hint
    if kind is bool:
        return forms.BooleanField(required=False)
    if kind is float:
        label = units.KINDS[fields.kind_of(name)].si.label
        return forms.FloatField(required=False, help_text=f"in {label}" if label else "")
    if get_origin(kind) is Literal:
        choices = [("", "not said"), *((value, value.replace("_", " ")) for value in get_args(kind) if value)]
        return forms.ChoiceField(required=False, choices=choices)
    return forms.CharField(required=False, max_length=120)


def shown(plate: Nameplate) -> Json:
    """A plate's values as the form shows them, in each kind's SI unit."""
    values: Json = {}
    for each in dataclasses.fields(plate):
        value = getattr(plate, each.name)
        if each.name in TABLES:
            value = "\n".join(_LINE[each.name](row) for row in value)
        elif isinstance(value, float):
            value = round(units.KINDS[fields.kind_of(each.name)].si.from_si(value), 6)
        values[each.name] = value
    return values


def _branch_line(branch: Any) -> str:
    parts = [branch.room, branch.floor]
    if branch.diameter_m is not None:
        parts.append(f"{branch.diameter_m * 1000:g}")
    if branch.run_m is not None:
        parts.append(f"{branch.run_m:g}")
    return ", ".join(parts).rstrip(", ")


def typed(kind: str, values: Json) -> Json:
    """The nameplate's JSON from what was typed; empty fields are left out.

    Raises
    ------
    Refused
        A line that can't be read (path ``nameplate.branches``, ``fan_table`` or ``coil_curve``).
    """
    plate: Json = {}
    for name, value in values.items():
        if value in (None, ""):
            continue
        if name in TABLES:
            plate[name] = [_READ[name](line, number) for number, line in enumerate(value.splitlines(), 1) if line.strip()]
        elif isinstance(value, float):
            plate[name] = units.KINDS[fields.kind_of(name)].si.to_si(value)
        else:
            plate[name] = value
    return plate


def _branch(line: str, number: int) -> Json:
    room, *rest = [part.strip() for part in line.split(",")]
    branch: Json = {"room": room}
    numbers: list[float] = []
    while rest and len(numbers) < 2:
        try:
            numbers.insert(0, float(rest[-1]))
        except ValueError:
            break
        rest.pop()
    if len(rest) > 1 or not room:
        raise Refused(f"Line {number} can't be read: write room, floor, diameter in mm, length in m.", "nameplate.branches")
    branch["floor"] = rest[0] if rest else ""
    if numbers:
        branch["diameter_m"] = numbers[0] / 1000
    if len(numbers) > 1:
        branch["run_m"] = numbers[1]
    return branch


def _fan_point(line: str, number: int) -> Json:
    parts = [part.strip() for part in line.split(",")]
    try:
        tap, static, flow = parts
        return {"tap": tap, "external_static_pa": float(static), "airflow_m3s": float(flow) / 1000}
    except ValueError:
        raise Refused(
            f"Line {number} can't be read: write speed tap, static in Pa, flow in L/s.", "nameplate.fan_table"
        ) from None


def _drop_point(line: str, number: int) -> Json:
    try:
        drop, flow = [float(part) for part in line.split(",")]
        return {"drop_pa": drop, "airflow_m3s": flow / 1000}
    except ValueError:
        raise Refused(f"Line {number} can't be read: write drop in Pa, flow in L/s.", "nameplate.coil_curve") from None


_LINE: dict[str, Callable[[Any], str]] = {
    "branches": _branch_line,
    "fan_table": lambda row: f"{row.tap}, {row.external_static_pa:g}, {row.airflow_m3s * 1000:g}",
    "coil_curve": lambda row: f"{row.drop_pa:g}, {row.airflow_m3s * 1000:g}",
}
_READ: dict[str, Callable[[str, int], Json]] = {"branches": _branch, "fan_table": _fan_point, "coil_curve": _drop_point}


class SystemForm(forms.ModelForm):
    """A system; its plate's fields follow the kind. A new system gets them after the kind was saved."""

    class Meta:
        model = System
        fields = ("company", "site", "name", "kind", "location")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.plate_kind = self.instance.kind if self.instance.pk and self.instance.kind in KINDS else ""
        if not self.plate_kind:
            self.fields["kind"].help_text = "Save, and the nameplate of this kind can be filled in."
            return
        self.fields["kind"].disabled = True
        values = shown(self.instance.plate)
        for name, field in plate_fields(self.plate_kind).items():
            self.fields[PREFIX + name] = field
            self.initial.setdefault(PREFIX + name, values[name])

    def clean(self) -> Json:
        """What the core refuses is said at its field."""
        cleaned: Json = super().clean() or {}
        if self.plate_kind and not self.errors:
            given = {name.removeprefix(PREFIX): value for name, value in cleaned.items() if name.startswith(PREFIX)}
            try:
                plate = typed(self.plate_kind, given)
                read_nameplate(self.plate_kind, plate)
                self.instance.nameplate = plate
            except Refused as refused:
                field = PREFIX + refused.path.removeprefix("nameplate.").split(".")[0]
                self.add_error(field if field in self.fields else None, refused.sentence.say())
        return cleaned
