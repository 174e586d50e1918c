"""The tests of reheat and return bypass: what to call, three temperatures to read, and which fault two of them agree on."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.system.nameplate import CoolingNameplate, Nameplate

DryingTestKind = Literal["cooling", "reheat", "back", "dehumidify", "bypass_shut", "bypass_open"]
Runs = Literal["", "runs", "stands"]

WAIT_S = 600.0
"""Until a coil and what follows it have settled."""

COOLS_K = 4.0
"""Return to after the coil: less, and the compressor did not bring the coil down."""

FAN_K = (0.0, 2.0)
"""What a blower warms the air by, least and most."""

PROBES_K = 0.8
"""How far (95 %) the difference of two readings lies from what is so, with ordinary probes held one after the other."""

COLDER_K = FAN_K[0] - PROBES_K - 0.7
"""A supply further under the coil than this is a slip."""

REHEATS_K = 4.0
"""A reheat coil that is on warms the air by this at least. Ours."""

SHUT_SHARE, OPEN_SHARE = 0.12, (0.08, 0.5)
"""Around a bypass that is shut, at the most; around one that is open, least and most. Ours: a maker's figures go before."""

SHARE_CLOSE = 0.09
"""How far a share by three temperatures lies from what is so."""


@dataclass(frozen=True)
class DryingTest:
    """One test: what to do, and what it is of."""

    kind: DryingTestKind
    title: str
    do: Sentence


@dataclass(frozen=True)
class DryingTestSeen:
    """What was seen of a test; what was not read is left out.

    Attributes
    ----------
    return_c, after_c, supply_c
        Return, after the coil, supply [°C], once they stand.
    compressor
        Whether it runs.
    note
        Anything else.
    """

    test: DryingTestKind
    return_c: float | None = None
    after_c: float | None = None
    supply_c: float | None = None
    compressor: Runs = ""
    note: str = ""

    @property
    def rise_k(self) -> float | None:
        """From the coil to the supply."""
        return None if self.after_c is None or self.supply_c is None else self.supply_c - self.after_c

    @property
    def cooled_k(self) -> float | None:
        """From return to after the coil."""
        return None if self.after_c is None or self.return_c is None else self.return_c - self.after_c

    @property
    def share(self) -> float | None:
        """Around the coil, with a blower of the ordinary rise."""
        if self.rise_k is None or self.cooled_k is None or self.cooled_k < COOLS_K:
            return None
        return (self.rise_k - sum(FAN_K) / 2) / self.cooled_k


def _check(body: DryingTestSeen) -> None:
    for name in ("return_c", "after_c", "supply_c"):
        value = getattr(body, name)
        if value is not None and not -20 <= value <= 80:
            raise Refused(
                "Air in this unit lies between {low} and {high}.", name, low=(-20.0, "temperature"), high=(80.0, "temperature")
            )


register(EntryKind(key="drying_test", body=DryingTestSeen, name="Test of reheat or bypass", check=_check))


def tests(plate: Nameplate) -> tuple[DryingTest, ...]:
    """Those that this unit has, in order; none of a unit without a coil."""
    if not isinstance(plate, CoolingNameplate):
        return ()
    wait = (WAIT_S, "duration")
    found = []
    shut = ", the bypass shut" if plate.bypasses else ""
    if plate.reheats:
        words = (
            f"Call cooling, with no call for humidity{shut}. Wait {{wait}}. Read the three: nothing warms the air but the fan."
        )
        found.append(DryingTest("cooling", "Cooling without reheat", Sentence.of(words, wait=wait)))
        words = f"Call reheat: humidity setpoint far below the room's, temperature met{shut}. Wait {{wait}}. Read the three."
        found.append(DryingTest("reheat", "Reheat on", Sentence.of(words, wait=wait)))
        words = "Take the humidity call away, and call cooling again. Wait {wait}. Read the three: reheat must be gone."
        found.append(DryingTest("back", "Reheat off again", Sentence.of(words, wait=wait)))
    if plate.return_bypass:
        words = "Call cooling with the bypass shut, reheat off. Wait {wait}. Read return, after the coil, supply."
        found.append(DryingTest("bypass_shut", "Bypass shut", Sentence.of(words, wait=wait)))
        words = "Open the bypass as far as it goes in service. Wait {wait}. Read the three."
        found.append(DryingTest("bypass_open", "Bypass open", Sentence.of(words, wait=wait)))
    if found:
        words = "Call for drying while the room's temperature is satisfied. Wait {wait}. Look at the compressor, read the three."
        found.append(DryingTest("dehumidify", "A call to dry", Sentence.of(words, wait=wait)))
    return tuple(found)


