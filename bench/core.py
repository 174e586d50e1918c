"""The core: air states against psychrolib's own call, the whole cooling work-up, growth with entries."""

from __future__ import annotations

import random
import timeit
import uuid
from collections.abc import Callable, Iterator
from dataclasses import replace
from math import exp

import psychrolib

from bench.examples import TUNED, thorough
from bench.report import Row
from fentro_core.air import AirState
from fentro_core.base import calculation
from fentro_core.cooling.expected import rated_coil
from fentro_core.instruments import station_air as stations
from fentro_core.instruments.steadiness import steadiness
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit import phase_work
from fentro_core.visit.work_up import work_up
from fentro_standins.plant.visit import visit
from tests.core.visits import air, flow, snapshot, started

psychrolib.SetUnitSystem(psychrolib.SI)


def best_ms(call: Callable[[], object], times: int) -> float:
    """Best of five, in milliseconds per call."""
    return min(timeit.repeat(call, number=times, repeat=5)) / times * 1000


def steadiness_row() -> Row:
    """Three hours of samples, one a second, of eight probes: judged all at once."""
    chance = random.Random(1)
    times = [float(second) for second in range(3 * 3600)]
    streams = [
        [13.0 + 11.0 * exp(-second / (120 + 40 * probe)) + chance.gauss(0, 0.03) for second in times] for probe in range(8)
    ]
    at_once = best_ms(lambda: [steadiness(times, values) for values in streams], 3)
    said = f"{at_once:.1f} ms of 50 ms for {len(times) * len(streams):,} samples"
    return Row("steadiness of 3 h at 1 Hz, 8 probes", at_once / 50, 1.0, said)


def whole_visit_rows() -> Iterator[Row]:
    """A visit of 300 entries with everything read, both phases: half-widths, statics, leak test, circuit, causes, next look.

    Worked out after one more reading, as it is on the roof, and from nothing.
    """
    case = next(case for case in TUNED[0] if case.key.startswith("low charge/heat"))
    document = visit(thorough(case), 3)
    made = [dict(each) for each in document["entries"]]
    while len(made) < 300:
        for index, each in enumerate(document["entries"]):
            phase = "as_left" if len(made) // len(document["entries"]) % 2 else "as_found"
            made.append({**each, "id": str(uuid.UUID(int=len(made) * 1000 + index, version=4)), "phase": phase})
    document["entries"] = made[:300]
    whole = read_snapshot(document)
    last = next(each for each in reversed(made[:300]) if each["kind"] == "reading" and each["phase"] == "as_left")
    value = last["body"]["value"]
    more = [
        {**last, "id": str(uuid.UUID(int=number << 32, version=4)), "body": {**last["body"], "value": value + number / 100}}
        for number in range(1, 41)
    ]
    grown = iter([replace(whole, entries=(*whole.entries, read_entry(each))) for each in more])
    work_up(whole)
    after = min(timeit.repeat(lambda: work_up(next(grown)), number=1, repeat=len(more))) * 1000
    yield Row("work-up with causes after one more reading, visit of 300 entries", after / 10, 1.0, f"{after:.1f} ms of 10 ms")
    ms = best_ms(lambda: fresh(lambda: work_up(whole)), 5)
    yield Row("the same from nothing: both phases, no air state known", ms / 10, 1.0, f"{ms:.1f} ms of 10 ms")


def fresh(call: Callable[[], object]) -> None:
    """A call that finds nothing kept ready."""
    for kept in (stations._linear, stations._ratio_of, rated_coil, phase_work._worked_out):
        kept.cache_clear()
    call()


def rows() -> Iterator[Row]:
    """All rows of the core."""

    def ours() -> None:
        state = AirState.from_rh(24.6, 0.58)
        _ = (state.wet_bulb_c, state.dew_point_c, state.enthalpy_j_per_kg, state.specific_volume_m3_per_kg)

    reference = best_ms(lambda: psychrolib.CalcPsychrometricsFromRelHum(24.6, 0.58, 101325.0), 500)
    mine = best_ms(ours, 500)
    yield Row("air.state with wet bulb / psychrolib's own call", mine / reference, 0.3, f"{mine:.4f} ms / {reference:.4f} ms")
    given = {"air": {"dry_bulb_c": 24.6, "relative_humidity": 0.58}}
    run_ms = best_ms(lambda: calculation.run("air.state", given), 300)
    yield Row("run(air.state) / psychrolib's own call", run_ms / reference, 1.5, f"{run_ms:.4f} ms")

    both = [*air("return", 24.6, 58), *air("supply", 13.8, 91), *air("outdoor", 33.0, 40), flow(1.8)]
    left = [*air("return", 24.6, 58, phase="as_left"), *air("supply", 13.0, 91, phase="as_left")]
    small = read_snapshot(snapshot([started(), *both, *left]))
    ms = best_ms(lambda: fresh(lambda: work_up(small)), 20)
    yield Row("cooling work-up with half-widths, both phases", ms / 10, 1.0, f"{ms:.2f} ms of 10 ms")

    yield from whole_visit_rows()
    yield steadiness_row()

    many = [*both, *(entry for point in range(2, 51) for entry in air("return", 24.0 + point / 50, 55, point=point))]
    large = read_snapshot(snapshot([started(), *many, *left]))
    much = best_ms(lambda: fresh(lambda: work_up(large)), 5)
    per_entry = (much / len(large.entries)) / (ms / len(small.entries))
    yield Row("cost per entry, 110 entries / 14 entries", per_entry, 1.0, f"{much:.2f} ms for {len(large.entries)}")
