"""Live probes through a source, logger files in and CSV out, instruments: what is kept, refused, stopped."""

from __future__ import annotations

import asyncio
import csv
import io
import json
import threading
import uuid
from collections.abc import AsyncIterator, Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import Client
from django.utils import timezone

from fentro_core.measuring.logger_file import FileMapping, MappedColumn
from fentro_server.instruments.models import Instrument
from fentro_server.measuring import live, logger_files, samples
from fentro_server.measuring.live import Who, situation_of
from fentro_server.measuring.live_state import LiveState, Place, Situation
from fentro_server.measuring.models import ColumnMapping, Sample, Series
from fentro_server.measuring.probe_source import Frame, SourceGone, SystemPlace
from tests.server.apart import apart, in_a_loop
from tests.server.conftest import House, add, new_entry, post, signed_in

START = datetime(2026, 7, 1, 10, tzinfo=UTC)


def frame(second: float, lost: tuple[str, ...] = (), **values: float) -> Frame:
    shown = {serial.replace("_", "-"): {"dry_bulb": value} for serial, value in values.items()}
    return Frame(START + timedelta(seconds=second), shown, frozenset(lost), {"P-1": 0.1})


@pytest.fixture
def house(ours: House) -> House:
    ours.instrument.serial = "P-1"
    ours.instrument.save()
    return ours


def assigned(house: House, station: str = "supply") -> dict[str, Any]:
    return new_entry("assignment", {"instrument": str(house.instrument.pk), "station": station})


# the state: what is shown and kept


def state_of(house: House) -> LiveState:
    situation, _ = situation_of(house.visit.pk)
    return LiveState(situation)


def test_a_probe_at_a_station_is_judged_and_kept(house: House) -> None:
    earlier = {"at": START.isoformat()}
    run = {**new_entry("run", {"event": "started"}), **earlier}
    add(signed_in(house.people["technician"]), house.visit, run, {**assigned(house), **earlier})
    state = state_of(house)
    state.connected = True
    state.take([frame(1200 + n, P_1=13.0 + 0.01 * (n % 2), stranger=50.0) for n in range(200)])
    picture = state.picture()
    (channel,) = picture["channels"]
    assert (channel["station"], channel["state"], channel["low_battery"]) == ("supply", "steady", True)
    assert channel["mean"] == pytest.approx(13.005, abs=0.01)
    assert len(channel["samples"]) == 200
    assert len(state.keep()) == 200
    assert state.keep() == [], "kept once"
    assert state.picture()["channels"][0]["samples"] == [], "sent once"


def test_the_last_value_of_a_lost_probe_is_not_shown(house: House) -> None:
    state = state_of(house)
    state.connected = True
    state.take([frame(n, P_1=24.0) for n in range(10)])
    assert state.picture()["channels"][0]["value"] == 24.0
    state.take([frame(11, lost=("P-1",))])
    lost = state.picture()["channels"][0]
    assert (lost["lost"], lost["value"], lost["mean"]) == (True, None, None)
    state.take([frame(12, P_1=24.1)])
    assert state.picture()["channels"][0]["value"] == 24.1
    state.connected = False
    assert state.picture()["channels"][0]["value"] is None, "the same when the gateway is gone"


def test_a_probe_hung_elsewhere_begins_anew(house: House) -> None:
    state = state_of(house)
    state.take([frame(n, P_1=24.0) for n in range(10)])
    moved = Situation(state.situation.instruments, {str(house.instrument.pk): Place("supply")}, {"supply": "Supply"}, START)
    state.move(moved)
    assert state.picture()["channels"] == []
    state.take([frame(20, P_1=13.0)])
    assert [each[0].station for each in state.keep()] == ["supply"], "nothing from the hand is kept"


