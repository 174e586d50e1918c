"""What is written down of an economizer: settings planned and left, damper readings, tests seen, points, revisions, alarms."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.refusal import Refused
from fentro_core.economizer.alarms import ALARMS
from fentro_core.economizer.configuration import LABELS, Configuration, check_configuration, with_setting
from fentro_core.economizer.points import MOST_LINES, PointLine
from fentro_core.economizer.proof.step import NAMES, TestRun
from fentro_core.logbook.kinds import EntryKind, register

Stage = Literal["as_found", "planned", "as_left"]

READABLE_C = (-45.0, 85.0)
"""Temperatures that a sensor in moving air may show."""


@dataclass(frozen=True)
class PlanSetting:
    """One setting of the plan at a stage: a number in SI, or words; the reason why. See `configuration.LABELS`."""

    setting: str
    stage: Stage
    number: float | None = None
    text: str = ""
    reason: str = ""

    @property
    def value(self) -> float | str | bool:
        """As a configuration takes it."""
        if self.setting == "locks_out":
            return self.text == "yes"
        if self.setting == "stages" and self.number is not None:
            return int(self.number)
        return self.text if self.number is None else self.number


@dataclass(frozen=True)
class OutdoorNeed:
    """The outdoor-air flow that is required, and the supply flow it is a share of [m³/s]; `why`: by which rule."""

    required_m3s: float
    supply_m3s: float
    why: str = ""


@dataclass(frozen=True)
class DamperRead:
    """The damper at a position (0 to 1), and the air there once settled [°C]; half-width of each temperature [K]."""

    position: float
    return_c: float
    outdoor_c: float
    mixed_c: float
    plus_minus_k: float = 0.3


@dataclass(frozen=True)
class TestSeen:
    """A functional test or loop check, and what was seen of it."""

    title: str
    seen: TestRun

    __test__ = False


@dataclass(frozen=True)
class PointList:
    """The list of points as it was brought in."""

    lines: tuple[PointLine, ...]
    name: str = ""


@dataclass(frozen=True)
class PointRead:
    """What a point showed and what a reference probe showed at its place [°C], in a named condition."""

    terminal: str
    shown_c: float
    reference_c: float
    plus_minus_k: float = 0.3
    condition: str = ""


@dataclass(frozen=True)
class SavedConfiguration:
    """A revision of the controller's configuration: as it was read, or as it was loaded; why.

    `source` ``unconfirmed``: the controller fell silent while it was sent.
    """

    document: Configuration
    reason: str
    source: Literal["controller", "loaded", "file", "unconfirmed"] = "controller"


@dataclass(frozen=True)
class AlarmSeen:
    """An alarm stands at the controller."""

    alarm: str
    words: str = ""


@dataclass(frozen=True)
class AlarmCheck:
    """One of an alarm's checks, done: what was found; a resistance where one was read."""

    alarm: str
    check: int
    found: str
    good: bool = True
    curve: Literal["", "10k type II", "10k type III", "1k platinum"] = ""
    resistance_ohm: float | None = None
    reference_c: float | None = None


@dataclass(frozen=True)
class AlarmClosed:
    """An alarm is closed: its cause; `found`: False when it cleared and no cause was found, which is a finding."""

    alarm: str
    cause: str
    found: bool = True


MOST_TRACE = 400


def _check_need(body: OutdoorNeed) -> None:
    if not 0 < body.supply_m3s <= 60:
        raise Refused("The supply flow lies above zero, and below that of any unit.", "supply_m3s")
    if not 0 < body.required_m3s <= body.supply_m3s:
        raise Refused("The outdoor flow lies above zero and is at most the supply flow.", "required_m3s")


def _check_damper(body: DamperRead) -> None:
    if not 0 <= body.position <= 1:
        raise Refused("A position lies between 0 and 100 %.", "position")
    _check_temperatures(body, "return_c", "outdoor_c", "mixed_c")
    if not 0 < body.plus_minus_k <= 5:
        raise Refused("A half-width lies above zero.", "plus_minus_k")


def _check_list(body: PointList) -> None:
    if not 0 < len(body.lines) <= MOST_LINES:
        raise Refused(f"A list has 1 to {MOST_LINES} points.", "lines")


