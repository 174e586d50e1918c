"""Logger files, what was logged, and exports: in once, at their station, out in the reader's units and clock."""

from __future__ import annotations

import csv
import io
import json
import threading
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from fentro_core.device import answer as answer_of
from fentro_core.measuring.logger_file import FileMapping, MappedColumn
from fentro_server.measuring import logger_files, samples
from fentro_server.measuring.models import ColumnMapping, Sample, Series
from tests.server.apart import in_a_loop
from tests.server.conftest import House, add, new_entry, signed_in

START = datetime(2026, 7, 1, 10, tzinfo=UTC)


# logger files

LINES = "time,Return temp (C),Supply temp (F)\n" + "".join(
    f"2026-07-01 10:00:{n:02d},{24 + n / 10},{55 + n / 10}\n" for n in range(20)
)


def columns(**more: Any) -> dict[str, Any]:
    return {
        "time_columns": [0],
        "time_format": "iso",
        "columns": [
            {"index": 1, "quantity": "dry_bulb", "unit": "degC", "station": "return", **more},
            {"index": 2, "quantity": "dry_bulb", "unit": "degF", "station": "supply"},
        ],
    }


def bring(client: Client, house: House, content: str, mode: str, mapping: Any = None) -> Any:
    sent = {
        "file": SimpleUploadedFile("log.csv", content.encode("utf-8-sig"), content_type="text/csv"),
        "mapping": json.dumps(mapping or columns()),
        "utc_offset_min": "120",
        "mode": mode,
    }
    answer = client.post(f"/api/v1/visits/{house.visit.pk}/logger-files", sent)
    if not answer.streaming:
        return answer

    async def read() -> list[dict[str, Any]]:
        return [json.loads(part) async for part in answer.streaming_content]

    return in_a_loop(read)[-1]


@pytest.mark.django_db(transaction=True)
def test_a_file_is_looked_at_checked_and_brought_in_once(house: House) -> None:
    client = signed_in(house.people["technician"])
    look = f"/api/v1/visits/{house.visit.pk}/logger-files/look"
    first = client.post(look, {"file": SimpleUploadedFile("log.csv", LINES.encode())}).json()
    assert [column["unit"] for column in first["layout"]["columns"]] == ["", "degC", "degF"]
    assert first["mapping"] is None
    checked = bring(client, house, LINES, "check")
    assert (checked["rows"], checked["bad"], checked["added"], Sample.objects.count()) == (20, 0, 0, 0)
    assert bring(client, house, LINES, "all")["added"] == 40
    assert bring(client, house, LINES, "all")["added"] == 0, "the same file twice adds nothing"
    supply = Series.objects.get(station="supply")
    found = Sample.objects.filter(series=supply).order_by("at").first()
    assert found is not None
    assert found.value == pytest.approx((55 - 32) / 1.8)
    assert found.at == datetime(2026, 7, 1, 8, tzinfo=UTC), "the logger's clock is two hours ahead"
    again = client.post(look, {"file": SimpleUploadedFile("log.csv", LINES.encode())}).json()
    assert again["mapping"]["columns"][1]["station"] == "supply", "mapped once, remembered"


@pytest.mark.django_db(transaction=True)
def test_bad_lines_hold_up_all_or_only_themselves(house: House) -> None:
    client = signed_in(house.people["technician"])
    broken = LINES + "2026-07-01 10:01:00,--,55\n2026-07-01 10:01:01,24\n"
    refused = bring(client, house, broken, "all")
    assert refused["event"] == "refused"
    assert "2 lines" in refused["detail"]
    assert (Sample.objects.count(), Series.objects.count(), ColumnMapping.objects.count()) == (0, 0, 0)
    good = bring(client, house, broken, "good")
    assert [line["line"] for line in good["bad_lines"]] == [22, 23]
    assert Sample.objects.count() == 40


@pytest.mark.django_db(transaction=True)
def test_a_stray_quotation_mark_and_an_endless_line_cost_themselves_only(house: House) -> None:
    lines = LINES.splitlines()
    lines[3] = lines[3].replace("24.2", '"24.2')
    lines[7] = "," * 3_000_000
    good = bring(signed_in(house.people["technician"]), house, "\n".join(lines) + "\n", "good")
    assert [line["line"] for line in good["bad_lines"]] == [4, 8]
    assert "quotation mark" in good["bad_lines"][0]["reason"]
    assert "too long" in good["bad_lines"][1]["reason"]
    assert Sample.objects.count() == 36


@pytest.mark.django_db(transaction=True)
def test_a_stopped_import_leaves_nothing(house: House) -> None:
    long = "time,temp\n" + "".join(f"2026-07-01 {n // 3600:02d}:{n // 60 % 60:02d}:{n % 60:02d},24\n" for n in range(30_000))
    mapping = FileMapping((0,), "iso", (MappedColumn(1, "dry_bulb", "degC", "return"),))
    bringing = logger_files.Bringing(house.visit, logger_files.opened(io.BytesIO(long.encode())), mapping, 0, "good")
    worker = threading.Thread(target=bringing.run)
    worker.start()
    assert bringing.events.get()["event"] == "progress"
    bringing.stop.set()
    worker.join(20)
    events = []
    while (event := bringing.events.get()) is not None:
        events.append(event["event"])
    assert events[-1] == "stopped"
    assert Sample.objects.count() == 0


@pytest.mark.parametrize(
    ("mapping", "path"),
    [
        (columns(station="moon"), "mapping.columns.0.station"),
        (columns(quantity="static_pressure", unit="Pa"), "mapping.columns.0.quantity"),
        (columns(instrument="nobody"), "mapping.columns.0.instrument"),
        (columns(index="x"), "mapping.columns.0.index"),
        ("no mapping", "mapping"),
    ],
)
def test_a_bad_mapping_is_refused_at_its_field(house: House, mapping: Any, path: str) -> None:
    answer = bring(signed_in(house.people["technician"]), house, LINES, "all", mapping)
    assert answer.status_code == 422
    assert answer.json()["refusals"][0]["path"] == path


