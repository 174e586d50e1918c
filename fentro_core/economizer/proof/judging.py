"""The verdict on a test from what was seen: whole half-widths against what was due; nothing holds that was not observed."""

from __future__ import annotations

from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.economizer.proof.step import EYE_HALF_WIDTHS, NAMES, ON_OFF, RISE, SHOWN_AS, Due, Judged, StepVerdict, TestRun

_GRAVEST: tuple[Mark, ...] = ("off", "not_measured", "too_close", "watch", "holds")

IMPOSSIBLE = (-0.1, 1.1)
"""A share of outdoor air beyond these says something of the sensors, nothing of the damper. Ours."""

SHARE_KNOWN_TO = 0.25
"""A share known to no better says nothing: where the airs are so much alike, errors are no longer normal. Ours."""

ENDED = {
    "stopped": "Stopped before its end: nothing is proved. Repeat it.",
    "gone": "The controller stopped answering: nothing is proved. Repeat it when it answers again.",
    "not_ready": "The starting condition never came, so the test itself was not run. Look at the tests before it.",
    "tripped": "Freeze protection stopped the unit: the mixed air was too cold. Reset it by hand once you know why.",
    "not_held": "The controller did not hold what it was told to hold: nothing is proved. Who else works on it?",
    "refused": "The controller refused an override: nothing is proved. Test it by hand, and type what you see.",
}


_UNMOVED = {
    "building_pressure": "Not proven: the building's pressure never rose to where relief opens. Shut doors, repeat it.",
    RISE: "Not proven: heating was called, but the supply air got no warmer than the mixed air. Look at the heater.",
    "heating": "Not proven: the heating never came on, so it was no heating call. Look for what holds it back.",
    "fan": "Not proven: the fan did not run.",
}


def verdict(seen: TestRun) -> StepVerdict:
    """Each point that is due against what was seen, and the gravest of them."""
    if seen.asked:
        return _by_eye(seen)
    points = tuple(_judged(band, seen) for band in seen.expected)
    if seen.ended != "done":
        return StepVerdict("not_measured", points, Sentence.of(ENDED[seen.ended]))
    mark: Mark = next((each for each in _GRAVEST if any(point.mark == each for point in points)), "not_measured")
    late = seen.how == "controller" and seen.reached_s is None and mark in ("holds", "watch")
    if late:
        mark = "off"
    if mark in ("holds", "watch") and seen.unmoved:
        return StepVerdict("not_measured", points, Sentence.of(_UNMOVED[seen.unmoved[0]]))
    return StepVerdict(mark, points, _words(mark, points, seen, late))


def _by_eye(seen: TestRun) -> StepVerdict:
    """Looks answered yes or no: one no is off, one not answered is not observed."""
    wrong = [look for look in seen.asked if seen.looks.get(look) is False]
    missing = [look for look in seen.asked if look not in seen.looks]
    if wrong:
        return StepVerdict("off", (), Sentence.of(f"Not so: {'; '.join(wrong).lower()}."))
    if missing:
        return StepVerdict("not_measured", (), Sentence.of(f"Not looked at: {'; '.join(missing).lower()}."))
    return StepVerdict("holds", (), Sentence.of("All seen, and as it should be."))


def _judged(band: Due, seen: TestRun) -> Judged:
    name, kind = NAMES[band.point]
    value = seen.values.get(band.point)
    if value is None:
        return Judged(band.point, name, kind, band.low, band.high, None, 0.0, "not_measured")
    widths = EYE_HALF_WIDTHS if seen.how == "watched" else seen.plus_minus
    width = seen.plus_minus.get(band.point, widths.get(band.point, 0.0))
    mark, side = _plain(value, width, band)
    if kind != "share" or band.point == "outdoor_share":
        found = judge(Measured(value, {"reading": width} if width else {}), band.low, band.high)
        mark, side = found.mark, found.side
        if band.point == "outdoor_share" and not (IMPOSSIBLE[0] <= value <= IMPOSSIBLE[1] and width <= SHARE_KNOWN_TO):
            # No damper does that: the sensors have not settled, or are wrong, which the audit says; or the airs are too alike.
            mark, side = "too_close", ""
    return Judged(band.point, name, kind, band.low, band.high, value, width, mark, side)


def _plain(value: float, width: float, band: Due) -> tuple[Mark, str]:
    """Positions and stages: within its reading error of a limit still counts as there."""
    if band.low is not None and value + width < band.low:
        return "off", "low"
    if band.high is not None and value - width > band.high:
        return "off", "high"
    return "holds", ""


def _words(mark: Mark, points: tuple[Judged, ...], seen: TestRun, late: bool) -> Sentence:
    if late:
        return Sentence.of("It got there in the end, but not within {allowed}.", allowed=(seen.allowed_s, "seconds"))
    if mark in ("holds", "watch"):
        if seen.reached_s is not None:
            return Sentence.of("As expected, after {reached}.", reached=(seen.reached_s, "seconds"))
        return Sentence.of("As expected.")
    if mark == "too_close":
        return Sentence.of("Too close to call: outdoor and return air are too much alike today, or the sensors too coarse.")
    if mark == "not_measured":
        missing = ", ".join(point.name.lower() for point in points if point.mark == "not_measured")
        return Sentence.of(f"Not observed: {missing}." if missing else "Not observed.")
    wrong = next(point for point in points if point.mark == "off")
    due = wrong.low if wrong.side == "low" else wrong.high
    side = "at least" if wrong.side == "low" else "at most"
    assert due is not None
    if wrong.point in ON_OFF or SHOWN_AS.get(wrong.point) == "yes":
        words = "{name}: no, and it should be." if wrong.side == "low" else "{name}: yes, and it should not be."
        return Sentence.of(words.replace("{name}", wrong.name))
    return Sentence.of(
        "{name}: {seen} seen, {side} {due} due.".replace("{name}", wrong.name).replace("{side}", side),
        seen=(wrong.value or 0.0, wrong.kind),
        due=(due, wrong.kind),
    )
