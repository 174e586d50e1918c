"""What a split says, for now against the trade's fixed band, with a note on what the return humidity does to it.

The unit's own target at these conditions takes this place once it exists; the band stays beside it for reference.
"""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.measured import Measured
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark, Verdict, judge

FIXED_BAND_K = (16 * 5 / 9, 22 * 5 / 9)
"""16 to 22 °F (8.9 to 12.2 K) at 400 cfm per ton: the trade's fixed band. Made for return air near 80/67 °F."""

HUMID_FROM_RH = 0.60
DRY_BELOW_RH = 0.40
"""Return air this humid gives a smaller split on a healthy unit, air this dry a larger one."""


FIXED_BAND_REASON = Sentence.of(
    "Judged by the trade's fixed band, {low} to {high}. Crude: one band for every unit and every day.",
    low=(FIXED_BAND_K[0], "temperature_difference"),
    high=(FIXED_BAND_K[1], "temperature_difference"),
)
"""Said beside every split, so that nobody takes the band for the unit's own target."""


@dataclass(frozen=True)
class SplitJudgement:
    """Mark, sentence, and the note about humidity (None when it does not matter or is not known)."""

    mark: Mark
    verdict: Verdict
    sentence: Sentence
    note: Sentence | None


def judge_split(split: Measured, return_rh: Measured | None) -> SplitJudgement:
    """Judge a split [K] against the fixed band.

    A split that is out on the side which the return humidity explains is "watch", never "off": the band is not made
    for such air.

    >>> judge_split(Measured(7.5, {"a": 0.3}), Measured(0.70, {"b": 0.02})).mark
    'watch'
    >>> judge_split(Measured(7.5, {"a": 0.3}), Measured(0.50, {"b": 0.02})).mark
    'off'
    """
    low, high = FIXED_BAND_K
    if split.high < 0:
        return SplitJudgement(
            "off",
            Verdict("off", "low"),
            Sentence.of(
                "Supply is {by} warmer than return: the air is being heated, not cooled. Check the mode and the probes.",
                by=(-split.value, "temperature_difference"),
            ),
            None,
        )
    verdict = judge(split, low, high)
    note, explained = _humidity_note(verdict, return_rh)
    mark: Mark = "watch" if verdict.mark == "off" and explained else verdict.mark
    numbers = {
        "split": (split.value, "temperature_difference"),
        "low": (low, "temperature_difference"),
        "high": (high, "temperature_difference"),
    }
    return SplitJudgement(mark, verdict, Sentence.of(_SAID[verdict.mark, verdict.side], **numbers), note)


_SAID = {
    ("holds", ""): "Split {split} lies in the fixed band, {low} to {high}.",
    ("watch", "low"): "Split {split} is just inside the fixed band, near its low end {low}.",
    ("watch", "high"): "Split {split} is just inside the fixed band, near its high end {high}.",
    ("off", "low"): "Split {split} is below the fixed band, {low} to {high}.",
    ("off", "high"): "Split {split} is above the fixed band, {low} to {high}.",
    ("too_close", "low"): "Split {split} may lie on either side of the band's low end {low}.",
    ("too_close", "high"): "Split {split} may lie on either side of the band's high end {high}.",
}


def _humidity_note(verdict: Verdict, return_rh: Measured | None) -> tuple[Sentence | None, bool]:
    if return_rh is None:
        return Sentence.of("Read the return humidity too: it moves the split a healthy unit shows."), False
    rh = (return_rh.value, "relative_humidity")
    if return_rh.value >= HUMID_FROM_RH:
        return (
            Sentence.of("Return air is humid ({rh}): expect a smaller split than the band, the coil is drying.", rh=rh),
            verdict.side == "low",
        )
    if return_rh.value < DRY_BELOW_RH:
        return (
            Sentence.of("Return air is dry ({rh}): expect a larger split than the band, there is little to dry.", rh=rh),
            verdict.side == "high",
        )
    return None, False
