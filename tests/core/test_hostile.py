"""No input, however odd, makes the core raise anything but a refusal at a field, or answer what cannot be."""

from __future__ import annotations

import copy
import json
import sys
from random import Random
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from bench.unchanged import demo_documents
from fentro_core.base import calculation
from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import read_entry
from fentro_core.system.kinds import KINDS, read_nameplate
from tests.core.answers import full_plate
from tests.core.bodies import BODIES, of_kind
from tests.core.hostile import ODD, complaint, complaint_of_visit, names_a_place, spoiled
from tests.core.test_calculation import EXAMPLES
from tests.core.visits import air, snapshot, started

NAMES = sorted(EXAMPLES)
SCHEMAS = {name: calculation.describe(name) for name in NAMES}
IN = {name: Draft202012Validator(SCHEMAS[name]["input"]) for name in NAMES}
OUT = {name: Draft202012Validator(SCHEMAS[name]["output"]) for name in NAMES}
EACH = 90


def plain(found: Any) -> Any:
    """As JSON brings it: tuples as lists."""
    return json.loads(json.dumps(found, allow_nan=False))


@pytest.mark.parametrize("name", NAMES)
def test_the_schemas_fit_every_example(name: str) -> None:
    Draft202012Validator.check_schema(SCHEMAS[name]["input"])
    Draft202012Validator.check_schema(SCHEMAS[name]["output"])
    IN[name].validate(EXAMPLES[name])
    OUT[name].validate(plain(calculation.run(name, EXAMPLES[name])["result"]))


