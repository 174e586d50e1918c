"""When the unit ran, and whether a reading came too early to be trusted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from fentro_core.base.sentence import Sentence
from fentro_core.instruments.instrument import Instrument
from fentro_core.instruments.quantities import READABLE
from fentro_core.instruments.steadiness import SETTLING_S, judge_evidence
from fentro_core.logbook.entries import Reading, Run
from fentro_core.logbook.entry import Entry

NOBODY_NOTED = Sentence.of("Nobody noted when the unit started: if under ten minutes ago, read again.")
TOO_SOON = Sentence.of("Read before the unit had run ten minutes. Read again once it has settled.")
STILL_MOVING = Sentence.of("Held while it was still moving. Read again once it stands still.")
UNQUIET = Sentence.of("Held while it jumped more than the probe itself. Read again, with the probe a little elsewhere.")
WATCHED_TOO_SHORT = Sentence.of("Held before it was watched for three minutes. Read again once it stands still.")

_BY_STATE = {"moving": STILL_MOVING, "scattered": UNQUIET, "too_short": WATCHED_TOO_SHORT}


@dataclass(frozen=True)
class RunTimes:
    """Moments at which the unit was noted as started or stopped, in order."""

    events: tuple[tuple[datetime, bool], ...]

    @classmethod
    def of(cls, entries: Sequence[Entry]) -> RunTimes:
        """From the standing entries of a visit."""
        runs = [
            (datetime.fromisoformat(entry.at) - timedelta(seconds=entry.body.already_s), entry.body.event == "started")
            for entry in entries
            if isinstance(entry.body, Run)
        ]
        return cls(tuple(sorted(runs)))

    @property
    def since(self) -> datetime | None:
        """Since when it runs now; None when it does not, or nobody noted it."""
        return self.events[-1][0] if self.events and self.events[-1][1] else None

    def running_s(self, at: str) -> float | None:
        """Seconds the unit had run at that moment; None when it did not, or nobody noted it.

        >>> RunTimes(()).running_s("2026-07-01T10:00:00+00:00") is None
        True
        """
        moment = datetime.fromisoformat(at)
        since = None
        for when, started in self.events:
            if when > moment:
                break
            since = when if started else None
        return None if since is None else (moment - since).total_seconds()

    def early(self, entry: Entry, reading: Reading, instrument: Instrument | None) -> Sentence | None:
        """Why this reading came too early, or None: it was held unsteady, or the unit had not run ten minutes."""
        if reading.held is not None:
            accuracy = instrument.accuracy.get(reading.quantity) if instrument else None
            state = judge_evidence(reading.held, reading.quantity, accuracy.repeatability if accuracy else None)
            if state in _BY_STATE:
                return _BY_STATE[state]
        running = self.running_s(entry.at)
        if running is None:
            return NOBODY_NOTED if READABLE[reading.quantity].steady_per_10min else None
        return TOO_SOON if running < SETTLING_S else None