def test_a_flow_that_moves_is_watched_and_breaks_nothing(house: House) -> None:
    state = state_of(house)
    state.connected = True
    state.take([Frame(START + timedelta(seconds=n), {"P-1": {"airflow": 0.2 + n / 1000, "voltage": 240.0}}) for n in range(300)])
    assert {channel["state"] for channel in state.picture()["channels"]} == {"steady"}


def test_what_was_shown_before_it_was_hung_belongs_to_another_place(house: House) -> None:
    hung = {**assigned(house), "at": (START + timedelta(seconds=5)).isoformat()}
    add(signed_in(house.people["technician"]), house.visit, hung)
    state = state_of(house)
    state.take([frame(n, P_1=24.0) for n in range(10)])
    assert [at for _, at, _ in state.keep()] == [START + timedelta(seconds=n) for n in range(5, 10)]


def test_impossible_samples_are_not_taken(house: House) -> None:
    state = state_of(house)
    state.take([frame(1, P_1=999.0)])
    assert state.picture()["channels"] == []


# the stream


class Source:
    """A source that the test feeds; it can go away."""

    name = "fed by the test"

    def __init__(self, *rounds: list[Frame]) -> None:
        self.rounds = list(rounds)
        self.asked: list[datetime | None] = []
        self.placed: list[SystemPlace] = []

    async def probes(self) -> list[dict[str, Any]]:
        return []

    async def place(self, where: SystemPlace) -> None:
        self.placed.append(where)

    async def scene(self, change: Mapping[str, Any] | None = None) -> dict[str, Any] | None:
        return None

    async def frames(self, since: datetime | None, back_s: float) -> AsyncIterator[list[Frame]]:
        self.asked.append(since)
        if not self.rounds:
            await asyncio.sleep(60)
        yield self.rounds.pop(0)
        await asyncio.sleep(0.5)
        raise SourceGone


def watched(house: House, source: Source, seconds: float) -> list[tuple[str, Any]]:
    """Events of some seconds."""

    async def collect() -> list[tuple[str, Any]]:
        found = []
        events = live.events(house.visit.pk, source, who(house))
        try:
            async with asyncio.timeout(seconds):
                async for text in events:
                    name, data = text.decode().strip().split("\n")
                    found.append((name[7:], json.loads(data[6:])))
        except TimeoutError:
            pass
        await events.aclose()
        return found

    return in_a_loop(collect)


@pytest.mark.django_db(transaction=True)
def test_samples_are_kept_and_what_was_missed_is_asked_for_again(house: House) -> None:
    add(signed_in(house.people["technician"]), house.visit, {**assigned(house), "at": START.isoformat()})
    first, second = [frame(n, P_1=13.0) for n in range(5)], [frame(n, P_1=13.1) for n in range(3, 9)]
    source = Source(first, second)
    events = watched(house, source, 4.2)
    assert source.placed[0].places == {"P-1": {"station": "supply", "point": 1}}
    assert source.asked[:2] == [None, START + timedelta(seconds=4)]
    states = [data["connected"] for name, data in events if name == "picture"]
    assert True in states
    assert False in states[states.index(True) :], "said at once when the source went away"
    assert 5 <= len(states) <= 4.2 / 0.4 + 2, "one to four a second"
    kept = list(Sample.objects.order_by("at").values_list("value", flat=True))
    assert kept == [13.0] * 5 + [13.1] * 4
    again = dict(watched(house, Source(), 1.0))
    assert len(next(iter(again["kept"].values()))) == 9, "the trend is there after a reload"


def who(house: House, role: str = "technician") -> Who:
    person = house.people[role]
    return Who(person.pk, person.session_epoch, role != "viewer")


