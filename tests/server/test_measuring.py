"""Live probes through a source, their samples, instruments: what is kept, refused, stopped."""

from __future__ import annotations

import asyncio
import json
import uuid
from collections.abc import AsyncIterator, Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.db import OperationalError
from django.utils import timezone

from fentro_server.instruments.models import Instrument
from fentro_server.measuring import live, samples
from fentro_server.measuring.live import Who, _standing, situation_of
from fentro_server.measuring.live_state import LiveState, Place, Situation
from fentro_server.measuring.models import Sample
from fentro_server.measuring.probe_source import Frame, SourceGone, SystemPlace
from tests.server.apart import apart, in_a_loop
from tests.server.conftest import House, add, new_entry, post, signed_in

START = datetime(2026, 7, 1, 10, tzinfo=UTC)


def frame(second: float, lost: tuple[str, ...] = (), **values: float) -> Frame:
    shown = {serial.replace("_", "-"): {"dry_bulb": value} for serial, value in values.items()}
    return Frame(START + timedelta(seconds=second), shown, frozenset(lost), {"P-1": 0.1})


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


def test_only_an_entry_that_says_something_of_probes_is_looked_at_again(house: House) -> None:
    technician = signed_in(house.people["technician"])
    visit = house.visit.pk

    def saying(since: int) -> tuple[int, bool]:
        numbers, found, _ = _standing({visit: since}, set())
        return numbers[visit], visit in found

    add(technician, house.visit, new_entry("run", {"event": "started"}))
    first, told = saying(0)
    assert told
    assert saying(first) == (first, False), "nothing new"
    add(technician, house.visit, new_entry(), new_entry("note", {"step": "measure", "text": "Warm."}))
    second, told = saying(first)
    assert (second - first, told) == (2, False)
    add(technician, house.visit, assigned(house))
    assert saying(second)[1]
    assert saying(first)[1], "also behind readings"


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
