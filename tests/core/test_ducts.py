"""Ducts: losses, flows, calibration and balance, against figures worked out elsewhere and as an adversary would give them."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from math import exp, log
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.base import calculation
from fentro_core.base.least_squares import cholesky, inverse, solved
from fentro_core.base.refusal import Refused
from fentro_core.ducts.balance import MOST_DEG, Position, balance, distance_m
from fentro_core.ducts.blower import AirMover, Blower, blower_of
from fentro_core.ducts.calibrate import DuctReading, Round, calibrate, turned
from fentro_core.ducts.design import design_flows
from fentro_core.ducts.fittings import BLADE_K, FITTINGS, compression_factor, damper_angle, damper_k, fitting_k
from fentro_core.ducts.loss import duct_loss, friction_factor
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.ducts.starved import remedies, way_losses
from fentro_core.system.ducts import DuctTree, Piece, RoomBranch, Trunk
from fentro_core.system.nameplate import FanPoint
from fentro_standins.ducts.house import House

CURVE = ((0.20, 300.0), (0.36, 240.0), (0.46, 180.0), (0.53, 120.0), (0.58, 60.0), (0.62, 0.0))
MOVER = AirMover(Blower(CURVE), 110.0, 0.5)
DESIGN = {"a": 0.12, "b": 0.12, "c": 0.09, "d": 0.09}


def branch(id_: str, after: str, diameter: float, length: float, loss: float, angle: float = 0.0, **more: object) -> RoomBranch:
    given: dict[str, Any] = {"room": f"Room {id_}", "damper": "blade", "register_pa": 12.0, "register_m3s": 0.07, **more}
    return RoomBranch(id=id_, after=after, diameter_m=diameter, length_m=length, more_loss=loss, damper_deg=angle, **given)


def worked(c_angle: float = 0.0) -> DuctTree:
    """The tree of the independent figures."""
    return DuctTree(
        (
            Trunk(id="1", width_m=0.4, height_m=0.25, length_m=3.0, more_loss=0.5),
            Trunk(id="2", after="1", width_m=0.3, height_m=0.25, length_m=5.0, more_loss=0.3),
        ),
        (
            branch("a", "1", 0.1778, 4.5, 1.8),
            branch("b", "1", 0.1778, 11.0, 2.6),
            branch("c", "2", 0.1524, 4.0, 1.8, c_angle),
            branch("d", "2", 0.1524, 12.5, 3.0),
        ),
    )


def solve(tree: DuctTree, density: float = 1.204) -> DuctFlows:
    return Network(tree, density).solve(MOVER)


# losses


@pytest.mark.parametrize(
    ("piece", "flow", "drop"),
    [
        (Piece(id="1", diameter_m=0.2032, length_m=8.5), 0.118, 7.485),
        (Piece(id="1", diameter_m=0.1524, length_m=4.0, wall="flexible", more_loss=0.9), 0.047, 7.354),
        (Piece(id="1", width_m=0.508, height_m=0.203, length_m=6.0), 0.47, 5.15),
    ],
)
def test_a_piece_loses_what_it_should(piece: Piece, flow: float, drop: float) -> None:
    assert duct_loss(piece, flow).drop_pa == pytest.approx(drop, rel=0.015)


def test_friction_is_colebrooks() -> None:
    for reynolds in (5e3, 3e4, 2e5, 1e6):
        for rough in (1e-5, 4.4e-4, 6.5e-3):
            f = friction_factor(reynolds, rough)
            assert f**-0.5 == pytest.approx(-2.0 * log(rough / 3.7 + 2.51 / (reynolds * f**0.5), 10), rel=1e-4)
    assert friction_factor(2300.0, 0.0) == pytest.approx(64 / 2300)
    assert friction_factor(2300.1, 0.0) == pytest.approx(friction_factor(2300.0, 0.0), rel=1e-3), "no step"
    assert friction_factor(3999.9, 1e-3) == pytest.approx(friction_factor(4000.0, 1e-3), rel=1e-3)


def test_a_compressed_flexible_duct_loses_far_more() -> None:
    assert compression_factor(0.15, 0.15) == pytest.approx(5.1, abs=0.1)
    assert compression_factor(0.30, 0.15) == pytest.approx(9.3, abs=0.1)
    stretched = Piece(id="1", diameter_m=0.15, length_m=5.0, wall="flexible")
    squeezed = replace(stretched, compressed=0.15)
    factor = duct_loss(squeezed, 0.05).friction_pa / duct_loss(stretched, 0.05).friction_pa
    assert factor == pytest.approx(compression_factor(0.15, 0.15))


def test_a_blade_damper_is_its_table_and_back() -> None:
    for angle, loss in BLADE_K:
        assert damper_k(angle) == pytest.approx(loss)
        assert damper_angle(loss) == pytest.approx(angle)
    angles = [number / 2 for number in range(181)]
    assert all(damper_k(one) < damper_k(other) for one, other in pairwise(angles))
    assert all(damper_angle(damper_k(angle)) == pytest.approx(angle, abs=1e-9) for angle in angles)
    open_ = 2.0
    assert ((open_ + damper_k(0)) / (open_ + damper_k(90))) ** 0.5 == pytest.approx(0.035, abs=0.015), "shut leaks 2 to 5 %"


def test_a_change_of_size_loses_by_both_areas() -> None:
    wide = Trunk(id="w", width_m=0.4, height_m=0.25, length_m=1.0)
    narrow = Trunk(id="n", after="w", width_m=0.2, height_m=0.25, length_m=1.0)
    assert fitting_k("narrowing", narrow, wide) == pytest.approx(0.25)
    widening = fitting_k("widening", wide, narrow)
    assert widening * 0.5 * (1 / 0.1) ** 2 == pytest.approx(0.25 * 0.5 * (1 / 0.05) ** 2), "(1 - 1/2)² on the narrower velocity"
    assert fitting_k("narrowing", wide, narrow) == fitting_k("widening", narrow, wide) == 0.0
    assert fitting_k("narrowing", narrow, None) == 0.0
    assert {each.loss is None for each in FITTINGS.values() if each.shape == "change"} == {True}


# flows


@pytest.mark.parametrize(
    ("tree", "density", "flows"),
    [
        (worked(), 1.204, (0.1351, 0.1175, 0.1107, 0.0865)),
        (worked(40.0), 1.204, (0.1476, 0.1285, 0.0623, 0.0954)),
        (worked(), 0.9858, (0.1351, 0.1173, 0.1106, 0.0862)),
    ],
)
def test_the_tree_divides_as_worked_out_elsewhere(tree: DuctTree, density: float, flows: tuple[float, ...]) -> None:
    found = solve(tree, density)
    assert [found.flow(each) for each in "abcd"] == pytest.approx(flows, rel=0.02)


def test_pressures_at_the_ends_of_the_trunks() -> None:
    found = solve(worked())
    assert found.total_m3s == pytest.approx(0.4497, rel=0.02)
    assert found.pieces["1"].pressure_pa == pytest.approx(89.89, rel=0.02)
    assert found.pieces["2"].pressure_pa == pytest.approx(86.94, rel=0.02)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 40))
def test_nothing_is_lost_or_made_at_any_joint(seed: int, count: int) -> None:
    house = House(seed, count)
    found = Network(house.drawn, 1.1, leak_at_25pa_m3s=0.02).solve(house.mover_drawn)
    for trunk in house.drawn.trunks:
        leaving = sum(found.flow(piece.id) for piece in house.drawn.pieces if piece.after == trunk.id)
        assert found.flow(trunk.id) == pytest.approx(leaving, abs=1e-6)
    first = sum(found.flow(piece.id) for piece in house.drawn.pieces if not piece.after)
    assert found.total_m3s == pytest.approx(first + found.lost_m3s, rel=1e-5)
    for each in house.drawn.branches:
        above = found.pieces[each.after].pressure_pa if each.after else found.plenum_pa
        assert found.pieces[each.id].losses.total_pa == pytest.approx(above, rel=1e-3), "all of the pressure is used up"


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 20), st.floats(5, 80))
def test_closing_one_damper_takes_its_air_and_gives_to_others(seed: int, count: int, angle: float) -> None:
    house = House(seed, count)
    first = replace(house.drawn.branches[0], damper="blade", damper_deg=0.0)
    tree = house.drawn.with_(first)
    before = Network(tree, 1.2).solve(house.mover_drawn)
    after = Network(tree.with_(replace(first, damper_deg=angle)), 1.2).solve(house.mover_drawn)
    assert after.flow(first.id) < before.flow(first.id)
    assert after.total_m3s < before.total_m3s
    assert all(after.flow(each.id) > before.flow(each.id) - 1e-9 for each in tree.branches[1:])


def test_a_held_flow_is_held() -> None:
    found = Network(worked(), 1.204).solve(AirMover(Blower(held_m3s=0.4), 110.0, 0.5))
    assert found.total_m3s == 0.4
    assert sum(found.flow(each) for each in "abcd") == pytest.approx(0.4, rel=1e-6)


def test_everything_shut_is_said() -> None:
    tree = DuctTree((), (branch("a", "", 0.15, 3.0, 1.0, 90.0, damper="inflatable"),))
    with pytest.raises(Refused, match="Everything is shut"):
        solve(tree)


def test_a_shut_inflatable_damper_lets_nothing_through() -> None:
    tree = worked().with_(branch("a", "1", 0.1778, 4.5, 1.8, 90.0, damper="inflatable"))
    assert solve(tree).flow("a") == 0.0


def test_beyond_the_blowers_table_is_said() -> None:
    assert not solve(worked()).beyond_table
    nearly_shut = DuctTree((), (branch("a", "", 0.15, 3.0, 1.0, 60.0),))
    assert solve(nearly_shut).beyond_table
    assert 0 < solve(nearly_shut).total_m3s < 0.2


# bad trees, bad blowers


def test_a_blower_that_goes_back_up_is_refused_with_both_flows() -> None:
    table = (FanPoint("high", 0.0, 0.6), FanPoint("high", 100.0, 0.4), FanPoint("high", 90.0, 0.3))
    with pytest.raises(Refused, match="goes back up between") as refused:
        blower_of(table)
    assert refused.value.path == "fan_table"
    with pytest.raises(Refused, match="two points"):
        blower_of(table[:1])
    with pytest.raises(Refused, match="two points"):
        blower_of(table, "low")


def test_a_ring_is_found_and_named() -> None:
    trunks = (
        Trunk(id="1", after="2", name="East", width_m=0.3, height_m=0.2, length_m=2.0),
        Trunk(id="2", after="1", width_m=0.3, height_m=0.2, length_m=2.0),
    )
    tree = DuctTree(trunks, (branch("a", "1", 0.15, 3.0, 1.0),))
    assert "round in a ring" in tree.troubles()[0].sentence.text
    with pytest.raises(Refused, match="ring"):
        Network(tree, 1.2)


@pytest.mark.parametrize(
    ("tree", "words"),
    [
        (DuctTree((), (branch("a", "gone", 0.15, 3.0, 1.0),)), "is not in the tree"),
        (
            DuctTree((), (branch("a", "", 0.15, 3.0, 1.0), branch("a", "", 0.15, 4.0, 1.0, room="Other"))),
            "two pieces have this id",
        ),
        (DuctTree((), (branch("a", "", 0.15, 3.0, 1.0, room="Den"), branch("b", "", 0.15, 4.0, 1.0, room="den "))), "already"),
        (DuctTree((Trunk(id="t", diameter_m=0.3, length_m=2.0),), (branch("a", "", 0.15, 3.0, 1.0),)), "nothing leaves it yet"),
    ],
)
def test_what_does_not_hang_together_is_said(tree: DuctTree, words: str) -> None:
    assert any(words in each.sentence.text for each in tree.troubles())


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("length_m", 0.0),
        ("length_m", float("nan")),
        ("diameter_m", None),
        ("width_m", 0.2),
        ("diameter_m", 9.0),
        ("compressed", 0.3),
        ("more_loss", -1.0),
        ("room", "  "),
        ("register_m3s", None),
        ("damper_deg", 91.0),
        ("register_open", 1.2),
        ("fittings", ("bend_90",) * 13),
        ("cooling_design_m3s", -0.1),
        ("id", ""),
    ],
)
def test_a_piece_that_can_not_be_is_refused(field: str, value: object) -> None:
    with pytest.raises(Refused):
        replace(branch("a", "", 0.15, 3.0, 1.0), **{field: value}).check()


def test_a_piece_is_laid_changed_and_taken_out() -> None:
    tree = worked()
    longer = tree.with_(replace(tree.branches[0], length_m=9.0))
    assert [each.id for each in longer.branches] == ["a", "b", "c", "d"]
    assert longer.branches[0].length_m == 9.0
    without = tree.without("2")
    assert [each.id for each in without.trunks] == ["1"]
    assert {each.after for each in without.branches} == {"1"}, "what left it leaves what it left"
    assert tree.without("nobody") == tree
    as_trunk = tree.with_(Trunk(id="a", after="1", diameter_m=0.2, length_m=2.0))
    assert [each.id for each in as_trunk.branches] == ["b", "c", "d"], "one id, one piece"


def test_two_hundred_branches_have_an_answer() -> None:
    house = House(5, 200)
    found = Network(house.drawn, 1.2).solve(house.mover_drawn)
    assert sum(found.flow(each.id) for each in house.drawn.branches) == pytest.approx(found.total_m3s, rel=1e-5)


# calibration


def test_without_readings_nothing_is_changed_and_the_longest_way_is_asked_first() -> None:
    found = calibrate(worked(), MOVER, 1.204)
    assert all(factor.value == 1.0 for factor in found.factors.values())
    assert found.flows.flow("a") == pytest.approx(0.1351, rel=0.02)
    assert all(0.2 < width < 0.4 for width in found.half_widths.values())
    assert (found.next_readings[0].what, found.next_readings[0].branch) == ("register", "d")


def test_the_model_passes_through_what_was_read() -> None:
    read = {"a": 0.120, "b": 0.118, "c": 0.100, "d": 0.045}
    found = calibrate(worked(), MOVER, 1.204, [Round(tuple(DuctReading("register", v, 0.05, b) for b, v in read.items()))])
    for each, value in read.items():
        assert found.flows.flow(each) == pytest.approx(value, rel=0.03)
        assert found.half_widths[each] < 0.07
    assert found.factors["d"].far == "more"
    assert found.factors["d"].value > 2.0
    assert {found.factors[each].far for each in "abc"} == {""}


@pytest.mark.parametrize(("branches", "settled"), [(30, True), (120, False)])
def test_what_does_not_come_to_rest_is_said(branches: int, settled: bool) -> None:
    """A hundred and twenty branches on trunks that are made for eleven."""
    house = House(6, branches)
    flows = house.flows()
    readings = tuple(DuctReading("register", flows.flow(each.id), 0.05, each.id) for each in house.drawn.branches)
    assert calibrate(house.drawn, house.mover_drawn, 1.2, (Round(readings),)).settled is settled


def test_one_reading_tells_of_that_branch_and_little_of_others() -> None:
    found = calibrate(worked(), MOVER, 1.204, [Round((DuctReading("register", 0.045, 0.05, "d"),))])
    assert found.factors["d"].value > 2.0
    assert 0.8 < found.factors["a"].value < 1.2
    assert found.half_widths["d"] < 0.07 < found.half_widths["a"]
    assert all(each.branch != "d" for each in found.next_readings)


def test_pressures_and_the_total_say_something_too() -> None:
    plain = calibrate(worked(), MOVER, 1.204)
    told = calibrate(worked(), MOVER, 1.204, [Round((DuctReading("plenum", 140.0, 0.04), DuctReading("total", 0.36, 0.03)))])
    assert told.flows.plenum_pa == pytest.approx(140.0, rel=0.05)
    assert told.flows.total_m3s == pytest.approx(0.36, rel=0.06)
    assert told.flows.total_m3s < plain.flows.total_m3s * 0.9
    assert max(told.half_widths.values()) < max(plain.half_widths.values())


def test_a_hood_that_shows_too_much_is_found_out_by_the_total() -> None:
    truth = solve(worked())
    registers = [DuctReading("register", truth.flow(each) * 1.05, 0.06, each, "hood") for each in "abcd"]
    found = calibrate(worked(), MOVER, 1.204, [Round((*registers, DuctReading("total", truth.total_m3s, 0.01)))])
    assert found.flows.total_m3s == pytest.approx(truth.total_m3s, rel=0.012)


def test_gradients_are_those_of_the_model() -> None:
    """Nudging any unknown moves every quantity as the search believes."""
    from fentro_core.ducts.calibrate import _Search

    tree = worked(30.0)
    search = _Search(tree, MOVER, 1.204, (Round(()),), 0.0)
    state = search._states()[0]
    for at in range(len(search.names)):
        search.theta[at] = 1e-3
        nudged = search._states()[0]
        search.theta[at] = 0.0
        for what, which in (("register", "d"), ("register", "c"), ("plenum", ""), ("total", ""), ("external", "")):
            slope = log(nudged.value(what, which) / state.value(what, which)) / 1e-3
            assert state.gradient(what, which)[at] == pytest.approx(slope, abs=0.02), (search.names[at], what, which)


def test_a_small_system_is_solved() -> None:
    matrix = [[4.0, 1.0, 0.5], [1.0, 3.0, 0.2], [0.5, 0.2, 2.0]]
    lower = cholesky(matrix)
    x = solved(lower, [1.0, 2.0, 3.0])
    back = [sum(a * b for a, b in zip(row, x, strict=True)) for row in matrix]
    assert back == pytest.approx([1.0, 2.0, 3.0])
    turned_round = inverse(lower)
    assert sum(turned_round[0][k] * matrix[k][0] for k in range(3)) == pytest.approx(1.0)


# balance


def test_proportional_balance_as_worked_out_elsewhere() -> None:
    plan = balance(Network(worked(), 1.204), MOVER, DESIGN)
    assert [plan.shares_before[each] for each in "abcd"] == pytest.approx([1.1254, 0.979, 1.2296, 0.9606], rel=0.02)
    assert plan.stays_open == "d"
    assert [plan.exact[each].damper_deg for each in "abcd"] == pytest.approx([21.3, 5.6, 24.5, 0.0], abs=2.0)
    assert plan.exact_share == pytest.approx(1.0399, rel=0.02)
    assert list(plan.shares_after.values()) == pytest.approx([1.0399] * 4, rel=0.02)
    assert [turn.branch for turn in plan.turns] == ["a", "c"], "nearest the blower first; d stays open, b is as good as there"
    assert plan.turns[-1].airflow_m3s == pytest.approx(plan.after.flow("c"))


def test_a_plan_leaves_the_network_as_it_was() -> None:
    network = Network(worked(), 1.204)
    before = network.solve(MOVER)
    balance(network, MOVER, DESIGN)
    assert network.solve(MOVER).flow("a") == pytest.approx(before.flow("a"), rel=1e-6)


def test_what_balancing_can_not_reach_is_named() -> None:
    plan = balance(Network(worked(), 1.204), MOVER, {**DESIGN, "a": 0.004, "d": 0.2})
    high = [each for each in plan.out_of_reach if each.which == "high"]
    low = [each for each in plan.out_of_reach if each.which == "low"]
    assert [each.branch for each in high] == ["a"]
    assert MOST_DEG - 1 < plan.positions["a"].damper_deg <= MOST_DEG
    assert low
    assert plan.stays_open == "d"


def test_an_even_house_needs_no_turn() -> None:
    truth = solve(worked())
    plan = balance(Network(worked(), 1.204), MOVER, {each: truth.flow(each) * 0.9 for each in "abcd"})
    assert plan.turns == ()


def test_a_branch_without_a_damper_is_trimmed_at_its_register_and_keeps_a_quarter() -> None:
    tree = worked().with_(branch("c", "2", 0.1524, 4.0, 1.8, damper="none"))
    plan = balance(Network(tree, 1.204), MOVER, {**DESIGN, "c": 0.03})
    turn = next(each for each in plan.turns if each.branch == "c")
    assert turn.by == "register"
    assert turn.to.register_open == 0.25
    assert "c" in {each.branch for each in plan.out_of_reach}


def test_what_was_half_shut_is_opened_first() -> None:
    tree = worked().with_(branch("d", "2", 0.1524, 12.5, 3.0, 45.0))
    plan = balance(Network(tree, 1.204), MOVER, DESIGN)
    assert plan.turns[0].branch == "d"
    assert plan.turns[0].to == Position(0.0, 1.0)


def test_a_design_is_needed_for_each() -> None:
    with pytest.raises(Refused, match="design flow") as refused:
        balance(Network(worked(), 1.204), MOVER, {"a": 0.1})
    assert refused.value.path == "design.b"


def test_distance_goes_along_the_trunks() -> None:
    assert distance_m(worked()) == {"a": 3.0, "b": 3.0, "c": 8.0, "d": 8.0}


def test_designs_are_taken_in_order_of_trust() -> None:
    bare = [RoomBranch(id=name, room=name, diameter_m=0.15, length_m=3.0) for name in "xy"]
    with_area = tuple(replace(each, floor_area_m2=area) for each, area in zip(bare, (30.0, 10.0), strict=True))
    with_load = tuple(replace(each, room_load_w=load) for each, load in zip(with_area, (500.0, 1500.0), strict=True))
    entered = tuple(replace(each, cooling_design_m3s=flow) for each, flow in zip(with_load, (0.05, 0.07), strict=True))
    assert design_flows(DuctTree((), tuple(bare)), "cooling", 0.4).lacking == ("x", "y")
    by_area = design_flows(DuctTree((), with_area), "cooling", 0.4)
    assert (by_area.by, by_area.flows) == ("area", {"x": pytest.approx(0.3), "y": pytest.approx(0.1)})
    by_load = design_flows(DuctTree((), with_load), "cooling", 0.4)
    assert (by_load.by, by_load.flows) == ("loads", {"x": pytest.approx(0.1), "y": pytest.approx(0.3)})
    assert design_flows(DuctTree((), entered), "heating", 0.4).flows == {"x": 0.05, "y": 0.07}, "one season holds for both"
    half = design_flows(DuctTree((), (entered[0], with_load[1])), "cooling", 0.4)
    assert half.by == "loads", "half a design is none"


# why a room starves


def test_losses_on_the_way_add_up_to_the_plenum() -> None:
    tree, found = worked(40.0), solve(worked(40.0))
    way = way_losses(tree, found, tree.branches[2])
    whole = way.trunk_pa + way.friction_pa + way.fittings_pa + way.damper_pa + way.register_pa
    assert whole == pytest.approx(found.plenum_pa, rel=1e-3)
    assert way.damper_pa > way.register_pa


def test_each_change_is_reckoned_through_the_tree() -> None:
    tree = worked(40.0)
    bought = {each.key: each.airflow_m3s for each in remedies(tree, tree.branches[2], MOVER, 1.204, {})}
    assert bought["open_damper"] == pytest.approx(0.1107, rel=0.02), "what the independent figures say of it open"
    assert next(iter(bought)) == "open_damper", "the most first"
    assert "stretch" not in bought
    squeezed = tree.with_(replace(tree.branches[3], wall="flexible", compressed=0.2))
    assert "stretch" in {each.key for each in remedies(squeezed, squeezed.branches[3], MOVER, 1.204, {})}


# the simulated house


def _two_rounds(house: House) -> tuple[dict[str, float], list[str], dict[str, str]]:
    """Read all, plan, turn, twice; what each room truly gets, as a share of the mean of those in reach, and what was accused."""
    positions: dict[str, tuple[float, float]] = {}
    rounds: list[Round] = []
    reach: set[str] = set()
    accused: dict[str, str] = {}
    for number in range(2):
        read = tuple(DuctReading("register", flow, 0.05, each, "hood") for each, flow in house.read().items())
        rounds.append(Round(read, tuple((each, *place) for each, place in positions.items())))
        found = calibrate(house.drawn, house.mover_drawn, 1.18, rounds)
        if number == 0:
            accused = {each.id: found.factors[each.id].far for each in house.drawn.branches}
        network = Network(turned(house.drawn, rounds[-1].turned), 1.18, found.values, 0.0, found.handles)
        plan = balance(network, found.mover, house.design)
        for turn in plan.turns:
            house.turn(turn.branch, turn.to.damper_deg, turn.to.register_open)
            positions[turn.branch] = (turn.to.damper_deg, turn.to.register_open)
        reach = set(house.design) - {each.branch for each in plan.out_of_reach if each.which == "high"}
    shares = {each: share for each, share in house.shares().items() if each in reach}
    middle = exp(sum(log(share) for share in shares.values()) / len(shares))
    return {each: share / middle for each, share in shares.items()}, [each for each in house.design if each not in reach], accused


def test_two_rounds_even_out_a_house() -> None:
    """Of 20 houses: nearly every room within 5 % of the others, none far off. Reading and handle errors are in it."""
    rooms = [share for seed in range(100, 120) for share in _two_rounds(House(seed))[0].values()]
    near = sum(1 for share in rooms if abs(share - 1.0) <= 0.05)
    assert near / len(rooms) >= 0.94
    assert max(abs(share - 1.0) for share in rooms) < 0.12


def test_a_crushed_run_and_an_open_joint_are_found_and_nothing_else_is_accused() -> None:
    found = wrong = 0
    for seed in range(200, 220):
        house = House(seed, faults=True)
        _, _, accused = _two_rounds(house)
        found += accused[house.crushed] == "more"
        wrong += sum(1 for each, far in accused.items() if far and each not in (house.crushed, house.open_joint))
    assert found >= 17
    assert wrong <= 3


# by name


def tree_json() -> dict[str, object]:
    def piece(each: Piece) -> dict[str, object]:
        return {key: value for key, value in vars(each).items() if value is not None}

    tree = worked()
    return {"trunks": [piece(each) for each in tree.trunks], "branches": [piece(each) for each in tree.branches]}


DRIVEN = {
    "drop_pa": 110,
    "at_m3s": 0.5,
    "fan_table": [{"tap": "high", "external_static_pa": head, "airflow_m3s": flow} for flow, head in CURVE],
}


def test_the_calculations_by_name() -> None:
    solved_ = calculation.run("ducts.solve", {"tree": tree_json(), "driven": DRIVEN})["result"]
    assert solved_["total_m3s"]["value"] == pytest.approx(0.4497, rel=0.02)
    reading = {"what": "register", "value": 0.045, "branch": "d"}
    held = calculation.run("ducts.calibrate", {"tree": tree_json(), "driven": DRIVEN, "readings": [reading]})["result"]
    assert {each["piece"]: each["times"] for each in held["factors"]}["d"] > 2
    design = [{"branch": each, "airflow_m3s": flow} for each, flow in DESIGN.items()]
    plan = calculation.run("ducts.balance", {"tree": tree_json(), "driven": DRIVEN, "design": design})["result"]
    assert plan["stays_open"] == "d"
    assert plan["order"] == ["a", "c"]


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"driven": {"drop_pa": 110, "at_m3s": 0.5}}, "driven.fan_table"),
        ({"driven": {"drop_pa": 110, "at_m3s": 0, "held_m3s": 0.4}}, "driven.at_m3s"),
        ({"driven": {"drop_pa": 110, "at_m3s": 0.5, "held_m3s": -1}}, "driven.held_m3s"),
        ({"tree": {"trunks": [], "branches": []}}, "tree"),
        ({"density_kg_per_m3": 9}, "density_kg_per_m3"),
        ({"readings": [{"what": "register", "value": 0.1, "branch": "nobody"}]}, "readings.0.branch"),
        ({"readings": [{"what": "total", "value": 0}]}, "readings.0.value"),
    ],
)
def test_what_can_not_be_asked_is_refused_at_its_field(change: dict[str, object], path: str) -> None:
    given = {"tree": tree_json(), "driven": DRIVEN, "readings": [], **change}
    with pytest.raises(Refused) as refused:
        calculation.run("ducts.calibrate", given)
    assert refused.value.path == path
