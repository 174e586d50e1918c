"""Probes that must agree: held in the same air for two minutes, their offsets are taken off every difference."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.measured import Measured
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.base.student import t_95
from fentro_core.base.working import SILENT, Working
from fentro_core.instruments.quantities import READABLE

MATCH_S = 120.0
"""Two minutes side by side."""

FEWEST_SAMPLES = 20
"""Of each live probe."""

FEWEST_ROUNDS = 3
"""Of probes that are read by eye: so often is each read, all of them in turn."""


@dataclass(frozen=True)
class MatchedProbe:
    """What one probe showed while side by side: mean, and 95 % half-width of its drift away from the others.

    `scatter` is that of (this probe less the mean of all), sample by sample: what both see at once, cancels.
    """

    instrument: str
    mean: float
    scatter: float
    samples: int


@quick
@dataclass(frozen=True)
class Offset:
    """How far a probe shows above the mean of all; `plus_minus`: what its scatter brings to a difference, 95 %."""

    instrument: str
    offset: float
    plus_minus: float


def check_match(quantity: str, probes: tuple[MatchedProbe, ...], seconds: float, *, by_hand: bool = False) -> None:
    """Refuse a match of fewer than two probes, too short, or of too few samples (`by_hand`: rounds of reading)."""
    fewest = FEWEST_ROUNDS if by_hand else FEWEST_SAMPLES
    if quantity not in READABLE:
        raise Refused("This can't be matched. Choose a quantity of the pad.", "quantity")
    if len({probe.instrument for probe in probes}) != len(probes):
        raise Refused("Each probe counts once.", "probes")
    if len(probes) < 2:
        raise Refused("A match needs two probes or more in the same air.", "probes")
    if not MATCH_S * 0.9 <= seconds <= 3600:
        raise Refused("Hold the probes together for two minutes.", "seconds")
    for index, probe in enumerate(probes):
        low, high = READABLE[quantity].possible
        if not low <= probe.mean <= high:
            raise Refused("This mean is not possible.", f"probes.{index}.mean")
        if probe.samples < fewest:
            words = (
                "Read each probe three times."
                if by_hand
                else "Too few samples came in from this probe. Hold them together again."
            )
            raise Refused(words, f"probes.{index}.samples")
        if not probe.scatter >= 0:
            raise Refused("A half-width can't be below zero.", f"probes.{index}.scatter")


def offsets(probes: tuple[MatchedProbe, ...]) -> tuple[Offset, ...]:
    """Each probe's offset from the mean of all; they add up to zero.

    A probe's scatter about the mean of n probes is smaller than its own by ``sqrt((n - 1) / n)``: put back here, so that
    the half-width of a difference is the scatter of that difference.

    >>> [round(each.offset, 2) for each in offsets((MatchedProbe("a", 24.4, 0.05, 120), MatchedProbe("b", 24.0, 0.05, 120)))]
    [0.2, -0.2]
    """
    mean = sum(probe.mean for probe in probes) / len(probes)
    factor = sqrt(len(probes) / (len(probes) - 1)) if len(probes) > 1 else 1.0
    return tuple(Offset(probe.instrument, probe.mean - mean, probe.scatter * factor) for probe in probes)


def summary(series: Mapping[str, list[float]]) -> tuple[MatchedProbe, ...]:
    """Means and scatters of probes sampled at the same moments.

    Parameters
    ----------
    series : mapping
        By instrument: values of the same length, in step.
    """
    lengths = {len(values) for values in series.values()}
    if len(lengths) != 1:
        raise Refused("The probes must be read at the same moments.", "series")
    (count,) = lengths
    if count == 0:
        raise Refused("There are no samples.", "series")
    columns = list(series.values())
    means = [sum(row) / len(columns) for row in zip(*columns, strict=True)]
    found = []
    for instrument, values in series.items():
        apart = [value - mean for value, mean in zip(values, means, strict=True)]
        middle = sum(apart) / count
        deviation = sqrt(sum((each - middle) ** 2 for each in apart) / max(count - 1, 1))
        found.append(MatchedProbe(instrument, sum(values) / count, 2 * deviation, count))
    return tuple(found)


@dataclass(frozen=True)
class MatchSummary:
    """What a match gives to write down: seconds it lasted and the probes' figures."""

    seconds: float
    probes: tuple[MatchedProbe, ...]


@calculation("measuring.match_summary", "Means and scatters of probes held in the same air")
def match_summary(
    series: dict[str, tuple[float, ...]], seconds: float, quantity: str = "dry_bulb", work: Working = SILENT
) -> MatchSummary:
    """What each probe showed of one quantity, as a match entry takes it.

    Parameters
    ----------
    series : dict
        By instrument: values at the same moments, at least 20, the quantity's SI unit.
    seconds : float
        How long they were held together [s], 120 at least.
    quantity : str
        What was read; dry_bulb or relative_humidity as a rule.

    Raises
    ------
    Refused
        Moments that differ, too few samples, too short a time, or a quantity that cannot be matched.

    References
    ----------
    Means and standard deviations; what follows from them is in `measuring.probe_match`.

    >>> match_summary({"a": (24.2,) * 60, "b": (24.0,) * 60}, 120.0).probes[1].mean
    24.0
    """
    probes = summary({name: list(values) for name, values in series.items()})
    try:
        check_match(quantity, probes, seconds)
    except Refused as refusal:
        raise refusal.at(_in_series(refusal.path, list(series))) from refusal
    work.step("probes held together", "n", "count", float(len(probes)), "ratio")
    return MatchSummary(seconds, probes)


