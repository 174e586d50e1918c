"""How long a ventilator must run in an hour, what its control can be set to, and what it then gives."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

NEED_M3S = (0.001, 5.0)
MINUTES = 60.0
PLAIN_CYCLE_H = 4.0
"""Up to cycles of this length air counts as if it came without a break."""

EFFECTIVENESS: tuple[tuple[float, float], ...] = ((0.0, 0.33), (0.35, 0.50), (0.60, 0.75), (0.80, 1.0))
"""By the share of time that a ventilator runs, from there on: what its air counts for in long cycles."""


@dataclass(frozen=True)
class Runtime:
    """What to set.

    Attributes
    ----------
    minutes_per_hour
        Exactly needed, 60 at most where it can be done.
    set_minutes
        The next step of the control, 60 at most.
    gives_m3s
        On average with that setting.
    effectiveness
        What the air counts for in cycles of this length, 0 to 1.
    enough
        The ventilator can give what is needed.
    lacks_m3s
        Flow that is missing while it runs without a break; 0 where it is enough.
    cycle_h
        Length of a cycle [h].
    """

    minutes_per_hour: float
    set_minutes: float
    gives_m3s: float
    effectiveness: float
    enough: bool
    lacks_m3s: float
    cycle_h: float


@calculation("ventilation.runtime", "Minutes an hour that a ventilator runs")
def runtime(
    required_m3s: float, measured_m3s: float, step_min: float = 5.0, cycle_h: float = 1.0, work: Working = SILENT
) -> Runtime:
    """``60 Q_need / Q_measured``, up to the next step of the control; in cycles over four hours air counts for less.

    Parameters
    ----------
    required_m3s, measured_m3s : float
        Needed without a break, and measured while it runs [m³/s], 0.001 to 5.
    step_min : float
        The control's step [min], 0.1 to 30.
    cycle_h : float
        From one start to the next [h], 0.25 to 24.

    Raises
    ------
    Refused
        Beyond these.

    References
    ----------
    Residential ventilation standard: intermittent ventilation, its table of effectiveness by the share of time on
    (0.33 below 35 %, 0.50 from 35 %, 0.75 from 60 %, 1 from 80 %).

    >>> found = runtime(0.0241, 0.068)
    >>> round(found.minutes_per_hour, 2), found.set_minutes, round(found.gives_m3s * 1000, 2)
    (21.26, 25.0, 28.33)
    """
    within(required_m3s, NEED_M3S, "required_m3s", "airflow")
    within(measured_m3s, NEED_M3S, "measured_m3s", "airflow")
    if not 0.1 <= step_min <= 30.0:
        raise Refused("A control's step lies between 0.1 and 30 minutes.", "step_min")
    if not 0.25 <= cycle_h <= 24.0:
        raise Refused("A cycle lasts between a quarter of an hour and a day.", "cycle_h")
    share = required_m3s / measured_m3s
    effect, on = (1.0, share) if cycle_h <= PLAIN_CYCLE_H else _longest(share)
    minutes = work.step(
        "minutes in an hour",
        "t",
        "60 * Q_need / (e * Q)",
        MINUTES * on if effect < 1.0 or on > share else MINUTES * share,
        "ratio",
        source="intermittent ventilation" + (", effectiveness by the share of time on" if effect < 1.0 else ""),
        remark="Over 60: it can't be done." if share > 1.0 else "",
        Q_need=(required_m3s, "airflow"),
        Q=(measured_m3s, "airflow"),
        e=(effect, "ratio"),
    )
    enough = share <= 1.0
    set_to = min(MINUTES, ceil(round(minutes / step_min, 9)) * step_min) if enough else MINUTES
    gives = work.step(
        "given with this setting",
        "Q_given",
        "e * Q * t_set / 60",
        effect * measured_m3s * set_to / MINUTES,
        "airflow",
        e=(effect, "ratio"),
        Q=(measured_m3s, "airflow"),
        t_set=(set_to, "ratio"),
    )
    return Runtime(minutes, set_to, gives, effect, enough, max(required_m3s - measured_m3s, 0.0), cycle_h)


def _longest(share: float) -> tuple[float, float]:
    """In long cycles: what the air counts for, and the share of time that is then needed. The least time of all bands."""
    ends = (*(start for start, _ in EFFECTIVENESS[1:]), 1.0 + 1e-9)
    found = []
    for (start, effect), end in zip(EFFECTIVENESS, ends, strict=True):
        on = max(start, share / effect)
        if on < end or (effect == 1.0 and on <= 1.0):
            found.append((on, effect))
    if not found:
        return 1.0, share
    on, effect = min(found)
    return effect, on
