"""What one phase is worked out on: readings, the numbers so far with their sources, and each part's own view of them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Generic, TypeVar

from fentro_core.base.kept import kept
from fentro_core.base.measured import Measured
from fentro_core.base.quantity import quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.diagnosis.people import PUMP
from fentro_core.diagnosis.signs import Sign, sign, sign_by_number
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.instruments.station_air import StationAir
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import NUMBERS
from fentro_core.phase.readings import Readings
from fentro_core.phase.results import Contribution, Result
from fentro_core.phase.run_times import NOBODY_NOTED
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.nameplate import Nameplate

CHANGES_FROM_K = 1.5
"""Supply this far from return: the unit cools, or heats. Nearer than that it does nothing."""

WARM_OUTDOORS_C, HEATS_CLEARLY_K = 20.0, 8.0
"""From the first outdoors on, only a supply warmer by the second is taken for heating. Ours."""

COLD_OUTDOORS_C = 10.0
"""Below that nobody cools with a heat pump: one that blows cold defrosts. Ours."""

DEFROSTED = Sentence.of("Read while it defrosted. Read again ten minutes after that is over.")

JUDGED_AT = ("return", "supply", "mixed")
"""Readings here carry verdicts: when one of them came too early, no verdict hardens."""

Plated = TypeVar("Plated", bound=Nameplate)
Given = TypeVar("Given")


class Undeclared(LookupError):
    """A part read or kept what it did not declare."""


class PhaseContext:
    """One phase: what the visit and its readings say, and what the parts have worked out so far."""

    def __init__(self, visit: VisitContext, phase: str) -> None:
        self.visit = visit
        self.phase = phase
        self.path = visit.path
        self.pressure_pa = visit.pressure_pa
        self.nameplate: Nameplate = visit.snapshot.system.nameplate
        self.kind: str = visit.snapshot.system.kind
        entries = visit.readings(phase)
        self.readings = Readings(
            phase, entries, visit.snapshot.instruments, self.path.stations, visit.runs, visit.matches, self.pressure_pa
        )
        self.stations = tuple(self.readings.station(station) for station in self.path.stations)
        self.measured: dict[str, Measured] = {}
        self.done: dict[str, PartResult] = {}

    def air(self, station: str) -> StationAir | None:
        """A station's air as differences use it (probes matched)."""
        return self.readings.matched_airs.get(station)

    @property
    def mode(self) -> str:
        """``cooling``, ``heating`` or "" when the unit does nothing, or it is not known. Only what can heat is seen heating.

        A little warmer on a warm day is the fan, or a hot duct: no heater that was called does so little. A heat pump that blows
        cold on a cold day does neither: it defrosts.
        """
        return_, supply = self.air("return"), self.air("supply")
        if return_ is None or supply is None:
            return ""
        difference = supply.dry_bulb.value - return_.dry_bulb.value
        if difference >= CHANGES_FROM_K and self.nameplate.heats:
            outdoor = self.air("outdoor")
            warm = outdoor is not None and outdoor.dry_bulb.value >= WARM_OUTDOORS_C
            return "" if warm and difference < HEATS_CLEARLY_K else "heating"
        return "cooling" if difference <= -CHANGES_FROM_K and not self.blows_cold else ""

    @property
    def blows_cold(self) -> bool:
        """A heat pump on a cold day whose supply is no warmer than the return: whatever it does, it was not called to cool."""
        return_, supply, outdoor = self.air("return"), self.air("supply"), self.air("outdoor")
        if self.kind not in PUMP or return_ is None or supply is None or outdoor is None:
            return False
        return outdoor.dry_bulb.value < COLD_OUTDOORS_C and supply.dry_bulb.value <= return_.dry_bulb.value

    @property
    def lower_stage(self) -> bool:
        """Somebody saw that it runs on a lower stage, or slowed down: what the nameplate says is of the full one."""
        return self.visit.item("stage", self.phase) == "first"

    @property
    def auxiliary(self) -> str:
        """Whether the electric heater is called: ``off``, ``on`` beside the compressor, ``alone``, or "" where nobody said."""
        called = {"yes": "on", "no": "off"}.get(self.visit.item("heater_called", self.phase), "")
        return self.visit.item("auxiliary", self.phase) or called

    def seen_by_eye(self) -> list[Sign]:
        """Symptoms that were answered by eye in this phase, in the order in which they were."""
        seen = [(SYMPTOMS[each.item], each.value) for each in self.visit.seen_in(self.phase) if each.item in SYMPTOMS]
        found = (sign(symptom, value, 1.0, None) for symptom, value in seen if symptom.by_eye)
        return [each for each in found if each is not None]

    @kept
    def early(self) -> Sentence | None:
        """Why a reading that carries verdicts came too soon, or None."""
        found = self.readings.early(JUDGED_AT)
        return DEFROSTED if self._defrosted and found in (None, NOBODY_NOTED) else found

    @property
    def _defrosted(self) -> bool:
        return any(each.item == "defrosting" and each.value == "yes" for each in self.visit.seen_in(self.phase))


