"""The seam to live probes, spoken over HTTP with the real simulated gateway in a process of its own."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from fentro_server.gateways.addresses import reach
from fentro_server.gateways.models import Gateway
from fentro_server.measuring import samples
from fentro_server.measuring.models import Sample
from fentro_server.measuring.probe_source import Frame, HttpProbes, SourceGone, SystemPlace
from tests.patience import caller
from tests.server.apart import apart, in_a_loop
from tests.server.conftest import House, post, signed_in
from tools import serving
from tools.standins import Devices


@pytest.fixture(scope="module")
def gateway(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Its address."""
    probes = Devices(Path(tmp_path_factory.mktemp("probes"))).named("probes")
    probes.start()
    yield probes.url
    probes.end()


def at_gateway(address: str) -> HttpProbes:
    return HttpProbes(address, lambda: reach(address))


async def some_frames(probes: HttpProbes, seconds: float, since: datetime | None = None, back_s: float = 0.0) -> list[Frame]:
    found: list[Frame] = []
    try:
        async with asyncio.timeout(seconds):
            async for frames in probes.frames(since, back_s):
                found += frames
    except TimeoutError:
        pass
    return found


def place(running_since: str | None = None, **places: str) -> SystemPlace:
    hung = {serial.replace("_", "-"): {"station": station, "point": 1} for serial, station in places.items()}
    return SystemPlace("visit-1", "split_heat_pump", 96_400.0, running_since, hung)


def test_probes_and_what_they_read(gateway: str) -> None:
    found = in_a_loop(at_gateway(gateway).probes)
    by_serial = {each["serial"]: each for each in found}
    assert by_serial["TH-2041"]["quantities"] == ["dry_bulb", "relative_humidity"]
    assert by_serial["MN-507"]["quantities"] == ["static_pressure"]
    assert all(0 < each["battery"] <= 1 and each["reachable"] for each in found)


def test_frames_come_in_order_with_simulated_times(gateway: str) -> None:
    probes = at_gateway(gateway)

    async def watch() -> list[Frame]:
        await probes.scene({"scenario": "ordinary", "seed": 5, "speed": 60})
        await probes.place(place(datetime.now(UTC).isoformat(), TH_2041="return", TH_2042="supply"))
        return await some_frames(probes, 4.0)

    frames = in_a_loop(watch)
    assert len(frames) > 20
    assert [frame.at for frame in frames] == sorted({frame.at for frame in frames})
    first, last = frames[0].values, frames[-1].values
    assert last["TH-2042"]["dry_bulb"] < first["TH-2042"]["dry_bulb"] - 2, "the supply cools down"
    assert abs(last["TH-2041"]["dry_bulb"] - first["TH-2041"]["dry_bulb"]) < 1.5


def test_what_was_missed_is_given_once_asked_for(gateway: str) -> None:
    probes = at_gateway(gateway)

    async def twice() -> tuple[list[Frame], list[Frame], list[Frame]]:
        await probes.scene({"scenario": "ordinary", "seed": 6, "speed": 60})
        before = await some_frames(probes, 1.5)
        await asyncio.sleep(1.5)
        after = await some_frames(probes, 1.0, since=before[-1].at)
        return before, after, await some_frames(probes, 0.7, back_s=300.0)

    before, after, back = in_a_loop(twice)
    steps = {later.at - earlier.at for earlier, later in zip([before[-1], *after], after, strict=False)}
    assert steps == {timedelta(seconds=2)}, "nothing left out, nothing twice"
    assert back[-1].at - back[0].at > timedelta(seconds=100), "a page just opened gets the last minutes"


def test_a_probe_out_of_reach_has_no_values(gateway: str) -> None:

    probes = at_gateway(gateway)
    caller.post(f"{gateway}/v1/probes/TH-1807/fault", json={"reachable": False}).raise_for_status()
    try:
        frames = in_a_loop(lambda: some_frames(probes, 1.5))
        assert all("TH-1807" in frame.lost and "TH-1807" not in frame.values for frame in frames[2:])
    finally:
        caller.post(f"{gateway}/v1/probes/TH-1807/fault", json={"reachable": True})


def test_a_gateway_that_is_not_there_is_said_so() -> None:
    nobody = at_gateway(f"http://127.0.0.1:{serving.free_port()}")
    for call in (nobody.probes, nobody.scene, lambda: nobody.place(place())):
        with pytest.raises(SourceGone):
            in_a_loop(call)
    with pytest.raises(SourceGone):
        in_a_loop(lambda: some_frames(nobody, 2.0))


def test_a_stream_that_ends_is_a_gateway_gone(tmp_path: Path) -> None:
    device = Devices(tmp_path).named("probes")
    device.start()
    probes = at_gateway(device.url)

    async def until_it_dies() -> list[Frame]:
        asyncio.get_running_loop().call_later(1.5, device.kill)
        return await some_frames(probes, 8.0)

    begun = time.monotonic()
    with pytest.raises(SourceGone):
        in_a_loop(until_it_dies)
    assert time.monotonic() - begun < 6, "at once, not when a timeout has passed"
    device.end()


