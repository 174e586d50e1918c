"""Night cooling: what a plan needs, and the plan that was taken over. Plans themselves are calculations."""

from __future__ import annotations

from fentro_core.base.sentence import Sentence
from fentro_core.night import fit, plan, tonight
from fentro_core.night.entries import NightPlanned
from fentro_core.night.results import NightPage
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.results import VerdictLine
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.night_setup import NightSetup
from fentro_core.ventilation.kept import fresh_air_of


def applies(nameplate: Nameplate) -> bool:
    """A damper can bring in outdoor air at night."""
    return isinstance(nameplate, HeatPumpNameplate) and nameplate.night_cooling


def work(context: PartContext[HeatPumpNameplate]) -> PartResult:
    """What is known for tonight; a plan that was taken over is said among the verdicts."""
    visit = context.visit
    setups, plans = visit.entries_of(NightSetup), visit.entries_of(NightPlanned)
    room = context.air("return")
    dwelling = fresh_air_of(visit).dwelling
    page = NightPage(
        setups[-1][1] if setups else context.nameplate.night,
        setups[-1][0].id if setups else "",
        plans[-1][1] if plans else None,
        plans[-1][0].id if plans else "",
        room.dry_bulb.value if room else None,
        context.nameplate.rated_total_w,
        dwelling.floor_area_m2 if dwelling else None,
        context.nameplate.rated_airflow_m3s,
    )
    details: tuple[VerdictLine, ...] = ()
    if page.planned:
        made = page.planned
        words = f"Tonight from {made.start_hour} to {made.stop_hour} h, down to {{target}}."
        details = (
            VerdictLine("night:planned", None, Sentence.of(words, target=(made.target_c, "temperature")), opens="tonight"),
        )
    return PartResult(page=page, details=details)


PART = Part(
    key="night",
    name="Night cooling",
    work=work,
    applies=applies,
    page=NightPage,
    calculations=(plan, tonight, fit),
)
