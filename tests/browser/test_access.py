"""Accessible to everyone: no serious finding of axe on any view, in both themes."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Page

from tests.browser.conftest import AXE, PHONE, TABLET, enter, remember


def visit(page: Page, kind: str, which: int) -> str:
    """A visit of the demo, by kind of system, newest first."""
    return page.evaluate(
        """async ([kind, which]) => {
            const ask = path => fetch(path).then(answer => answer.json());
            const system = (await ask('/api/v1/day')).systems.find(each => each.kind === kind);
            return (await ask(`/api/v1/systems/${system.id}`)).visits.at(which).id;
        }""",
        [kind, which],
    )


def for_(page: Page, system: str, purpose: str) -> str:
    """A visit of the demo, by the system's name and words of its purpose."""
    return page.evaluate(
        """async ([name, purpose]) => {
            const ask = path => fetch(path).then(answer => answer.json());
            const system = (await ask('/api/v1/day')).systems.find(each => each.name === name);
            return (await ask(`/api/v1/systems/${system.id}`)).visits.find(each => each.purpose.includes(purpose)).id;
        }""",
        [system, purpose],
    )


def part(page: Page, purpose: str, name: str, step: str = "work_out") -> str:
    """A part of a step on the furnace."""
    return f"/visits/{for_(page, 'Furnace and coil', purpose)}?step={step}&part={name}&phase=as_found"


def first_system(page: Page) -> str:
    """Any system of the demo."""
    return page.evaluate("fetch('/api/v1/day').then(answer => answer.json()).then(day => day.systems[0].id)")


VIEWS: dict[str, Callable[[Page], str]] = {
    "day sheet": lambda page: "/",
    "system": lambda page: f"/systems/{first_system(page)}",
    "work out": lambda page: f"/visits/{visit(page, 'furnace_with_coil', -1)}?step=work_out",
    "working": lambda page: f"/visits/{visit(page, 'furnace_with_coil', -1)}?step=work_out&working=total",
    "pad": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure&station=mixed",
    "ventilator": lambda page: f"/visits/{visit(page, 'dwelling_ventilator', -1)}?step=hand_over",
    "arrive": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=arrive",
    "trace": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=trace",
    "settle": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=settle",
    "measure": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure",
    "probes": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure&tool=probes",
    "match": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure&tool=match",
    "logger file": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure&tool=file",
    "traverse": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=measure&station=supply_traverse",
    "causes": lambda page: part(page, "Shop and bindery", "causes"),
    "split": lambda page: part(page, "Shop and bindery", "split"),
    "heating": lambda page: part(page, "slow to warm", "heating"),
    "pressures": lambda page: part(page, "slow to warm", "pressures"),
    "return leak": lambda page: part(page, "Bindery hot", "leak"),
    "return leak, open": lambda page: part(page, "Shop and bindery", "leak"),
    "ledger": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?tool=temporary",
    "restore": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=restore",
    "history": lambda page: f"/systems/{first_system(page)}/history",
    "instruments": lambda page: "/instruments",
    "report": lambda page: f"/visits/{for_(page, 'Furnace and coil', 'Bindery hot')}/report",
    "report to be signed": lambda page: f"/visits/{for_(page, 'Rooftop unit 1', 'Yearly check before')}/report",
    "fingerprint": lambda page: "/verify",
    "search": lambda page: "/search?words=damp",
    "week": lambda page: "/week",
    "programs": lambda page: "/programs",
    "set up": lambda page: f"/visits/{visit(page, 'packaged_rooftop', 0)}?step=set_up",
    **{
        name: lambda page, name=name: f"/visits/{for_(page, 'Rooftop unit 1', 'damp after')}?step=set_up&part={name}"
        for name in ("plan", "minimum", "map", "relief", "controller", "points", "alarms", "retrofit")
    },
    **{
        name: lambda page, name=name: part(page, "never cools", name, "set_up")
        for name in ("ducts", "balance", "zones", "hardware")
    },
    "proof of zones": lambda page: part(page, "never cools", "zone_proof", "prove"),
    "which is which": lambda page: f"/visits/{for_(page, 'Rooftop unit 2', 'odd mixed air')}?step=set_up&part=points",
    "tests": lambda page: f"/visits/{for_(page, 'Rooftop unit 1', 'damp after')}?step=prove&part=tests",
    "loops": lambda page: f"/visits/{for_(page, 'Rooftop unit 1', 'damp after')}?step=prove&part=loops",
}


STILL = """() => {
    const length = document.querySelector('main, form, body').innerHTML.length;
    const kept = (window.__kept ??= { length: -1, times: 0 });
    kept.times = length === kept.length ? kept.times + 1 : 0;
    kept.length = length;
    return kept.times >= 4;
}"""
"""The page has not changed for a third of a second."""


def findings(page: Page) -> list[str]:
    page.wait_for_function(STILL, polling=80)
    page.evaluate(AXE.read_text())
    found = page.evaluate(
        "axe.run(document, {resultTypes: ['violations'], runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']})"
    )
    return [
        f"{each['id']}: {each['nodes'][0]['html'][:160]} {each['nodes'][0]['failureSummary'][:200]}"
        for each in found["violations"]
        if each["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize(("device", "theme"), [(TABLET, "roof"), (PHONE, "attic")], indirect=["device"], ids=["tablet", "phone"])
def test_no_serious_findings(device: BrowserContext, theme: str) -> None:
    remember(device, "theme", theme)
    page = device.new_page()
    page.goto("/sign-in")
    page.get_by_role("button", name="Oona Lindahl").wait_for()
    seen = {"sign-in": findings(page)}
    page.close()
    page = enter(device)
    for name, path in VIEWS.items():
        page.goto(path(page))
        page.get_by_role("main").wait_for()
        seen[name] = findings(page)
    assert {name: found for name, found in seen.items() if found} == {}
