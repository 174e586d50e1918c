"""Every calculation of the core: importing this fills the registry. A part's own are declared by the part."""

from fentro_core.air import chart, mixing, pressure, state
from fentro_core.history import drift
from fentro_core.parts import PARTS

MODULES = (pressure, state, mixing, chart, *(module for part in PARTS for module in part.calculations), drift)
