"""Return-side leakage: what opens the test, whether today allows it, both balances, what it costs in parts."""

from __future__ import annotations

from fentro_core.air.state import AirState
from fentro_core.leakage.combined import (
    EXPLAINS_DISAGREEMENT,
    LEAKS_FROM_SHARE,
    NARROWEST_SHARE,
    combine,
    come_back,
    limit_at_25pa,
)
from fentro_core.leakage.return_side import Duct, ReturnLeak, heat_is_usable, moisture_is_usable, return_leak
from fentro_core.measured import Measured, propagate
from fentro_core.measuring.stations import StationAir
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark, judge
from fentro_core.visit.bench import Bench
from fentro_core.visit.results import LeakPage, RailLine, Result
from fentro_core.working import Working

PICKUP_K = 1.5
"""Return plenum against grille, or point against point across the return, by more than this: a quick sign."""

_KIND = "temperature_difference"


def page(bench: Bench) -> LeakPage:
    """The leak test of this phase, as far as readings allow it."""
    opened = _quick_signs(bench)
    airs = {name: bench.air(name) for name in ("return_grille", "return", "surroundings", "supply")}
    duct = bench.scene.return_duct
    lacking = [
        words
        for name, words in (
            ("return_grille", "Return grille: dry bulb and humidity"),
            ("return", "Return before the filter: two points or more"),
            ("surroundings", "Air around the duct: dry bulb and humidity"),
            ("supply", "Supply: dry bulb and humidity"),
        )
        if airs[name] is None or airs[name].humidity_ratio is None  # type: ignore[union-attr]
    ]
    if bench.flow is None or bench.flow.flow is None:
        lacking.append("Airflow")
    begun = airs["surroundings"] is not None or duct is not None
    grille, mixed, around, supply = (airs[name] for name in ("return_grille", "return", "surroundings", "supply"))
    if lacking or not (grille and mixed and around and supply):
        return LeakPage(opened, bool(opened) or begun, tuple(lacking))
    return _tested(bench, opened, grille, mixed, around, supply)


def _quick_signs(bench: Bench) -> tuple[Sentence, ...]:
    """Ordinary readings that open this test by themselves."""
    signs = []
    grille, plenum = bench.air("return_grille"), bench.air("return")
    if grille and plenum:
        change = plenum.dry_bulb - grille.dry_bulb
        bench.measured["return_pickup"] = change
        if abs(change.value) - change.plus_minus > PICKUP_K:
            words = "The return plenum is {by} from the grille: something warms or cools the air on its way."
            signs.append(Sentence.of(words, by=(change.value, _KIND)))
    if plenum and plenum.points > 1 and plenum.spread_k > PICKUP_K:
        words = "Points across the return differ by {by}: a leak often runs down one side."
        signs.append(Sentence.of(words, by=(plenum.spread_k, _KIND)))
    if _sensible_low(bench):
        signs.append(Sentence.of("Little cooling at the right airflow: heat may be leaking in on the return side."))
    if any(seen.item == "better_when_cool" and seen.value == "yes" for seen in bench.scene.seen):
        signs.append(Sentence.of("It cools better when it is cool around the duct."))
    return tuple(signs)


def _sensible_low(bench: Bench) -> bool:
    share, flow = bench.measured.get("capacity_share"), bench.measured.get("airflow_share")
    return bool(share and flow and share.high < 0.9 and flow.low > 0.85)


