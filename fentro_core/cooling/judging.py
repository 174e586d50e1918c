"""What a split says: by the unit's own target at these conditions where it can be worked out, else by the fixed band.

The band stays beside the target for reference, with a note on what the return humidity does to it.
"""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.state import AirState
from fentro_core.airflow.airflow import nominal_airflow
from fentro_core.base.calculation import calculation
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import inside
from fentro_core.base.sentence import Sentence
from fentro_core.base.units import TON_W
from fentro_core.base.verdict import Mark, Verdict, judge
from fentro_core.base.working import SILENT, Working
from fentro_core.cooling.expected import CAPACITY_TOLERANCE_SHARE, RATED_OUTDOOR_C, SPLIT_TOLERANCE_K, expected_cooling

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


OWN_TARGET_REASON = Sentence.of(
    "Judged by what this unit should show at these conditions. Its target counts return humidity, outdoor temperature, "
    "airflow and altitude; the fixed band {low} to {high} knows none of them.",
    low=(FIXED_BAND_K[0], "temperature_difference"),
    high=(FIXED_BAND_K[1], "temperature_difference"),
)
"""Said beside a split that is judged by the unit's own target."""


TARGETS: dict[str, tuple[str, str]] = {
    "band": ("Fixed band", "One band for every unit and every day. Quick, and too crude for a verdict."),
    "humidity": (
        "By return humidity",
        "An ordinary unit at its rated airflow on a hot day. Knows the return air, not this unit, its airflow, the outdoor "
        "air or the height.",
    ),
    "own": (
        "This unit, now",
        "This nameplate, airflow, outdoor air and height. The default: only here has a split that is off a reason in the unit.",
    ),
}
"""Name and reason of each way to a target for the split; the last is the default."""


@calculation("cooling.humidity_target", "Split that an ordinary unit shows with this return air", result="split_k")
def humidity_target_k(dry_bulb_c: float, wet_bulb_c: float, work: Working = SILENT) -> float:
    """Split [K] of an ordinary unit (400 cfm per ton, sensible heat ratio 0.76, 95 °F outdoor, sea level) with this return air.

    A target from the return humidity alone. Worked out with the unit's own model, not from a chart.

    Parameters
    ----------
    dry_bulb_c, wet_bulb_c : float
        Return air [°C]; wet bulb 55 to 75 °F (12.8 to 23.9 °C).

    Raises
    ------
    Refused
        A wet bulb over the dry bulb, or air outside what the model knows.

    References
    ----------
    The model of `cooling.expected` (NREL/TP-5500-56354); the ordinary unit is ours.

    >>> round(humidity_target_k(26.67, 19.44), 1), round(humidity_target_k(24.0, 20.0), 1)
    (12.0, 9.0)
    """
    flow = nominal_airflow(TON_W)
    with inside(airflow_m3s="wet_bulb_c", humidity_ratio="wet_bulb_c", outdoor_dry_bulb_c="dry_bulb_c"):
        found = expected_cooling(AirState.from_wet_bulb(dry_bulb_c, wet_bulb_c), RATED_OUTDOOR_C, flow, TON_W, flow)
    return work.step(
        "split of an ordinary unit",
        "dT",
        "model(T, T_wb)",
        found.split_k,
        "temperature_difference",
        source="the unit's own model for 400 cfm per ton, SHR 0.76, 95 °F outdoor, sea level",
        T=(dry_bulb_c, "temperature"),
        T_wb=(wet_bulb_c, "temperature"),
    )


def judge_split_by_humidity(split: Measured, target: Measured) -> Mark:
    """A split against the target from return humidity, within ±3 °F."""
    return judge(split - target, -SPLIT_TOLERANCE_K, SPLIT_TOLERANCE_K).mark


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


def judge_split_by_target(split: Measured, target: Measured, residual: Measured) -> SplitJudgement:
    """Judge a split by the unit's own target: their difference [K] against ±3 °F.

    `residual` is split less target worked out together, so that what both share has cancelled.

    >>> judge_split_by_target(Measured(8.0), Measured(11.0), Measured(-3.0, {"a": 0.4})).mark
    'off'
    """
    verdict = judge(residual, -SPLIT_TOLERANCE_K, SPLIT_TOLERANCE_K)
    numbers = {
        "split": (split.value, "temperature_difference"),
        "target": (target.value, "temperature_difference"),
        "by": (abs(residual.value), "temperature_difference"),
        "allowed": (SPLIT_TOLERANCE_K, "temperature_difference"),
    }
    return SplitJudgement(verdict.mark, verdict, Sentence.of(_SAID_BY_TARGET[verdict.mark, verdict.side], **numbers), None)


_SAID_BY_TARGET = {
    ("holds", ""): "Split {split} is what this unit should show now, {target} within {allowed}.",
    ("watch", "low"): "Split {split} is {by} under this unit's target now, {target}: just within {allowed}.",
    ("watch", "high"): "Split {split} is {by} over this unit's target now, {target}: just within {allowed}.",
    ("off", "low"): "Split {split} is {by} under what this unit should show now, {target}.",
    ("off", "high"): "Split {split} is {by} over what this unit should show now, {target}.",
    ("too_close", "low"): "Split {split} may or may not be too small for this unit now: its target is {target} within {allowed}.",
    (
        "too_close",
        "high",
    ): "Split {split} may or may not be too large for this unit now: its target is {target} within {allowed}.",
}


FOUR_WAYS: dict[tuple[str, str], str] = {
    ("low", "low"): "Small split and little cooling: charge, compressor, or heat leaking in. Not a matter of airflow alone.",
    ("high", "low"): "Large split and little cooling: too little air. Look at filter, coil, closed registers, blower.",
    ("low", "full"): "Small split and full cooling: more air than rated.",
    ("high", "full"): "Large split and full cooling: less air, or drier return air, than it seems. Read return and flow again.",
    ("target", "low"): "Split on target and little cooling: the airflow is low, or read too low.",
    ("target", "full"): "Split and cooling are what this unit should give now.",
}
"""Split against target (low, target, high) and capacity against target (low, full), read together.

Both targets here are those at the plate's airflow: a low flow then shows as a large split with little cooling. The verdict
on the split itself takes the airflow as measured.
"""


def four_way(residual: Measured, capacity_share: Measured) -> Sentence | None:
    """The four-way reading, only where both stand clear of their limits.

    `residual`: split less the target at the plate's airflow; `capacity_share`: total over what is expected at that airflow.

    >>> four_way(Measured(4.0, {"a": 0.5}), Measured(0.8, {"b": 0.03})).text[:11]
    'Large split'
    """
    low_cooling = capacity_share.high < 1 - CAPACITY_TOLERANCE_SHARE
    full_cooling = capacity_share.low > 1 - CAPACITY_TOLERANCE_SHARE
    if not low_cooling and not full_cooling:
        return None
    split_is = (
        "low"
        if residual.high < -SPLIT_TOLERANCE_K
        else "high"
        if residual.low > SPLIT_TOLERANCE_K
        else "target"
        if residual.low > -SPLIT_TOLERANCE_K and residual.high < SPLIT_TOLERANCE_K
        else ""
    )
    return Sentence.of(FOUR_WAYS[split_is, "low" if low_cooling else "full"]) if split_is else None


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