@pytest.mark.parametrize("name", NAMES)
def test_spoiled_inputs_are_answered_or_refused_and_the_schemas_say_so(name: str) -> None:
    chance = Random(f"{name}/1")
    for _ in range(8 if name == "air.chart" else EACH // 3 if name.startswith("ventilation.") else EACH):
        given = spoiled(EXAMPLES[name], chance)
        assert complaint(name, given) == "", repr(given)[:400]
        try:
            found = calculation.run(name, given)
        except Refused:
            continue
        IN[name].validate(plain(given))
        OUT[name].validate(plain(found["result"]))


def of_schema(schema: Any) -> st.SearchStrategy[Any]:
    """Anything that a schema takes, and now and then what it does not."""
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    if "anyOf" in schema:
        return st.one_of([of_schema(each) for each in schema["anyOf"]])
    kind = schema.get("type")
    if isinstance(kind, list):
        return st.one_of([of_schema({**schema, "type": each}) for each in kind])
    match kind:
        case "number":
            return st.one_of(
                st.floats(-50, 120),
                st.floats(0, 1),
                st.floats(allow_nan=False, allow_infinity=False),
                st.sampled_from([0.0, 101_325.0, 1e-9]),
            )
        case "integer":
            return st.integers(-3, 60) | st.integers()
        case "string":
            return st.text(max_size=6) | st.sampled_from(["return", "outdoor", "dry_bulb", "A", "5B"])
        case "boolean":
            return st.booleans()
        case "null":
            return st.none()
        case "array":
            return st.lists(of_schema(schema["items"]), max_size=5)
        case "object":
            return _of_object(schema)
    return st.sampled_from(ODD[:12])


def _of_object(schema: Any) -> st.SearchStrategy[Any]:
    fields = schema.get("properties")
    if fields is None:
        return st.dictionaries(
            st.sampled_from(["A", "B", "a.b", "return", "outdoor", "flue_m"]), of_schema(schema["additionalProperties"])
        )
    needed = set(schema.get("required", ()))
    ways = [set(each["required"]) for each in schema.get("oneOf", ())]
    if ways:
        return st.sampled_from(ways).flatmap(
            lambda way: st.fixed_dictionaries({name: of_schema(fields[name]) for name in sorted(needed | way)})
        )
    return st.fixed_dictionaries(
        {name: of_schema(fields[name]) for name in sorted(needed)},
        optional={name: of_schema(each) for name, each in fields.items() if name not in needed},
    )


@pytest.mark.parametrize("name", [name for name in NAMES if name != "air.chart"])
@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_whatever_the_schema_takes(name: str, data: st.DataObject) -> None:
    given = data.draw(of_schema(SCHEMAS[name]["input"]))
    assert complaint(name, given) == ""


def visits() -> list[dict[str, Any]]:
    """Visits to be spoiled: the demo's, and one with every kind of entry."""
    once = [of_kind(kind, body) for kind, body in BODIES.items() if kind not in ("closing", "withdrawal", "undone", "handed_on")]
    every = snapshot([started(), *air("return", 24, 50), *air("supply", 13, 90), *once], "packaged_rooftop", economizer=True)
    return [every, every, *(document for _, document in demo_documents())]


def test_spoiled_visits_are_worked_out_or_refused() -> None:
    chance, whole = Random(3), visits()
    for number in range(260):
        document = copy.deepcopy(whole[number % len(whole)])
        where = chance.choice(("entries", "entries", "system", "site", "instruments", "whole"))
        if where == "whole":
            document = spoiled(document, chance)
        elif where == "entries" and document["entries"]:
            index = chance.randrange(len(document["entries"]))
            document["entries"][index] = spoiled(document["entries"][index], chance)
        else:
            document[where] = spoiled(document[where], chance)
        assert complaint_of_visit(document) == "", where


@pytest.mark.parametrize("kind", sorted(BODIES))
def test_spoiled_entries_are_refused_at_their_field(kind: str) -> None:
    chance = Random(f"{kind}/2")
    for _ in range(60):
        given = spoiled(of_kind(kind, BODIES[kind]), chance)
        try:
            read_entry(given)
        except Refused as refused:
            assert names_a_place({"body": {}} | given, refused.path), refused  # noqa: PT017


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_spoiled_nameplates_are_refused_at_their_field(kind: str) -> None:
    chance = Random(f"{kind}/3")
    for _ in range(150):
        try:
            read_nameplate(kind, spoiled(full_plate(kind), chance))
        except Refused as refused:
            assert refused.path.startswith(("nameplate", "kind"))  # noqa: PT017


@pytest.mark.parametrize(
    ("name", "given", "path"),
    [
        ("cooling.split", {"return_dry_bulb_c": 10**400, "supply_dry_bulb_c": 12}, "return_dry_bulb_c"),
        ("cooling.split", {"return_dry_bulb_c": 1e12, "supply_dry_bulb_c": 12}, "return_dry_bulb_c"),
        (
            "cooling.split",
            {"return_dry_bulb_c": {"value": 24, "plus_minus": 1e300}, "supply_dry_bulb_c": 12},
            "return_dry_bulb_c.plus_minus",
        ),
        ("cooling.split", {"return_dry_bulb_c": {"value": {"value": 1}}, "supply_dry_bulb_c": 12}, "return_dry_bulb_c.value"),
        ("cooling.split", {"return_dry_bulb_c": {"value": 24, "source": 7}, "supply_dry_bulb_c": 12}, "return_dry_bulb_c.source"),
        ("cooling.split", {"value": 1}, "value"),
        ("air.mix", {"streams": ""}, "streams"),
        ("air.mix", {"streams": {}}, "streams"),
        ("air.mix", {"streams": {"value": 1}}, "streams"),
        ("measuring.average", {"values": [[24.0]]}, "values.0"),
        ("airflow.registers", {"registers_m3s": [0.05, -0.07]}, "registers_m3s.1"),
        ("air.state", {"air": {"dry_bulb_c": 24, "relative_humidity": 0.5, "pressure_pa": 101.325}}, "air.pressure_pa"),
        ("air.state", {"air": {"dry_bulb_c": 24, "humidity_ratio": 9.3}}, "air.humidity_ratio"),
    ],
)
def test_known_traps(name: str, given: Any, path: str) -> None:
    with pytest.raises(Refused) as refused:
        calculation.run(name, given)
    assert refused.value.path == path


def test_sources_without_a_name_are_different_instruments() -> None:
    def width(source: str | None) -> float:
        value = {"value": 24.0, "plus_minus": 0.3, "source": source}
        found = calculation.run("cooling.split", {"return_dry_bulb_c": value, "supply_dry_bulb_c": {**value, "value": 13.0}})
        return float(found["result"]["split_k"]["plus_minus"])

    assert width("A") == 0.0
    assert width(None) == pytest.approx(0.3 * 2**0.5)


def test_labels_with_dots_keep_their_half_widths() -> None:
    given = copy.deepcopy(EXAMPLES["economizer.sensor_identity"])
    condition = given["conditions"][0]
    condition["shown_c"] = {"AI.1": {"value": 22.0, "plus_minus": 0.3}, "AI.2": 5.0}
    given["claimed"] = {"AI.1": "return", "AI.2": "outdoor"}
    assert "conditions.0.shown_c.AI.1" in str(calculation.run("economizer.sensor_identity", given)["shares"])


@pytest.mark.parametrize(
    ("at", "good"),
    [
        ("2026-07-01T10:00:00.123Z", True),
        ("2026-07-01T10:00+05:30", True),
        ("2000-01-01T00:00:00+14:00", False),
        ("2101-01-01T00:00:00+14:00", True),
        ("2026-07-01T10:00:00+15:00", False),
        ("2026-07-01T10:00:00+00:00:30", False),
        ("2026-W27-3T10:00:00Z", False),
        ("20260701T100000Z", False),
        ("9999-12-31T23:59:59-12:00", False),
        ("0001-01-01T00:00:00+14:00", False),
        ("٢٠٢٦-07-01T10:00:00Z", False),
    ],
)
def test_moments_are_those_that_everybody_reads_back(at: str, good: bool) -> None:
    given = {**of_kind("reopening", {}), "at": at}
    if good:
        assert read_entry(given).at == at
    else:
        with pytest.raises(Refused) as refused:
            read_entry(given)
        assert refused.value.path == "at"


@pytest.mark.parametrize("text", ["a\x00b", "\ud800", "x\udfffy"])
def test_letters_that_nothing_can_keep_are_refused(text: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(of_kind("note", {"text": text}))
    assert refused.value.path == "body.text"
    assert read_entry(of_kind("note", {"text": "Läuft 🙂 {0} {x!r} %s"})).body.text.endswith("%s")


LONG = 10_000
LISTS: dict[str, dict[str, Any]] = {
    "measuring.average": {"values": [24.0 + 0.01 * (n % 7) for n in range(LONG)]},
    "measuring.steadiness": {"times_s": list(range(LONG)), "values": [24.0 + 0.02 * (n % 3) for n in range(LONG)]},
    "measuring.probe_match": {"first": [24.5] * LONG, "second": [24.1] * LONG, "first_accuracy": 0.3, "second_accuracy": 0.3},
    "measuring.match_by_hand": {"series": {"a": [24.2] * LONG, "b": [24.0] * LONG}, "last_digit": 0.1},
    "measuring.match_summary": {"series": {"a": [24.2] * LONG, "b": [24.0] * LONG}, "seconds": 120},
    "airflow.registers": {"registers_m3s": [0.001] * LONG},
    "air.mix": {"streams": [{"air": {"dry_bulb_c": 24.0, "relative_humidity": 0.5}, "dry_air_kg_per_s": 0.01}] * LONG},
    "history.drift": {"points": [{"days": float(n), "value": 1.0, "plus_minus": 0.1} for n in range(LONG)]},
    "measuring.traverse": {"duct": {"shape": "round", "diameter_m": 0.2}, "velocities_m_per_s": [4.0] * LONG},
    "economizer.mode_map": {"configuration": {}, "reads": [{"position": 0.5, "outdoor_share": 0.5}] * LONG},
    "economizer.next_position": {
        **EXAMPLES["economizer.next_position"],
        "reads": [{"position": n / LONG, "outdoor_share": n / LONG} for n in range(LONG)],
    },
}


@pytest.mark.parametrize("name", sorted(LISTS))
def test_a_long_list_costs_no_more_than_its_length(name: str) -> None:
    """Ten times the list, at most some twenty times the work, counted in calls and lines; or a limit that says so."""

    def work(given: dict[str, Any]) -> int:
        counted = 0

        def count(*_: Any) -> Any:
            nonlocal counted
            counted += 1
            return count

        before = sys.gettrace()
        sys.settrace(count)
        try:
            calculation.run(name, given)
        except Refused as refused:
            assert "at most" in refused.sentence.say()  # noqa: PT017
        finally:
            sys.settrace(before)  # coverage goes on
        return counted

    def shorter(node: Any) -> Any:
        if isinstance(node, dict):
            return {key: shorter(inner) for key, inner in node.items()}
        return [shorter(each) for each in node[: max(len(node) // 10, 60)]] if isinstance(node, list) else node

    assert work(LISTS[name]) < 20 * work(shorter(LISTS[name])) + 20_000


def test_a_list_of_half_widths_has_a_limit_that_says_so() -> None:
    values = [{"value": 24.0, "plus_minus": 0.3} for _ in range(201)]
    with pytest.raises(Refused, match="At most 200 numbers") as refused:
        calculation.run("measuring.average", {"values": values})
    assert refused.value.path == "values.200"
    assert calculation.run("measuring.average", {"values": values[:200]})["result"]["mean"]["plus_minus"] < 0.03