@pytest.mark.django_db(transaction=True)
def test_the_api_lists_probes_and_changes_the_scene(gateway: str, ours: House) -> None:
    ours.instrument.serial = "TH-2041"
    ours.instrument.save()
    apart(lambda: scenes_by_the_api(gateway, ours))


def scenes_by_the_api(gateway: str, ours: House) -> None:
    client = signed_in(ours.people["technician"])
    registered = Gateway.objects.create(company=ours.company, kind="probes", name="Van", address=gateway)
    told = client.get("/api/v1/probes").json()
    known = {probe["serial"]: probe["instrument"] for probe in told["probes"]}
    assert known["TH-2041"] == str(ours.instrument.pk)
    assert known["TH-2042"] is None
    changed = post(client, "/api/v1/probes/scene", {"scenario": "drifting", "seed": 9, "speed": 10}).json()
    assert (changed["scene"]["scenario"], changed["scene"]["seed"], changed["scene"]["speed"]) == ("drifting", 9, 10)
    refused = post(client, "/api/v1/probes/scene", {"scenario": "volcano"})
    assert (refused.status_code, refused.json()["refusals"][0]["path"]) == (422, "scenario")
    assert post(client, "/api/v1/probes/scene", {"scenario": "ordinary", "speed": 1e9}).status_code == 422
    registered.address = f"http://127.0.0.1:{serving.free_port()}"
    registered.save()
    assert client.get("/api/v1/probes").json()["reachable"] is False
    assert "do not answer" in post(client, "/api/v1/probes/scene", {"scenario": "ordinary"}).json()["detail"]


def test_a_trend_is_thinned_and_ends_with_the_newest(ours: House) -> None:
    number = samples.series_of(ours.visit, samples.Channel("supply", 1, "dry_bulb", None, "live"))
    begin = datetime(2026, 7, 1, 8, tzinfo=UTC)
    samples.add([(number, begin + timedelta(seconds=n), float(n)) for n in range(7_200)])
    assert Sample.objects.count() == 7_200
    ((_, trend),) = samples.recent(ours.visit).items()
    assert len(trend) <= 451
    assert trend[-1] == ((begin + timedelta(seconds=7_199)).timestamp(), 7_199.0)
    assert trend[0][1] >= 3_599, "the last hour only"
    other = samples.series_of(ours.visit, samples.Channel("return", 1, "dry_bulb", None, "file"))
    samples.add([(other, begin, 24.0)])
    assert len(samples.recent(ours.visit)) == 1, "files are no live trend"


def office_form(house: House, **typed: Any) -> Any:
    from fentro_server.places.plate_form import SystemForm

    system = house.system
    base = {"company": house.company.pk, "site": house.site.pk, "name": system.name, "kind": system.kind, "location": ""}
    return SystemForm({**base, **{f"plate_{name}": value for name, value in typed.items()}}, instance=system)


def test_tables_are_typed_as_lines_in_the_office(ours: House) -> None:
    form = office_form(ours, fan_table="high, 50, 620\nhigh, 125, 560", coil_curve="20, 340\n47, 545", heating_efficiency="0.8")
    assert form.is_valid(), form.errors
    plate = form.save().plate
    assert [(row.tap, row.external_static_pa, row.airflow_m3s) for row in plate.fan_table] == [
        ("high", 50, 0.62),
        ("high", 125, 0.56),
    ]
    assert [(row.drop_pa, row.airflow_m3s) for row in plate.coil_curve] == [(20, 0.34), (47, 0.545)]
    shown = office_form(ours).initial
    assert shown["plate_fan_table"] == "high, 50, 620\nhigh, 125, 560"
    assert shown["plate_coil_curve"] == "20, 340\n47, 545"


@pytest.mark.parametrize(
    ("name", "lines", "words"),
    [
        ("fan_table", "high, 50, 620\nhigh, lots", "Line 2 can't be read"),
        ("coil_curve", "20; 340", "Line 1 can't be read"),
        ("fan_table", "high, 50, 0", "flow above zero"),
    ],
)
def test_lines_that_can_not_be_read_are_said_at_their_field(ours: House, name: str, lines: str, words: str) -> None:
    form = office_form(ours, **{name: lines})
    assert not form.is_valid()
    assert words in " ".join(form.errors[f"plate_{name}"])


def test_an_older_demo_gets_the_new_instruments(db: None) -> None:
    from fentro_server.demo.management.commands.load_demo import Command
    from fentro_server.instruments.models import Instrument

    Command().handle()
    Instrument.objects.filter(name__in=["Vane", "Manometer 1"]).delete()
    kept = Instrument.objects.get(name="Probe A")
    kept.serial = "MINE-1"
    kept.save()
    Command().handle()
    assert Instrument.objects.filter(name__in=["Vane", "Manometer 1"]).count() == 2
    assert Instrument.objects.get(name="Probe A").serial == "MINE-1", "what was entered is kept"
