"""Units: exact factors, checked by an independent library, and sentences in either system."""

import dataclasses

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core import catalogue
from fentro_core.base import calculation, fields, units
from fentro_core.base.sentence import Sentence
from fentro_core.logbook.snapshot import snapshot_schema
from fentro_core.system.kinds import KINDS

registry = pint.UnitRegistry()
registry.define("inch_of_water = 2.54 * centimeter_H2O")
registry.define("hundred_m2 = 100 * meter**2")
registry.define("hundred_ft2 = 100 * foot**2")

PINT = {
    "degC": ("degC", "degC"),
    "degF": ("degF", "degC"),
    "K": ("delta_degC", "delta_degC"),
    "degF_diff": ("delta_degF", "delta_degC"),
    "percent": ("percent", "dimensionless"),
    "g/kg": ("gram/kilogram", "dimensionless"),
    "gr/lb": ("grain/pound", "dimensionless"),
    "kJ/kg": ("kJ/kg", "J/kg"),
    "m3/kg": ("m**3/kg", "m**3/kg"),
    "ft3/lb": ("ft**3/lb", "m**3/kg"),
    "kg/m3": ("kg/m**3", "kg/m**3"),
    "lb/ft3": ("lb/ft**3", "kg/m**3"),
    "L/s": ("liter/s", "m**3/s"),
    "cfm": ("ft**3/min", "m**3/s"),
    "m3/s": ("m**3/s", "m**3/s"),
    "m3/h": ("m**3/hour", "m**3/s"),
    "kg/s": ("kg/s", "kg/s"),
    "lb/min": ("lb/min", "kg/s"),
    "m3": ("m**3", "m**3"),
    "ft3": ("ft**3", "m**3"),
    "kg": ("kg", "kg"),
    "lb": ("pound", "kg"),
    "kg/h": ("kg/hour", "kg/s"),
    "lb/h": ("lb/hour", "kg/s"),
    "kW": ("kW", "W"),
    "W": ("W", "W"),
    "Btu/h": ("Btu_it/hour", "W"),
    "ton": ("12000*Btu_it/hour", "W"),
    "Pa": ("Pa", "Pa"),
    "inwc": ("inch_of_water", "Pa"),
    "kPa": ("kPa", "Pa"),
    "hPa": ("hPa", "Pa"),
    "inHg": ("inHg_32F", "Pa"),
    "m": ("m", "m"),
    "ft": ("ft", "m"),
    "mm": ("mm", "m"),
    "in": ("inch", "m"),
    "psi": ("psi", "Pa"),
    "bar": ("bar", "Pa"),
    "W/K": ("W/delta_degC", "W/delta_degC"),
    "Btu/h/degF": ("Btu_it/hour/delta_degF", "W/delta_degC"),
    "m2K/W": ("m**2*delta_degC/W", "m**2*delta_degC/W"),
    "R": ("ft**2*delta_degF*hour/Btu_it", "m**2*delta_degC/W"),
    "L/s/100m2": ("liter/s/hundred_m2", "m/s"),
    "cfm/100ft2": ("ft**3/min/hundred_ft2", "m/s"),
    "cm2": ("cm**2", "m**2"),
    "in2": ("inch**2", "m**2"),
    "N": ("newton", "newton"),
    "lbf": ("force_pound", "newton"),
    "ohm": ("ohm", "ohm"),
    "m2": ("m**2", "m**2"),
    "ft2": ("ft**2", "m**2"),
    "min": ("minute", "s"),
    "s": ("s", "s"),
    "m/s": ("m/s", "m/s"),
    "fpm": ("ft/min", "m/s"),
    "h": ("hour", "s"),
    "kWh": ("kWh", "J"),
    "kJ/K": ("kJ/delta_degC", "J/delta_degC"),
    "Btu/degF": ("Btu_it/delta_degF", "J/delta_degC"),
    "V": ("V", "V"),
    "VA": ("V * A", "V * A"),
    "A": ("A", "A"),
}
DEFINED_HERE = {"Btu/lb", "L/day", "gal/day", "1", "given"}
"""Btu/lb has its own zero (tested below); water per day is litres of a kilogram each."""

