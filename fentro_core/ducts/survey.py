"""Rooms surveyed: each against what it should have or the mean of all, and whether it still drifts."""

from __future__ import annotations

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.ducts.entries import RoomSurveyed
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree, RoomBranch

DRIFT_K = 0.5
DRIFT_AFTER_S = 300.0
"""A room that moved by this within no less than this time has not come to rest."""


class Survey:
    """Rooms as surveyed: each against what it should have, or the mean of all."""

    def __init__(self, visit: VisitContext, tree: DuctTree) -> None:
        known = {branch.id for branch in tree.branches}
        self._said = [(entry.moment, body) for entry, body in visit.entries_of(RoomSurveyed) if body.branch in known]
        self._last = {body.branch: body for _, body in self._said}
        rooms = [body.room_c for body in self._last.values()]
        self._mean = sum(rooms) / len(rooms) if rooms else 0.0

    def room(self, branch: str) -> Quantity | None:
        """As last read."""
        said = self._last.get(branch)
        return Quantity(said.room_c, 0.0, "temperature") if said else None

    def deviation(self, branch: str) -> Quantity | None:
        """From what it should be; from the mean of the rooms where nobody said it."""
        said = self._last.get(branch)
        if said is None or (said.wanted_c is None and len(self._last) < 2):
            return None
        wanted = said.wanted_c if said.wanted_c is not None else self._mean
        return Quantity(said.room_c - wanted, 0.0, "temperature_difference")

    def drift(self, branch: RoomBranch) -> Sentence | None:
        """The room was still moving when it was read again."""
        said = [(moment, body.room_c) for moment, body in self._said if body.branch == branch.id]
        if len(said) < 2:
            return None
        (first, before), (last, after) = said[0], said[-1]
        seconds = (last - first).total_seconds()
        if seconds < DRIFT_AFTER_S or abs(after - before) < DRIFT_K:
            return None
        words = f"{branch.called} moved by {{by}} within {{time}}: it still drifts. Survey again later."
        return Sentence.of(words, by=(after - before, "temperature_difference"), time=(seconds, "duration"))
