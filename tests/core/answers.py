"""What the core answers to a wide set of questions, written small; ``python -m tests.core.answers`` renews the kept answers.

A formula has its own test. These see what holds the formulas together: an order, a limit, a doubt or a case left out changes
an answer here. Renew them only for a change that is meant, look at the difference, and say it in CHANGELOG.md.
"""

from __future__ import annotations

import copy
import dataclasses
import json
from collections.abc import Callable, Iterator
from hashlib import sha256
from math import exp
from pathlib import Path
from random import Random
from typing import Any

from bench.economizer import unit_of
from bench.examples import HELD, TUNED, thorough
from bench.unchanged import bench_documents, demo_documents, stable_id
from fentro_core.air import AirState, mix
from fentro_core.air.chart import chart
from fentro_core.air.mixing import Stream
from fentro_core.airflow.traverse import LOG_LINEAR, LOG_TCHEBYCHEFF, Duct, traverse_plan
from fentro_core.base import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.base.units import KINDS as UNIT_KINDS
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.economizer.configuration import Configuration, read_configuration
from fentro_core.economizer.mode_map import mode_map
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.places import POINTS
from fentro_core.economizer.proof.auditing import audit, signs_of_audit
from fentro_core.economizer.proof.day import Day, day_now
from fentro_core.economizer.proof.diagnosis import diagnose
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.running import channels
from fentro_core.economizer.proof.session import prove
from fentro_core.economizer.sensor_identity import Condition, Reference, sensor_identity
from fentro_core.economizer.year import hours_of_year
from fentro_core.instruments.instrument import ACCURACY_CLASSES
from fentro_core.instruments.matching import offsets, summary
from fentro_core.instruments.quantities import READABLE
from fentro_core.instruments.steadiness import steadiness
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.reference import tables
from fentro_core.system.kinds import KINDS, read_nameplate
from fentro_core.visit.work_up import work_up
from fentro_core.weather.year import read_epw, synthetic_year, write_epw
from fentro_standins.plant.visit import visit
from tests.core.bodies import BODIES, Takes, of_kind, reaches

Json = Any
KEPT = Path(__file__).with_name("answers.json")
METHODS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")
ZONES = ("0A", "1A", "2B", "3A", "4B", "4C", "5B", "6A", "7", "8")
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
        answer[f"{name}.likely"] = [f"{each['key']}:{each['chance']:.3g}" for each in phase["findings"][:3]]
        answer |= {f"{name}.{key}": mark(value) for key, value in phase.items()}
    try:
        answer |= {f"economizer.{key}": mark(value) for key, value in write(economizer_page(snapshot)).items()}
    except Refused as refused:
        answer["economizer"] = str(refused)
    return answer


def questions(group: str = "") -> Iterator[tuple[str, Json]]:
    """Questions of a group, or all, by name, with their answers."""
    for name, ask in ASKERS.items():
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


def _fogs() -> Iterator[tuple[str, Json]]:
    """Mixtures that hold drops, or ice."""
    for warm, cold in ((30.0, -15.0), (-2.0, -30.0), (20.0, 2.0), (35.0, 5.0), (10.0, -35.0)):
        for share in (0.2, 0.5, 0.8):
            streams = (Stream(AirState.from_rh(warm, 0.98), share), Stream(AirState.from_rh(cold, 0.95), 1 - share))
            yield f"fog/{warm}/{cold}/{share}", small(write(mix(streams)))


def _charts() -> Iterator[tuple[str, Json]]:
    yield "chart/ordinary", mark(write(chart()))
    yield "chart/high", mark(write(chart(-20.0, 50.0, 0.02, 80_000.0, "US")))


def _tables() -> Iterator[tuple[str, Json]]:
    yield "tables/all", {key: mark(value) for key, value in tables().items()}


