"""The record by hand: a report is read, signed, countersigned, taken along and checked; and what the office keeps around it."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import Served, all_saved, choose, close_visit, enter, open_station, start_visit, step, tap
from tests.browser.test_access import first_system
from tests.patience import caller


def sign(page: Page, title: str, *, drawn: bool = False) -> None:
    form = page.get_by_role("form", name=title)
    if drawn:
        box = form.get_by_role("img").bounding_box()
        assert box
        page.mouse.move(box["x"] + 40, box["y"] + 60)
        page.mouse.down()
        for count in range(1, 12):
            page.mouse.move(box["x"] + 40 + 12 * count, box["y"] + 60 - 25 * (count % 2))
        page.mouse.up()
        expect(form.get_by_role("img", name="Your signature as drawn")).to_be_visible()
    form.get_by_role("button", name="Sign this report").click()


def test_a_report_is_signed_countersigned_and_checked(device: BrowserContext, chromium: Browser, served: Served) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    open_station(page, "return")
    tap(page, "24.6")
    page.keyboard.press("Escape")
    step(page, "Hand over")
    page.get_by_role("link", name="Report so far").click()
    expect(page.get_by_text("The visit is still open")).to_be_visible()
    paper = page.frame_locator("iframe[title='The report']")
    expect(paper.get_by_text("Visit not closed yet")).to_be_visible()
    expect(page.get_by_role("form", name="Sign as technician")).to_be_hidden()
    page.get_by_role("link", name="Back to the visit").click()
    step(page, "Hand over")
    close_visit(page)
    page.get_by_role("link", name="Report: read and sign").click()
    expect(page.get_by_text("Not signed yet", exact=True)).to_be_visible()
    expect(paper.get_by_role("cell", name="24.6 °C").first).to_be_visible()
    sign(page, "Sign as technician", drawn=True)
    expect(page.get_by_text("Signed by the technician")).to_be_visible()
    expect(paper.get_by_text("Signed report, edition 1")).to_be_visible()
    expect(paper.locator("svg.drawn polyline")).to_have_count(1)
    address = page.url
    theirs = chromium.new_context(base_url=served.url)
    lead = enter(theirs, "Tova Brandt")
    lead.goto(address)
    sign(lead, "Countersign as lead")
    expect(lead.get_by_text("Signed and countersigned")).to_be_visible()
    fingerprint = lead.locator("aside code").inner_text()
    with lead.expect_download() as pdf:
        lead.get_by_role("button", name="PDF for the customer").click()
    assert pdf.value.suggested_filename.startswith("report-furnace-and-coil-")
    assert Path(pdf.value.path()).read_bytes().startswith(b"%PDF")
    with lead.expect_download() as taken:
        lead.get_by_role("link", name="Signed file (JSON)").click()
    document = json.loads(Path(taken.value.path()).read_text())
    lead.get_by_role("link", name="Check a fingerprint").click()
    lead.get_by_label("Fingerprint, as the report shows it").fill("12ab")
    lead.get_by_role("button", name="Look for it").click()
    expect(lead.get_by_text("A fingerprint is 64 letters and digits, 0 to 9 and a to f.")).to_be_visible()
    lead.get_by_label("Fingerprint, as the report shows it").fill(fingerprint)
    lead.get_by_role("button", name="Look for it").click()
    expect(lead.get_by_role("status").filter(has_text="It holds.")).to_contain_text("Oona Lindahl (technician)")
    document["snapshot"]["entries"][-1]["body"]["summary"] = "All well."
    changed = {"name": "report.json", "mimeType": "application/json", "buffer": json.dumps(document).encode()}
    lead.locator("input[type=file]").set_input_files(changed)
    expect(lead.get_by_role("status").filter(has_text="It does not hold.")).to_contain_text("Something in it was changed")
    theirs.close()


def test_what_was_added_since_is_read_before_it_is_signed(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Hand over")
    close_visit(page)
    page.get_by_role("link", name="Report: read and sign").click()
    form = page.get_by_role("form", name="Sign as technician")
    form.wait_for()
    all_saved(page)
    page.wait_for_timeout(1500)  # It asks for the report once more as it opens, and what comes then is what is read.
    visit = page.url.rsplit("/", 2)[-2]
    page.evaluate(
        """async visit => {
            const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
            const made = kind => ({id: crypto.randomUUID(), kind, at: new Date().toISOString()});
            const entries = [
                {...made('reopening'), body: {}, reason: 'One more look'},
                {...made('note'), body: {text: 'Belt loose', step: 'arrive'}},
                {...made('closing'), body: {summary: 'Now whole'}},
            ];
            await fetch(`/api/v1/visits/${visit}/entries`, {
                method: 'POST', body: JSON.stringify({entries}),
                headers: {'Content-Type': 'application/json', 'X-CSRFToken': token},
            });
        }""",
        visit,
    )
    form.get_by_role("button", name="Sign this report").click()
    expect(page.get_by_text("Something was added to this visit since you looked.").first).to_be_visible()
    read = form.get_by_role("button", name="Read the report as it is now")
    if read.is_visible():  # Else the page itself has brought the newer one meanwhile.
        read.click()
    expect(page.get_by_text("Here is the report as it is now: read it before you sign.")).to_be_visible()
    paper = page.frame_locator("iframe[title='The report']")
    expect(paper.locator(".log").get_by_text("Belt loose")).to_be_visible()
    sign(page, "Sign as technician")
    expect(page.get_by_text("Signed by the technician")).to_be_visible()


def test_anything_is_found_by_a_few_letters(device: BrowserContext) -> None:
    page = enter(device)
    page.keyboard.press("/")
    page.get_by_label("A few letters of a system, site or visit").fill("packed")
    page.get_by_role("button", name="Search everything").click()
    note = page.get_by_role("region", name="Notes and last words").get_by_role("link")
    expect(note).to_contain_text("Both filters packed with salt dust.")
    page.get_by_role("textbox", name=re.compile("^Words")).fill("gf-90")
    page.get_by_role("button", name="Find", exact=True).last.click()
    expect(page.get_by_role("region", name="Systems").get_by_role("link")).to_contain_text("Foxglove Printworks")
    page.locator("label").filter(has_text=re.compile("^Visits$")).click()
    expect(page.get_by_text("Nothing here has “gf-90”.")).to_be_visible()
    page.locator("label").filter(has_text=re.compile("^Everything$")).click()
    page.get_by_role("region", name="Systems").get_by_role("link").click()
    page.get_by_role("heading", name="Furnace and coil", level=1).wait_for()


def test_whoever_scans_a_label_is_at_the_system_once_signed_in(device: BrowserContext) -> None:
    page = enter(device)
    address = f"/systems/{first_system(page)}"
    page.goto(address)
    label = page.get_by_role("img", name=re.compile("^Code that opens"))
    expect(label).to_be_visible()
    assert label.evaluate("async image => { await image.decode(); return image.naturalWidth > 50; }")
    name = page.get_by_role("heading", level=1).inner_text()
    with page.expect_popup() as sheet:
        page.get_by_role("link", name="Print all of this site").click()
    expect(sheet.value.get_by_role("listitem").filter(has_text=name)).to_be_visible()
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("button", name="Oona Lindahl").wait_for()
    page.goto(address)
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("heading", name=name, level=1).wait_for()
    page.goto("/sign-in?to=//127.0.0.1:1/elsewhere")
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("heading", name="Open visits").wait_for()


def test_somebody_is_invited_by_a_link_and_chooses_a_password(device: BrowserContext, chromium: Browser, served: Served) -> None:
    page = enter(device, "Tova Brandt")
    page.goto("/office")
    page.get_by_role("button", name="Invite by a link instead").click()
    expect(page.get_by_text("Give the name.")).to_be_visible()
    page.get_by_label("Name", exact=True).fill("Juna Falk")
    page.get_by_label("User name").fill("juna")
    page.get_by_role("button", name="Invite by a link instead").click()
    link = page.get_by_role("status").filter(has_text="Give this link to Juna Falk").locator("code").inner_text()
    theirs = chromium.new_context(base_url=served.url)
    other = theirs.new_page()
    other.goto(link)
    expect(other.get_by_role("heading", name="Welcome, Juna Falk")).to_be_visible()
    other.get_by_label("Choose a password").fill("short")
    other.get_by_role("button", name="Come in").click()
    expect(other.get_by_text(re.compile("too short"))).to_be_visible()
    other.get_by_label("Choose a password").fill("copper-elbow-17")
    other.get_by_role("button", name="Come in").click()
    other.get_by_role("heading", name="Open visits").wait_for()
    again = chromium.new_context(base_url=served.url).new_page()
    again.goto(link)
    expect(again.get_by_text("This link is not good any more")).to_be_visible()
    again.context.close()
    theirs.close()


def test_appointments_stand_in_the_week_and_on_the_day(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    page.goto(f"/systems/{first_system(page)}")
    page.get_by_role("button", name="Appoint somebody").click()
    form = page.get_by_role("form", name="Appoint somebody")
    choose(form, "Who", "Jomar Vance")
    today = page.evaluate("new Date().toLocaleDateString('sv')")
    form.get_by_label("Day").fill(today)
    form.get_by_label("Hour").fill("xx")
    expect(form.get_by_text("Give the day and the hour.")).to_be_visible()
    form.get_by_label("Hour").fill("23:30")
    form.get_by_label("What for").fill("Belt and filters")
    form.get_by_role("button", name="Appoint", exact=True).click()
    page.get_by_role("link", name="The week").click()
    line = page.get_by_role("listitem").filter(has_text="Belt and filters")
    expect(line).to_contain_text("23:30–00:30")
    expect(line).to_contain_text("Jomar Vance")
    line.get_by_role("button", name="Cancel").click()
    expect(line).to_contain_text("cancelled")
    line.get_by_role("button", name="Go after all").click()
    expect(line.get_by_role("button", name="Cancel")).to_be_visible()
    page.goto("/office/course")
    choose(page.get_by_role("main"), "What", "Changed an appointment")
    expect(page.get_by_role("main").get_by_role("listitem").first).to_contain_text("Jomar Vance")


def test_a_token_lets_a_program_in_until_it_is_ended(device: BrowserContext, served: Served) -> None:

    page = enter(device)
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("link", name="Programs with a token").click()
    page.get_by_role("button", name="Make a token").click()
    expect(page.get_by_text("Say which program it is for.")).to_be_visible()
    page.get_by_label("Which program").fill("Van logger")
    page.get_by_role("button", name="Make a token").click()
    token = page.get_by_role("status").filter(has_text="Copy it now").locator("code").inner_text()

    def asked() -> int:
        return caller.get(f"{served.url}/api/v1/day", headers={"Authorization": f"Bearer {token}"}).status_code

    assert asked() == 200
    page.get_by_role("button", name="End Van logger").click()
    expect(page.get_by_role("listitem").filter(has_text="Van logger")).to_contain_text("over")
    assert asked() == 401


def test_the_office_keeps_the_papers_and_brings_a_visit_in(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    page.goto("/office")
    page.get_by_label(re.compile("^Under “Saltbox Air Care”")).fill("Quay 9\nLicence 12")
    page.get_by_role("button", name="Keep this").click()
    expect(page.get_by_role("button", name="Keep this")).to_be_disabled()
    snapshot = page.evaluate(
        """async () => {
            const ask = path => fetch(path).then(answer => answer.json());
            const system = (await ask('/api/v1/day')).systems.find(each => each.name === 'Heat pump');
            const {visits} = await ask(`/api/v1/systems/${system.id}`);
            const visit = visits.find(each => each.purpose === 'Bedrooms slow to cool');
            const found = await ask(`/api/v1/visits/${visit.id}/snapshot`);
            found.visit.id = crypto.randomUUID();
            found.visit.purpose = 'From another installation';
            for (const entry of found.entries) entry.id = crypto.randomUUID();
            return JSON.stringify(found);
        }"""
    )
    choosing = page.locator("section[aria-labelledby=along] input[type=file]")
    choosing.set_input_files({"name": "cut.json", "mimeType": "application/json", "buffer": snapshot[:-30].encode()})
    expect(page.get_by_text("This file is no JSON, or was cut off.")).to_be_visible()
    choosing.set_input_files({"name": "visit.json", "mimeType": "application/json", "buffer": snapshot.encode()})
    done = page.get_by_role("status").filter(has_text="entries came in")
    expect(done).to_be_visible()
    with page.expect_download() as archive:
        page.get_by_role("link", name="Take everything along").click()
    lines = Path(archive.value.path()).read_text().splitlines()
    assert json.loads(lines[0])["format"] == "fentro.archive"
    assert "end" in json.loads(lines[-1])
    page.get_by_role("button", name="End the company here").click()
    page.get_by_label("The company's name, in full").fill("saltbox")
    page.get_by_role("button", name="End it").click()
    expect(page.get_by_text("Write the company's name as it stands here")).to_be_visible()
    page.get_by_role("button", name="Leave it").click()
    done.get_by_role("link", name="Open it").click()
    expect(page.get_by_text("This visit is closed")).to_be_visible()
    step(page, "Hand over")
    page.get_by_role("link", name="Report: read and sign").click()
    expect(page.frame_locator("iframe[title='The report']").get_by_text("Licence 12")).to_be_visible()


def test_a_newcomer_practises_a_whole_visit(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("button", name="Practise on a made-up unit").click()
    tour = page.get_by_role("region", name="Practice", exact=True)
    expect(tour).to_contain_text("1 of 4")
    open_station(page, "supply")
    tap(page, "12.2")
    tap(page, "92")
    page.keyboard.press("Escape")
    expect(tour).to_contain_text("2 of 4")
    step(page, "Work out")
    expect(tour).to_contain_text("3 of 4")
    step(page, "Hand over")
    close_visit(page)
    expect(tour).to_contain_text("4 of 4")
    tour.get_by_role("link", name="open it").click()
    expect(page.frame_locator("iframe[title='The report']").get_by_text("as it should be").first).to_be_visible()
    sign(page, "Sign as technician")
    expect(page.get_by_text("Signed by the technician")).to_be_visible()
    page.get_by_role("link", name="Back to the visit").click()
    tour.get_by_role("button", name="Delete the practice").click()
    expect(tour).to_contain_text("Real visits stay.")
    tour.get_by_role("button", name="Delete it for everybody").click()
    page.get_by_role("heading", name="Open visits").wait_for()
    expect(page.get_by_text("Practice unit")).to_have_count(0)