class PartContext(Generic[Plated]):
    """A phase as one part may see it: its own numbers, and those of the parts it declared to need."""

    def __init__(self, phase: PhaseContext, part: Part) -> None:
        self._phase = phase
        self.part = part
        self._own = {number.key for number in part.numbers}
        self.visit = phase.visit
        self.phase = phase.phase
        self.path = phase.path
        self.pressure_pa = phase.pressure_pa
        self.nameplate: Plated = phase.nameplate  # type: ignore[assignment]
        self.kind = phase.kind
        self.readings = phase.readings
        self.stations = phase.stations
        self.mode = phase.mode
        self.blows_cold = phase.blows_cold
        self.lower_stage = phase.lower_stage
        self.auxiliary = phase.auxiliary
        self.early = phase.early

    @property
    def cools(self) -> bool:
        """What it does to the air is cooling, as far as anybody knows: it neither heats nor defrosts."""
        return self.mode != "heating" and not self.blows_cold

    @property
    def heater_beside(self) -> bool:
        """The electric heater is on while the compressor heats as well."""
        return self.auxiliary == "on"

    def air(self, station: str) -> StationAir | None:
        """A station's air as differences use it (probes matched)."""
        return self._phase.air(station)

    def number(self, key: str) -> Measured | None:
        """A number worked out so far; None where it is not known.

        Raises
        ------
        Undeclared
            It belongs to a part that this one does not need.
        """
        if key not in self._own and OWNERS.get(key) not in self.part.needs:
            raise Undeclared(f"{self.part.key} reads {key}, and does not say that it needs {OWNERS.get(key, 'any such part')}")
        return self._phase.measured.get(key)

    def given(self, part: str, kind: type[Given]) -> Given | None:
        """What a needed part hands over; None where this system does not have that part."""
        if part not in self.part.needs:
            raise Undeclared(f"{self.part.key} does not say that it needs {part}")
        done = self._phase.done.get(part)
        return done.gives if done is not None and isinstance(done.gives, kind) else None

    def result_of(self, part: str, key: str) -> Result | None:
        """A result of a needed part, to be shown among one's own."""
        if part not in self.part.needs:
            raise Undeclared(f"{self.part.key} does not say that it needs {part}")
        done = self._phase.done.get(part)
        return next((result for result in done.results if result.key == key), None) if done else None

    def note(self, key: str, measured: Measured) -> Measured:
        """Remember a number that is worked with, and give it back."""
        if key not in self._own:
            raise Undeclared(f"{self.part.key} does not declare the number {key}")
        self._phase.measured[key] = measured
        return measured

    def keep(
        self,
        key: str,
        measured: Measured,
        work: Working | None = None,
        remark: Sentence | None = None,
        nominal: bool = False,
    ) -> Result:
        """Remember a number under its key, and make it a result."""
        self.note(key, measured)
        return self.result(key, measured, work, remark, nominal)

    def result(
        self,
        key: str,
        measured: Measured,
        work: Working | None = None,
        remark: Sentence | None = None,
        nominal: bool = False,
        *,
        name: str = "",
        kind: str = "",
    ) -> Result:
        """A number with its half-width, working, and where its doubt comes from; not remembered.

        `name`, `kind`: for what is no declared number, such as one way of several to a number.
        """
        label = self.readings.labels.get
        shares = measured.shares().items()
        contributions = tuple([Contribution(label(source, source), share) for source, share in shares if share >= 0.005])
        shown = quantity(measured, kind or NUMBERS[key].kind)
        lines = tuple(work.lines) if work else ()
        return Result(key, name or NUMBERS[key].name, shown, lines, contributions, remark, nominal=nominal)

    def signs_by_number(self) -> tuple[Sign, ...]:
        """Every symptom of this part that one number tells by itself."""
        found = []
        for symptom in self.part.symptoms:
            measured = self.number(symptom.number) if symptom.number else None
            if measured is not None:
                found += self.judge(symptom.key, measured, symptom.least, symptom.most)
        return tuple(found)

    def judge(
        self,
        symptom: str,
        value: Measured,
        low: float | None,
        high: float | None,
        names: dict[str, str] | None = None,
    ) -> list[Sign]:
        """A symptom by one number against limits: its state, when the number leans clearly enough to one side."""
        found = sign_by_number(SYMPTOMS[symptom], value, low, high, names or {}, self._says(symptom))
        return [found] if found else []

    def sign(self, symptom: str, state: str) -> list[Sign]:
        """A symptom in a state."""
        found = sign(SYMPTOMS[symptom], state, 1.0, self._says(symptom))
        return [found] if found else []

    def _says(self, symptom: str) -> tuple[float, str] | None:
        key = SYMPTOMS[symptom].says
        measured = self._phase.measured.get(key) if key else None
        return (measured.value, NUMBERS[key].kind) if measured is not None else None


OWNERS: dict[str, str] = {}
"""The part that works a number out, by the number's key; filled from the parts (`fentro_core.parts`)."""


def missing(key: str, what: Iterable[str]) -> Result:
    """A result that can't be had yet, and what it lacks."""
    return Result(key, NUMBERS[key].name, None, missing=tuple(what))


def said(key: str, remark: Sentence) -> Result:
    """A result that is withheld, with the reason."""
    return Result(key, NUMBERS[key].name, None, remark=remark)
