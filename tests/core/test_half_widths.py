"""What a number says of its own doubt: the clamp's contact, the air that a damper lets in, a coil that dries nothing."""

from __future__ import annotations

import pytest

from fentro_core.base.units import show
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import Result
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, flow, reading, snapshot, started


def results(document: dict) -> dict[str, Result]:
    (phase,) = work_up(read_snapshot(document)).phases
    return {result.key: result for result in phase.results if result.quantity}


def number(result: Result) -> tuple[float, float]:
    assert result.quantity is not None
    return result.quantity.value, result.quantity.plus_minus


def rooftop(*more: dict, outdoor_c: float = 33.0, outdoor_rh: float = 50.0, kind: str = "packaged_rooftop") -> dict[str, Result]:
    """Cooling on a hot day."""
    airs = [*air("return", 25.0, 50.0), *air("supply", 14.0, 90.0), *air("outdoor", outdoor_c, outdoor_rh)]
    plate = {"economizer": True} if kind == "packaged_rooftop" else {}
    return results(snapshot([started(), *airs, flow(1.8), *more], kind, **plate))


@pytest.mark.parametrize(("line", "bar", "key"), [("suction_line", 8.0, "superheat"), ("liquid_line", 25.0, "subcooling")])
def test_a_clamp_on_a_pipe_is_no_better_than_its_contact(line: str, bar: float, key: str) -> None:
    pipe = reading(line, "pipe_temperature", {"superheat": 9.0, "subcooling": 36.0}[key], "degC", instrument=None)
    pipe["body"]["plus_minus"] = 0.1
    gauge = reading(line, "gauge_pressure", bar, "bar", instrument=None)
    gauge["body"]["plus_minus"] = 0.0001
    airs = [*air("return", 25.0, 50.0), *air("supply", 14.0, 90.0), *air("outdoor", 33.0, 50.0)]
    found = results(snapshot([started(), *airs, pipe, gauge], refrigerant="R-410A", metering="valve"))[key]
    assert number(found)[1] == pytest.approx(1.005, abs=0.01)
    assert found.contributions[0].label == "The clamp's contact with the pipe"


def test_gas_that_may_or_may_not_be_derated_reaches_to_both_ends_with_their_own_doubt() -> None:
    airs = [*air("return", 20.0, 40.0), *air("supply", 48.0, 10.0)]
    plate = {"heating_input_w": 30_000.0, "heating_efficiency": 0.8}

    def heat(derated: str) -> tuple[float, float]:
        return number(
            results(snapshot([started(), *airs], "furnace_with_coil", 2000.0, **plate, input_derated=derated))["target_heat"]
        )

    (full, own), (here, _), (asked, reach) = heat("no"), heat("yes"), heat("")
    assert here < asked < full
    assert asked + reach == pytest.approx(full + own, rel=0.02)
    assert asked - reach == pytest.approx(here - own, rel=0.03)


def test_what_a_damper_may_let_in_stands_in_the_targets_of_a_unit_that_has_one() -> None:
    packaged, split = rooftop(), rooftop(kind="split_heat_pump")
    for key in ("target_split", "target_total"):
        assert number(packaged[key])[0] == pytest.approx(number(split[key])[0])
        assert number(packaged[key])[1] > 1.2 * number(split[key])[1]
        assert "Outdoor air that the unit takes in" in {each.label for each in packaged[key].contributions}
    heavy, light = rooftop(outdoor_rh=75.0), rooftop(outdoor_rh=25.0)
    assert number(heavy["target_total"])[1] > number(light["target_total"])[1], "damp air loads the coil by more than its heat"


def test_a_share_measured_well_counts_and_one_measured_weakly_is_held_against_what_is_usual() -> None:
    well = rooftop(*air("mixed", 28.0, 48.0), outdoor_c=45.0, outdoor_rh=20.0)
    share, width = number(well["outdoor_share"])
    assert width < 0.08
    weak = rooftop(*air("mixed", 25.9, 48.0), outdoor_c=27.5)
    measured, doubt = number(weak["outdoor_share"])
    assert doubt > 0.25
    coil = number(rooftop(outdoor_c=27.5)["target_split"])[0]
    taken = (coil - number(weak["target_split"])[0]) / 2.5
    assert 0.12 < taken < measured
    coil = number(rooftop(outdoor_c=45.0, outdoor_rh=20.0)["target_split"])[0]
    assert (coil - number(well["target_split"])[0]) / 20.0 == pytest.approx(share, abs=0.02)


def test_the_working_leads_to_the_target_where_outdoor_air_is_mixed_in() -> None:
    found = rooftop(*air("mixed", 28.0, 48.0), outdoor_c=45.0, outdoor_rh=20.0)
    for key, name in (("target_split", "split from return to supply"), ("target_total", "cooling from return to supply")):
        (line,) = [each for each in found[key].lines if each.name == name]
        assert line.result.value == pytest.approx(number(found[key])[0], rel=1e-9), show(
            line.result.value, line.result.kind, "SI"
        )
    assert not any("return to supply" in each.name for each in rooftop()["target_split"].lines), "none is supposed unasked"


def test_over_a_dry_coil_the_model_is_less_sure() -> None:
    def share(rh: float) -> float:
        airs = [*air("return", 25.0, rh), *air("supply", 14.0, 2 * rh), *air("outdoor", 33.0, 20.0)]
        target, width = number(results(snapshot([started(), *airs, flow(1.8)], "split_heat_pump"))["target_total"])
        return width / target

    assert share(15.0) > 1.5 * share(50.0)