def test_a_letter_is_no_logger_file(house: House) -> None:
    look = f"/api/v1/visits/{house.visit.pk}/logger-files/look"
    answer = signed_in(house.people["technician"]).post(look, {"file": SimpleUploadedFile("a.csv", b"Dear customer")})
    assert answer.status_code == 422
    assert "No table" in answer.json()["detail"]


# exports


def exported(client: Client, house: House, what: str, how: str = "") -> list[dict[str, str]]:
    answer = client.get(f"/api/v1/visits/{house.visit.pk}/{what}.csv{how}")

    async def read() -> str:
        return b"".join([part async for part in answer.streaming_content]).decode("utf-8-sig")

    return list(csv.DictReader(io.StringIO(in_a_loop(read))))


@pytest.mark.django_db(transaction=True)
def test_readings_and_samples_go_out_as_csv(house: House) -> None:
    client = signed_in(house.people["technician"])
    body = {"station": "return", "quantity": "dry_bulb", "value": 75.2, "unit": "degF", "instrument": str(house.instrument.pk)}
    wrong, right = new_entry(body=body), new_entry(body={**body, "value": 76.1})
    add(client, house.visit, wrong, {**right, "replaces": wrong["id"]})
    first, second = exported(client, house, "readings")
    assert (first["state"], second["state"]) == ("replaced", "stands")
    assert (first["value_as_typed"], first["unit_as_typed"], first["value_si"]) == ("75.2", "degF", "24")
    assert first["instrument"] == "Probe"
    samples.add([(samples.series_of(house.visit, samples.Channel("return", 1, "dry_bulb", None, "file")), START, 24.0)])
    assert [row["value_si"] for row in exported(client, house, "samples")] == ["24"]
    (sample,) = exported(client, house, "samples", "?units=US&offset_min=-360")
    assert (sample["value"], sample["unit"]) == ("75.2", "°F")
    assert sample["time"] == START.astimezone(ZoneInfo("Etc/GMT+6")).isoformat(), "by the reader's clock, with its offset"
    reading = exported(client, house, "readings", "?units=US")[1]
    assert (reading["value"], reading["unit"]) == ("76.1", "°F")


@pytest.mark.django_db(transaction=True)
def test_what_was_logged_is_shown_at_its_station_and_a_stretch_of_it_asked_for(house: House) -> None:
    client = signed_in(house.people["technician"])
    channel = samples.Channel("return", 2, "dry_bulb", str(house.instrument.pk), "file")
    number = samples.series_of(house.visit, channel)
    samples.add((number, START + timedelta(seconds=n), 20 + n / 1000) for n in range(1000))
    path = f"/api/v1/visits/{house.visit.pk}/logged"
    (series,) = client.get(path).json()
    assert (series["station"], series["point"], series["instrument"], series["count"]) == ("return", 2, "Probe", 1000)
    assert 200 <= len(series["course"]) <= 300
    assert series["course"][0] == [START.timestamp(), 20.0]
    span = {"first": (START + timedelta(seconds=10)).isoformat(), "last": (START + timedelta(seconds=19)).isoformat()}
    found = client.get(f"{path}/{series['id']}", span).json()
    assert found["values"] == pytest.approx([20 + n / 1000 for n in range(10, 20)])
    assert found["times_s"][0] == START.timestamp() + 10
    assert client.get(f"{path}/{series['id']}", {**span, "first": "2026-07-01T10:00:00"}).status_code == 422
    assert client.get(f"{path}/{2**70}", span).status_code == 404
    assert client.get(f"{path}/{series['id'] + 1}", span).status_code == 404


def test_a_file_read_by_the_core_alone_tells_what_the_server_tells(house: House) -> None:
    client, mapping = signed_in(house.people["technician"]), columns()
    page = client.get(f"/api/v1/visits/{house.visit.pk}").json()
    visit = {"head": page["head"], "entries": [], "instruments": []}
    asked = {"ask": "logger_file", **visit, "text": LINES, "mapping": mapping, "utc_offset_min": 120, "mode": "all"}
    answer = json.loads(answer_of(json.dumps(asked)))["answer"]
    there = bring(client, house, LINES, "check")
    assert {**answer["told"], "mode": "check", "added": 0} == there
    assert answer["told"]["added"] == 40
    assert [len(course) for course in answer["courses"]] == [20, 20]
    assert answer["courses"][1][0] == [datetime(2026, 7, 1, 8, tzinfo=UTC).timestamp(), pytest.approx((55 - 32) / 1.8)]
    look = json.loads(answer_of(json.dumps({"ask": "logger_look", "text": LINES})))["answer"]
    assert [column["unit"] for column in look["columns"]] == ["", "degC", "degF"]
    bad = {**asked, "text": LINES + "2026-07-01 10:01:00,--,55\n"}
    assert "can't be read" in json.loads(answer_of(json.dumps(bad)))["refusals"][0]["sentence"]["text"]
    for wrong in ({"station": ""}, {"station": "mixed"}, {"quantity": "pipe_temperature"}, {"instrument": "nobody's"}):
        changed = {**mapping, "columns": [{**mapping["columns"][0], **wrong}]}
        here = json.loads(answer_of(json.dumps({**asked, "mapping": changed})))["refusals"][0]
        refused = bring(client, house, LINES, "check", changed).json()["refusals"][0]
        assert (here["path"], here["sentence"]) == (refused["path"], refused["sentence"])
