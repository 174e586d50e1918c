"""The lines of a psychrometric chart for one pressure, as points in dry bulb and humidity ratio. Drawing is the browser's."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from fentro_core.air.constants import CP_DRY_AIR, humidity_ratio_of
from fentro_core.air.pressure import SEA_LEVEL_PA, check_pressure
from fentro_core.air.saturation import ratio_by_wet_bulb, saturated_ratio
from fentro_core.air.state import VOLUME_CONSTANT, AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.units import KINDS
from fentro_core.base.working import SILENT, Working

Family = Literal["saturation", "relative_humidity", "wet_bulb", "enthalpy", "specific_volume"]

STEP_C = 1.0
"""Curves are worked out at every degree."""


@dataclass(frozen=True)
class ChartLine:
    """One line: its family, the value it stands for (SI, with kind), and its points (dry bulb [°C], humidity ratio)."""

    family: Family
    value: float
    kind: str
    dry_bulb_c: tuple[float, ...]
    humidity_ratio: tuple[float, ...]


@dataclass(frozen=True)
class Chart:
    """All lines within the window, coarse enough to read, at round figures of one unit system."""

    low_c: float
    high_c: float
    highest_ratio: float
    pressure_pa: float
    lines: tuple[ChartLine, ...]


@calculation("air.chart", "Lines of a psychrometric chart for one pressure")
def chart(
    low_c: float = -5.0,
    high_c: float = 45.0,
    highest_ratio: float = 0.028,
    pressure_pa: float = SEA_LEVEL_PA,
    system: Literal["SI", "US"] = "SI",
    work: Working = SILENT,
) -> Chart:
    """Saturation curve and lines of equal relative humidity, wet bulb, enthalpy and volume.

    Parameters
    ----------
    low_c, high_c : float
        Window of dry bulb [°C], within -60 to 90 and 5 to 100 K wide.
    highest_ratio : float
        Top of the window [kg/kg], 0.001 to 0.1.
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.
    system : "SI" or "US"
        Whose round figures the lines stand for; the points are SI in either.

    Raises
    ------
    Refused
        A window that is no window, or a pressure of no site.

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter.

    >>> found = chart()
    >>> sorted({line.family for line in found.lines})
    ['enthalpy', 'relative_humidity', 'saturation', 'specific_volume', 'wet_bulb']
    """
    check_pressure(pressure_pa, "pressure_pa")
    if not -60 <= low_c <= 85 or not 5 <= high_c - low_c <= 100 or high_c > 90:
        raise Refused("The chart's window must lie between -60 and 90 °C and be 5 to 100 K wide.", "high_c")
    if not 0.001 <= highest_ratio <= 0.1:
        raise Refused("The chart's top must lie between 1 and 100 g/kg.", "highest_ratio")
    work.step("pressure", "p", "as given", pressure_pa, "barometric_pressure", source="the site's elevation or barometer")
    window = _Window(low_c, high_c, highest_ratio, pressure_pa)
    lines = [window.humid(1.0, "saturation")]
    lines += [window.humid(share / 10, "relative_humidity") for share in range(1, 10)]
    lines += [window.wet_bulb(value) for value in _round_figures("temperature", system, 5.0, 10.0, low_c, high_c)]
    low_h, high_h = CP_DRY_AIR * low_c, AirState(high_c, highest_ratio, pressure_pa).enthalpy_j_per_kg
    lines += [window.enthalpy(value) for value in _round_figures("enthalpy", system, 10.0, 5.0, low_h, high_h)]
    low_v = AirState(low_c, 0.0, pressure_pa).specific_volume_m3_per_kg
    high_v = AirState(high_c, highest_ratio, pressure_pa).specific_volume_m3_per_kg
    lines += [window.volume(value) for value in _round_figures("specific_volume", system, 0.02, 0.25, low_v, high_v)]
    return Chart(low_c, high_c, highest_ratio, pressure_pa, tuple(line for line in lines if len(line.dry_bulb_c) > 1))


def _round_figures(kind: str, system: str, si_step: float, us_step: float, low: float, high: float) -> list[float]:
    """SI values of the round figures of a system between two SI values."""
    unit = KINDS[kind].unit(system)
    step = us_step if system == "US" else si_step
    first, last = unit.from_si(low), unit.from_si(high)
    index = int(first // step) + 1
    found = []
    while index * step < last:
        found.append(unit.to_si(index * step))
        index += 1
    return found


@dataclass(frozen=True)
class _Window:
    low_c: float
    high_c: float
    highest_ratio: float
    pressure_pa: float

    def most(self, dry_bulb_c: float) -> float:
        return saturated_ratio(dry_bulb_c, self.pressure_pa)

    def temperatures(self, start: float, end: float) -> list[float]:
        start, end = max(start, self.low_c), min(end, self.high_c)
        if end <= start:
            return []
        count = max(2, round((end - start) / STEP_C) + 1)
        return [start + (end - start) * n / (count - 1) for n in range(count)]

    def line(self, family: Family, value: float, kind: str, points: list[tuple[float, float]]) -> ChartLine:
        inside = [(t, w) for t, w in points if -1e-9 <= w <= self.highest_ratio * 1.0001]
        return ChartLine(family, value, kind, tuple(t for t, _ in inside), tuple(max(w, 0.0) for _, w in inside))

    def humid(self, share: float, family: Family) -> ChartLine:
        """Down to where the top of the window cuts the curve, which is found by halving."""
        points = []
        for t in self.temperatures(self.low_c, self.high_c):
            ratio = AirState.from_rh(t, share, self.pressure_pa).humidity_ratio
            if ratio > self.highest_ratio:
                points.append((self._crossing(share, t - STEP_C * 1.5, t), self.highest_ratio))
                break
            points.append((t, ratio))
        return self.line(family, share, "relative_humidity", points)

    def _crossing(self, share: float, low: float, high: float) -> float:
        for _ in range(30):
            middle = (low + high) / 2
            if AirState.from_rh(middle, share, self.pressure_pa).humidity_ratio > self.highest_ratio:
                high = middle
            else:
                low = middle
        return low

    def wet_bulb(self, value: float) -> ChartLine:
        """From saturation down to dry air."""
        points = [(value, self.most(value))]
        for t in self.temperatures(value + 0.01, self.high_c):
            ratio = ratio_by_wet_bulb(t, value, self.pressure_pa, frozen=value < 0)
            if ratio <= 1e-6:
                break
            points.append((t, ratio))
        return self.line("wet_bulb", value, "temperature", points)

    def enthalpy(self, value: float) -> ChartLine:
        """`humidity_ratio_of`, below saturation."""
        return self.line("enthalpy", value, "enthalpy", self._below(lambda t: humidity_ratio_of(value, t)))

    def volume(self, value: float) -> ChartLine:
        """``W = (p v / (R T) - 1) / 1.607858``, below saturation."""
        pressure = self.pressure_pa
        return self.line(
            "specific_volume",
            value,
            "specific_volume",
            self._below(lambda t: (value * pressure / (VOLUME_CONSTANT * (t + 273.15)) - 1) / 1.607858),
        )

    def _below(self, ratio_at: Callable[[float], float]) -> list[tuple[float, float]]:
        """A falling line from where it leaves the saturation curve down to dry air."""
        temperatures = self.temperatures(self.low_c, self.high_c)
        points = [(t, ratio_at(t)) for t in temperatures if 0 <= ratio_at(t) <= self.most(t)]
        if points and points[0][0] > self.low_c:
            low, high = points[0][0] - STEP_C * 1.5, points[0][0]
            for _ in range(30):
                middle = (low + high) / 2
                if ratio_at(middle) > self.most(middle):
                    low = middle
                else:
                    high = middle
            points.insert(0, (high, ratio_at(high)))
        return points
