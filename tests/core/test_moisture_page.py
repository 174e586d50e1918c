"""The page of moisture: what is said of coil, bucket, ways to dry and sources from a visit's readings."""

from __future__ import annotations

import pytest

from fentro_core.air.mixing import Stream, mix
from fentro_core.air.state import AirState
from fentro_core.moisture.bucket import bucket
from fentro_core.moisture.sources import drawn_in
from fentro_core.moisture.stops import after_stops
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.kinds import air_path
from fentro_core.system.packaged_rooftop import RooftopNameplate
from tests.core.moist import BUCKET, REHEATS, moisture_page
from tests.core.test_calculation import CYCLES
from tests.core.visits import across, air, entry, flow, reading, snapshot, started, worked


def test_before_anything_is_read_it_says_what_is_missing() -> None:
    page = moisture_page()
    assert [each.station for each in page.missing] == ["return", "supply"], "the nameplate's flow serves until one is measured"
    assert (page.mark, page.choice, page.results) == (None, None, ())


def test_a_coil_that_dries_and_a_bucket_that_agrees() -> None:
    page = moisture_page(across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2), entry(*BUCKET))
    assert page.mark is None
    assert page.words.say().startswith("Water leaves")
    assert page.bucket_mark == "holds"
    assert [each.key for each in page.points] == ["entering", "leaving", "surface"]


@pytest.mark.parametrize(("kilograms", "says"), [(0.7, "less"), (3.2, "more")])
def test_a_bucket_that_differs_is_explained(kilograms: float, says: str) -> None:
    body = {"condensate_kg": kilograms, "minutes": 10.0}
    page = moisture_page(across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2), entry("condensate", body))
    assert page.bucket_mark == "watch"
    assert says in page.bucket.say()
    assert len(page.explains) == 3
    early = moisture_page(
        across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2), entry("condensate", {**body, "settled": False})
    )
    assert early.bucket_mark == "too_close", "a pan that was not wet through accuses nobody"


def test_a_warm_coil_in_a_damp_room_is_worth_a_word_and_in_a_dry_one_not() -> None:
    damp = moisture_page(across("return", 24.0, 70, 12), across("supply", 19.0, 95, 12), flow(1.2))
    assert damp.words.say().startswith("This coil removes no water now")
    assert damp.mark == "off"
    dry = moisture_page(across("return", 24.0, 35, 12), across("supply", 13.0, 69, 12), flow(1.2))
    assert dry.words.say().startswith(("This coil removes no water now", "Too close"))
    assert dry.mark is None


def test_the_share_around_the_coil_and_the_heat_of_reheat_are_told_by_three_places() -> None:
    read = (across("return", 24.0, 58, 12), across("after_coil", 12.0, 94, 12), flow(1.2))
    power = reading("blower_feed", "electric_power", 1_400.0, "W", instrument=None)
    bypassed = moisture_page(*read, power, across("supply", 16.0, 80, 12), plate={"return_bypass": True})
    share = next(each for each in bypassed.results if each.key == "around_coil")
    assert share.quantity.value == pytest.approx((16 - 0.95 - 12) / 12, abs=0.01)
    assert share.quantity.plus_minus < 0.1
    heated = moisture_page(*read, air("supply", 18.0, 63), plate={"reheat": "hot_gas", "reheat_w": 9_000.0})
    heat = next(each for each in heated.results if each.key == "reheat_now")
    assert heat.quantity.value == pytest.approx(1.2 / 0.84 * 1022 * 5.0, rel=0.02)
    assert any("takes out no water" in each.say() for each in heated.notes)
    assert any("swings" in each.say() for each in heated.notes)
    close = moisture_page(
        air("return", 24.0, 58), air("after_coil", 22.0, 60), flow(1.2), air("supply", 23.0, 60), plate={"return_bypass": True}
    )
    assert not [each for each in close.results if each.key == "around_coil"]
    assert any("can't tell" in each.say() for each in close.notes)


