"""One automatic test against a connected controller: a worker that outlives its listener, so that it always cleans up."""

from __future__ import annotations

import contextlib
import queue
import threading
import time
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import close_old_connections, connection

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.typed_json import write
from fentro_core.base.verdict import Mark
from fentro_core.economizer.places import POINTS
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.running import TRACED, Run, channels
from fentro_core.economizer.proof.session import PUT_BACK
from fentro_core.economizer.proof.step import Step, TestRun
from fentro_core.moisture import live, proof
from fentro_server.accounts.models import Person
from fentro_server.controllers.gateway import HttpController
from fentro_server.controllers.overrides import hold, new_entry, release, write_down
from fentro_server.visits.models import Visit

POLL_S = 0.25
LONGEST_S = 1500.0
"""Real time after which a test is stopped whatever it says."""

GONE = "The controller stopped answering. The test proves nothing; what was overridden stays in the ledger until it answers."
NEEDS_A_HAND = "This test needs a hand at the unit: do it there, and type what you see."


@dataclass(frozen=True)
class Outcome:
    """What a run says, and the entry that keeps it, as kind and body; None where nothing is kept."""

    mark: Mark
    sentence: Sentence
    kept: tuple[str, dict[str, Any]] | None


Judge = Callable[[Step, TestRun, str], Outcome]
"""From a test, what was seen of it, and words of what went wrong."""


def of_economizer(step: Step, seen: TestRun, words: str) -> Outcome:
    """Kept whatever its end."""
    judged = verdict(seen)
    return Outcome(judged.mark, judged.sentence, ("test_seen", {"title": step.title, "seen": {**write(seen), "note": words}}))


def of_drying(step: Step, seen: TestRun, words: str) -> Outcome:
    """Kept when it came to its end."""
    try:
        found = live.seen_of(seen)
    except Refused as refused:
        return Outcome("not_measured", refused.sentence, None)
    return Outcome(*proof.verdict(found.test, found), ("drying_test", write(found)))


@contextlib.contextmanager
def only_one(gateway: str, unit: str) -> Iterator[None]:
    """One test at a time at a controller, over all processes: the database keeps the lock while its connection lives."""
    key = zlib.crc32(f"controller/{gateway}/{unit}".encode())
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s)", [key])
        if not cursor.fetchone()[0]:
            raise Refused("A test is running at this controller already. Wait for its end, or stop it.")
        try:
            yield
        finally:
            cursor.execute("select pg_advisory_unlock(%s)", [key])


class _Clock:
    """The time of a test [s]: ours, whatever a real controller's clock shows. A simulated unit lives faster: its own counts."""

    APART = 0.3
    SURE_AFTER_S = 60.0

    def __init__(self, simulated: bool) -> None:
        self._simulated = simulated
        self._began = time.monotonic()
        self._first: float | None = None
        self._theirs = self._ours = 0.0

    def now(self, points: Mapping[str, Any]) -> float:
        """Now, at these points."""
        self._ours = time.monotonic() - self._began
        shown = points.get("time_s")
        if shown is None:
            return self._ours
        self._first = shown if self._first is None else self._first
        self._theirs = shown - self._first
        return float(shown) if self._simulated else self._ours

    def words(self) -> str:
        """Where both went apart."""
        if self._simulated or self._first is None or self._ours < self.SURE_AFTER_S:
            return ""
        if abs(self._theirs - self._ours) <= self.APART * self._ours:
            return ""
        return f"The controller's clock went {self._theirs:.0f} s in {self._ours:.0f} s of ours. Times here are ours."