def verdict(test: DryingTestKind, seen: DryingTestSeen) -> tuple[Mark, Sentence]:
    """What one run of a test says; nothing holds that was not read."""
    if test == "dehumidify":
        return _called(seen)
    if seen.rise_k is None or (test.startswith("bypass") and seen.return_c is None):
        return "not_measured", Sentence.of("Return, after the coil and supply are needed, all three.")
    if seen.cooled_k is not None and seen.cooled_k < COOLS_K:
        words = "The coil was not cold: nothing is proved. Wait until it is, and read again."
        if test == "reheat":
            words = "The coil was not cold: the call may not have arrived. Do the test of a call to dry, then this one again."
        return "not_measured", Sentence.of(words)
    return _around(test, seen) if test.startswith("bypass") else _warmed(test, seen.rise_k)


def _warmed(test: DryingTestKind, rise_k: float) -> tuple[Mark, Sentence]:
    rise = {"rise": (rise_k, "temperature_difference")}
    if rise_k < COLDER_K:
        return "not_measured", Sentence.of("The supply is {rise} against the coil: one of the two is wrong. Read again.", **rise)
    if test == "reheat":
        if rise_k < FAN_K[1]:
            return "off", Sentence.of("The air is warmed by {rise}, no more than a fan does: reheat gives nothing.", **rise)
        if rise_k < REHEATS_K:
            return "too_close", Sentence.of("The air is warmed by {rise}: a little reheat, or a strong fan.", **rise)
        return "holds", Sentence.of("Reheat warms the air by {rise}.", **rise)
    if rise_k > FAN_K[1] + 2 * PROBES_K:
        return "off", Sentence.of("With reheat off the air is warmed by {rise}: more than a fan does.", **rise)
    if rise_k > FAN_K[1] + PROBES_K / 2:
        return "too_close", Sentence.of("The air is warmed by {rise}: a strong fan, or reheat that does not shut quite.", **rise)
    return "holds", Sentence.of("Only the fan warms the air: {rise}.", **rise)


def _around(test: DryingTestKind, seen: DryingTestSeen) -> tuple[Mark, Sentence]:
    share = seen.share
    if share is None:
        return "not_measured", Sentence.of("Return, after the coil and supply are needed, all three.")
    if (seen.rise_k or 0.0) < COLDER_K:
        return "not_measured", Sentence.of("The supply is colder than after the coil: one of the two is wrong. Read again.")
    told = {"share": (max(share, 0.0), "share")}
    if test == "bypass_shut":
        if share > SHUT_SHARE + SHARE_CLOSE:
            return "off", Sentence.of("{share} of the return passes around the coil though the bypass is shut.", **told)
        if share > SHUT_SHARE:
            return "too_close", Sentence.of("{share} around the coil: a bypass that leaks, or a strong fan.", **told)
        return "holds", Sentence.of("Shut: about {share} passes around the coil.", **told)
    low, high = OPEN_SHARE
    if share < low - SHARE_CLOSE / 3:
        return "off", Sentence.of("Next to nothing passes around the coil though the bypass is open: {share}.", **told)
    if share > high + SHARE_CLOSE:
        return "off", Sentence.of("{share} passes around: it is fully open, and too little air goes over the coil.", **told)
    if share < low + SHARE_CLOSE or share > high - SHARE_CLOSE / 2:
        return "too_close", Sentence.of("{share} around the coil: at the edge of what a bypass carries.", **told)
    return "holds", Sentence.of("{share} of the return passes around the coil.", **told)


