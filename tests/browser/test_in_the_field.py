"""An unknown unit, a full device, a wrong clock, somebody who signs out in the attic: nothing lost, nothing said that is not so."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

import pytest
from PIL import Image
from PIL.ExifTags import IFD
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import all_saved, enter, logbook, open_station, start_visit, step, tap, values
from tests.browser.test_on_the_device import with_core
from tests.browser.test_without_signal import at_return


@pytest.mark.away
def test_an_unknown_unit_at_an_unknown_site_is_made_and_read_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    page.get_by_role("link", name="A system that is not on the list").click()
    page.get_by_role("heading", name="A system that is not on the list").wait_for()
    page.wait_for_timeout(1_200)
    device.set_offline(True)
    make = page.get_by_role("button", name="Make it and begin the visit")
    make.click()
    expect(page.get_by_text("Choose what it is.")).to_be_visible()
    page.get_by_role("button", name="Split heat pump").click()
    page.get_by_label("Name, as you will look for it").fill("Attic unit")
    page.get_by_label("Name of the site").fill("Elm Ridge")
    page.get_by_label("Elevation").fill("nine")
    page.get_by_label("Rated cooling, total").fill("9000")
    make.click()
    expect(page.get_by_text("This must be a number.")).to_be_visible()
    page.get_by_label("Elevation").fill("420")
    make.click()
    expect(page.get_by_text(re.compile("above zero and at most"))).to_be_visible()
    page.get_by_label("Rated cooling, total").fill("9")
    make.click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    step(page, "Measure")
    open_station(page, "return")
    page.get_by_role("button", name="Instrument").click()
    page.get_by_role("option", name="Write down one that is not listed").click()
    form = page.get_by_role("form", name="An instrument that is not listed")
    form.get_by_label("Its name").fill("Yellow probe")
    form.get_by_role("button", name="Write it down").click()
    tap(page, "25")
    tap(page, "45")
    open_station(page, "supply")
    tap(page, "14")
    tap(page, "88")
    verdicts = page.get_by_role("complementary", name="Results")
    expect(verdicts).to_contain_text("11.0 K")
    expect(page.get_by_test_id("queue-state")).to_have_text("8 waiting")
    page.wait_for_timeout(1_200)
    page.reload()
    expect(page.get_by_test_id("queue-state")).to_have_text("8 waiting")
    expect(verdicts).to_contain_text("11.0 K")
    device.set_offline(False)
    all_saved(page)
    found = logbook(page)
    assert values(page) == [25, 45, 14, 88]
    assert found["head"]["site"]["elevation_m"] == 420
    assert round(found["head"]["system"]["nameplate"]["rated_total_w"]) == 9000
    assert all(entry["body"]["instrument"] for entry in found["entries"])
    page.goto("/")
    expect(page.get_by_text("Elm Ridge").first).to_be_visible()


@pytest.mark.away
def test_a_visit_to_a_nameless_unit_goes_to_the_one_on_the_list_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    page.get_by_role("link", name="A system that is not on the list").click()
    page.get_by_role("heading", name="A system that is not on the list").wait_for()
    page.wait_for_timeout(1_200)
    device.set_offline(True)
    page.get_by_role("button", name="Split heat pump").click()
    page.get_by_role("button", name="Make it and begin the visit").click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    step(page, "Measure")
    open_station(page, "return")
    tap(page, "25")
    step(page, "Arrive")
    page.get_by_role("button", name="Read the nameplate").click()
    page.get_by_text("It is another system on the list").click()
    move = page.get_by_role("button", name="Move this visit there")
    move.click()
    expect(page.get_by_text("Choose the system from the list.")).to_be_visible()
    page.get_by_role("button", name="Which system").click()
    page.get_by_role("option", name="Heat pump, Wren").click()
    move.click()
    here = page.get_by_role("region", name="Heat pump")
    expect(here).to_contain_text("Ostermoor")
    device.set_offline(False)
    all_saved(page)
    found = logbook(page)
    assert found["system"]["name"] == "Heat pump"
    assert values(page) == [25]
    page.goto("/")
    expect(page.get_by_role("heading", name="Start a visit")).to_be_visible()
    expect(page.get_by_role("button", name="Unit, not named yet")).to_have_count(0)


@pytest.mark.away
def test_a_device_that_keeps_nothing_says_so_before_the_first_reading(device: BrowserContext) -> None:
    device.add_init_script(
        """indexedDB.open = () => { throw new DOMException('no room', 'QuotaExceededError'); };
        Storage.prototype.setItem = () => { throw new DOMException('no room', 'QuotaExceededError'); };"""
    )
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    expect(page.get_by_role("main").get_by_text("This device can't keep readings")).to_be_visible()
    open_station(page, "return")
    device.set_offline(True)
    tap(page, "25")
    state = page.get_by_test_id("queue-state")
    expect(state).to_have_text("1 not kept here")
    state.click()
    expect(page.get_by_text("on this page only")).to_be_visible()
    expect(page.get_by_text("safe on this device")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("Read again: point 1, Dry bulb"))).to_be_visible()
    device.set_offline(False)
    expect(state).not_to_contain_text("not kept")
    assert values(page) == [25]


def test_a_clock_that_is_wrong_is_said_once_and_times_are_right(device: BrowserContext) -> None:
    device.add_init_script(
        """{
            const Right = Date, off = -14 * 60_000;
            class Wrong extends Right {
                constructor(...given) { given.length ? super(...given) : super(Right.now() + off); }
                static now() { return Right.now() + off; }
            }
            globalThis.Date = Wrong;
        }"""
    )
    page = enter(device)
    start_visit(page)
    expect(page.get_by_text("This device's clock is 14 minutes behind the server's.")).to_be_visible()
    page.get_by_role("button", name="Dismiss").click()
    expect(page.get_by_text("This device's clock is")).to_have_count(0)
    step(page, "Measure")
    open_station(page, "return")
    tap(page, "25")
    all_saved(page)
    at = datetime.fromisoformat(logbook(page)["entries"][-1]["at"])
    assert abs((datetime.now(UTC) - at).total_seconds()) < 60


def test_a_note_and_a_change_are_corrected_and_taken_back(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.get_by_placeholder("What was reported").fill("Too warm upstairs")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_role("button", name="Correct: Too warm upstairs").click()
    page.get_by_placeholder("What was reported").fill("Too warm downstairs")
    page.get_by_role("button", name="Keep instead").click()
    notes = page.get_by_role("region", name="Notes")
    expect(notes).to_contain_text("Too warm downstairs")
    expect(notes).not_to_contain_text("upstairs")
    page.get_by_role("button", name="Take back: Too warm downstairs").click()
    expect(notes).not_to_contain_text("Too warm")
    step(page, "Set up")
    for label, text in (("What was changed", "Fan speed"), ("It was", "low"), ("It is now", "hihg"), ("Why", "little air")):
        page.get_by_label(label).fill(text)
    page.get_by_role("button", name="Write this change down").click()
    page.get_by_role("button", name="Correct: Fan speed").click()
    page.get_by_label("It is now").fill("high")
    page.get_by_role("button", name="Write it down instead").click()
    expect(page.get_by_text("was low, now high")).to_be_visible()
    expect(page.get_by_text("hihg")).to_have_count(0)
    all_saved(page)
    assert [each["now"] for each in logbook(page)["work_up"]["between"]] == ["high"]


def test_a_visit_that_was_a_mistake_is_cancelled_with_its_reason(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Hand over")
    page.get_by_role("button", name="Close the visit").click()
    expect(page.get_by_text("Nothing was read on this visit.")).to_be_visible()
    page.get_by_role("button", name="Go on with it").click()
    page.get_by_role("button", name="It was a mistake: cancel it").click()
    page.get_by_role("button", name="Cancel the visit").click()
    expect(page.get_by_text("Say why: it stays in the record.")).to_be_visible()
    page.get_by_label("Why this visit is cancelled").fill("wrong unit")
    page.get_by_role("button", name="Cancel the visit").click()
    expect(page.get_by_text("Cancelled.")).to_be_visible()
    all_saved(page)
    assert logbook(page)["work_up"]["cancelled"]
    page.goto("/")
    expect(page.get_by_role("heading", name="Start a visit")).to_be_visible()
    expect(page.get_by_role("heading", name="Closed today")).to_have_count(0)


def signed_out_without_signal(device: BrowserContext) -> Page:
    """A reading waits, and its person signs out in the attic."""
    page = at_return(device)
    device.set_offline(True)
    tap(page, "25")
    page.get_by_role("button", name="Signed in as Oona Lindahl").click()
    expect(page.get_by_text("One entry waits on this device. Signed out, they stay")).to_be_visible()
    page.get_by_role("button", name="Sign out", exact=True).click()
    expect(page.get_by_text("One entry of Oona Lindahl waits on this device")).to_be_visible()
    return page


@pytest.mark.away
def test_signing_out_without_signal_keeps_what_waits_for_its_person(device: BrowserContext) -> None:
    page = signed_out_without_signal(device)
    page.reload()
    expect(page.get_by_text("One entry of Oona Lindahl waits on this device")).to_be_visible()
    device.set_offline(False)
    page.reload()
    page.get_by_role("button", name="Tova Brandt").click()
    page.get_by_role("heading", name="Start a visit").wait_for()
    expect(page.get_by_test_id("queue-state")).to_have_text("All saved")
    page.get_by_role("button", name="Signed in as Tova Brandt").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("heading", name="Start a visit").wait_for()
    all_saved(page)
    expect(page.get_by_text("One entry of Oona Lindahl waits")).to_have_count(0)


@pytest.mark.away
def test_a_photo_of_the_nameplate_is_taken_without_signal_made_small_and_comes_in(device: BrowserContext, tmp_path: Path) -> None:
    page = enter(device)
    start_visit(page)
    place = Image.Exif()
    place.get_ifd(IFD.GPSInfo)[1] = "N"
    large, no_photo = tmp_path / "plate.jpg", tmp_path / "plate.txt"
    Image.effect_noise((3_000, 2_000), 60).convert("RGB").save(large, exif=place)
    no_photo.write_text("no photo")
    page.wait_for_timeout(1_000)
    device.set_offline(True)
    photos = page.get_by_role("region", name="Photos: Nameplate")
    photos.locator("input[type=file]").set_input_files(no_photo)
    expect(photos.get_by_role("alert")).to_contain_text("Choose a photo")
    photos.locator("input[type=file]").set_input_files(large)
    picture = photos.get_by_role("img", name="Nameplate, photo")
    expect(picture).to_be_visible()
    expect(page.get_by_test_id("queue-state")).to_have_text("2 waiting")
    page.wait_for_timeout(1_000)
    page.reload()
    expect(picture).to_be_visible()
    assert picture.evaluate("image => [image.naturalWidth, image.naturalHeight]") == [1600, 1067]
    device.set_offline(False)
    all_saved(page)
    (entry,) = [each for each in logbook(page)["entries"] if each["kind"] == "photo"]
    shown = page.request.get(f"/api/v1/photos/{entry['body']['sha256']}")
    assert shown.headers["content-type"] == "image/jpeg"
    assert len(shown.body()) < 1_500_000
    assert not Image.open(BytesIO(shown.body())).getexif().get_ifd(IFD.GPSInfo)
    page.reload()
    expect(picture).to_be_visible()
    device.set_offline(True)
    page.reload()
    expect(picture).to_be_visible()
    assert picture.evaluate("image => image.naturalWidth") == 1600
    device.set_offline(False)
    picture.click()
    page.get_by_role("button", name="Take this photo back").click()
    expect(picture).to_have_count(0)