def _tested(
    bench: Bench, opened: tuple[Sentence, ...], grille: StationAir, mixed: StationAir, around: StationAir, supply: StationAir
) -> LeakPage:
    states = [_state(bench, air) for air in (grille, around)]
    if not heat_is_usable(*states) and not moisture_is_usable(*states):
        return LeakPage(opened, True, (), come_back=come_back(*states))
    duct = bench.scene.return_duct
    taps = bench.readings.average("return_static", "static_pressure")
    inputs = {name: value for name, value in _inputs(bench, grille, mixed, around, supply, taps).items() if value is not None}
    work = Working()
    try:
        central = _leak(bench, {name: value.value for name, value in inputs.items()}, work)
        fields = propagate(lambda **given: _numbers(_leak(bench, given, Working(silent=True))), inputs)
    except Refused as refusal:
        return LeakPage(opened, True, (), come_back=refusal.sentence)
    by_heat = fields["share_by_heat"] if central.heat_usable else None
    by_moisture = fields["share_by_moisture"] if central.moisture_usable else None
    both = combine(by_heat, by_moisture)
    if both is None:
        return LeakPage(opened, True, ())
    share = both.share
    mark, words = _verdict(share)
    results = [bench.keep("leak_share", share, "share", work, _weights(by_heat, by_moisture))]
    if by_heat:
        remark = None if duct else Sentence.of("Without the duct's size nothing is taken off for its wall: an upper figure.")
        results.append(bench.keep("leak_by_heat", by_heat, "share", work, remark))
    if by_moisture:
        results.append(bench.keep("leak_by_moisture", by_moisture, "share", work, Sentence.of("Blind to heat through the wall.")))
    results += _costs(bench, fields, share, taps)
    limit_words = _limit(bench)
    explains = () if both.agree else tuple(Sentence.of(text) for text in EXPLAINS_DISAGREEMENT)
    disagreement = None
    if not both.agree and by_heat and by_moisture:
        disagreement = Sentence.of(
            "By heat {heat}, by moisture {moisture}: further apart than both can explain. Look at these first.",
            heat=(by_heat.value, "share"),
            moisture=(by_moisture.value, "share"),
        )
    return LeakPage(opened, True, (), None, tuple(results), mark, words, disagreement, explains, limit_words)


def _state(bench: Bench, air: StationAir) -> AirState:
    ratio = air.humidity_ratio.value if air.humidity_ratio else 0.0
    return AirState(air.dry_bulb.value, max(ratio, 0.0), bench.pressure_pa)


def _inputs(
    bench: Bench, grille: StationAir, mixed: StationAir, around: StationAir, supply: StationAir, static: Measured | None
) -> dict[str, Measured | None]:
    found: dict[str, Measured | None] = {"flow": bench.flow.flow if bench.flow else None, "static": static}
    for name, air in (("g", grille), ("m", mixed), ("a", around), ("s", supply)):
        found[f"t_{name}"], found[f"w_{name}"] = air.dry_bulb, air.humidity_ratio
    return found


def _leak(bench: Bench, given: dict[str, float], work: Working) -> ReturnLeak:
    noted = bench.scene.return_duct
    duct = Duct(noted.length_m, noted.perimeter_m, noted.resistance_m2k_per_w) if noted else None
    grille, mixed, around, supply = (
        AirState(given[f"t_{name}"], max(given[f"w_{name}"], 0.0), bench.pressure_pa) for name in "gmas"
    )
    where = noted.where if noted else "spread"
    return return_leak(grille, mixed, around, supply, given["flow"], duct, given.get("static"), where, work)


def _numbers(leak: ReturnLeak) -> dict[str, float]:
    return {name: float(value) for name, value in vars(leak).items() if isinstance(value, float)}


