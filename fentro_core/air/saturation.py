"""Water vapour over water and over ice, and the wet bulb: the curves that every state of moist air stands on.

Each curve comes with its slope, so that what must be found by trying (dew point, wet bulb) is found by Newton's steps from a
close start, and so that a half-width needs no second trial. Checked against psychrolib and CoolProp in the tests.

References
----------
ASHRAE Handbook, Fundamentals, psychrometrics chapter: saturation pressure by Hyland and Wexler, the balance of the wet wick.
"""

from __future__ import annotations

from math import atan, exp, inf, log, sqrt

from fentro_core.air.constants import KELVIN

WATER_TO_AIR = 0.621945
"""Mass of a mole of water to that of a mole of dry air."""

MELTING_C = 0.01
"""Triple point: below it vapour is taken over ice."""

_CLOSE_K = 1e-4
"""A step smaller than this leaves an error of about its square: less than 1e-7 K."""
_MOST_STEPS = 40


def over_ice(celsius: float) -> tuple[float, float]:
    """Pressure of saturated vapour over ice [Pa], and its slope [Pa/K].

    >>> round(over_ice(-10.0)[0], 1)
    259.9
    """
    t = celsius + KELVIN
    ln = (
        -5674.5359 / t
        + 6.3925247
        + t * (-9.677843e-3 + t * (6.2215701e-7 + t * (2.0747825e-9 - t * 9.484024e-13)))
        + 4.1635019 * log(t)
    )
    slope = (5674.5359 / t + 4.1635019) / t - 9.677843e-3 + t * (1.24431402e-6 + t * (6.2243475e-9 - t * 3.7936096e-12))
    pressure = exp(ln)
    return pressure, pressure * slope


def over_water(celsius: float) -> tuple[float, float]:
    """Pressure of saturated vapour over liquid water [Pa], and its slope [Pa/K]; below 0 °C over water that has not frozen.

    >>> round(over_water(20.0)[0], 1)
    2338.8
    """
    t = celsius + KELVIN
    ln = -5800.2206 / t + 1.3914993 + t * (-4.8640239e-2 + t * (4.1764768e-5 - t * 1.4452093e-8)) + 6.5459673 * log(t)
    slope = (5800.2206 / t + 6.5459673) / t - 4.8640239e-2 + t * (8.3529536e-5 - t * 4.3356279e-8)
    pressure = exp(ln)
    return pressure, pressure * slope


def saturation(celsius: float) -> tuple[float, float]:
    """Pressure of saturated vapour [Pa] and its slope [Pa/K]: over ice up to 0.01 °C, over water above."""
    return over_water(celsius) if celsius > MELTING_C else over_ice(celsius)


def saturated_ratio(celsius: float, pressure_pa: float) -> float:
    """Humidity ratio [kg/kg] of saturated air; endless where water boils at this pressure.

    >>> round(saturated_ratio(20.0, 101_325.0), 6)
    0.014695
    """
    vapour = saturation(celsius)[0]
    return WATER_TO_AIR * vapour / (pressure_pa - vapour) if vapour < pressure_pa else inf


def dew_point(vapour_pa: float) -> float:
    """Temperature [°C] at which vapour of this pressure is saturated; frost point below 0 °C.

    >>> round(dew_point(1000.0), 2)
    6.97
    """
    melting = over_water(MELTING_C)[0]
    wet = vapour_pa >= melting
    curve, a, b, zero = (over_water, 17.62, 243.12, 611.2) if wet else (over_ice, 22.46, 272.62, 611.15)
    ln = log(vapour_pa)
    over = log(vapour_pa / zero)
    found = b * over / (a - over)
    for _ in range(_MOST_STEPS):
        pressure, slope = curve(found)
        step = (log(pressure) - ln) * pressure / slope
        found -= step
        if -_CLOSE_K < step < _CLOSE_K:
            break
    return max(found, MELTING_C) if wet else min(found, MELTING_C)


# The balance of the wick, in kJ: `(L - a t) W_s(t) - 1.006 (T - t) = W (L + 1.86 T - b t)`
_LIQUID = (2501.0, 2.326, 4.186)
_FROZEN = (2830.0, 0.24, 2.1)


def ratio_by_wet_bulb(dry_bulb_c: float, wet_bulb_c: float, pressure_pa: float, frozen: bool) -> float:
    """Humidity ratio [kg/kg] by dry and wet bulb [°C] with the wick frozen or not; may come out below zero: no air is so dry.

    >>> round(ratio_by_wet_bulb(26.6667, 19.4444, 101_325.0, frozen=False), 5)
    0.01117
    """
    latent, a, b = _FROZEN if frozen else _LIQUID
    vapour = (over_ice if frozen else over_water)(wet_bulb_c)[0]
    if vapour >= pressure_pa:
        return inf
    most = WATER_TO_AIR * vapour / (pressure_pa - vapour)
    taken = (latent - a * wet_bulb_c) * most - 1.006 * (dry_bulb_c - wet_bulb_c)
    return taken / (latent + 1.86 * dry_bulb_c - b * wet_bulb_c)


def wet_bulb(
    dry_bulb_c: float, ratio: float, pressure_pa: float, frozen: bool, relative_humidity: float
) -> tuple[float, float, float]:
    """Wet bulb [°C] with the wick frozen or not, and its slopes by dry bulb and by humidity ratio.

    The start is Stull's fit at sea level; the balance rises with the wet bulb and bends upwards, so Newton's steps come from
    above after the first and never turn back.

    References
    ----------
    R. Stull, Journal of Applied Meteorology and Climatology 50 (2011), 2267: the start only.

    >>> round(wet_bulb(26.6667, 0.01117, 101_325.0, False, 0.51)[0], 1)
    19.4
    """
    latent, a, b = _FROZEN if frozen else _LIQUID
    curve = over_ice if frozen else over_water
    held = latent + 1.86 * dry_bulb_c
    bulb = _stull(dry_bulb_c, min(100.0 * relative_humidity, 100.0))
    if frozen:
        bulb = min(bulb, 0.0)
    for _ in range(_MOST_STEPS):
        vapour, rise = curve(bulb)
        dry_part = pressure_pa - vapour
        if dry_part <= 0:
            bulb -= 10.0
            continue
        most = WATER_TO_AIR * vapour / dry_part
        steep = most * rise * pressure_pa / (vapour * dry_part)
        left = latent - a * bulb
        excess = left * most - 1.006 * (dry_bulb_c - bulb) - ratio * (held - b * bulb)
        slope = left * steep - a * most + 1.006 + ratio * b
        step = excess / slope
        bulb -= step
        if -_CLOSE_K < step < _CLOSE_K:
            break
    return bulb, (1.006 + 1.86 * ratio) / slope, (held - b * bulb) / slope


def _stull(dry_bulb_c: float, percent: float) -> float:
    found = (
        dry_bulb_c * atan(0.151977 * sqrt(percent + 8.313659))
        + atan(dry_bulb_c + percent)
        - atan(percent - 1.676331)
        + 0.00391838 * percent * sqrt(percent) * atan(0.023101 * percent)
        - 4.686035
    )
    return found if found < dry_bulb_c else dry_bulb_c
