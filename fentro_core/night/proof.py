"""The tests of a night-cooling damper: by day to the rooms, at night to outdoors with its relief, held, overridden, and back."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.ventilation.proof.judging import GRAVEST, sensor_mark

NightTestKind = Literal["sensor", "recirculate", "outdoor", "hold", "override", "return"]
Side = Literal["rooms", "outdoors", "between"]
Flap = Literal["open", "shut"]
Runs = Literal["runs", "stands"]
Ask = Literal["sensor", "damper", "relief", "blower"]

TRAVEL_S = 150.0


@dataclass(frozen=True)
class NightTest:
    """One test: what to do, what is due of damper, relief and blower."""

    kind: NightTestKind
    title: str
    do: Sentence
    asks: tuple[Ask, ...]
    due: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class NightTestSeen:
    """What was seen of a test; what was not looked at is left out.

    Attributes
    ----------
    damper
        Which side its blade lets in: air of the rooms, of outdoors, or stuck between.
    relief
        What lets stale air out.
    blower
        Of the system.
    shown_c, probe_c
        Outdoor temperature that the control shows; by a probe in the shade [°C].
    """

    test: NightTestKind
    damper: Literal["", Side] = ""
    relief: Literal["", Flap] = ""
    blower: Literal["", Runs] = ""
    shown_c: float | None = None
    probe_c: float | None = None
    note: str = ""


_SHUT = {"damper": "rooms", "relief": "shut"}
_OPEN = {"damper": "outdoors", "relief": "open", "blower": "runs"}


def tests() -> tuple[NightTest, ...]:
    """Every test, in order."""
    wait = (TRAVEL_S, "duration")
    looks: tuple[Ask, ...] = ("damper", "relief")
    three: tuple[Ask, ...] = ("damper", "relief", "blower")
    return (
        NightTest(
            "sensor",
            "Its outdoor sensor",
            Sentence.of(
                "What does the control show for outdoors? Hold a probe beside its sensor, in the shade, until it settles."
            ),
            ("sensor",),
        ),
        NightTest(
            "recirculate",
            "By day: air of the rooms",
            Sentence.of("With no call for night air the damper is set to the rooms and the relief is shut. Look at both."),
            looks,
            _SHUT,
        ),
        NightTest(
            "outdoor",
            "At night: outdoor air, relief open",
            Sentence.of(
                "Call for night air, by its test button or a simulated cold outdoors. Wait {wait}. The relief opens with it: "
                "else nothing lets the stale air out.",
                wait=wait,
            ),
            three,
            _OPEN,
        ),
        NightTest(
            "hold",
            "Held: shut all the same",
            Sentence.of("Set a hold (smoke, say) while it calls. Wait {wait}. Take the hold off afterwards.", wait=wait),
            looks,
            _SHUT,
        ),
        NightTest(
            "override",
            "Occupant's override: outdoor air now",
            Sentence.of("Press outdoor air now for one hour. Wait {wait}.", wait=wait),
            three,
            _OPEN,
        ),
        NightTest(
            "return",
            "Back by itself",
            Sentence.of("When the override's hour is over it goes back by itself. Look again then."),
            looks,
            _SHUT,
        ),
    )


_WRONG: Mapping[tuple[str, str], str] = {
    ("damper", "rooms"): "The damper is set to the rooms: no night air comes in.",
    ("damper", "outdoors"): "The damper is set to outdoors, and should be set to the rooms.",
    ("damper", "between"): "The damper is in between: a slipped linkage, or something in its way.",
    ("relief", "shut"): "The relief is shut: nothing lets the stale air out, doors press, little comes in.",
    ("relief", "open"): "The relief is open: warm or cold air comes back through it.",
    ("blower", "stands"): "The blower is stopped: a damper alone moves little air.",
}
_NAMES = {"sensor": "its sensor against a probe", "damper": "the damper", "relief": "the relief", "blower": "the blower"}


def verdict(test: NightTest, seen: NightTestSeen) -> tuple[Mark, Sentence]:
    """The gravest of what was looked at; nothing holds that was not."""
    found = list(_found(test, seen))
    missing = [_NAMES[ask] for ask in test.asks if not _looked(ask, seen)]
    if missing:
        found.append(("not_measured", Sentence.of(f"Not looked at: {', '.join(missing)}.")))
    for mark in GRAVEST:
        words = [sentence for each, sentence in found if each == mark]
        if words:
            numbers = {name: number for sentence in words for name, number in sentence.numbers.items()}
            return mark, Sentence(" ".join(sentence.text for sentence in words), numbers)
    return "holds", Sentence.of("As it should be.")


def _looked(ask: str, seen: NightTestSeen) -> bool:
    if ask == "sensor":
        return seen.shown_c is not None and seen.probe_c is not None
    return bool(getattr(seen, ask))


def _found(test: NightTest, seen: NightTestSeen) -> Iterator[tuple[Mark, Sentence]]:
    for ask, due in test.due.items():
        value = getattr(seen, ask)
        if value and value != due:
            yield "off", Sentence.of(_WRONG[(ask, value)])
    if "sensor" in test.asks and seen.shown_c is not None and seen.probe_c is not None:
        mark = sensor_mark(seen.shown_c, seen.probe_c)
        numbers = {"shown": (seen.shown_c, "temperature"), "probe": (seen.probe_c, "temperature")}
        if mark == "off" and seen.shown_c > seen.probe_c:
            words = "It shows {shown}, a probe in the shade {probe}: in the sun, or over an exhaust. So it never cools at night."
            yield "off", Sentence.of(words, **numbers)
        elif mark == "off":
            yield "off", Sentence.of("It shows {shown}, a probe in the shade {probe}: it opens when it is too warm.", **numbers)
        elif mark == "too_close":
            yield "too_close", Sentence.of("It shows {shown}, a probe in the shade {probe}: too close to call.", **numbers)
