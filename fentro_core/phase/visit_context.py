"""What holds for the whole visit, whichever phase: the air path as found, run times, matches, what was seen."""

from __future__ import annotations

from typing import TypeVar

from fentro_core.diagnosis.entries import CANT, Observation, Rejection
from fentro_core.logbook.accept import branches_noted
from fentro_core.logbook.entries import Assignment, Placement
from fentro_core.logbook.entry import Entry, kind_of_entry
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.matches import Matches
from fentro_core.phase.results import Assigned, Placed, Seen
from fentro_core.phase.run_times import RunTimes
from fentro_core.phase.sorted_out import sorted_out
from fentro_core.system.kinds import air_path

Body = TypeVar("Body")


class VisitContext:
    """The standing entries of a snapshot, sorted out: all (`standing`), those that are no readings (`others`).

    `latest`: the latest reading of each station, quantity and point, whichever phase.
    """

    def __init__(self, snapshot: Snapshot) -> None:
        self.snapshot = snapshot
        stands = sorted_out(snapshot.entries)
        self.standing = stands.standing
        self.others = stands.others
        self.latest = stands.latest
        self._readings = stands.readings
        self._saying = stands.saying
        self.pressure_pa = snapshot.site.pressure_pa()
        system = snapshot.system
        self.path = air_path(system.kind, system.nameplate, branches_noted(self.others))
        self.runs = RunTimes.of(self.others)
        self.matches = Matches(self.others, snapshot.instruments)
        self.rejected: dict[str, tuple[str, str]] = {}
        placed: dict[str, Placed] = {}
        assigned: dict[str, Assigned] = {}
        seen: dict[tuple[str, str], Seen] = {}
        used: set[str] = set()
        for entry in self.others:
            match entry.body:
                case Rejection(cause, why):
                    self.rejected[cause] = (why, entry.id)
                case Placement(station, where):
                    placed[station] = Placed(station, where, entry.id)
                case Assignment(instrument, station, point):
                    assigned[instrument] = Assigned(instrument, station, point, entry.id, entry.at)
                case Observation(item, value):
                    seen[item, entry.phase] = Seen(item, value, entry.id)
                case _:
                    kind = kind_of_entry(entry.kind)
                    if kind.uses_station and kind.station:
                        used.add(kind.station(entry.body))
        self.placed = tuple(placed.values())
        self.assigned = tuple(each for each in assigned.values() if each.station)
        self._seen = seen
        self.used = used | {place.station for place in self.placed} | {hung.station for hung in self.assigned}

    def readings(self, phase: str) -> list[Entry]:
        """The latest standing reading of each quantity at each point of a phase: those before it are read over."""
        return list(self._readings.get(phase, {}).values())

    def entries_of(self, body: type[Body], phase: str = "") -> list[tuple[Entry, Body]]:
        """Standing entries that say this (no readings), in their order; of one phase where it is named."""
        saying = self._saying.get(body, ())
        return [(entry, entry.body) for entry in saying if phase in ("", entry.phase)]

    def last_of(self, body: type[Body]) -> Body | None:
        """The last thing of a kind that was said, or None."""
        found = self.entries_of(body)
        return found[-1][1] if found else None

    @property
    def seen(self) -> tuple[Seen, ...]:
        """What was seen last of each item, as left before as found."""
        latest = {item: found for (item, phase), found in self._seen.items() if phase == "as_found"}
        latest |= {item: found for (item, phase), found in self._seen.items() if phase == "as_left"}
        return tuple(latest.values())

    def seen_in(self, phase: str) -> tuple[Seen, ...]:
        """What was seen in one phase."""
        return tuple(found for (_, of), found in self._seen.items() if of == phase)

    def cant(self, phase: str) -> frozenset[str]:
        """Looks that somebody said can't be had in this phase."""
        return frozenset(each.item for each in self.seen_in(phase) if each.value == CANT)

    def item(self, item: str, phase: str) -> str:
        """What was seen of an item in a phase: what was found stays until another is seen."""
        found = self._seen.get((item, phase)) or self._seen.get((item, "as_found"))
        return found.value if found else ""

    def against(self) -> bool:
        """The filter's arrow points against the air path shown."""
        return any(each.item == "filter_arrow" and each.value == "against" for each in self.seen)

    def arrow_settled(self) -> bool:
        """The way of the air was confirmed by the arrow, or there is none."""
        return any(each.item == "filter_arrow" and each.value != "against" for each in self.seen)
