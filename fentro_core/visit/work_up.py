"""From a snapshot to everything that follows from it. A pure function: same snapshot, same answer."""

from __future__ import annotations

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.logbook.accept import closing
from fentro_core.logbook.entries import Note, Setting
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.logbook.temporary import ledger
from fentro_core.parts import parts_of
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.kinds import KINDS
from fentro_core.visit.comparison import comparison
from fentro_core.visit.phase_work import phase_work
from fentro_core.visit.results import Between, WorkUp
from fentro_core.visit.route import next_station, route


def work_up(snapshot: Snapshot, causes: bool = True) -> WorkUp:
    """Work out a visit: stations, results with half-widths and working, verdicts, ribbon, route, as found against as left.

    Parameters
    ----------
    causes : bool
        Look for causes, too, which takes as long as all the rest.

    Raises
    ------
    Refused
        The site's pressure can't be right. Impossible readings do not raise: their station says what is wrong.
    """
    visit = VisitContext(snapshot)
    found = phase_work(visit, "as_found")
    left = phase_work(visit, "as_left") if visit.readings("as_left") else None
    phases = {work.phase: work.result if causes else work.without_causes for work in (found, left) if work}
    running_since = visit.runs.since.isoformat() if visit.runs.since else None
    over = closing(visit.others)
    steps, following = route(visit, phases, running_since, over is not None)
    site, system = snapshot.site, snapshot.system
    by_barometer = Sentence.of("By the site's barometer.")
    by_elevation = Sentence.of("Standard pressure at {elevation}.", elevation=(site.elevation_m, "length"))
    return WorkUp(
        pressure=Quantity(site.pressure_pa(), 0.0, "barometric_pressure"),
        pressure_remark=by_barometer if site.barometer_pa is not None else by_elevation,
        path=visit.path,
        phases=tuple(phases.values()),
        comparison=comparison(found, left),
        route=steps,
        next_step=following,
        running_since=running_since,
        closed=over is not None,
        cancelled=over is not None and over.cancelled,
        reported=_reported(visit) or snapshot.visit.purpose,
        parts=tuple(part.key for part in parts_of(system.kind, system.nameplate)),
        matches=tuple(visit.matches.results),
        placed=visit.placed,
        assigned=visit.assigned,
        seen=visit.seen,
        speed_taps=system.nameplate.speed_taps,
        diagnosed=KINDS[system.kind].diagnosed,
        next_station=next_station(visit, phases["as_found"]),
        between=_between(visit),
        temporary=ledger(visit.others),
        weighed=causes,
    )


def _between(visit: VisitContext) -> tuple[Between, ...]:
    """Settings changed on the visit, in their order."""
    return tuple(Between(body.what, body.was, body.now, body.why, entry.at) for entry, body in visit.entries_of(Setting))


def _reported(visit: VisitContext) -> str:
    return next((body.text for _, body in visit.entries_of(Note) if body.step == "arrive"), "")