async def until_it_ends(house: House, source: Source, change: Any, seconds: float = 6.0) -> float:
    """How long a stream goes on after a change in the database."""
    begun = 0.0
    async with asyncio.timeout(seconds):
        async for text in live.events(house.visit.pk, source, who(house)):
            if text.startswith(b"event: picture") and not begun:
                await asyncio.to_thread(apart, change)
                begun = asyncio.get_running_loop().time()
    return asyncio.get_running_loop().time() - begun


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("end", ["signed out everywhere", "switched off", "company ended"])
def test_a_stream_ends_with_the_right_to_look(house: House, end: str) -> None:
    person = house.people["technician"]
    changes = {
        "signed out everywhere": person.sign_out_everywhere,
        "switched off": lambda: type(person).objects.filter(pk=person.pk).update(is_active=False),
        "company ended": lambda: type(house.company).objects.filter(pk=house.company.pk).update(is_active=False),
    }
    assert in_a_loop(lambda: until_it_ends(house, Source(), changes[end])) < 2 * live.LOOK_S
    if end != "signed out everywhere":
        assert signed_in(person).get("/api/v1/day").status_code == 401


@pytest.mark.django_db(transaction=True)
def test_a_viewers_look_stores_nothing_until_somebody_who_may_write_looks_too(house: House) -> None:
    add(signed_in(house.people["technician"]), house.visit, {**assigned(house), "at": START.isoformat()})

    async def looked(*roles: str) -> None:
        source = Source([frame(n, P_1=13.0) for n in range(5)])
        streams = [live.events(house.visit.pk, source, who(house, role)) for role in roles]
        for stream in streams:
            await anext(stream)
        await asyncio.sleep(2.2)
        for stream in streams:
            await stream.aclose()

    in_a_loop(lambda: looked("viewer"))
    assert Sample.objects.count() == 0
    in_a_loop(lambda: looked("viewer", "technician"))
    assert Sample.objects.count() == 5


