"""A logger's file into a visit, with and without signal, and what becomes of it at its station."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.browser.conftest import (
    all_saved,
    choose,
    enter,
    logbook,
    start_visit,
    step,
)
from tests.browser.test_on_the_device import with_core


def test_a_logger_file_comes_in_once(device: BrowserContext, tmp_path: Path) -> None:
    page = enter(device)
    start_visit(page)
    lines = ["Time;Return temp (°C);Supply temp (°C);Battery"]
    lines += [f"31.07.2026 10:{n // 60:02d}:{n % 60:02d};24,{n % 10};13,{n % 7};3,1" for n in range(300)]
    lines[5] = "31.07.2026 10:00:04;--;13,1;3,1"
    file = tmp_path / "log.csv"
    file.write_text("\n".join(lines), encoding="cp1252")
    step(page, "Measure")
    for new in (598, 0):
        page.get_by_role("button", name="Logger file").click()
        page.locator("input[type=file]").set_input_files(file)
        page.get_by_role("button", name="Check the file").click()
        expect(page.get_by_role("main")).to_contain_text("299 good lines, 1 bad")
        expect(page.get_by_role("main")).to_contain_text("“--” in Return temp (°C) is not a number.")
        page.get_by_role("button", name="Bring in the 299 good lines").click()
        expect(page.get_by_role("main")).to_contain_text(f"Brought in: {new} new values")
        page.get_by_role("button", name="Back").click()


@pytest.mark.away
def test_logged_data_is_read_without_signal_and_a_stretch_of_it_becomes_the_reading(
    device: BrowserContext, tmp_path: Path
) -> None:
    page = with_core(enter(device))
    start_visit(page)
    lines = ["Time,RAT (°F),Temp"]
    lines += [f"2026-07-31 10:{n // 60:02d}:{n % 60:02d},{90 - n / 100 if n < 1000 else 77.0:.1f},78.0" for n in range(1800)]
    file = tmp_path / "roof.csv"
    file.write_text("\n".join(lines))
    step(page, "Measure")
    page.get_by_role("button", name="Logger file").click()
    page.wait_for_timeout(1_000)
    device.set_offline(True)
    page.locator("input[type=file]").set_input_files(file)
    columns = page.get_by_role("list", name="Columns")
    expect(columns).to_contain_text("Which station was it at?")
    expect(columns).to_contain_text("78 °C is not a usual dry bulb. As °F it would be.")
    choose(page, "Unit of Temp", "°F")
    expect(columns).not_to_contain_text("not a usual")
    page.get_by_role("button", name="Check the file").click()
    expect(page.get_by_role("alert")).to_contain_text("Choose a station")
    choose(page, "Station of Temp", "Supply")
    page.get_by_role("button", name="Check the file").click()
    expect(page.get_by_role("main")).to_contain_text("1,800 good lines, 0 bad")
    page.get_by_role("button", name="Bring in all 1800 lines").click()
    expect(page.get_by_role("main")).to_contain_text("1,800 lines are kept on this device")
    expect(page.get_by_test_id("queue-state")).to_have_text("1 waiting")
    page.get_by_role("main").get_by_role("button", name="Return", exact=True).click()
    logged = page.get_by_role("region", name="Logged: Dry bulb")
    logged.get_by_role("button", name="Average of this stretch").click()
    expect(logged).to_contain_text("25.0 °C")
    expect(logged).to_contain_text("steady")
    logged.get_by_role("button", name="Take as the reading").click()
    expect(page.get_by_test_id("tag-return")).to_contain_text("25.0")
    page.wait_for_timeout(1_000)
    page.reload()
    expect(page.get_by_test_id("queue-state")).to_have_text("2 waiting")
    device.set_offline(False)
    all_saved(page)
    (entry,) = [each for each in logbook(page)["entries"] if each["kind"] == "reading"]
    assert entry["body"]["value"] == pytest.approx(25.0, abs=0.05)
    assert entry["body"]["held"]["samples"] > 10
    assert entry["at"].startswith("2026-07-31")
    visit = page.url.split("/visits/")[1].split("?")[0]
    series = page.request.get(f"/api/v1/visits/{visit}/logged").json()
    assert [(each["station"], each["count"]) for each in series] == [("return", 1800), ("supply", 1800)]


def test_a_file_that_is_no_table_and_a_mapping_twice_the_same(device: BrowserContext, tmp_path: Path) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    page.get_by_role("button", name="Logger file").click()
    letter = tmp_path / "letter.csv"
    letter.write_text("Dear customer,\nthank you.")
    page.locator("input[type=file]").set_input_files(letter)
    expect(page.get_by_role("alert")).to_contain_text("No table with a column of times")
    table = tmp_path / "log.csv"
    table.write_text("time,Return temp (C),Return temp 2 (C)\n" + "".join(f"2026-07-31 10:00:{n:02d},24,25\n" for n in range(20)))
    page.locator("input[type=file]").set_input_files(table)
    page.get_by_role("button", name="Check the file").click()
    expect(page.get_by_role("alert")).to_contain_text("Two columns are mapped to the same place")
    choose(page, "Point of Return temp 2 (C)", "pt 2")
    page.get_by_role("button", name="Check the file").click()
    expect(page.get_by_role("main")).to_contain_text("20 good lines, 0 bad")
    page.get_by_role("button", name="Bring in all 20 lines").click()
    expect(page.get_by_role("main")).to_contain_text("Brought in: 40 new values")
    page.get_by_role("button", name="Back").click()
    page.get_by_role("button", name="Logger file").click()
    page.locator("input[type=file]").set_input_files(table)
    expect(page.get_by_text("A file with these headings was read before")).to_be_visible()
    expect(page.get_by_role("button", name="Point of Return temp 2 (C)")).to_contain_text("pt 2")