def _rows() -> Iterator[tuple[str, Json]]:
    """What the core looks up: symptoms, causes, what can be read, tests of a plan; every figure of each row."""
    yield "table/symptoms", {key: small(write(each)) for key, each in SYMPTOMS.items()}
    yield "table/causes", {key: [mark(sorted(map(str, each.shows))), each.mode, each.rare] for key, each in CAUSES.items()}
    yield "table/shows", {key: {sign: sorted(states) for sign, states in each.shows.items()} for key, each in CAUSES.items()}
    yield "table/sizes", {key: kind.most for key, kind in UNIT_KINDS.items()}
    yield "table/traverse", {"squares": small(LOG_TCHEBYCHEFF), "rounds": small(LOG_LINEAR)}
    yield "table/readable", {key: small(write(each)) for key, each in READABLE.items()}
    yield "table/accuracies", {key: small(write(given)) for key, (_, _, given) in ACCURACY_CLASSES.items()}
    yield "table/points", {key: [each.role, small(each.low), small(each.high)] for key, each in POINTS.items()}
    yield (
        "table/tests",
        {
            step.key: [
                small(each) for each in (step.settle_s, step.hold_s, step.allowed_s, step.ready_after_s, write(step.expected))
            ]
            for step in (*plan(Configuration(), Day()), *loop_steps(Configuration(), Day()))
        },
    )


def _stream(kind: str, every_s: float, count: int, random: Random) -> tuple[list[float], list[float]]:
    times = [every_s * n for n in range(count)]
    noise = [random.gauss(0.0, 0.02) for _ in times]
    shapes: dict[str, Callable[[float], float]] = {
        "still": lambda t: 24.0,
        "slow": lambda t: 24.0 + t * 0.25 / 600,
        "fast": lambda t: 24.0 + t * 2.0 / 600,
        "rest": lambda t: 14.0 + 6.0 * exp(-t / 150.0),
        "late": lambda t: 14.0 + 6.0 * exp(-t / 900.0),
        "jumps": lambda t: 24.0 + 0.5 * (int(t / 40) % 2),
    }
    return times, [shapes[kind](t) + n for t, n in zip(times, noise, strict=True)]


def _streams() -> Iterator[tuple[str, Json]]:
    """Streams of samples of several shapes, rates and lengths: steady or not, and when."""
    for kind in ("still", "slow", "fast", "rest", "late", "jumps"):
        for every_s, count in ((1.0, 600), (1.0, 200), (5.0, 40), (20.0, 9), (1.0, 3), (30.0, 7), (1.0, 170), (60.0, 12)):
            times, values = _stream(kind, every_s, count, Random(3))
            found = [small(write(steadiness(times, values, quantity))) for quantity in ("dry_bulb", "relative_humidity")]
            yield f"stream/{kind}/{every_s:g}s/{count}", found
    for count in (2, 3):
        series = {f"p{n}": [24.0 + 0.2 * n + each for each in _stream("still", 1.0, 120, Random(n))[1]] for n in range(count)}
        probes = summary(series)
        yield f"stream/match/{count}", [small(write(probes)), small(write(offsets(probes)))]


def _sensors() -> Iterator[tuple[str, Json]]:
    """Sensors in the air they claim, swapped, off by a little or much, with one to three conditions."""
    air = (
        {"outdoor": 5.0, "return": 22.0, "mixed": 17.0, "supply": 18.0},
        {"outdoor": 5.2, "return": 22.1, "mixed": 10.0, "supply": 11.0},
        {"outdoor": 5.1, "return": 22.0, "mixed": 19.0, "supply": 9.0},
    )
    claimed = {label: place for label, place in zip("ABCD", air[0], strict=True)}
    for off in (0.0, 0.7, 1.2, 4.0):
        for swapped in (False, True):
            for count in (1, 2, 3):
                hangs = {**claimed, **({"A": "return", "B": "outdoor"} if swapped else {})}
                conditions = tuple(
                    Condition(
                        str(n),
                        {label: air[n][place] + (off if label == "C" else 0.1) for label, place in hangs.items()},
                        {place: Reference(value, 0.3) for place, value in air[n].items()},
                    )
                    for n in range(count)
                )
                yield f"sensors/{off}/{swapped}/{count}", small(write(sensor_identity(conditions, claimed)))


