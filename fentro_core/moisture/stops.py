"""After each stop: whether a fan that blows on takes the coil's water back into the air, from a logger's samples."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from fentro_core.air.pressure import SEA_LEVEL_PA, check_pressure
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.middle import median
from fentro_core.base.refusal import Refused
from fentro_core.base.verdict import Mark
from fentro_core.base.working import SILENT, Working
from fentro_core.weather.table import table

SWINGS_K = 4.0
"""A supply that swings less between run and pause shows no cycle."""

WETTER_RATIO = 3e-4
"""Supply wetter than return by more than this in a pause: more than two good probes differ by."""

GIVES_BACK_SHARE = 0.15
"""Of the water taken out: giving back less is not worth a word."""

CLOSEST_S = 120.0
LEAST_STOPS = 3


@dataclass(frozen=True)
class AfterStops:
    """What happens to the water after the compressor stops.

    `stops`, `wet_stops`: how often it stopped, and after how many of them the supply was wetter than the return; `share`: of the
    water taken out in the runs, what the pauses gave back while the fan was on all the time; `run_share`: of the time;
    `excess_humidity_ratio`: the most by which the supply was wetter; `drift_ratio`: what the return's humidity ratio gains in an
    hour, by the line through all of it.
    """

    mark: Mark
    stops: int
    wet_stops: int
    share: float
    run_share: float
    excess_humidity_ratio: float
    drift_ratio: float


WANTED = {
    "supply_c": ("supply temp", "supply t", "supply_t", "supply dry"),
    "supply_rh": ("supply rh", "supply_rh", "supply rel", "supply hum"),
    "return_c": ("return temp", "return t", "return_t", "return dry"),
    "return_rh": ("return rh", "return_rh", "return rel", "return hum"),
}


@calculation("moisture.after_stops", "From samples: does the fan give the water back after each stop?")
def after_stops(text: str, pressure_pa: float = SEA_LEVEL_PA, work: Working = SILENT) -> AfterStops:
    """Runs are where the supply is cold; in the pauses a wet coil in moving air makes the supply wetter than the return.

    Parameters
    ----------
    text : str
        A table (CSV): time, supply temperature and humidity, return temperature and humidity; a line every two minutes or closer,
        over three stops at least. ``°F`` in a heading says so.
    pressure_pa : float
        Of the site [Pa].

    Raises
    ------
    Refused
        No such columns, a line that can't be read or is no air, samples too far apart, too few stops.

    References
    ----------
    Balance of water between return and supply at a steady flow; the limits are ours.

    >>> rows = []
    >>> for minute in range(60):
    ...     cold, since = minute % 15 < 8, minute % 15
    ...     supply = "13.0,92" if cold else "21.0,78" if since < 13 else "23.0,60"
    ...     rows.append(f"2026-07-01T10:{minute:02d},{supply},24.0,55")
    >>> found = after_stops("time,supply temp,supply rh,return temp,return rh" + chr(10) + chr(10).join(rows))
    >>> found.mark, found.stops, found.wet_stops
    ('off', 4, 4)
    """
    check_pressure(pressure_pa)
    names, rows = table(text, WANTED)
    times, excess, supplies, returns = _course(names, rows, pressure_pa)
    gaps = [after - before for before, after in pairwise(times)]
    if not gaps or min(gaps) <= 0 or median(gaps) > CLOSEST_S:
        raise Refused("A line every two minutes or closer is needed, each later than the one before.", "text")
    runs = list(_runs(supplies))
    pauses = [excess[end:begin] for (_, end), (begin, _) in zip(runs, [*runs[1:], (len(excess), 0)], strict=True) if begin > end]
    if len(pauses) < LEAST_STOPS:
        raise Refused("Fewer than three stops of the compressor are in these samples: log for longer.", "text")
    wet = sum(1 for pause in pauses if _wetter(pause))
    dried = -sum(value for begin, end in runs for value in excess[begin:end] if value < 0)
    returned = sum(value for pause in pauses for value in pause if value > 0)
    share = min(returned / dried, 1.0) if dried > 0 else 0.0
    mark: Mark = "holds"
    if wet * 2 > len(pauses):
        mark = "off" if share > GIVES_BACK_SHARE else "watch"
    work.step(
        "share given back",
        "x",
        "100 * B / R",
        share,
        "share",
        source="what the pauses bring back of what the runs take out, at a steady flow",
        B=(min(returned, dried), "ratio"),
        R=(dried, "ratio"),
    ) if dried > 0 else work.step("stops", "n", "count(stops)", float(len(pauses)), "ratio")
    running = sum(end - begin for begin, end in runs) / len(excess)
    return AfterStops(mark, len(pauses), wet, share, running, max(max(pause) for pause in pauses), _drift(times, returns))


def _course(
    names: Sequence[str], rows: Sequence[tuple[datetime, list[float]]], pressure_pa: float
) -> tuple[list[float], list[float], list[float], list[float]]:
    """Seconds, supply's humidity ratio less the return's, supply temperature, and the return's humidity ratio, line by line."""
    times, excess, supplies, returns = [], [], [], []
    for number, (moment, values) in enumerate(rows, 2):
        line = dict(zip(names, values, strict=True))
        try:
            supply = AirState.from_rh(line["supply_c"], line["supply_rh"], pressure_pa)
            return_ = AirState.from_rh(line["return_c"], line["return_rh"], pressure_pa)
        except Refused as refused:
            raise Refused(f"Line {number} can't be air: {refused.sentence.say()}", "text") from None
        times.append(moment.replace(tzinfo=None).timestamp())
        excess.append(supply.humidity_ratio - return_.humidity_ratio)
        supplies.append(supply.dry_bulb_c)
        returns.append(return_.humidity_ratio)
    return times, excess, supplies, returns


def _drift(times: Sequence[float], ratios: Sequence[float]) -> float:
    """Slope of the straight line through them, per hour."""
    at, middle = sum(times) / len(times), sum(ratios) / len(ratios)
    spread = sum((time - at) ** 2 for time in times)
    return 3600 * sum((time - at) * (ratio - middle) for time, ratio in zip(times, ratios, strict=True)) / spread


def _runs(supplies: Sequence[float]) -> Iterator[tuple[int, int]]:
    """First and past-the-last line of each run, told by a cold supply, with a lag between on and off."""
    ordered = sorted(supplies)
    cold, warm = ordered[len(ordered) // 10], ordered[-1 - len(ordered) // 10]
    if warm - cold < SWINGS_K:
        raise Refused("The supply hardly swings: no run and pause can be told apart in these samples.", "text")
    on_below, off_above = cold + 0.35 * (warm - cold), cold + 0.65 * (warm - cold)
    begun: int | None = None
    for index, celsius in enumerate(supplies):
        if begun is None and celsius < on_below:
            begun = index
        elif begun is not None and celsius > off_above:
            yield begun, index
            begun = None
    if begun is not None:
        yield begun, len(supplies)


def _wetter(pause: Sequence[float]) -> bool:
    """For two lines at least: one may be a drop on the probe."""
    return sum(1 for value in pause if value > WETTER_RATIO) >= min(2, len(pause))
