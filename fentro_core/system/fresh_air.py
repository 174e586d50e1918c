"""Fresh air of a dwelling: who lives there, the ventilator with its chart, and what its control is set to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from fentro_core.base import fields
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused

Edition = Literal["2010", "2013"]
VentilatorKind = Literal["exhaust", "supply", "balanced"]
Stream = Literal["fresh", "stale"]
Stage = Literal["found", "planned", "left"]

LONGEST_WORDS = 80

FLOOR_M2 = (10.0, 2000.0)
BEDROOMS = (0, 20)
BLOWER_DOOR_M3S = (0.005, 10.0)
STOREY_M = (2.0, 15.0)
WEATHER_FACTOR = (0.1, 2.0)

MOST_POINTS = 40
PORT_PA = (0.5, 1000.0)
CHART_M3S = (0.001, 5.0)


@dataclass(frozen=True)
class Dwelling:
    """A dwelling as the standard sees it.

    Attributes
    ----------
    floor_area_m2
        Conditioned floor [m²], 10 to 2,000.
    bedrooms
        0 to 20; people are one more, unless `people` says otherwise.
    people
        Who lives there, where that is more.
    blower_door_m3s
        Leakage flow at 50 Pa [m³/s], where it was tested.
    height_m
        From the lowest floor to the highest ceiling [m]; needed with the leakage.
    weather_factor
        Of the place, from the standard's table; needed with the leakage.
    """

    floor_area_m2: float
    bedrooms: int
    people: int | None = None
    blower_door_m3s: float | None = None
    height_m: float | None = None
    weather_factor: float | None = None

    def check(self) -> None:
        """Refuse what no dwelling is."""
        within(self.floor_area_m2, FLOOR_M2, "floor_area_m2", "area")
        low, high = BEDROOMS
        if not low <= self.bedrooms <= high:
            raise Refused("A dwelling has 0 to 20 bedrooms.", "bedrooms")
        if self.people is not None and not 1 <= self.people <= 60:
            raise Refused("Between 1 and 60 people live in a dwelling.", "people")
        if self.blower_door_m3s is None:
            return
        within(self.blower_door_m3s, BLOWER_DOOR_M3S, "blower_door_m3s", "airflow")
        for name, limits, kind in (("height_m", STOREY_M, "length"), ("weather_factor", WEATHER_FACTOR, "ratio")):
            value = getattr(self, name)
            if value is None:
                raise Refused("The leakage counts only with this.", name)
            within(value, limits, name, kind)


@dataclass(frozen=True)
class ChartPoint:
    """One point of a chart: the ports' drop [Pa], and the flow there [m³/s]."""

    port_pa: float
    airflow_m3s: float


def check_chart(chart: tuple[ChartPoint, ...], path: str = "chart") -> None:
    """Refuse a chart of fewer than two points, a point twice, a flow that falls while the drop rises."""
    if len(chart) < 2:
        raise Refused("A chart needs two points or more.", path)
    if len(chart) > MOST_POINTS:
        raise Refused("A chart has at most 40 points.", path)
    limits: Mapping[str, tuple[str, tuple[float, float], str]] = {
        "port_pa": ("The ports' drop lies between {low} and {high}.", PORT_PA, "pressure"),
        "airflow_m3s": ("The flow lies between {low} and {high}.", CHART_M3S, "airflow"),
    }
    for index, point in enumerate(chart):
        for name, (words, between, kind) in limits.items():
            within(getattr(point, name), between, f"{path}.{index}.{name}", kind, words)
    ordered = sorted(chart, key=lambda point: point.port_pa)
    for one, other in pairwise(ordered):
        if one.port_pa == other.port_pa:
            raise Refused("The chart has the same drop twice.", path)
        if other.airflow_m3s <= one.airflow_m3s:
            raise Refused("A larger drop across the ports is a larger flow: check the points of the chart.", path)