def test_a_room_that_becomes_damper_needs_more_than_is_taken_out() -> None:
    read = (across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2))
    aim = {"wanted_c": 24.0, "wanted_rh": 0.55, "reheat_source": "electric"}
    steady = moisture_page(*read, entry("moisture_aim", aim)).choice
    damper = moisture_page(*read, entry("moisture_aim", {**aim, "room_m3": 2000.0, "drift_ratio": 0.001})).choice
    gained = 2000.0 / AirState.from_rh(24.0, 0.55).specific_volume_m3_per_kg * 0.001 / 3600
    mass = 1.2 / AirState.from_rh(24.0, 0.55).specific_volume_m3_per_kg
    assert steady.needed_ratio - damper.needed_ratio == pytest.approx(gained / mass, rel=1e-6)
    typed = moisture_page(
        *read, entry("moisture_aim", {**aim, "room_m3": 2000.0, "drift_ratio": 0.001, "room_water_kg_per_s": 0.002})
    )
    assert typed.choice.needed_ratio == pytest.approx(AirState.from_rh(24.0, 0.55).humidity_ratio - 0.002 / mass)


def test_what_a_building_draws_in_follows_from_its_pressure() -> None:
    read = (across("return", 24.0, 58), across("supply", 13.0, 95), across("outdoor", 31.0, 70), flow(1.2))
    typed = moisture_page(*read, entry("water_sources", {"infiltration_m3s": drawn_in(1.0, -4.0)}))
    followed = moisture_page(*read, entry("water_sources", {"blower_door_m3s": 1.0, "building_pa": -4.0}))
    assert followed.brought == typed.brought
    pressed = moisture_page(*read, entry("water_sources", {"blower_door_m3s": 1.0, "building_pa": 3.0}))
    assert "gaps" not in [each.key for each in pressed.brought]


def test_the_returns_drift_is_the_line_through_it() -> None:
    head, *rows = CYCLES.splitlines()
    rising = [f"{row.rsplit(',', 1)[0]},{50 + minute / 6}" for minute, row in enumerate(rows)]
    found = after_stops("\n".join([head, *rising]))
    begin, end = (AirState.from_rh(24.0, share).humidity_ratio for share in (0.50, 0.60))
    assert found.drift_ratio == pytest.approx(end - begin, rel=0.03)
    assert abs(after_stops(CYCLES).drift_ratio) < 1e-9


def test_what_the_room_needs_and_where_its_water_comes_from() -> None:
    aim = {
        "wanted_c": 24.0,
        "wanted_rh": 0.5,
        "room_sensible_w": 9_000.0,
        "room_water_kg_per_s": 0.0026,
        "reheat_source": "hot_gas",
    }
    given = {"outdoor_m3s": 0.2, "occupants": 8.0, "wet_area_m2": 6.0}
    page = moisture_page(
        across("return", 24.0, 58),
        across("supply", 13.0, 95),
        air("outdoor", 31.0, 70),
        flow(1.2),
        entry("moisture_aim", aim),
        entry("water_sources", given),
    )
    assert page.choice.best == "both"
    assert "dries nothing" in page.reheat_note.say()
    assert [each.key for each in page.brought] == ["outdoor", "people", "wet", "unexplained"]
    assert all(each.brings.plus_minus > 0 for each in page.brought)
    assert page.sources_mark is None
    dry = moisture_page(across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2), entry("water_sources", given))
    assert "Read the humidity" in dry.sources_words.say()


def test_water_from_nowhere_is_named_and_more_than_leaves_too() -> None:
    read = (across("return", 24.0, 58, 12), across("supply", 13.0, 95, 12), across("outdoor", 31.0, 70), flow(1.2))
    nothing = moisture_page(*read, entry("water_sources", {"outdoor_m3s": 0.02}))
    assert (nothing.sources_mark, "another way in" in nothing.sources_words.say()) == ("watch", True)
    much = moisture_page(*read, entry("water_sources", {"outdoor_m3s": 0.9}))
    assert (much.sources_mark, "more humid" in much.sources_words.say()) == ("off", True)


def test_a_bucket_is_of_its_own_phase() -> None:
    left = entry("condensate", {"condensate_kg": 9.0, "minutes": 10.0}, phase="as_left")
    page = moisture_page(across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2), entry(*BUCKET), left)
    assert page.condensate.condensate_kg == 1.6


def test_a_bucket_by_hand() -> None:
    assert bucket(1.0, 60.0) * 3600 == pytest.approx(1.0)