def _proofs() -> Iterator[tuple[str, Json]]:
    """Whole proofs on simulated units: each test as it was seen and judged, and what they say together."""
    for number, hidden in enumerate(("", "stuck_damper", "slipped_linkage", "drifted_sensor", "low_limit_tied")):
        blind = unit_of(500 + number, hidden)
        unit = blind.unit
        unit.advance(600, 2)
        conditions = audit(unit, lambda seconds, unit=unit: unit.advance(seconds, 2.0), unit.reference, unit.hand)  # type: ignore[misc]
        today = day_now(channels(unit.points(), {}), Day())
        steps = plan(blind.planned, today)
        runs = list(prove(unit, steps, lambda seconds, unit=unit: unit.advance(seconds, 2.0), unit.hand))  # type: ignore[misc]
        answer: Json = {"conditions": mark(write(conditions))}
        for run in runs:
            said = verdict(run)
            answer[run.test] = [
                run.ended,
                small(run.seconds),
                small(run.reached_s),
                said.mark,
                mark(write(run)),
                mark(write(said)),
            ]
        signs = signs_of_audit(conditions) if conditions else None
        found = diagnose(runs, signs)
        likely = [[each.fault.key, small(each.sure), sorted(each.signs)] for each in found.suspects]
        yield f"proof/{hidden or 'sound'}", {**answer, "found": found.found, "sound": small(found.sound), "likely": likely}


EYES: dict[str, Json] = {"plus_minus": {}, "trace": [], "how": "watched"}
CONTROLLED = (
    *(("damper_read", {"position": at, "mixed_c": mixed}) for at, mixed in ((0.0, 21.6), (0.1, 20.4), (0.3, 17.0), (1.0, 5.6))),
    ("damper_read", {"position": 0.5, "outdoor_c": 21.4}),
    *(("point_read", {"terminal": f"AI-{n}", "shown_c": shown}) for n, shown in ((1, 18.0), (2, 6.1), (3, 21.0))),
    ("configuration", {}),
    ("plan_setting", {}),
    ("plan_setting", {"stage": "as_left", "number": 0.2}),
    ("outdoor_need", {}),
    ("intake", {}),
    ("alarm", {}),
    ("alarm_check", {}),
    *(("test_seen", {"test": test, "values": {"damper_position": at}}) for test in ("minimum", "cool") for at in (0.2, 0.98)),
    ("test_seen", {"test": "minimum", "values": {"damper_position": 0.24}, **EYES}),
    ("test_seen", {"test": "minimum", "values": {}, "ended": "tripped"}),
    ("test_seen", {"test": "cool", "asked": ["Dampers open", "Compressor off"], "looks": {"Dampers open": True}}),
)
"""What is written down at a unit with a controller: kind, and what differs from the body in bodies.py."""


def _controlled(document: Json) -> Json:
    """A rooftop visit with every kind of entry about its controller added, some of it twice and not in agreement."""
    lines = [{"terminal": f"AI-{n}", "name": name, "place": name} for n, name in enumerate(("mixed", "outdoor", "return"), 1)]
    document = copy.deepcopy(document)
    entries = [("point_list", {"lines": lines, "name": "list.csv"}), *CONTROLLED]
    for number, (kind, other) in enumerate(entries):
        body = copy.deepcopy(BODIES[kind])
        (body["seen"] if kind == "test_seen" else body).update(copy.deepcopy(other))
        phase = "as_left" if number % 5 == 4 else "as_found"
        at = f"2026-07-01T12:{number:02}:00+00:00"
        document["entries"].append({"id": stable_id(kind, number), "kind": kind, "at": at, "phase": phase, "body": body})
    return document