class ProofRun:
    """Runs a step; `events` carries samples as they come, then how it ended, then None."""

    def __init__(
        self,
        visit: Visit,
        person: Person,
        controller: HttpController,
        step: Step,
        phase: str,
        judge: Judge = of_economizer,
        over_held: bool = False,
    ) -> None:
        self.judge = judge
        self.over_held = over_held
        self.own: dict[str, float] = {}
        self.visit, self.person, self.controller, self.step, self.phase = visit, person, controller, step, phase
        self.events: queue.Queue[dict[str, Any] | None] = queue.Queue()
        self.stop = threading.Event()
        self.by_hand = ""
        self.held: set[str] = set()
        self.opened: dict[str, str] = {}
        self.clock_words = ""

    def run(self) -> None:
        """To its end; then release, confirm, and write down what was seen."""
        close_old_connections()
        try:
            with only_one(self.controller.gateway, self.controller.name):
                self._run()
        except Refused as refused:
            self.events.put({"event": "trouble", "words": refused.sentence.say()})
        except Exception:
            self.events.put({"event": "trouble", "words": "Something went wrong. Look at the ledger before you go on."})
            raise
        finally:
            self.events.put(None)
            self.controller.close()
            connection.close()

    def _run(self) -> None:
        ended, words, run = "", "", None
        try:
            if self.step.hand and self.controller.scene() is None:
                raise DeviceRefused(NEEDS_A_HAND)
            points = self.controller.points()
            if not self._may_move(points):
                return
            run = Run(self.step, channels(points, {}), points)
            ended = self._drive(run, _Clock(self.controller.scene() is not None))
        except DeviceGone:
            ended, words = "gone", GONE
        except DeviceRefused as refused:
            ended, words = "refused", str(refused)
        except Exception:
            self._let_go()
            raise
        words = self._let_go() or words or self.clock_words
        if run is not None and run.lost and run.over:
            words = words or f"Not held: {POINTS[run.lost].name}."
        if run is None:
            run = Run(self.step, {})
        self._keep(run, ended, words)

    def _may_move(self, points: Mapping[str, Any]) -> bool:
        """What somebody holds already is his: it is asked about first, and put back as it was after the test."""
        needed = {each.point for each in (*self.step.first, *self.step.stimulus)}
        self.own = {point: points[point] for point in points["overridden"] if point in needed and point in points}
        if not self.own or self.over_held:
            return True
        names = ", ".join(POINTS[point].name for point in sorted(self.own))
        words = f"Held already, and moved by this test: {names}. Release it, or let the test put it back as it is now."
        self.events.put({"event": "trouble", "words": words, "held": sorted(self.own)})
        return False

    def _drive(self, run: Run, clock: _Clock) -> str:
        deadline = time.monotonic() + LONGEST_S
        shown: dict[str, float] = {}
        while not run.over:
            if self.stop.is_set() or time.monotonic() > deadline:
                return "stopped"
            wanted = {each.point: each.value for each in run.holds}
            if wanted != shown:
                gone = self.held - set(wanted)
                if gone:
                    self._give_back(gone)
                self.held |= set(wanted)
                self.opened |= hold(self.visit, self.person, self.controller, wanted, self.step.title)
                self.held = set(wanted)
                shown = wanted
            if run.hand_due and not self.by_hand and self.step.hand:
                self._do_by_hand()
            points = self.controller.points()
            run.take(points, clock.now(points))
            last = run.samples[-1]
            self.events.put(
                {
                    "event": "sample",
                    "at_s": last.at_s,
                    "stage": run.stage,
                    "values": {key: round(last.values[key], 4) for key in TRACED if key in last.values},
                }
            )
            self.stop.wait(POLL_S)
        self.clock_words = clock.words()
        return run.ended

    def _give_back(self, points: Iterable[str]) -> list[str]:
        """Release what the test held, or hold it again as it was held before; answers what the controller still holds."""
        wanted = set(points)
        mine = wanted & set(self.own)
        for point in sorted(mine):
            self.controller.override(point, self.own[point])
        entries = [self.opened[point] for point in sorted(mine) if point in self.opened]
        if entries:
            write_down(
                self.visit, self.person, [new_entry("undone", {"change": each, "how": "held as before"}) for each in entries]
            )
            for point in mine:
                self.opened.pop(point, None)
        return release(self.visit, self.person, self.controller, wanted - mine) if wanted - mine else []

    def _do_by_hand(self) -> None:
        hand = self.step.hand
        assert hand is not None
        entry = new_entry("temporary", {"what": hand.words, "kind": hand.kind, "undo": hand.undo})
        write_down(self.visit, self.person, [entry])
        self.by_hand = entry["id"]
        self.controller.hand(hand.action, hand.value)

    def _let_go(self) -> str:
        """Put back and release what the test changed; in words what could not be."""
        try:
            if self.by_hand and self.step.hand:
                self.controller.hand(self.step.hand.action, PUT_BACK[self.step.hand.action])
                write_down(self.visit, self.person, [new_entry("undone", {"change": self.by_hand, "how": "put back"})])
            still = self._give_back(self.held) if self.held else []
        except (DeviceGone, DeviceRefused):
            return GONE
        return "The controller did not let go of everything. See the ledger." if still else ""

    def _keep(self, run: Run, ended: str, words: str) -> None:
        seen = run.seen(ended)
        said = self.judge(self.step, seen, words)
        entry = new_entry(*said.kept, self.phase) if said.kept else None
        if entry:
            write_down(self.visit, self.person, [entry])
        self.events.put(
            {
                "event": "ended",
                "entry": entry["id"] if entry else "",
                "ended": seen.ended,
                "mark": said.mark,
                "sentence": write(said.sentence),
                "words": words,
            }
        )