def _called(seen: DryingTestSeen) -> tuple[Mark, Sentence]:
    if not seen.compressor:
        return "not_measured", Sentence.of("Not looked at: the compressor.")
    if seen.compressor == "stands" and seen.cooled_k is not None and seen.cooled_k >= COOLS_K:
        return "not_measured", Sentence.of(
            "The coil is cold, yet the compressor is noted as off: one of the two is wrong. Look again."
        )
    if seen.compressor == "stands":
        return "off", Sentence.of("The call to dry does nothing: the compressor is off.")
    if seen.cooled_k is None:
        return "not_measured", Sentence.of("Read return and after the coil, too: a running compressor alone dries nothing.")
    if seen.cooled_k < COOLS_K / 2:
        return "off", Sentence.of("The compressor runs and the coil stays warm: it dries nothing.")
    if seen.cooled_k < COOLS_K:
        return "too_close", Sentence.of("The coil is hardly colder than the return: wait, and read again.")
    return "holds", Sentence.of("The call to dry brings the coil down.")


@dataclass(frozen=True)
class DryingFault:
    """What may be wrong: where to look, and the tests that it upsets."""

    key: str
    name: str
    do: str
    who: str
    upsets: tuple[DryingTestKind, ...]


FAULTS: dict[str, DryingFault] = {
    fault.key: fault
    for fault in (
        DryingFault(
            "reheat_stuck_on",
            "Reheat does not shut",
            "Look at its valve and coil while there is no call: the line behind a shut valve is at the temperature around it.",
            "certified",
            ("cooling", "back"),
        ),
        DryingFault(
            "reheat_dead",
            "Reheat gives nothing",
            "Is there voltage at its valve or contactor on a call? Then the valve or the heater; else the control and its wire.",
            "technician",
            ("reheat",),
        ),
        DryingFault(
            "bypass_stuck_open",
            "Bypass does not shut",
            "Power off. Look for a blade or linkage that slipped, and at what the actuator does on a call to shut.",
            "technician",
            ("bypass_shut",),
        ),
        DryingFault(
            "bypass_blocked",
            "Bypass does not open",
            "Power off. Look for a blade that is stuck, a filter or insulation before it, an actuator without power.",
            "technician",
            ("bypass_open",),
        ),
        DryingFault(
            "bypass_too_far",
            "Bypass opens too far",
            "Set its stop: air over the coil may not fall under the maker's least flow.",
            "technician",
            ("bypass_open",),
        ),
        DryingFault(
            "call_dead",
            "The call to dry does nothing",
            "Follow it from the humidity sensor's terminal to the compressor's contactor: sensor, setpoint, wire, permission.",
            "technician",
            ("dehumidify",),
        ),
    )
}


@dataclass(frozen=True)
class DryingDiagnosis:
    """Faults that two runs agree on, and tests to be run again before anything is said."""

    found: tuple[DryingFault, ...] = ()
    again: tuple[DryingTestKind, ...] = ()


def diagnose(seen: Iterable[DryingTestSeen], *, both: bool = False) -> DryingDiagnosis:
    """Nothing is named for one run of one test: it is run again, and the last two must say the same.

    A later run that holds takes the one before it back. While the call to dry does nothing, nothing is said of the reheat that
    it should have brought. `both`: the unit has reheat and a bypass: what warms the supply with neither called is laid to the one
    that does not answer its own call; where neither does, or the other was not called yet, neither is named.
    """
    runs: dict[DryingTestKind, list[DryingTestSeen]] = {}
    for each in seen:
        runs.setdefault(each.test, []).append(each)
    found, again = [], []
    said = {test: [_side(each, _beside(test, runs)) for each in made] for test, made in runs.items()}
    said = {test: [side for side in sides if side] for test, sides in said.items()}
    for key, fault in FAULTS.items():
        tests_off = [test for test in fault.upsets if said.get(test) and said[test][-1] == key]
        if key == "reheat_dead" and said.get("dehumidify", [""])[-1:] == ["call_dead"]:
            continue
        if both and not _told_apart(key, runs):
            continue
        twice = any(said[test][-2:] == [key, key] for test in tests_off)
        if twice or len(tests_off) > 1:
            found.append(fault)
        elif tests_off:
            again += tests_off
    again += [test for test, sides in said.items() if not sides or sides == ["close"]]
    return DryingDiagnosis(tuple(found), tuple(dict.fromkeys(again)))