@pytest.mark.django_db(transaction=True)
def test_samples_go_on_after_the_database_was_away(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    add(signed_in(house.people["technician"]), house.visit, {**assigned(house), "at": START.isoformat()})
    honest, away = samples.add, [OperationalError("the database restarts")] * 2

    def now_and_then(rows: Any) -> int:
        if away:
            raise away.pop()
        return honest(rows)

    monkeypatch.setattr(samples, "add", now_and_then)
    events = watched(house, Source([frame(n, P_1=13.0) for n in range(5)]), 6.0)
    assert not away
    assert Sample.objects.count() == 5
    assert events[-1][0] == "picture", "and the picture stood all the time"


@pytest.mark.django_db(transaction=True)
def test_one_feed_and_one_state_serve_all_who_look(house: House) -> None:
    source = Source([frame(n, P_1=13.0) for n in range(5)])

    async def many() -> tuple[list[str], int, int]:
        streams = [live.events(house.visit.pk, source, who(house)) for _ in range(30)]
        texts = []
        for stream in streams:
            await anext(stream)
            texts.append(await anext(stream))
        here = live.desk()
        counts = len(here.watches), len(here.feeds)
        for stream in streams:
            await stream.aclose()
        assert (here.watches, here.feeds, here.tasks) == ({}, {}, {})
        return texts, *counts

    texts, watches, feeds = in_a_loop(many)
    assert (watches, feeds) == (1, 1)
    assert len(source.asked) <= 3, "asked again when it went away, and not once a browser"
    assert len(texts) == 30


def test_a_slow_browser_gets_the_samples_of_the_pictures_it_missed() -> None:
    async def slow() -> dict[str, Any]:
        viewer = live.Viewer(Who(uuid.uuid4(), 0, False))
        for number in range(3):
            viewer.show(live.Picture({"channels": [{"key": "a", "value": number, "samples": [(number, 20.0)]}]}))
        return (await anext(viewer.pictures())).data

    (channel,) = in_a_loop(slow)["channels"]
    assert channel["value"] == 2
    assert channel["samples"] == [(0, 20.0), (1, 20.0), (2, 20.0)]


@pytest.mark.django_db(transaction=True)
def test_no_source_is_said_and_streams_need_one(house: House) -> None:
    client = signed_in(house.people["technician"])
    assert client.get("/api/v1/probes").json() == {"reachable": False, "probes": [], "scene": None}
    assert client.get(f"/api/v1/visits/{house.visit.pk}/live").status_code == 204


def test_the_same_samples_twice_add_nothing(house: House) -> None:
    channel = samples.Channel("return", 1, "dry_bulb", None, "live")
    number = samples.series_of(house.visit, channel)
    assert samples.series_of(house.visit, channel) == number
    rows = [(number, START + timedelta(seconds=n), 20.0 + n) for n in range(100)]
    assert samples.add(rows) == 100
    assert samples.add([*rows[50:], (number, START + timedelta(seconds=100), 1.0)]) == 1
    assert samples.add([]) == 0


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


def exported(client: Client, house: House, what: str) -> list[dict[str, str]]:
    answer = client.get(f"/api/v1/visits/{house.visit.pk}/{what}.csv")

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


# instruments


def test_instruments_know_their_calibration_and_holder(house: House) -> None:
    lead, technician = signed_in(house.people["lead"]), signed_in(house.people["technician"])
    made = post(lead, "/api/v1/instruments", {"name": "Clamp 7", "accuracy_class": "clamp", "serial": "C7"}).json()
    assert made["accuracy"]["pipe_temperature"]["plus_minus"] == 0.5
    twice = post(lead, "/api/v1/instruments", {"name": "Clamp 7", "accuracy_class": "clamp"})
    assert (twice.status_code, twice.json()["refusals"][0]["path"]) == (422, "name")
    unknown = post(lead, "/api/v1/instruments", {"name": "X", "accuracy_class": "divining_rod"})
    assert unknown.json()["refusals"][0]["path"] == "accuracy_class"
    assert post(technician, f"/api/v1/instruments/{made['id']}/taken", {}).json()["mine"]
    calibration = f"/api/v1/instruments/{made['id']}/calibration"
    backwards = post(lead, calibration, {"calibrated_on": "2026-07-01", "calibration_due_on": "2026-06-01"})
    assert backwards.json()["refusals"][0]["path"] == "calibration_due_on"
    ahead = timezone.now().date() + timedelta(days=3)
    later = post(lead, calibration, {"calibrated_on": ahead.isoformat(), "calibration_due_on": "2099-06-01"})
    assert later.json()["refusals"][0]["path"] == "calibrated_on"
    overdue = post(lead, calibration, {"calibrated_on": "2020-07-01", "calibration_due_on": "2021-07-01"}).json()
    assert overdue["overdue"]
    listed = technician.get("/api/v1/instruments/list").json()
    assert listed["instruments"][0]["name"] == "Clamp 7", "overdue ones first"
    assert not listed["may_change"]


def test_a_match_names_instruments_that_exist(house: House) -> None:
    other = Instrument.objects.create(company=house.company, name="Other", kind="thermo_hygrometer", serial="P-2")
    probes = [{"instrument": str(each.pk), "mean": 24.0, "scatter": 0.1, "samples": 120} for each in (house.instrument, other)]
    body = {"quantity": "dry_bulb", "seconds": 120, "probes": probes}
    client = signed_in(house.people["technician"])
    answer = add(client, house.visit, new_entry("match", body)).json()
    assert answer["refused"] == []
    assert [line["name"] for line in answer["visit"]["work_up"]["matches"][0]["probes"]] == ["Probe", "Other"]
    body["probes"][0]["instrument"] = "nobody"
    refused = add(client, house.visit, new_entry("match", body)).json()["refused"]
    assert refused[0]["refusal"]["path"] == "body.probes.0.instrument"


def test_a_noted_branch_can_be_read_in_the_same_batch(house: House) -> None:
    branch = new_entry("branch", {"room": "Loft", "floor": "Upper"})
    flow = new_entry(body={"station": "register-loft-upper", "quantity": "airflow", "value": 50, "unit": "L/s"})
    done = add(signed_in(house.people["technician"]), house.visit, branch, flow).json()
    assert done["refused"] == []