def _short(document: Json) -> Json:
    """One word for a visit's answers; the field where it is refused."""
    try:
        snapshot = read_snapshot(document)
        found = work_up(snapshot)
        said = [mark(write(found.phases)), mark(write(found.comparison))]
        return [*said, mark(write(economizer_page(snapshot)))] if document["system"]["kind"] == "packaged_rooftop" else said
    except Refused as refused:
        return refused.path


def _unlike() -> Iterator[tuple[str, Json]]:
    """Visits with one entry missing, and with one number nothing, half, half as much again, or its opposite."""
    of_demo = dict(demo_documents())
    of_demo["demo/controlled"] = _controlled(of_demo["demo/rooftop-now"])
    for name in ("controlled", "rooftop-filter", "rooftop-2-sensors", "furnace-leak", "furnace-now", "heat-pump-close"):
        document = of_demo[f"demo/{name}"]
        random = Random(name)
        entries = document["entries"]
        whole = name == "controlled"
        for index in range(len(entries)) if whole else sorted(random.sample(range(len(entries)), 8)):
            yield f"unlike/{name}/without/{index}", _short({**document, "entries": [*entries[:index], *entries[index + 1 :]]})
        numbers = [(index, path) for index, entry in enumerate(entries) for path in leaves(entry["body"])]
        for index, path in sorted(random.sample(numbers, min(len(numbers), 45 if whole else 10))):
            found = []
            for factor in (0.0, 0.5, 1.5, -1.0):
                other = with_other(entries[index]["body"], path, lambda was, by=factor: was * by)  # type: ignore[misc]
                changed = [*entries[:index], {**entries[index], "body": other}, *entries[index + 1 :]]
                found.append(_short({**document, "entries": changed}))
            yield f"unlike/{name}/{index}/{'.'.join(map(str, path))}", found


def _files() -> Iterator[tuple[str, Json]]:
    """Weather files: whole, with hours, a day and the year's ends missing, with values no weather has."""
    lines = write_epw(synthetic_year("4A"), 230.0).splitlines()
    yield "file/whole", [mark(lines), mark(write(read_epw("\n".join(lines))))]
    for name, first, last in (("night", 40, 47), ("march", 1430, 1460), ("end", 8750, 8768), ("begin", 8, 20)):
        yield f"file/without/{name}", mark(write(read_epw("\n".join([*lines[:first], *lines[last:]]))))
    for column, value in ((6, "99.9"), (6, "-71"), (8, "999"), (8, "0"), (2, "31")):
        cells = lines[3000].split(",")
        cells[column] = value
        try:
            found: Json = write(read_epw("\n".join([*lines[:3000], ",".join(cells), *lines[3001:]])))
        except Refused as refused:
            found = [refused.path]
        yield f"file/{column}/{value}", mark(found)


VARIED = (0.5, 0.9, 0.98, 1.03, 1.2, 2.0)
VARIED_LITTLE = (0.9, 2.0)
"""What goes through the hours of nights and years takes its time."""