@calculation("measuring.match_by_hand", "Means and scatters of probes read by eye in the same air")
def match_by_hand(
    series: dict[str, tuple[float, ...]], last_digit: float, quantity: str = "dry_bulb", work: Working = SILENT
) -> MatchSummary:
    """What each probe showed of one quantity, as a match entry takes it, where nothing but eyes read them.

    Few readings say little of how probes wander: the scatter of their means, pooled over all of them, is widened by Student's t,
    and half of the last digit shown counts on top.

    Parameters
    ----------
    series : dict
        By instrument: what it showed in each round, three at least, the quantity's SI unit.
    last_digit : float
        The smallest step that the displays show, the quantity's SI unit.
    quantity : str
        What was read; dry_bulb or relative_humidity as a rule.

    Raises
    ------
    Refused
        Rounds that differ, too few of them, or a quantity that cannot be matched.

    References
    ----------
    Student's t at 95 % with (rounds - 1)(probes - 1) degrees of freedom; GUM, 4.2 and G.3.

    >>> found = match_by_hand({"a": (24.2, 24.3, 24.2), "b": (24.0, 24.0, 24.0)}, 0.1)
    >>> round(found.probes[0].mean, 2), round(found.probes[0].scatter, 2)
    (24.23, 0.09)
    """
    if not 0 <= last_digit < 10:
        raise Refused("The last digit shown is a small step.", "last_digit")
    probes = summary({name: list(values) for name, values in series.items()})
    rounds = min((probe.samples for probe in probes), default=0)
    freedom = max((rounds - 1) * (len(probes) - 1), 1)
    pooled = sqrt(sum((probe.scatter / 2) ** 2 for probe in probes) / max(len(probes), 1))
    scatter = sqrt((t_95(freedom) * pooled) ** 2 / max(rounds, 1) + (last_digit / 2) ** 2)
    probes = tuple(MatchedProbe(probe.instrument, probe.mean, scatter, probe.samples) for probe in probes)
    try:
        check_match(quantity, probes, MATCH_S, by_hand=True)
    except Refused as refusal:
        raise refusal.at(_in_series(refusal.path, list(series))) from refusal
    work.step("probes held together", "n", "count", float(len(probes)), "ratio")
    return MatchSummary(MATCH_S, probes)


def _in_series(path: str, names: list[str]) -> str:
    """Where a probe of a match stands in the series it came from."""
    first, *rest = path.split(".")
    return path if first != "probes" else ".".join(["series", *(names[int(index)] for index in rest[:1])])


@dataclass(frozen=True)
class Match:
    """Offset between two probes, its half-width, and whether it is larger than both accuracies combined."""

    offset: float
    plus_minus: float
    combined_accuracy: float
    too_large: bool


@calculation("measuring.probe_match", "Offset between two probes held in the same air")
def probe_match(
    first: tuple[float, ...],
    second: tuple[float, ...],
    first_accuracy: float,
    second_accuracy: float,
    work: Working = SILENT,
) -> Match:
    """First less second: mean of the differences; its scatter replaces both accuracies in a later difference.

    Parameters
    ----------
    first, second : tuple of float
        Readings at the same moments, at least 20, any one SI unit.
    first_accuracy, second_accuracy : float
        95 % half-widths of the two probes, same unit.

    Raises
    ------
    Refused
        Moments that differ, or fewer than 20.

    References
    ----------
    t distribution for the mean of differences; the rule that it replaces both accuracies is docs/method.md's.

    >>> found = probe_match((24.5,) * 30, (24.1,) * 30, 0.3, 0.3)
    >>> round(found.offset, 2), found.too_large
    (0.4, False)
    """
    if len(first) != len(second):
        raise Refused("Read both probes at the same moments.", "second")
    if len(first) < FEWEST_SAMPLES:
        raise Refused("Hold the probes together longer: at least 20 readings.", "first")
    differences = [a - b for a, b in zip(first, second, strict=True)]
    mean = sum(differences) / len(differences)
    deviation = sqrt(sum((each - mean) ** 2 for each in differences) / (len(differences) - 1))
    combined = sqrt(first_accuracy**2 + second_accuracy**2)
    work.step("offset", "d", "mean of first less second", mean, "temperature_difference")
    work.step(
        "accuracies combined",
        "a",
        "(a_1^2 + a_2^2)^0.5",
        combined,
        "temperature_difference",
        a_1=(first_accuracy, "temperature_difference"),
        a_2=(second_accuracy, "temperature_difference"),
    )
    return Match(mean, 2 * deviation, combined, abs(mean) > combined)


def corrected(reading: Measured, own: str, offset: Offset, match: str, shared: float) -> Measured:
    """A reading as a *difference* may use it: offset off, the probe's own accuracy replaced.

    What all matched probes have in common becomes one shared source, so it cancels in a difference and stays in a
    value by itself; the offset's scatter is each probe's own.

    Parameters
    ----------
    own : str
        Source name of the instrument's accuracy in this quantity (``instrument:<id>:<quantity>``).
    match : str
        Name of the match, shared by its probes.
    shared : float
        95 % half-width of the mean of all matched probes (`mean_accuracy`).
    """
    if own not in reading.parts:
        return reading
    parts = {source: part for source, part in reading.parts.items() if source != own}
    parts[f"match:{match}"] = shared
    parts[f"match:{match}:{offset.instrument}"] = offset.plus_minus
    return Measured(reading.value - offset.offset, parts)


def mean_accuracy(accuracies: list[float]) -> float:
    """95 % half-width of the mean of independent probes.

    >>> round(mean_accuracy([0.3, 0.4]), 3)
    0.25
    """
    return sqrt(sum(each * each for each in accuracies)) / len(accuracies)