@dataclass(frozen=True, kw_only=True)
class Ventilator:
    """What brings fresh air in, or takes stale air out.

    Attributes
    ----------
    kind
        Only out, only in, or both.
    model
        As its nameplate says; the chart belongs to it.
    chart, stale_chart
        Of the ports of its only stream, or of the fresh one; of the stale stream of one that does both. Empty: not known.
    step_min
        What its control can be set to: so many minutes from one to the next.
    cycle_h
        From one start to the next [h].
    fan_power_w
        What its fans draw [W].
    recovered_share
        Of the heat, 0 to 0.95.
    interlock_w
        What the system's blower draws while it runs along [W]; None: it does not run along.
    damper
        A damper shuts it off from outdoors.
    control_name
        What the gateway calls its control, where one is connected.
    """

    kind: VentilatorKind
    model: str = ""
    chart: tuple[ChartPoint, ...] = ()
    stale_chart: tuple[ChartPoint, ...] = ()
    step_min: float = 5.0
    cycle_h: float = 1.0
    fan_power_w: float | None = None
    recovered_share: float | None = None
    interlock_w: float | None = None
    damper: bool = True
    control_name: str = ""

    @property
    def streams(self) -> tuple[Stream, ...]:
        """What it moves; the one that counts for the dwelling first."""
        streams: Mapping[VentilatorKind, tuple[Stream, ...]] = {
            "exhaust": ("stale",),
            "supply": ("fresh",),
            "balanced": ("fresh", "stale"),
        }
        return streams[self.kind]

    def chart_of(self, stream: Stream) -> tuple[ChartPoint, ...]:
        """The ports' chart of a stream; empty where it is not known."""
        return self.stale_chart if self.kind == "balanced" and stream == "stale" else self.chart

    def check(self) -> None:
        """Refuse what no ventilator is."""
        if len(self.model) > LONGEST_WORDS:
            raise Refused("Keep it under 80 letters.", "model")
        if len(self.control_name) > LONGEST_WORDS:
            raise Refused("Keep it under 80 letters.", "control_name")
        for name in ("chart", "stale_chart"):
            if getattr(self, name):
                check_chart(getattr(self, name), name)
        if self.stale_chart and self.kind != "balanced":
            raise Refused("Only one that blows in and out has a second chart.", "stale_chart")
        if not 0.1 <= self.step_min <= 30.0:
            raise Refused("A control's step lies between 0.1 and 30 minutes.", "step_min")
        if not 0.25 <= self.cycle_h <= 24.0:
            raise Refused("A cycle lasts between a quarter of an hour and a day.", "cycle_h")
        for name in ("fan_power_w", "interlock_w"):
            value = getattr(self, name)
            if value is not None:
                within(value, (0.0, 5000.0), name, fields.kind_of(name))
        if self.recovered_share is not None and not 0.0 <= self.recovered_share <= 0.95:
            raise Refused("Between 0 and 95 % of the heat are recovered.", "recovered_share")


@dataclass(frozen=True)
class Lockouts:
    """Outdoors colder than `low_c` or hotter than `high_c` the ventilator stays off; in the comfort school also while outdoor air
    is moister than `dew_point_c`, or the rooms are over `indoor_rh`. None: no such limit.
    """

    low_c: float | None = None
    high_c: float | None = None
    dew_point_c: float | None = None
    indoor_rh: float | None = None

    def check(self) -> None:
        """Refuse limits that no control has, and a low one that is not below the high one."""
        for name in ("low_c", "high_c"):
            value = getattr(self, name)
            if value is not None:
                within(value, (-50.0, 60.0), name, "temperature")
        if self.dew_point_c is not None:
            within(self.dew_point_c, (-10.0, 30.0), "dew_point_c", "temperature")
        if self.indoor_rh is not None and not 0.2 <= self.indoor_rh <= 0.9:
            raise Refused("An indoor humidity limit lies between 20 and 90 %.", "indoor_rh")
        if self.low_c is not None and self.high_c is not None and self.low_c >= self.high_c:
            raise Refused("The low limit must lie below the high one, or it never runs.", "low_c")


@dataclass(frozen=True, kw_only=True)
class VentilatorControl:
    """What the control of a ventilator is set to.

    Attributes
    ----------
    minutes_per_hour
        0 to 60; None: not read.
    low_c, high_c, dew_point_c, indoor_rh
        Lockouts; None: none is set.
    boost_min
        How long a boost lasts before it returns by itself [min], 0 to 1,440; None: no boost.
    interlock
        The system's blower runs with it.
    filter_months
        Between two looks at the filters, 1 to 24.
    """

    minutes_per_hour: float | None = None
    low_c: float | None = None
    high_c: float | None = None
    dew_point_c: float | None = None
    indoor_rh: float | None = None
    boost_min: float | None = None
    interlock: bool = False
    filter_months: int | None = None

    @property
    def lockouts(self) -> Lockouts:
        """Its limits alone."""
        return Lockouts(self.low_c, self.high_c, self.dew_point_c, self.indoor_rh)

    def check(self) -> None:
        """Refuse what no control can be set to."""
        if self.minutes_per_hour is not None and not 0.0 <= self.minutes_per_hour <= 60.0:
            raise Refused("An hour has 0 to 60 minutes.", "minutes_per_hour")
        self.lockouts.check()
        if self.boost_min is not None and not 0.0 < self.boost_min <= 1440.0:
            raise Refused("A boost lasts up to a day, and returns by itself.", "boost_min")
        if self.filter_months is not None and not 1 <= self.filter_months <= 24:
            raise Refused("Filters are looked at every 1 to 24 months.", "filter_months")


@dataclass(frozen=True)
class FreshAir:
    """All of it, as it is kept with a system: `control` as it was left; `edition` that the code there asks for."""

    dwelling: Dwelling | None = None
    edition: Edition = "2013"
    ventilator: Ventilator | None = None
    control: VentilatorControl | None = None

    def check(self) -> None:
        """Refuse what any of it refuses, at its place."""
        for name in ("dwelling", "ventilator", "control"):
            part = getattr(self, name)
            if part is not None:
                try:
                    part.check()
                except Refused as refused:
                    raise refused.under(name) from refused

    def but(self, **change: object) -> FreshAir:
        """The same with something else in it."""
        return replace(self, **change)  # type: ignore[arg-type]
