"""Reading and writing JSON: types, paths of complaints, schemas that describe what is taken."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

import pytest

from fentro_core import catalogue
from fentro_core.base import calculation, typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.logbook.snapshot import snapshot_schema


@dataclass(frozen=True)
class Leg:
    """A part."""

    length_m: float
    name: str = ""


@dataclass(frozen=True)
class Table:
    """A whole."""

    legs: tuple[Leg, ...]
    shape: Literal["round", "square"] = "round"
    seats: int = 4
    folds: bool = False
    width_m: float | None = None
    prices: dict[str, float] = field(default_factory=dict)


WHOLE: dict[str, Any] = {
    "legs": [{"length_m": 0.7, "name": "front"}, {"length_m": 1}],
    "shape": "square",
    "seats": 6,
    "folds": True,
    "width_m": 0.9,
    "prices": {"new": 40},
}


def test_there_and_back() -> None:
    table = typed_json.read(WHOLE, Table)
    assert table.legs[1] == Leg(1.0)
    assert typed_json.read(typed_json.write(table), Table) == table
    assert typed_json.read({"legs": []}, Table) == Table(())


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"legs": None}, "legs"),
        ({"legs": [{"length_m": 0.7}, {"length_m": "long"}]}, "legs.1.length_m"),
        ({"legs": [{}]}, "legs.0.length_m"),
        ({"legs": [{"length_m": 1, "colour": "red"}]}, "legs.0.colour"),
        ({"legs": [7]}, "legs.0"),
        ({"shape": "oval"}, "shape"),
        ({"seats": 2.5}, "seats"),
        ({"seats": True}, "seats"),
        ({"folds": 1}, "folds"),
        ({"width_m": float("inf")}, "width_m"),
        ({"prices": {"new": "cheap"}}, "prices.new"),
        ({"extra": 1}, "extra"),
    ],
)
def test_a_complaint_names_its_field(change: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        typed_json.read({**WHOLE, **change}, Table)
    assert refused.value.path.startswith(path.split(".")[0])
    if path.count("."):
        assert refused.value.path == path
    assert refused.value.sentence.say()


def test_a_refusal_moves_outward_without_losing_its_numbers() -> None:
    inner = Refused("At most {most}.", "length_m", most=(2.0, "length"))
    outer = inner.under("legs.0").under("table")
    assert outer.path == "table.legs.0.length_m"
    assert outer.sentence.say("US") == "At most 6.6 ft."
    assert str(outer).startswith("table.legs.0.length_m: At most 2 m")


def test_the_schema_says_what_is_taken() -> None:
    schema = typed_json.schema_of(Table)
    assert schema["required"] == ["legs"]
    assert schema["additionalProperties"] is False
    assert schema["properties"]["shape"] == {"enum": ["round", "square"]}
    assert schema["properties"]["legs"]["items"]["required"] == ["length_m"]
    assert "length" in schema["properties"]["legs"]["items"]["properties"]["length_m"]["description"]
    assert {"type": "null"} in schema["properties"]["width_m"]["anyOf"]


def parts(schema: Any) -> list[dict[str, Any]]:
    """Every schema inside a schema."""
    if isinstance(schema, list):
        return [found for each in schema for found in parts(each)]
    if not isinstance(schema, dict):
        return []
    return [schema, *(found for value in schema.values() for found in parts(value))]


@pytest.mark.parametrize("name", ["snapshot", *sorted(calculation.REGISTRY)])
def test_every_published_schema_is_whole(name: str) -> None:
    assert catalogue.MODULES
    published = snapshot_schema() if name == "snapshot" else calculation.describe(name)["input"]
    assert published["$schema"].endswith("2020-12/schema")
    for schema in parts(published):
        if schema.get("type") == "object" and "properties" in schema:
            assert set(schema.get("required", [])) <= set(schema["properties"])
        if schema.get("type") == "array":
            assert "items" in schema


def test_a_sentence_says_each_number_in_its_unit() -> None:
    sentence = Sentence.of(
        "{a}, {b}, {c}.", a=(0.5, "relative_humidity"), b=(101325.0, "barometric_pressure"), c=(35169.0, "tonnage")
    )
    assert sentence.say() == "50 %, 101.33 kPa, 35.17 kW."
    assert sentence.say("US") == "50 %, 29.92 inHg, 10.00 ton."
