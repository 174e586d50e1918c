"""Adiabatic mixing of air streams: a balance of dry-air mass, energy and water."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from fentro_core.air.constants import CP_DRY_AIR, CP_ICE, CP_WATER, MELTING_J_PER_KG, dry_bulb_of, vapour_enthalpy
from fentro_core.air.saturation import saturated_ratio
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working


@dataclass(frozen=True)
class Stream:
    """Air in motion: its state and its dry-air mass flow [kg/s]."""

    air: AirState
    dry_air_kg_per_s: float


@dataclass(frozen=True)
class Mixture:
    """The mixed stream. `fog`: it holds more water than vapour can be; then `humidity_ratio` is that of the saturated vapour and
    `excess_humidity_ratio` what drifts in it as drops, or below 0 °C as ice."""

    dry_bulb_c: float
    humidity_ratio: float
    enthalpy_j_per_kg: float
    dry_air_kg_per_s: float
    fog: bool
    excess_humidity_ratio: float


@calculation("air.mix", "Two or more air streams mixed without heat from outside")
def mix(streams: tuple[Stream, ...], work: Working = SILENT) -> Mixture:
    """Mix streams: enthalpy and humidity ratio weigh with the mass of *dry air*, dry bulb follows from both.

    Parameters
    ----------
    streams : tuple of Stream
        One or more: a state and its flow of dry air [kg/s], zero or more; not all zero.

    Raises
    ------
    Refused
        No stream, a flow below zero, nothing flows, or streams at two pressures.

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter, adiabatic mixing.

    >>> room, roof = AirState.from_rh(24.0, 0.5), AirState.from_rh(4.0, 0.6)
    >>> round(mix((Stream(room, 3.0), Stream(roof, 1.0))).dry_bulb_c, 1)
    19.0
    """
    for index, stream in enumerate(streams):
        if not stream.dry_air_kg_per_s >= 0:
            raise Refused("A flow can't be below zero.", f"streams.{index}.dry_air_kg_per_s")
    same_pressure(**{f"streams__{index}__air": stream.air for index, stream in enumerate(streams)})
    mass = sum(stream.dry_air_kg_per_s for stream in streams)
    if not mass > 0:
        raise Refused("Give at least one stream that flows.", "streams")
    water = sum(stream.dry_air_kg_per_s * stream.air.humidity_ratio for stream in streams) / mass
    enthalpy = sum(stream.dry_air_kg_per_s * stream.air.enthalpy_j_per_kg for stream in streams) / mass
    dry_bulb = dry_bulb_of(enthalpy, water)
    pressure = streams[0].air.pressure_pa
    mass_sum = " + ".join(f"m_{n}" for n, _ in enumerate(streams, 1))
    for name, symbol, value, kind in (
        ("mixed humidity ratio", "W", water, "humidity_ratio"),
        ("mixed enthalpy", "h", enthalpy, "enthalpy"),
    ):
        weighted = " + ".join(f"m_{n} * {symbol}_{n}" for n, _ in enumerate(streams, 1))
        numbers: dict[str, Any] = {}
        for n, stream in enumerate(streams, 1):
            held = stream.air.humidity_ratio if symbol == "W" else stream.air.enthalpy_j_per_kg
            numbers |= {f"m_{n}": (stream.dry_air_kg_per_s, "mass_flow"), f"{symbol}_{n}": (held, kind)}
        work.step(name, symbol, f"({weighted}) / ({mass_sum})", value, kind, source="balance of dry air", **numbers)
    if water <= saturated_ratio(dry_bulb, pressure) * (1 + 1e-9):
        return Mixture(dry_bulb, water, enthalpy, mass, False, 0.0)
    dry_bulb, vapour = _fog(enthalpy, water, pressure)
    work.step(
        "water that can't stay vapour",
        "x",
        "W - W_s",
        water - vapour,
        "humidity_ratio",
        source="balance of energy with drops in the air",
        remark="Fog: its heat of evaporation makes the mixture warmer than the same air without drops.",
        W=(water, "humidity_ratio"),
        W_s=(vapour, "humidity_ratio"),
    )
    return Mixture(dry_bulb, vapour, enthalpy, mass, True, water - vapour)


def _fog(enthalpy: float, water: float, pressure_pa: float) -> tuple[float, float]:
    """Temperature and vapour of air that holds drops: saturated air and the drops together have this enthalpy; by halving."""
    low, high = -100.0, 90.0
    for _ in range(60):
        middle = (low + high) / 2
        vapour = min(saturated_ratio(middle, pressure_pa), water)
        drops = CP_WATER * middle if middle >= 0 else CP_ICE * middle - MELTING_J_PER_KG
        held = CP_DRY_AIR * middle + vapour * vapour_enthalpy(middle) + (water - vapour) * drops
        low, high = (middle, high) if held < enthalpy else (low, middle)
    return (low + high) / 2, min(saturated_ratio((low + high) / 2, pressure_pa), water)
