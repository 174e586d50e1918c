"""What the core answers to a wide set of questions, written small; ``python -m tests.core.answers`` renews the kept answers.

A formula has its own test. These see what holds the formulas together: an order, a limit, a doubt or a case left out changes
an answer here. Renew them only for a change that is meant, look at the difference, and say it in CHANGELOG.md.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import Any

from bench.examples import HELD, TUNED, thorough
from bench.unchanged import bench_documents, demo_documents
from fentro_core.air.chart import chart
from fentro_core.base import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.mode_map import mode_map
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import Day, plan
from fentro_core.economizer.weather import synthetic_year
from fentro_core.economizer.year import hours_of_year
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.reference import tables
from fentro_core.visit.work_up import work_up
from fentro_standins.plant.visit import visit

Json = Any
KEPT = Path(__file__).with_name("answers.json")
METHODS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")
ZONES = ("1A", "3A", "4B", "5B", "7")
DAYS = (Day(), Day(outdoor_c=-5.0, outdoor_rh=0.6), Day(outdoor_c=33.0, outdoor_rh=0.5), Day(outdoor_c=20.0, outdoor_rh=0.9))


def small(found: Json) -> Json:
    """Numbers to six figures, words only where they are keys: what a sentence says may be said better."""
    if isinstance(found, bool) or found is None:
        return found
    if isinstance(found, float | int):
        return float(f"{found:.6g}")
    if isinstance(found, str):
        return found if " " not in found and len(found) < 40 else ""
    if isinstance(found, dict):
        return {key: small(value) for key, value in sorted(found.items()) if key not in ("id", "entry", "at")}
    return [small(each) for each in found]


def mark(found: Json) -> str:
    """One short word for all of it."""
    return sha256(json.dumps(small(found)).encode()).hexdigest()[:10]


def of_visit(document: Json) -> Json:
    """A visit: its numbers, verdicts and causes to be read, and one word for each of the rest."""
    snapshot = read_snapshot(document)
    found = write(work_up(snapshot))
    answer: Json = {key: mark(value) for key, value in found.items() if key != "phases"}
    for phase in found["phases"]:
        name = phase["phase"]
        answer[f"{name}.numbers"] = {
            each["key"]: small([each["quantity"]["value"], each["quantity"]["plus_minus"]])
            for each in phase["results"]
            if each.get("quantity")
        }
        answer[f"{name}.said"] = [f"{each['key']}:{each['mark']}" for each in phase["verdicts"]]
        answer[f"{name}.likely"] = [f"{each['key']}:{each['fit']:.4g}" for each in phase["findings"][:3]]
        answer |= {f"{name}.{key}": mark(value) for key, value in phase.items()}
    try:
        answer |= {f"economizer.{key}": mark(value) for key, value in write(economizer_page(snapshot)).items()}
    except Refused as refused:
        answer["economizer"] = str(refused)
    return answer


def questions(group: str = "") -> Iterator[tuple[str, Json]]:
    """Questions of a group, or all, by name, with their answers."""
    for name, ask in (
        ("demo", _demo),
        ("tuned", _tuned),
        ("thorough", _thorough),
        ("plan", _plans),
        ("map", _maps),
        ("weather", _weathers),
        ("year", _years),
        ("chart", _charts),
        ("tables", _tables),
    ):
        if group in ("", name):
            yield from ask()


def _demo() -> Iterator[tuple[str, Json]]:
    for name, document in demo_documents():
        yield name, of_visit(document)


def _tuned() -> Iterator[tuple[str, Json]]:
    for name, document in bench_documents():
        if name.endswith("/both") and name.startswith("tuned"):
            yield name, of_visit(document)


def _thorough() -> Iterator[tuple[str, Json]]:
    for case in (*TUNED[0][::3], *HELD[1][::2]):
        yield f"thorough/{case.key}", of_visit(visit(thorough(case), 7))


def _settings() -> Iterator[tuple[str, Configuration, Day]]:
    for method in METHODS:
        for number, day in enumerate(DAYS):
            yield f"{method}/{number}", Configuration(changeover=method), day  # type: ignore[arg-type]


def _plans() -> Iterator[tuple[str, Json]]:
    for name, setting, day in _settings():
        steps = (*plan(setting, day), *loop_steps(setting, day))
        yield f"plan/{name}", {step.key: mark(write(step)) for step in steps}


def _maps() -> Iterator[tuple[str, Json]]:
    for name, setting, day in _settings():
        yield f"map/{name}", mark(write(mode_map(setting, today_c=day.outdoor_c, outdoor_rh=day.outdoor_rh)))


def _weathers() -> Iterator[tuple[str, Json]]:
    for zone in ZONES:
        yield f"weather/{zone}", mark(write(synthetic_year(zone)))


def _years() -> Iterator[tuple[str, Json]]:
    for zone in ZONES:
        yield f"year/{zone}", small(write(hours_of_year(synthetic_year(zone), zone)))


def _charts() -> Iterator[tuple[str, Json]]:
    yield "chart/ordinary", mark(write(chart()))
    yield "chart/high", mark(write(chart(-20.0, 50.0, 0.02, 80_000.0, "US")))


def _tables() -> Iterator[tuple[str, Json]]:
    yield "tables/all", {key: mark(value) for key, value in tables().items()}


def of_calculations(examples: dict[str, Json]) -> Json:
    """The examples of the calculations, to six figures."""
    return {name: small(calculation.run(name, given)["result"]) for name, given in examples.items() if name != "air.chart"}


def main() -> None:
    """Write the answers as they are now."""
    from tests.core.test_calculation import EXAMPLES

    answers = {**dict(questions()), "calculations": of_calculations(EXAMPLES)}
    lines = ",\n".join(f"{json.dumps(name)}: {json.dumps(answer, ensure_ascii=False)}" for name, answer in answers.items())
    KEPT.write_text("{\n" + lines + "\n}\n")


if __name__ == "__main__":
    main()