def _costs(bench: Bench, fields: dict[str, Measured], share: Measured, static: Measured | None) -> list[Result]:
    """Flow, figure at 25 Pa, opening and what is lost, each by the combined share."""
    flow = bench.flow.flow if bench.flow and bench.flow.flow else Measured(0.0)
    leak = propagate(lambda f, v: {"leak": max(f, 0.0) * v}, {"f": share, "v": flow})["leak"]
    found = [bench.keep("leak_flow", leak, "airflow")]
    if static is not None and static.value:
        scale = fields["leak_at_25pa_m3s"], fields["opening_area_m2"], fields["leak_m3s_from_heat"]
        if scale[2].value > 0:
            inputs = {"leak": leak, "at25": scale[0], "hole": scale[1], "by_one": scale[2]}
            moved = propagate(
                lambda leak, at25, hole, by_one: {"at25": leak * at25 / by_one, "hole": leak * hole / by_one}, inputs
            )
            found.append(bench.keep("leak_at_25pa", moved["at25"], "airflow"))
            found.append(bench.keep("leak_opening", moved["hole"], "opening"))
    lost = fields["capacity_share_lost"]
    found.append(bench.keep("capacity_lost", lost, "share"))
    wall, load = fields["wall_gain_w"], fields["leak_load_w"]
    if abs(load.value + wall.value) > 1:
        split = propagate(
            lambda lost, wall, load: {"leak": lost * load / (load + wall), "wall": lost * wall / (load + wall)},
            {"lost": lost, "wall": wall, "load": load},
        )
        found.append(bench.keep("lost_to_leak", split["leak"], "share"))
        found.append(bench.keep("lost_to_wall", split["wall"], "share"))
    return found


def _weights(by_heat: Measured | None, by_moisture: Measured | None) -> Sentence:
    if by_heat and by_moisture:
        return Sentence.of("Both answers together, each weighted by how well it is known.")
    if by_heat:
        return Sentence.of("By heat alone: the air around holds too nearly the same water as the room's.")
    return Sentence.of("By moisture alone: it is too nearly as warm around the duct as in the room.")


def _verdict(share: Measured) -> tuple[Mark, Sentence]:
    number = {"share": (share.value, "share"), "width": (share.plus_minus, "share")}
    if share.high < 0:
        return "off", Sentence.of("The share comes out at {share}: below zero can't be. One of the readings is wrong.", **number)
    verdict = judge(share, None, LEAKS_FROM_SHARE)
    if verdict.mark == "off":
        return "off", Sentence.of(
            "{share} ±{width} of the air is drawn in from around the duct. Find the gap and seal it.", **number
        )
    if share.plus_minus > NARROWEST_SHARE:
        words = "A leak can't be told to better than ±{width} today: match the probes, or come back when it differs more."
        return "too_close", Sentence.of(words, **number)
    if verdict.mark == "too_close":
        return "too_close", Sentence.of("{share} ±{width} drawn in: it may be a leak or nothing.", **number)
    return "holds", Sentence.of("No leak worth sealing found: {share} ±{width}.", **number)


def _limit(bench: Bench) -> Sentence | None:
    """The figure at 25 Pa against the limit the user picked for this floor area."""
    noted, at_25 = bench.scene.return_duct, bench.measured.get("leak_at_25pa")
    if noted is None or noted.floor_area_m2 is None or at_25 is None:
        return None
    limit = limit_at_25pa(noted.floor_area_m2, noted.limit_m3s_per_m2)
    mark = judge(at_25, None, limit).mark
    words = {
        "off": "At 25 Pa {leak}: over your limit of {limit} for this floor.",
        "too_close": "At 25 Pa {leak}: on either side of your limit of {limit} for this floor.",
    }.get(mark, "At 25 Pa {leak}: under your limit of {limit} for this floor.")
    words += " A limit is for all ducts together, and a local code rules; this test finds and ranks, it does not certify."
    return Sentence.of(words, leak=(at_25.value, "airflow"), limit=(limit, "airflow"))


def rail_lines(page: LeakPage) -> list[RailLine]:
    """The verdict, or the call to run the test."""
    if page.verdict and page.mark:
        notes = tuple(each for each in (page.disagreement, page.limit) if each)
        return [RailLine("leak", page.mark, page.verdict, "leak_share", notes, opens="leak")]
    if page.come_back and page.opened:
        return [RailLine("leak", None, page.come_back, None, page.opened, opens="leak")]
    if page.opened:
        words = Sentence.of("Return leak suspected. Run the leak test.")
        return [RailLine("leak", "watch", words, None, page.opened, opens="leak")]
    return []