def leaves(given: Json, path: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    """Where numbers stand in an input."""
    if isinstance(given, dict):
        for key, inner in given.items():
            yield from leaves(inner, (*path, key))
    elif isinstance(given, list):
        for index, inner in enumerate(given[:6]):
            yield from leaves(inner, (*path, index))
    elif isinstance(given, int | float) and not isinstance(given, bool):
        yield path


def with_other(given: Json, path: tuple[str | int, ...], change: Callable[[float], float]) -> Json:
    """The input with one number changed."""
    other = copy.deepcopy(given)
    at = other
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = change(at[path[-1]])
    return other


def _varied() -> Iterator[tuple[str, Json]]:
    """Every calculation with each of its numbers a little and a good deal off: one mark for each number."""
    from tests.core.test_calculation import EXAMPLES

    for name, given in EXAMPLES.items():
        if name == "air.chart":
            continue
        answer = {}
        for path in leaves(given):
            answers: list[Json] = []
            for factor in VARIED_LITTLE if name.startswith("ventilation.") else VARIED:
                try:
                    found = calculation.run(name, with_other(given, path, lambda was, by=factor: was * by))  # type: ignore[misc]
                    answers.append([small(found["result"]), small(found["shares"])])
                except Refused as refused:
                    answers.append(refused.path)
            answer[".".join(map(str, path))] = mark(answers)
        yield f"varied/{name}", answer


def _limits() -> Iterator[tuple[str, Json]]:
    """How far every number goes that is taken from outside: of entries, nameplates, the configuration, calculations."""
    for name, takes, given in limited():
        yield f"limits/{name}", reaches(takes, given)


def limited() -> Iterator[tuple[str, Takes, Json]]:
    """Whatever takes numbers from outside, by name, with an input that it takes."""
    from tests.core.test_calculation import EXAMPLES

    def taken(read: Callable[[Json], object]) -> Takes:
        def takes(given: Json) -> bool:
            try:
                read(given)
            except Refused:
                return False
            return True

        return takes

    for kind, body in BODIES.items():
        if kind != "configuration":
            yield f"entry/{kind}", taken(lambda given, kind=kind: read_entry(of_kind(kind, given))), body  # type: ignore[misc]
    yield "configuration", taken(read_configuration), BODIES["configuration"]["document"]
    for kind in KINDS:
        yield f"plate/{kind}", taken(lambda given, kind=kind: read_nameplate(kind, given)), full_plate(kind)  # type: ignore[misc]
    for name, given in EXAMPLES.items():
        if name not in ("air.chart", "measuring.steadiness", "measuring.probe_match", "measuring.match_summary"):
            yield name, taken(lambda given, name=name: calculation.run(name, given)), given  # type: ignore[misc]


def full_plate(kind: str) -> Json:
    """A nameplate of this kind with every number on it, in the middle of what is possible."""
    made = KINDS[kind].nameplate
    numbers = {}
    for each in dataclasses.fields(made):
        if "float" in str(each.type):
            most = made.MOST.get(each.name)
            numbers[each.name] = 0.7 if each.name.endswith(("_ratio", "efficiency")) else (most or 10.0) / 40
    try:
        read_nameplate(kind, numbers)
    except Refused:
        numbers = {key: value for key, value in numbers.items() if _alone(kind, key, value)}
    return numbers


def _alone(kind: str, key: str, value: float) -> bool:
    try:
        read_nameplate(kind, {key: value})
    except Refused:
        return False
    return True


def _traverses() -> Iterator[tuple[str, Json]]:
    """Plans for ducts of every number of points, and planes near and far from a bend."""
    for side in (0.3, 0.76, 0.8, 0.92, 1.4):
        for other in (0.2, 0.8, 1.0):
            for after, before in ((1.0, 0.2), (9.0, 3.0), (None, None)):
                duct = Duct("rectangular", width_m=side, height_m=other, wall_m=0.02, after_m=after, before_m=before)
                yield f"traverse/{side}x{other}/{after}", mark(write(traverse_plan(duct)))
    for diameter in (0.1, 0.2, 0.26, 0.31, 0.5, 1.2):
        yield (
            f"traverse/round/{diameter}",
            mark(write(traverse_plan(Duct("round", diameter_m=diameter, after_m=2.0, before_m=0.5)))),
        )


ASKERS: dict[str, Callable[[], Iterator[tuple[str, Json]]]] = {
    "demo": _demo,
    "tuned": _tuned,
    "thorough": _thorough,
    "plan": _plans,
    "map": _maps,
    "weather": _weathers,
    "year": _years,
    "chart": _charts,
    "fog": _fogs,
    "tables": _tables,
    "table": _rows,
    "stream": _streams,
    "sensors": _sensors,
    "proof": _proofs,
    "varied": _varied,
    "limits": _limits,
    "traverse": _traverses,
    "unlike": _unlike,
    "file": _files,
}
"""Groups of questions; a test asks each."""


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
