"""Does a rebuilding change an answer? ``python -m bench.unchanged write FILE`` before it, ``compare FILE`` after it.

Every demo visit, every visit of the bench (both sets, thorough ones in both phases too) and the blind proof are worked out and
kept with their documents, as gzipped JSON. `compare` works the same documents out again and prints every path that differs.
"""

from __future__ import annotations

import gzip
import json
import sys
import uuid
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

from bench import economizer as proof_bench
from bench.examples import HELD, TUNED, thorough
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.economizer.page import economizer_page
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from fentro_server.demo import scenario
from fentro_standins.plant.visit import visit

SEEDS = 5
DAY = datetime(2026, 7, 1, 9, tzinfo=UTC)
MOST_SHOWN = 40

Json = dict[str, Any]


def stable_id(*words: object) -> str:
    """The same id every time."""
    return str(uuid.uuid5(uuid.UUID(int=0), "/".join(map(str, words))))


def demo_documents() -> Iterator[tuple[str, Json]]:
    """The demo's visits as snapshots, on a fixed day."""
    instruments = []
    for key, fields in scenario.INSTRUMENTS.items():
        due = DAY + timedelta(days=fields["due"])
        kept = {name: fields[name] for name in ("name", "kind", "serial", "accuracy")}
        instruments.append({"id": stable_id(key), **kept, "calibration_due_on": due.date().isoformat()})
    for demo in scenario.VISITS:
        system = scenario.SYSTEMS[demo.system]
        opened = DAY - timedelta(days=demo.days_ago)
        entries = []
        for index, (minute, kind, body, phase) in enumerate(demo.steps):
            named = {**body, "instrument": stable_id(body["instrument"])} if "instrument" in body else body
            at = (opened + timedelta(minutes=minute)).isoformat()
            entries.append({"id": stable_id(demo.key, index), "kind": kind, "at": at, "phase": phase, "body": named})
        yield (
            f"demo/{demo.key}",
            {
                "site": scenario.SITES[system["site"]],
                "system": {key: system[key] for key in ("name", "kind", "nameplate")},
                "visit": {"purpose": demo.purpose},
                "instruments": instruments,
                "entries": entries,
            },
        )


def bench_documents() -> Iterator[tuple[str, Json]]:
    """The bench's visits; the thorough ones once more with everything read again as left."""
    for name, (faulty, sound) in (("tuned", TUNED), ("held", HELD)):
        for case in (*faulty, *sound):
            for seed in range(SEEDS):
                yield f"{name}/{case.key}/{seed}", visit(case, seed)
            document = visit(thorough(case), 99)
            again = [
                {**each, "id": stable_id(each["id"]), "phase": "as_left"}
                for each in document["entries"]
                if each["kind"] == "reading"
            ]
            yield f"{name}/{case.key}/both", {**document, "entries": [*document["entries"], *again]}


def worked(document: Json) -> Json:
    """A visit's answers, and its economizer's, as JSON."""
    snapshot = read_snapshot(document)
    answer: Json = {"work_up": shape(write(work_up(snapshot)))}
    try:
        page = write(economizer_page(snapshot))
        renamed = {"methods": "schools", "method_reason": "school_reason", "found": "convicted"}
        answer["economizer"] = {renamed.get(key, key): value for key, value in page.items()}
    except Refused as refused:
        answer["economizer"] = refused.sentence.text
    return answer