def _check_point(body: PointRead) -> None:
    if not body.terminal.strip():
        raise Refused("Say which terminal.", "terminal")
    _check_temperatures(body, "reference_c")
    if not -80 <= body.shown_c <= 150:
        raise Refused("No input shows this.", "shown_c")


def _check_configuration(body: SavedConfiguration) -> None:
    if not body.reason.strip():
        raise Refused("Say why: the next one will want to know.", "reason")
    try:
        check_configuration(body.document)
    except Refused as refusal:
        raise refusal.under("document") from refusal


def _check_alarm(body: AlarmSeen) -> None:
    if body.alarm not in ALARMS:
        raise Refused(f"Choose an alarm: {', '.join(ALARMS)}.", "alarm")


def _check_alarm_check(body: AlarmCheck) -> None:
    if not body.found.strip():
        raise Refused("Write what you found.", "found")
    if body.resistance_ohm is not None and not 0 <= body.resistance_ohm <= 1e8:
        raise Refused("A resistance lies above zero.", "resistance_ohm")


def _check_alarm_closed(body: AlarmClosed) -> None:
    if not body.cause.strip():
        raise Refused("An alarm is closed with its cause; if none was found, say that.", "cause")


def _check_temperatures(body: object, *names: str) -> None:
    low, high = READABLE_C
    for name in names:
        if not low <= getattr(body, name) <= high:
            raise Refused("Air lies between {low} and {high}.", name, low=(low, "temperature"), high=(high, "temperature"))


def _check_setting(body: PlanSetting) -> None:
    key = body.setting
    root = key.split(".", 1)[0]
    if key not in LABELS and root not in ("loops", "terminals"):
        raise Refused("There is no such setting.", "setting")
    if body.number is None and not body.text.strip():
        raise Refused("Say what it is set to.", "number" if LABELS.get(key, ("", ""))[1] else "text")
    if key == "locks_out" and body.text not in ("yes", "no"):
        raise Refused("Answer yes or no.", "text")
    if body.stage == "planned" and not body.reason.strip():
        raise Refused("Say why: a plan without a reason is a guess.", "reason")
    try:
        with_setting(_LOOSE, key, body.value)
    except Refused as refusal:
        where = "number" if body.number is not None else "text"
        raise refusal.at(where) from refusal


_LOOSE = Configuration(heating_setpoint_c=5.0, cooling_setpoint_c=35.0, freeze_c=-5.0, mixed_low_limit_c=15.0)
"""Settings are judged one by one here; whether they fit each other is said of the whole plan."""


def _check_seen(body: TestSeen) -> None:
    seen = body.seen
    if not seen.test.strip():
        raise Refused("Say which test.", "seen.test")
    unknown = [band.point for band in seen.expected if band.point not in NAMES]
    if unknown:
        raise Refused("There is no such point.", "seen.expected")
    if len(seen.trace) > MOST_TRACE:
        raise Refused(f"A trace has at most {MOST_TRACE} samples.", "seen.trace")
    if not all(-1e5 < value < 1e6 for value in seen.values.values()):
        raise Refused("No controller shows this.", "seen.values")


register(
    EntryKind(key="plan_setting", body=PlanSetting, name="Setting planned or left", check=_check_setting),
    EntryKind(key="outdoor_need", body=OutdoorNeed, name="Outdoor air required", check=_check_need),
    EntryKind(key="damper_read", body=DamperRead, name="Damper position read", check=_check_damper),
    EntryKind(key="test_seen", body=TestSeen, name="Functional test", check=_check_seen, heavy=("seen.trace",)),
    EntryKind(key="point_list", body=PointList, name="Point list", check=_check_list),
    EntryKind(key="point_read", body=PointRead, name="Point compared", check=_check_point),
    EntryKind(key="configuration", body=SavedConfiguration, name="Configuration saved", check=_check_configuration),
    EntryKind(key="alarm", body=AlarmSeen, name="Alarm", check=_check_alarm),
    EntryKind(key="alarm_check", body=AlarmCheck, name="Alarm checked", check=_check_alarm_check),
    EntryKind(key="alarm_closed", body=AlarmClosed, name="Alarm closed", check=_check_alarm_closed),
)
