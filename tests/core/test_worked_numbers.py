"""Reference figures from a real-gas moist-air model, independent of psychrolib. The core must reproduce them.

Allowed: temperatures 0.05 K, humidity ratio 0.6 %, volume 0.1 %, enthalpy 250 J/kg, loads 0.5 %.
"""

import pytest

from fentro_core.air import AirState, standard_pressure
from fentro_core.base.units import KINDS
from fentro_core.cooling.capacity import capacity

HIGH_PA = 82959.97

STATES = [
    # made, dry bulb, RH, wet bulb, dew point, humidity ratio, enthalpy, volume, then the same in US units
    (
        AirState.from_wet_bulb(26.6667, 19.4444),
        26.6667,
        0.51116,
        19.444,
        15.74,
        0.011224,
        55440.0,
        0.86436,
        (80.0, 51.12, 67.0, 60.33, 78.57, 31.515, 13.8458),
    ),
    (
        AirState.from_rh(24.0, 0.58),
        24.0,
        0.58,
        18.3,
        15.237,
        0.010861,
        51777.0,
        0.85616,
        (75.2, 58.0, 64.94, 59.43, 76.03, 29.94, 13.7144),
    ),
    (
        AirState.from_rh(25.5, 0.31, HIGH_PA),
        25.5,
        0.31,
        14.166,
        7.152,
        0.007712,
        45342.0,
        1.04584,
        (77.9, 31.0, 57.5, 44.87, 53.98, 27.174, 16.7528),
    ),
    (
        AirState.from_rh(-12.0, 0.80),
        -12.0,
        0.8,
        -12.568,
        -14.452,
        0.001074,
        -9407.0,
        0.74051,
        (10.4, 80.0, 9.38, 5.99, 7.51, 3.636, 11.8618),
    ),
]


@pytest.mark.parametrize(("elevation", "pressure"), [(0, 101325), (500, 95460.8), (1655, 82960.0), (2400, 75625.6)])
def test_standard_pressure(elevation: float, pressure: float) -> None:
    assert standard_pressure(float(elevation)) == pytest.approx(pressure, abs=0.5)


@pytest.mark.parametrize("row", STATES, ids=["rated", "sea level", "1655 m", "over ice"])
def test_states_in_si(row: tuple) -> None:
    air, dry_bulb, rh, wet_bulb, dew_point, ratio, enthalpy, volume, _ = row
    assert air.dry_bulb_c == pytest.approx(dry_bulb, abs=0.05)
    assert air.relative_humidity == pytest.approx(rh, rel=0.006)
    assert air.wet_bulb_c == pytest.approx(wet_bulb, abs=0.05)
    assert air.dew_point_c == pytest.approx(dew_point, abs=0.05)
    assert air.humidity_ratio == pytest.approx(ratio, rel=0.006)
    assert air.enthalpy_j_per_kg == pytest.approx(enthalpy, abs=250)
    assert air.specific_volume_m3_per_kg == pytest.approx(volume, rel=0.001)


@pytest.mark.parametrize("row", STATES, ids=["rated", "sea level", "1655 m", "over ice"])
def test_states_in_us_units_with_their_own_enthalpy_zero(row: tuple) -> None:
    air, (dry_bulb, rh, wet_bulb, dew_point, grains, enthalpy, volume) = row[0], row[-1]
    shown = {
        "temperature": [(air.dry_bulb_c, dry_bulb), (air.wet_bulb_c, wet_bulb), (air.dew_point_c, dew_point)],
        "relative_humidity": [(air.relative_humidity, rh)],
        "humidity_ratio": [(air.humidity_ratio, grains)],
        "enthalpy": [(air.enthalpy_j_per_kg, enthalpy)],
        "specific_volume": [(air.specific_volume_m3_per_kg, volume)],
    }
    allowed = {
        "temperature": {"abs": 0.09},
        "relative_humidity": {"rel": 0.006},
        "humidity_ratio": {"rel": 0.006},
        "enthalpy": {"abs": 250 / 2326},
        "specific_volume": {"rel": 0.001},
    }
    for kind, pairs in shown.items():
        for value, expected in pairs:
            assert KINDS[kind].us.from_si(value) == pytest.approx(expected, **allowed[kind])


def test_cooling_capacity_at_sea_level() -> None:
    worked = capacity(AirState.from_rh(24.6, 0.58), AirState.from_rh(13.8, 0.91), 1.80)
    assert worked.total_w == pytest.approx(35367, rel=0.005)
    assert worked.sensible_w == pytest.approx(23167, rel=0.005)
    assert worked.latent_w == pytest.approx(12199, rel=0.005)
    assert worked.sensible_heat_ratio == pytest.approx(0.6551, rel=0.005)
    assert worked.water_kg_per_s * 3600 == pytest.approx(17.257, rel=0.006)
    assert worked.dry_air_kg_per_s == pytest.approx(2.0968, rel=0.001)


def test_cooling_capacity_at_altitude() -> None:
    worked = capacity(AirState.from_rh(25.1, 0.33, HIGH_PA), AirState.from_rh(13.2, 0.63, HIGH_PA), 0.665)
    assert worked.total_w == pytest.approx(8924, rel=0.005)
    assert worked.sensible_w == pytest.approx(7721, rel=0.005)
    assert worked.latent_w == pytest.approx(1204, rel=0.0075)
    assert worked.sensible_heat_ratio == pytest.approx(0.8651, rel=0.005)