def shape(answer: Json) -> Json:
    """One shape for both sides: names as they were before the parts got folders of their own (CHANGELOG, "A room for each part").

    The order in which as left is compared with as found, and in which followed numbers are listed, is that of the parts now.
    """
    if "next_station" not in answer:
        for phase in answer["phases"]:
            phase["indices"] = dict(sorted(phase["indices"].items()))
        answer["comparison"].sort(key=lambda change: change["key"])
        return answer
    for fresh in ("parts", "next_station", "diagnosed"):
        answer.pop(fresh)
    answer["fan_taps"] = answer.pop("speed_taps")
    answer["comparison"] = sorted(answer["comparison"], key=lambda change: change["key"])
    for station in answer["path"]["stations"]:
        station.pop("along")
    for phase in answer["phases"]:
        pages = phase.pop("pages")
        flow = pages["airflow"] or pages["ventilation"] or {"methods": [], "chosen": "", "traverses": []}
        cooling = pages["cooling"] or {"targets": [], "four_way": None}
        phase["airflow_methods"], phase["airflow_chosen"], phase["traverses"] = flow["methods"], flow["chosen"], flow["traverses"]
        phase["schools"], phase["four_way"] = cooling["targets"], cooling["four_way"]
        phase["statics"], phase["leak"], phase["heating"] = pages["statics"], pages["leakage"], pages["heating"]
        if phase["statics"] and not phase["statics"]["taps"]:
            phase["statics"] = None
        phase.pop("marks")
        phase["rail"] = phase.pop("verdicts")
        phase["indices"] = dict(sorted(phase.pop("followed").items()))
        for line in phase["rail"]:
            line["opens"] = {"leakage": "leak"}.get(line["opens"], line["opens"])
    return answer


def proofs() -> Iterator[tuple[str, Json]]:
    """The blind proof of both sets."""
    for name, first in (("tuned", proof_bench.TUNED), ("held", proof_bench.HELD)):
        for index, blind in enumerate(proof_bench.blind_set(first)):
            found = proof_bench.proved(blind)
            suspects = [[each.fault.key, each.sure, list(each.signs)] for each in found.suspects]
            yield f"proof/{name}/{index}", {"suspects": suspects, "convicted": found.found, "sound": found.sound}


def differences(before: Any, after: Any, path: str = "") -> Iterator[str]:
    """Paths at which two JSON values differ; numbers to 1 part in 10^9."""
    if isinstance(before, dict) and isinstance(after, dict):
        for key in [*before, *(key for key in after if key not in before)]:
            if key not in before or key not in after:
                yield f"{path}.{key}: only {'after' if key in after else 'before'}"
            else:
                yield from differences(before[key], after[key], f"{path}.{key}")
    elif isinstance(before, list) and isinstance(after, list):
        if len(before) != len(after):
            yield f"{path}: {len(before)} before, {len(after)} after"
        for index, (one, other) in enumerate(zip(before, after, strict=False)):
            yield from differences(one, other, f"{path}[{index}]")
    elif isinstance(before, int | float) and isinstance(after, int | float) and not isinstance(before, bool):
        if abs(before - after) > 1e-9 * max(abs(before), abs(after), 1e-6):
            yield f"{path}: {before} before, {after} after"
    elif before != after:
        yield f"{path}: {before!r} before, {after!r} after"


def main(words: list[str]) -> int:
    """Write or compare; 1 when something differs."""
    command, file = words
    if command == "write":
        visits = {name: {"document": document} for name, document in (*demo_documents(), *bench_documents())}
        for each in visits.values():
            each["answer"] = worked(each["document"])
        with gzip.open(file, "wt") as out:
            json.dump({"visits": visits, "proofs": dict(proofs())}, out)
        print(f"{len(visits)} visits kept")
        return 0
    with gzip.open(file, "rt") as kept_file:
        kept = json.load(kept_file)
    found: list[str] = []
    for name, each in kept["visits"].items():
        after = json.loads(json.dumps(worked(each["document"])))
        before = {**each["answer"], "work_up": shape(each["answer"]["work_up"])}
        found += [f"{name}{line}" for line in differences(before, after)]
    for name, answer in proofs():
        found += [f"{name}{line}" for line in differences(kept["proofs"][name], json.loads(json.dumps(answer)))]
    print("\n".join(found[:MOST_SHOWN]))
    print(f"{len(kept['visits'])} visits and {len(kept['proofs'])} proofs worked out again: {len(found)} differences")
    return 1 if found else 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
