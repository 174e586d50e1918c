"""What cools a house at night: the blower with its damper and limits, and the compressor that it spares."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused, inside

MOST_HOURS = 72
LEAST_TO_MOST_M2 = (40.0, 5000.0)
"""Floor area of a house that is cooled at night."""

Hold = Literal["", "dew_point", "smoke", "security", "pollen"]


@dataclass(frozen=True)
class Cooling:
    """The compressor: thermostat's setpoint [°C], cooling it gives [W], electricity for it at 35 °C outdoors as a share, and how
    much better it does for each kelvin under that.
    """

    setpoint_c: float
    capacity_w: float
    cop_at_35: float = 3.2
    better_per_k: float = 0.02

    def check(self) -> None:
        """Refuse what no unit is."""
        within(self.setpoint_c, (15.0, 35.0), "setpoint_c", "temperature")
        within(self.capacity_w, (500.0, 500_000.0), "capacity_w", "power")
        if not 1.0 <= self.cop_at_35 <= 8.0:
            raise Refused("Cooling for electricity lies between 1 and 8.", "cop_at_35")
        if not 0.0 <= self.better_per_k <= 0.05:
            raise Refused("A unit does 0 to 5 % better for each kelvin.", "better_per_k")

    def cop(self, outdoor_c: float) -> float:
        """Cooling for electricity at this outdoor temperature."""
        return max(self.cop_at_35 * (1.0 + self.better_per_k * (35.0 - outdoor_c)), 1.0)


@dataclass(frozen=True)
class Flush:
    """What blows night air: full flow [m³/s] and power there [W]; from when to when it may (hours of the day), the coldest the
    rooms may be at wake-up [°C] and when that is; the dew point over which nothing is let in [°C].
    """

    full_m3s: float
    full_w: float
    floor_c: float = 20.0
    wake_hour: int = 7
    from_hour: int = 20
    until_hour: int = 9
    dew_point_limit_c: float = 15.0
    hold: Hold = ""

    def check(self) -> None:
        """Refuse what no damper and blower do."""
        within(self.full_m3s, (0.01, 50.0), "full_m3s", "airflow")
        within(self.full_w, (1.0, 50_000.0), "full_w", "electric_power")
        within(self.floor_c, (10.0, 30.0), "floor_c", "temperature")
        within(self.dew_point_limit_c, (-10.0, 30.0), "dew_point_limit_c", "temperature")
        for name in ("wake_hour", "from_hour", "until_hour"):
            if not 0 <= getattr(self, name) <= 23:
                raise Refused("An hour of the day lies between 0 and 23.", name)

    def may(self, hour_of_day: int) -> bool:
        """Whether this hour is one of the night's."""
        first, last = self.from_hour, self.until_hour
        return first <= hour_of_day < last if first <= last else hour_of_day >= first or hour_of_day < last

    def power(self, speed: float) -> float:
        """By the cube of the flow [W]."""
        return self.full_w * speed**3


@dataclass(frozen=True)
class House:
    """Two nodes: air with what follows it at once, mass behind it.

    Attributes
    ----------
    air_j_per_k, mass_j_per_k
        Heat capacities [J/K]: 1e5 to 1e8, 1e6 to 1e10.
    coupling_w_per_k
        Between air and mass [W/K], 10 to 100,000.
    outside_w_per_k
        From the air to outdoors, leaks included [W/K], 5 to 20,000.
    solar_to_mass
        Share of the sun that warms the mass first, 0 to 1.
    """

    air_j_per_k: float
    mass_j_per_k: float
    coupling_w_per_k: float
    outside_w_per_k: float
    solar_to_mass: float = 0.6

    def check(self) -> None:
        """Refuse what no house is."""
        within(self.air_j_per_k, (1e5, 1e8), "air_j_per_k", "heat_capacity")
        within(self.mass_j_per_k, (1e6, 1e10), "mass_j_per_k", "heat_capacity")
        within(self.coupling_w_per_k, (10.0, 100_000.0), "coupling_w_per_k", "heat_per_kelvin")
        within(self.outside_w_per_k, (5.0, 20_000.0), "outside_w_per_k", "heat_per_kelvin")
        within(self.solar_to_mass, (0.0, 1.0), "solar_to_mass", "share")

    @staticmethod
    def typical(floor_area_m2: float) -> House:
        """An ordinary house of this floor area, light inside, moderately insulated: to start from, marked as typical. Ours.

        >>> round(House.typical(161.65).outside_w_per_k)
        194
        """
        return House(2_800.0 * floor_area_m2, 150_000.0 * floor_area_m2, 4.0 * floor_area_m2, 1.2 * floor_area_m2)


@dataclass(frozen=True)
class NightSetup:
    """What a plan needs to know of a house: blower and damper with their limits, compressor, floor area [m²].

    `house`: its two nodes, fitted from its own samples; None: a typical one of that size.
    """

    flush: Flush
    cooling: Cooling
    floor_area_m2: float
    house: House | None = None

    def check(self) -> None:
        """Refuse what any of it refuses, at its place; a floor that is no floor."""
        for part, name in ((self.flush, "flush"), (self.cooling, "cooling")):
            with inside(name):
                part.check()
        if self.house:
            with inside("house"):
                self.house.check()
        within(self.floor_area_m2, LEAST_TO_MOST_M2, "floor_area_m2", "area")
        if self.flush.floor_c >= self.cooling.setpoint_c:
            raise Refused("The comfort floor must lie below the cooling setpoint.", "flush.floor_c")


@dataclass(frozen=True)
class NightPlanned:
    """A plan that was taken over into the control.

    Attributes
    ----------
    high_c, low_c, dew_point_c, room_c
        The forecast's high and low, its dew point where it is known, and the rooms at the beginning [°C].
    target_c
        Air down to which it blows.
    start_hour, stop_hour
        Of the day.
    speeds
        Of full flow, hour by hour from the start on.
    saved_j
        Electricity that it should save [J].
    planned_c, forecast_c
        Rooms and outdoors as they were expected, by the hour from 20 h on [°C]; empty where only a forecast's ends were typed.
    """

    high_c: float
    low_c: float
    room_c: float
    target_c: float
    start_hour: int
    stop_hour: int
    speeds: tuple[float, ...] = ()
    dew_point_c: float | None = None
    saved_j: float | None = None
    planned_c: tuple[float, ...] = ()
    forecast_c: tuple[float, ...] = ()

    def check(self) -> None:
        """Refuse what no night and no control is."""
        for name in ("high_c", "low_c", "room_c", "target_c"):
            within(getattr(self, name), WEATHER_C, name, "temperature")
        if self.low_c > self.high_c:
            raise Refused("The night's low can't lie above the day's high.", "low_c")
        if self.dew_point_c is not None:
            within(self.dew_point_c, WEATHER_C, "dew_point_c", "temperature")
        for name in ("start_hour", "stop_hour"):
            if not 0 <= getattr(self, name) <= 23:
                raise Refused("An hour of the day lies between 0 and 23.", name)
        if len(self.speeds) > 24 or any(not 0.0 <= speed <= 1.0 for speed in self.speeds):
            raise Refused("At most 24 speeds, each 0 to 100 %.", "speeds")
        if self.saved_j is not None and not abs(self.saved_j) <= 1e10:
            raise Refused("No night saves that much.", "saved_j")
        for name in ("planned_c", "forecast_c"):
            values = getattr(self, name)
            if len(values) > MOST_HOURS:
                raise Refused("At most 72 hours.", name)
            for index, value in enumerate(values):
                within(value, WEATHER_C, f"{name}.{index}", "temperature")