def test_reheat_and_bypass_stand_in_the_air_path_with_their_share() -> None:
    plain = air_path("packaged_rooftop", RooftopNameplate()).bands[0]
    both = air_path("packaged_rooftop", RooftopNameplate(reheat="electric", return_bypass=True)).bands[0]
    assert [each.id for each in both.elements if each not in plain.elements] == ["reheat"]
    assert [(each.id, each.at, each.to) for each in both.joints] == [("bypass", "coil", "reheat")]
    assert air_path("furnace_with_coil", FurnaceNameplate(return_bypass=True)).bands[0].joints[-1].to == "registers"
    read = [*across("return", 24.0, 58, 12), *across("after_coil", 12.0, 94, 12), *across("supply", 16.0, 80, 12), flow(1.2)]
    power = reading("blower_feed", "electric_power", 1_400.0, "W", instrument=None)
    document = snapshot([started(), *read, power], "packaged_rooftop", return_bypass=True)
    joint = next(each for each in worked(document).result.ribbon.joints if each.joint == "bypass")
    assert joint.share == pytest.approx(0.254, abs=0.01)
    assert joint.share_known
    assert joint.dry_bulb.value == pytest.approx(24.0)
    unread = snapshot([started()], "packaged_rooftop", return_bypass=True)
    assert not worked(unread).result.ribbon.joints[0].share_known


def test_the_supply_of_a_unit_with_reheat_or_bypass_is_not_taken_for_the_coils() -> None:
    warmed = (across("return", 24.0, 70, 12), across("supply", 20.0, 62, 12), flow(1.2))
    page = moisture_page(*warmed, plate=REHEATS)
    assert [each.station for each in page.missing] == ["after_coil"]
    assert (page.mark, page.words) == (None, None), "nothing is said of a coil whose air nobody read"
    told = moisture_page(*warmed, across("after_coil", 12.0, 95, 12), plate=REHEATS)
    assert told.words.say().startswith("Water leaves")


def test_water_of_a_bypassed_coil_is_told_where_the_streams_have_met() -> None:
    share = 0.25
    return_, coil = AirState.from_rh(24.0, 0.58), AirState.from_rh(11.0, 0.95)
    met = mix((Stream(return_, share), Stream(coil, 1 - share)))
    supply = AirState(met.dry_bulb_c, met.humidity_ratio)
    read = (across("return", 24.0, 58), across("after_coil", 11.0, 95), flow(1.2))
    rh = round(100 * supply.relative_humidity, 2)
    page = moisture_page(*read, across("supply", supply.dry_bulb_c, rh), plate={"return_bypass": True})
    water = next(each for each in page.results if each.key == "coil_water").quantity.value
    mass = 1.2 / return_.specific_volume_m3_per_kg
    assert water == pytest.approx((1 - share) * mass * (return_.humidity_ratio - coil.humidity_ratio), rel=0.01)


def test_no_reheat_to_be_had_is_none_and_the_nameplates_own_is_taken() -> None:
    read = (across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2))
    loads = {"wanted_c": 24.0, "wanted_rh": 0.5, "room_sensible_w": 9_000.0, "room_water_kg_per_s": 0.0026}
    none = moisture_page(*read, entry("moisture_aim", loads)).choice
    assert {each.why for each in none.options if each.option in ("reheat", "both")} == {"no_reheat"}
    built = moisture_page(*read, across("after_coil", 12.0, 95), plate=REHEATS)
    assert not any("counted as electric" in each.words.text for each in built.options)


def test_no_less_air_is_proposed_than_the_nameplates_coil_bears() -> None:
    read = (across("return", 24.0, 58), across("supply", 13.0, 95), flow(1.2))
    aim = entry("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 0.5, "room_sensible_w": 9_000.0, "room_water_kg_per_s": 0.0026})

    def share(**plate: float) -> float:
        return next(each.air_share for each in moisture_page(*read, aim, plate=plate).choice.options if each.option == "less_air")

    assert share() == pytest.approx(0.7, abs=0.01)
    assert share(rated_airflow_m3s=1.5) == pytest.approx(0.875, abs=0.01), "today's is little already"
    assert share(rated_airflow_m3s=2.0) == 1.0