ALL = [(kind.key, unit) for kind in units.KINDS.values() for unit in kind.units]


@pytest.mark.parametrize(("kind", "unit"), [row for row in ALL if row[1].key not in DEFINED_HERE])
def test_factors_agree_with_an_independent_table(kind: str, unit: units.Unit) -> None:
    source, target = PINT[unit.key]
    if source.startswith("12000"):
        expected = registry.Quantity(12000 * 3.7, "Btu_it/hour").to(target).magnitude
    else:
        expected = registry.Quantity(3.7, source).to(target).magnitude
    assert unit.to_si(3.7) == pytest.approx(expected, rel=5e-5), kind


@given(st.sampled_from(ALL), st.floats(-1e5, 1e5))
def test_there_and_back(row: tuple, shown: float) -> None:
    _, unit = row
    assert unit.from_si(unit.to_si(shown)) == pytest.approx(shown, abs=1e-6, rel=1e-9)


def test_the_two_enthalpy_zeros() -> None:
    customary = units.KINDS["enthalpy"].us
    assert customary.from_si(0.0) == pytest.approx(7.68)
    assert units.KINDS["enthalpy_difference"].us.from_si(23260.0) == pytest.approx(10.0)


def test_numbers_read_as_people_write_them() -> None:
    assert units.number(-0.04, 1) == "0.0"
    assert units.number(-12.34, 1) == "−12.3"
    said = Sentence.of("From {low} to {high}.", low=(-20.0, "temperature"), high=(1.0, "airflow"))
    assert said.say("US") == "From −4.0 °F to 2,119 cfm."
    assert said.say("SI") == "From −20.0 °C to 1,000 L/s."


@pytest.mark.parametrize("name", ["dry_bulb_c", "split_k", "airflow_m3s", "total_w", "humidity_ratio", "elevation_m"])
def test_a_field_tells_its_kind(name: str) -> None:
    assert fields.kind_of(name) in units.KINDS
    assert fields.kind_of(name) != "ratio"


def numbers_in(schema: object) -> set[str]:
    """Names of the numbers of a schema."""
    if isinstance(schema, list):
        return {name for each in schema for name in numbers_in(each)}
    if not isinstance(schema, dict):
        return set()
    own = {
        name
        for name, each in schema.get("properties", {}).items()
        if isinstance(each, dict) and str(each.get("description", "")).endswith(", SI")
    }
    return own.union(*(numbers_in(each) for each in schema.values()))


def test_every_number_that_is_published_declares_its_kind() -> None:
    """No fallback: what is not in the table is an error when it is described."""
    assert catalogue.MODULES
    published = [calculation.describe(name) for name in calculation.REGISTRY]
    names = numbers_in(published) | numbers_in(snapshot_schema())
    plates = {each.name for kind in KINDS.values() for each in dataclasses.fields(kind.nameplate) if "float" in str(each.type)}
    assert len(names) > 90
    assert names | plates <= set(fields.FIELDS)
    assert set(fields.FIELDS.values()) <= set(units.KINDS)
    with pytest.raises(LookupError, match=r"fields\.py"):
        fields.kind_of("smell_c")


ENDINGS = {
    "_c": {"temperature"},
    "_k": {"temperature_difference"},
    "_m3s": {"airflow"},
    "_pa": {"pressure", "barometric_pressure", "refrigerant_pressure"},
    "_w": {"power", "electric_power"},
    "_j_per_kg": {"enthalpy", "enthalpy_difference"},
    "_m_per_s": {"velocity"},
    "_m": {"length", "depth", "door"},
    "_m2": {"area", "duct_area", "opening"},
    "_n": {"force"},
    "_ohm": {"resistance"},
    "_a": {"current"},
    "_share": {"share"},
    "_humidity_ratio": {"humidity_ratio"},
}


@pytest.mark.parametrize("ending", sorted(ENDINGS))
def test_a_name_ends_as_its_unit_says(ending: str) -> None:
    own = {
        name: kind for name, kind in fields.FIELDS.items() if name.endswith(ending) and "_per" not in name.removesuffix(ending)
    }
    assert own
    assert set(own.values()) <= ENDINGS[ending], own
