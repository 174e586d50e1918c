"""Every calculation of the core: importing this fills the registry."""

from fentro_core.air import chart, mixing, outdoor_share, pressure, state
from fentro_core.economizer import changeover, minimum_position, mode_map, relief, retrofit, sensors, which
from fentro_core.history import drift
from fentro_core.leakage import return_side
from fentro_core.measuring import averaging, matching, steadiness, traverse
from fentro_core.performance import airflow, cooling, expected, heating, judging, refrigerant, statics

MODULES = (
    pressure,
    state,
    mixing,
    outdoor_share,
    chart,
    averaging,
    steadiness,
    traverse,
    matching,
    airflow,
    cooling,
    expected,
    judging,
    heating,
    statics,
    refrigerant,
    return_side,
    drift,
    changeover,
    minimum_position,
    relief,
    sensors,
    mode_map,
    retrofit,
    which,
)