CARRIES = 0.10
"""What a blade that opens lets around besides, at the least, beyond what two readings of a share differ by."""


def _told_apart(key: str, runs: Mapping[DryingTestKind, list[DryingTestSeen]]) -> bool:
    """In a unit with both, whether reheat that is on, or a bypass that stands open, is told from the other one."""
    if key not in ("reheat_stuck_on", "bypass_stuck_open", "bypass_too_far"):
        return True
    opened, shut = _last("bypass_open", runs), _last("bypass_shut", runs)
    called, idle = _last("reheat", runs), _last("back", runs) or _last("cooling", runs)
    carries = None if not (opened and shut) or opened.share is None or shut.share is None else opened.share - shut.share
    adds = None if not (called and idle) or called.rise_k is None or idle.rise_k is None else called.rise_k - idle.rise_k
    if key == "bypass_too_far":
        return carries is not None and carries > OPEN_SHARE[1]
    if carries is None or adds is None:
        return False
    if key == "reheat_stuck_on":
        return carries >= CARRIES and adds < REHEATS_K
    return carries < CARRIES and adds >= REHEATS_K


def _last(test: DryingTestKind, runs: Mapping[DryingTestKind, list[DryingTestSeen]]) -> DryingTestSeen | None:
    """The last run of it with all that it needs."""
    for each in reversed(runs.get(test, ())):
        if each.rise_k is not None and each.rise_k > COLDER_K and each.cooled_k is not None and each.cooled_k >= COOLS_K:
            return each
    return None


BESIDE: dict[DryingTestKind, tuple[DryingTestKind, ...]] = {
    "reheat": ("back", "cooling"),
    "bypass_open": ("bypass_shut",),
    "bypass_shut": ("bypass_open",),
}
"""Against which run a test is held: the blower's own heat is in both, and cancels."""

ADDS_K, ADDS_SHARE = 1.5, 0.06
"""What a call changes at the least, where the coil or the blade answers it."""

STANDS_OPEN, STANDS_SHUT = 0.12, 0.10
"""Share around a blade that does not move: from here it stands open, up to here it stands shut."""


def _beside(test: DryingTestKind, runs: Mapping[DryingTestKind, list[DryingTestSeen]]) -> DryingTestSeen | None:
    """The last run to hold it against."""
    made = [each for other in BESIDE.get(test, ()) for each in runs.get(other, ())]
    return next((each for each in reversed(made) if each.rise_k is not None), None)


def _side(seen: DryingTestSeen, beside: DryingTestSeen | None) -> str:
    """The fault that a run points to, ``close``, ``holds``, or "" where it proves nothing."""
    mark, _ = verdict(seen.test, seen)
    if beside is not None and mark in ("off", "too_close", "holds"):
        moved = _against(seen, beside)
        if moved:
            return moved
    if mark != "off":
        return {"holds": "holds", "too_close": "close"}.get(mark, "")
    if seen.test == "bypass_open":
        return "bypass_too_far" if (seen.share or 0.0) > OPEN_SHARE[0] else "bypass_blocked"
    return next(key for key, fault in FAULTS.items() if seen.test in fault.upsets)


def _against(seen: DryingTestSeen, beside: DryingTestSeen) -> str:
    """What the difference of two runs says; "" where it says nothing more than the run itself."""
    if seen.test == "reheat":
        if seen.rise_k is None or beside.rise_k is None or beside.rise_k > FAN_K[1] + 2 * PROBES_K:
            return ""
        return "reheat_dead" if seen.rise_k - beside.rise_k < ADDS_K else ""
    if seen.share is None or beside.share is None or abs(seen.share - beside.share) >= ADDS_SHARE:
        return ""
    middle = (seen.share + beside.share) / 2
    if seen.test == "bypass_shut":
        return "bypass_stuck_open" if middle > STANDS_OPEN else ""
    return "bypass_blocked" if middle < STANDS_SHUT else "holds" if middle > STANDS_OPEN else ""
