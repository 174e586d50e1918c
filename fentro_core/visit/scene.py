"""What holds for the whole visit, whichever phase: the air path as found, run times, matches, ducts, what was seen."""

from __future__ import annotations

from fentro_core.measuring.traverse import Duct
from fentro_core.visit.air_path import air_path
from fentro_core.visit.bodies import Assignment, Observation, Placement, Plane, Rejection, ReturnDuct
from fentro_core.visit.entries import Entry, branches_noted, standing
from fentro_core.visit.matches import Matches
from fentro_core.visit.results import Assigned, Placed, Seen
from fentro_core.visit.snapshot import Snapshot
from fentro_core.visit.timing import RunTimes


class Scene:
    """The standing entries of a snapshot, sorted out once."""

    def __init__(self, snapshot: Snapshot) -> None:
        self.snapshot = snapshot
        self.entries: list[Entry] = standing(snapshot.entries)
        self.pressure_pa = snapshot.site.pressure_pa()
        system = snapshot.system
        self.path = air_path(system.kind, system.nameplate, branches_noted(self.entries))
        self.runs = RunTimes.of(self.entries)
        self.matches = Matches(self.entries, snapshot.instruments)
        self.planes: dict[str, Duct] = {}
        self.plane_entries: dict[str, str] = {}
        self.return_duct: ReturnDuct | None = None
        self.return_duct_entry = ""
        self.rejected: dict[str, tuple[str, str]] = {}
        placed: dict[str, Placed] = {}
        assigned: dict[str, Assigned] = {}
        seen: dict[tuple[str, str], Seen] = {}
        for entry in self.entries:
            match entry.body:
                case Plane(station, duct):
                    self.planes[station] = duct
                    self.plane_entries[station] = entry.id
                case ReturnDuct():
                    self.return_duct, self.return_duct_entry = entry.body, entry.id
                case Rejection(cause, why):
                    self.rejected[cause] = (why, entry.id)
                case Placement(station, where):
                    placed[station] = Placed(station, where, entry.id)
                case Assignment(instrument, station, point):
                    assigned[instrument] = Assigned(instrument, station, point, entry.id, entry.at)
                case Observation(item, value):
                    seen[item, entry.phase] = Seen(item, value, entry.id)
        self.placed = tuple(placed.values())
        self.assigned = tuple(each for each in assigned.values() if each.station)
        self._seen = seen
        self.used = {place.station for place in self.placed} | {hung.station for hung in self.assigned} | set(self.planes)

    @property
    def seen(self) -> tuple[Seen, ...]:
        """What was seen last of each item, as left before as found."""
        latest = {item: found for (item, phase), found in self._seen.items() if phase == "as_found"}
        latest |= {item: found for (item, phase), found in self._seen.items() if phase == "as_left"}
        return tuple(latest.values())

    def seen_in(self, phase: str) -> tuple[Seen, ...]:
        """What was seen in one phase."""
        return tuple(found for (_, of), found in self._seen.items() if of == phase)

    def fan_tap(self, phase: str) -> str:
        """The blower's speed tap in a phase: one found stays until another is seen."""
        found = self._seen.get(("fan_tap", phase)) or self._seen.get(("fan_tap", "as_found"))
        return found.value if found else ""

    def against(self) -> bool:
        """The filter's arrow stands against the air path shown."""
        return any(each.item == "filter_arrow" and each.value == "against" for each in self.seen)

    def arrow_settled(self) -> bool:
        """The way of the air was confirmed by the arrow, or there is none."""
        return any(each.item == "filter_arrow" and each.value != "against" for each in self.seen)
