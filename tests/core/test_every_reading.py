"""What the pad and the API take, the work-up can work with: every quantity at every station to the ends of what is possible."""

from __future__ import annotations

import json
import math
from itertools import product
from random import Random
from typing import Any

import pytest

from bench.unchanged import demo_documents
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.base.units import KINDS as UNIT_KINDS
from fentro_core.economizer.page import economizer_page
from fentro_core.instruments.quantities import READABLE
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.system.kinds import KINDS, air_path, read_nameplate
from fentro_core.visit.work_up import work_up
from tests.core.answers import full_plate
from tests.core.bodies import BODIES, of_kind
from tests.core.visits import air, flow, reading, snapshot, started

AIRS = [(24.0, 0.0), (24.0, 100.0), (50.0, 100.0), (-40.0, 0.0), (-40.0, 100.0), (0.0, 100.0), (0.01, 50.0), (89.0, 1.0)]


def finite(document: dict[str, Any]) -> Any:
    """The work-up as JSON, every number of it ordinary."""
    worked = write(work_up(read_snapshot(document)))
    json.dumps(worked, allow_nan=False)
    return worked


@pytest.mark.parametrize("kind", sorted(KINDS))
@pytest.mark.parametrize("dry_bulb", [-60.0, -20.0, 0.0, 24.0, 60.0, 90.0])
def test_perfectly_dry_and_saturated_air_anywhere(kind: str, dry_bulb: float) -> None:
    path = air_path(kind, read_nameplate(kind, {}))
    for humid in (0.0, 100.0):
        for station in path.stations:
            if "relative_humidity" in station.quantities:
                finite(snapshot([started(), *air(station.id, dry_bulb, humid)], kind))


@pytest.mark.parametrize(("first", "second"), list(product(AIRS, AIRS)))
def test_any_two_airs_make_a_visit(first: tuple[float, float], second: tuple[float, float]) -> None:
    entries = [started(), *air("return", *first), *air("supply", *second), *air("outdoor", *second), flow(0.5)]
    found = finite(snapshot(entries, rated_airflow_m3s=1.9))
    assert {phase["phase"] for phase in found["phases"]} == {"as_found"}


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_every_quantity_to_its_ends_at_every_station(kind: str) -> None:
    """All stations at once, each end in turn and a draw of ends, with a whole nameplate and with a bare one."""
    chance = Random(5)
    for plate in ({}, full_plate(kind)):
        path = air_path(kind, read_nameplate(kind, plate))
        for draw in range(14):
            entries = [started()]
            for station in path.stations:
                for quantity in station.quantities:
                    low, high = READABLE[quantity].possible
                    pick = (
                        (low, high)[draw] if draw < 2 else chance.choice((low, high, (low + high) / 2, chance.uniform(low, high)))
                    )
                    unit = UNIT_KINDS[READABLE[quantity].kind].si
                    if draw < 4 or chance.random() < 0.7:
                        entries.append(reading(station.id, quantity, unit.from_si(pick), unit.key, instrument=None))
            made = snapshot(entries, kind)
            made["system"]["nameplate"] = plate
            finite(made)


def test_every_entry_there_is_in_one_visit() -> None:
    entries = [
        of_kind(kind, body) for kind, body in BODIES.items() if kind not in ("closing", "withdrawal", "undone", "handed_on")
    ]
    made = snapshot([started(), *air("return", 24, 50), *air("supply", 13, 90), *entries], "packaged_rooftop", economizer=True)
    found = finite(made)
    assert len(found["temporary"]) == 1
    json.dumps(write(economizer_page(read_snapshot(made))), allow_nan=False)


@pytest.mark.parametrize("kind", sorted(BODIES))
def test_an_entry_of_every_kind_comes_back_as_it_was(kind: str) -> None:
    made = read_entry(of_kind(kind, BODIES[kind]))
    assert made.kind == kind
    assert read_entry(write(made)) == made


@pytest.mark.parametrize("celsius", [-60.0, 0.0, 24.0, 54.0])
def test_impossible_pairs_are_told_at_their_station_and_stop_nothing(celsius: float) -> None:
    wet = [
        reading("return", "dry_bulb", celsius, "degC"),
        reading("return", "wet_bulb", celsius + 5, "degC"),
    ]
    found = finite(snapshot([*wet, *air("supply", 13, 90)]))
    (station,) = [each for each in found["phases"][0]["stations"] if each["station"] == "return"]
    assert station["trouble"]
    assert found["phases"][0]["stations"]


def test_demo_visits_with_numbers_spoiled_are_worked_out_or_refused() -> None:
    """Every reading of the demo, in turn at an end of what is possible."""
    chance = Random(9)
    for _, document in demo_documents():
        for _ in range(12):
            other = json.loads(json.dumps(document))
            readings = [each for each in other["entries"] if each["kind"] == "reading"]
            for each in chance.sample(readings, min(3, len(readings))):
                body = each["body"]
                low, high = READABLE[body["quantity"]].possible
                unit = UNIT_KINDS[READABLE[body["quantity"]].kind].si
                body["value"], body["unit"] = unit.from_si(chance.choice((low, high))), unit.key
            try:
                assert math.isfinite(finite(other)["pressure"]["value"])
            except Refused as refused:
                assert refused.path.startswith("entries.")  # noqa: PT017, a reading that its instrument refuses
