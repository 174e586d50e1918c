"""Moist air: pressure of a site, states, mixing."""

from fentro_core.air.mixing import mix
from fentro_core.air.pressure import SEA_LEVEL_PA, standard_pressure
from fentro_core.air.state import AirState

__all__ = ["SEA_LEVEL_PA", "AirState", "mix", "standard_pressure"]
