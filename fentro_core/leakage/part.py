"""Return-side leakage: what opens the test, whether today allows it, both balances, what it costs in parts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from fentro_core.air.state import AirState
from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.base.working import Working
from fentro_core.diagnosis.people import DRAFT
from fentro_core.diagnosis.signs import Sign
from fentro_core.instruments.station_air import StationAir
from fentro_core.leakage import return_side
from fentro_core.leakage.causes import CAUSES
from fentro_core.leakage.combined import (
    DISAGREEMENT,
    EXPLAINS_DISAGREEMENT,
    LEAKS_FROM_SHARE,
    NARROWEST_SHARE,
    Share,
    combine,
    come_back,
    limit_at_25pa,
)
from fentro_core.leakage.entries import ReturnDuct
from fentro_core.leakage.page import LeakPage, ToRead
from fentro_core.leakage.return_side import ReturnLeak, ReturnRun, heat_is_usable, moisture_is_usable, return_leak
from fentro_core.leakage.stations import stations
from fentro_core.leakage.symptoms import SYMPTOMS
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import gravest
from fentro_core.system.nameplate import CoolingNameplate

Context = PartContext[CoolingNameplate]

PICKUP_K = 1.5
"""Return plenum against grille, or point against point across the return, by more than this: a quick sign."""

LITTLE_COOLING_SHARE = 0.9
ENOUGH_AIR_SHARE = 0.85
"""Less cooling than the first with at least the second of the air: heat may be leaking in."""

_KIND = "temperature_difference"

_LACKING = {
    "return_grille": "Return grille: dry bulb and humidity",
    "return": "Return before the filter: two points or more",
    "surroundings": "Air around the duct: dry bulb and humidity",
    "supply": "Supply: dry bulb and humidity",
}


@dataclass(frozen=True)
class _Test:
    """Everything read that the test stands on."""

    grille: StationAir
    mixed: StationAir
    around: StationAir
    supply: StationAir
    flow: Measured
    static: Measured | None
    duct: ReturnDuct | None
    pressure_pa: float

    @property
    def inputs(self) -> dict[str, Measured]:
        """By name, as `leak` takes them."""
        airs = {"g": self.grille, "m": self.mixed, "a": self.around, "s": self.supply}
        found: dict[str, Measured | None] = {"flow": self.flow, "static": self.static}
        for name, air in airs.items():
            found[f"t_{name}"], found[f"w_{name}"] = air.dry_bulb, air.humidity_ratio
        return {name: value for name, value in found.items() if value is not None}

    def leak(self, work: Working, **given: float) -> ReturnLeak:
        """Both balances with these numbers."""
        grille, mixed, around, supply = (
            AirState(given[f"t_{name}"], max(given[f"w_{name}"], 0.0), self.pressure_pa) for name in "gmas"
        )
        noted = self.duct
        run = ReturnRun(noted.length_m, noted.perimeter_m, noted.resistance_m2k_per_w) if noted else None
        where = noted.where if noted else "spread"
        return return_leak(grille, mixed, around, supply, given["flow"], run, given.get("static"), where, work)

    def state(self, air: StationAir) -> AirState:
        """The air of a station, without doubt."""
        ratio = air.humidity_ratio.value if air.humidity_ratio else 0.0
        return AirState(air.dry_bulb.value, max(ratio, 0.0), self.pressure_pa)


def work(context: Context) -> PartResult:
    """The leak test of this phase, as far as readings allow it."""
    page = _page(context)
    return PartResult(
        page=page,
        mark=gravest([page.mark, "watch" if page.opened else None]),
        details=tuple(_verdicts(page, flame=context.nameplate.burns_gas)),
        symptoms=tuple(_signs(context, page)),
    )


def _page(context: Context) -> LeakPage:
    opened = _quick_signs(context)
    airflow = context.given("airflow", Airflow)
    flow = airflow.in_use if airflow else None
    airs = {name: context.air(name) for name in _LACKING}
    whole = {name: air for name, air in airs.items() if air is not None and air.humidity_ratio is not None}
    duct = context.visit.last_of(ReturnDuct)
    lacking = [ToRead(words, name) for name, words in _LACKING.items() if name not in whole]
    lacking += [] if flow else [ToRead("Airflow", "")]
    if lacking or flow is None:
        begun = airs["surroundings"] is not None or duct is not None
        return LeakPage(opened, bool(opened) or begun, tuple(lacking))
    test = _Test(
        grille=whole["return_grille"],
        mixed=whole["return"],
        around=whole["surroundings"],
        supply=whole["supply"],
        flow=flow.flow,
        static=context.readings.average("return_static", "static_pressure"),
        duct=duct,
        pressure_pa=context.pressure_pa,
    )
    return _tested(context, opened, test)


def _quick_signs(context: Context) -> tuple[Sentence, ...]:
    """Ordinary readings that open this test by themselves."""
    signs = []
    grille, plenum = context.air("return_grille"), context.air("return")
    if grille and plenum:
        change = context.note("return_pickup", plenum.dry_bulb - grille.dry_bulb)
        if abs(change.value) - change.plus_minus > PICKUP_K:
            words = "The return plenum is {by} from the grille: something warms or cools the air on its way."
            signs.append(Sentence.of(words, by=(change.value, _KIND)))
    if plenum and plenum.points > 1 and plenum.spread_k > PICKUP_K:
        words = "Points across the return differ by {by}: a leak often runs down one side."
        signs.append(Sentence.of(words, by=(plenum.spread_k, _KIND)))
    if _sensible_low(context):
        signs.append(Sentence.of("Little cooling at the right airflow: heat may be leaking in on the return side."))
    if any(seen.item == "better_when_cool" and seen.value == "yes" for seen in context.visit.seen):
        signs.append(Sentence.of("It cools better when it is cool around the duct."))
    return tuple(signs)


def _sensible_low(context: Context) -> bool:
    share, flow = context.number("capacity_share"), context.number("airflow_share")
    return bool(share and flow and share.high < LITTLE_COOLING_SHARE and flow.low > ENOUGH_AIR_SHARE)


def _tested(context: Context, opened: tuple[Sentence, ...], test: _Test) -> LeakPage:
    grille, around = test.state(test.grille), test.state(test.around)
    if not heat_is_usable(grille, around) and not moisture_is_usable(grille, around):
        return LeakPage(opened, True, (), come_back=come_back(grille, around))
    working, silent = Working(), Working(silent=True)
    inputs = test.inputs
    try:
        central = test.leak(working, **{name: value.value for name, value in inputs.items()})
        told = _numbers(central)
        fields = propagate(lambda **given: _known(test.leak(silent, **given), told), inputs, told)
    except Refused as refusal:
        return LeakPage(opened, True, (), come_back=refusal.sentence)
    by_heat = fields["share_by_heat"] if central.heat_usable else None
    by_moisture = fields["share_by_moisture"] if central.moisture_usable else None
    both = combine(by_heat, by_moisture)
    if both is None:
        return LeakPage(opened, True, ())
    mark, words = _verdict(both)
    context.readings.labels[DISAGREEMENT] = "The two balances disagree"
    results = [context.keep("leak_share", both.share, working, _weights(both, by_heat, by_moisture))]
    if by_heat:
        remark = None if test.duct else Sentence.of("Without the duct's size nothing is taken off for its wall: an upper figure.")
        results.append(context.keep("leak_by_heat", by_heat, working, remark))
    if by_moisture:
        results.append(context.keep("leak_by_moisture", by_moisture, working, Sentence.of("Blind to heat through the wall.")))
    results += _costs(context, test, fields, both.share)
    return LeakPage(
        opened=opened,
        begun=True,
        missing=(),
        results=tuple(results),
        mark=mark,
        verdict=words,
        disagreement=_disagreement(both, by_heat, by_moisture),
        explains=() if both.agree else tuple(Sentence.of(text) for text in EXPLAINS_DISAGREEMENT),
        limit=_limit(context, test.duct),
    )


def _disagreement(both: Share, by_heat: Measured | None, by_moisture: Measured | None) -> Sentence | None:
    if both.agree or by_heat is None or by_moisture is None:
        return None
    return Sentence.of(
        "By heat {heat}, by moisture {moisture}: further apart than both can explain. Look at these first.",
        heat=(by_heat.value, "share"),
        moisture=(by_moisture.value, "share"),
    )


def _numbers(leak: ReturnLeak) -> dict[str, float]:
    return {name: value for name, value in vars(leak).items() if isinstance(value, float)}


def _known(leak: ReturnLeak, told: dict[str, float]) -> Mapping[str, float]:
    """The numbers of a leak; one that is not known any more once a reading is moved stays as it was."""
    found = vars(leak)
    return {**told, **_numbers(leak)} if None in found.values() else found


def _costs(context: Context, test: _Test, fields: dict[str, Measured], share: Measured) -> list[Result]:
    """Flow, figure at 25 Pa, opening and what is lost, each by the combined share."""
    leak = propagate(lambda f, v: {"leak": max(f, 0.0) * v}, {"f": share, "v": test.flow})["leak"]
    found = [context.keep("leak_flow", leak)]
    by_one = fields["leak_m3s_from_heat"]
    if "leak_at_25pa_m3s" in fields and by_one.value > 0:
        inputs = {"leak": leak, "at25": fields["leak_at_25pa_m3s"], "hole": fields["opening_area_m2"], "by_one": by_one}
        moved = propagate(lambda leak, at25, hole, by_one: {"at25": leak * at25 / by_one, "hole": leak * hole / by_one}, inputs)
        found.append(context.keep("leak_at_25pa", moved["at25"]))
        found.append(context.keep("leak_opening", moved["hole"]))
    if "capacity_share_lost" in fields:
        lost = propagate(
            lambda share, drawn, wall, given: {
                "capacity_lost": -(max(share, 0.0) * drawn + wall) / given,
                "lost_to_leak": -max(share, 0.0) * drawn / given,
                "lost_to_wall": -wall / given,
            },
            {"share": share, "drawn": fields["drawn_in_w"], "wall": fields["wall_gain_w"], "given": fields["given_w"]},
        )
        found += [context.keep(key, lost[key]) for key in ("capacity_lost", "lost_to_leak", "lost_to_wall")]
    return found


def _weights(both: Share, by_heat: Measured | None, by_moisture: Measured | None) -> Sentence:
    if by_heat and by_moisture and not both.agree:
        return Sentence.of("The two answers disagree: halfway between them, and as unsure as they are apart.")
    if by_heat and by_moisture:
        return Sentence.of("Both answers together, each weighted by how well it is known.")
    if by_heat:
        return Sentence.of("By heat alone: the air around the duct holds almost the same moisture as the room's.")
    return Sentence.of("By moisture alone: the air around the duct is almost as warm as the room's.")


def _verdict(both: Share) -> tuple[Mark, Sentence]:
    share = both.share
    number = {"share": (share.value, "share"), "width": (share.plus_minus, "share")}
    if share.high < 0:
        return "off", Sentence.of("The share comes out at {share}: below zero can't be. One of the readings is wrong.", **number)
    verdict = judge(share, None, LEAKS_FROM_SHARE)
    if not both.agree and verdict.mark != "off":
        return "too_close", Sentence.of("{share} ±{width} leaking in: heat and moisture tell two stories.", **number)
    if verdict.mark == "off":
        words = "{share} ±{width} of the air is leaking in from around the duct. Find the gap and seal it."
        return "off", Sentence.of(words, **number)
    if share.plus_minus > NARROWEST_SHARE:
        words = "A leak can't be told to better than ±{width} today: match the probes, or come back when it differs more."
        return "too_close", Sentence.of(words, **number)
    if verdict.mark == "too_close":
        return "too_close", Sentence.of("{share} ±{width} leaking in: it may be a leak or nothing.", **number)
    return "holds", Sentence.of("No leak worth sealing found: {share} ±{width}.", **number)


_LIMIT_SAID = {
    "off": "At 25 Pa {leak}: over your limit of {limit} for this floor.",
    "too_close": "At 25 Pa {leak}: on either side of your limit of {limit} for this floor.",
    "watch": "At 25 Pa {leak}: under your limit of {limit} for this floor.",
    "holds": "At 25 Pa {leak}: under your limit of {limit} for this floor.",
}
_LIMIT_NOTE = "A limit is for all ducts together, and a local code rules; this test finds and ranks, it does not certify."


def _limit(context: Context, duct: ReturnDuct | None) -> Sentence | None:
    """The figure at 25 Pa against the limit the user picked for this floor area."""
    at_25 = context.number("leak_at_25pa")
    if duct is None or duct.floor_area_m2 is None or at_25 is None:
        return None
    limit = limit_at_25pa(duct.floor_area_m2, duct.limit_m3s_per_m2)
    words = f"{_LIMIT_SAID[judge(at_25, None, limit).mark]} {_LIMIT_NOTE}"
    return Sentence.of(words, leak=(at_25.value, "airflow"), limit=(limit, "airflow"))


def _verdicts(page: LeakPage, *, flame: bool) -> Iterator[VerdictLine]:
    """The verdict, or the call to run the test; near a flame with the caution about its flue."""
    draft = (Sentence.of(DRAFT),) if flame else ()
    if page.verdict and page.mark:
        notes = tuple(each for each in (page.disagreement, page.limit) if each)
        notes += draft if page.mark != "holds" else ()
        yield VerdictLine("leak", page.mark, page.verdict, "leak_share", notes, opens="leakage")
    elif page.come_back and page.opened:
        yield VerdictLine("leak", None, page.come_back, None, (*page.opened, *draft), opens="leakage")
    elif page.opened:
        words = Sentence.of("Return leak suspected. Run the leak test.")
        yield VerdictLine("leak", "watch", words, None, (*page.opened, *draft), opens="leakage")


def _signs(context: Context, page: LeakPage) -> Iterator[Sign]:
    pickup = context.number("return_pickup")
    if pickup:
        apart = Measured(abs(pickup.value), pickup.parts)
        yield from context.judge("pickup", apart, None, PICKUP_K, {"right": "same", "high": "changed"})
    for station, symptom in (("return", "layers"), ("supply", "supply_layers")):
        air = context.air(station)
        if air and air.points > 1:
            yield from context.sign(symptom, "apart" if air.spread_k > PICKUP_K else "even")
    share = context.number("leak_share")
    if page.mark == "off" and share is not None and share.value > 0:
        yield from context.sign("leak", "leaks")
    elif page.mark in ("holds", "watch"):
        yield from context.sign("leak", "tight")


PART = Part(
    key="leakage",
    name="Return leak",
    work=work,
    calculations=(return_side,),
    needs=("airflow", "cooling"),
    page=LeakPage,
    numbers=(
        Number(
            key="leak_share",
            name="Share leaking in from around the duct",
            kind="share",
            compared=True,
            followed=Followed(
                name="Drawn in on the return side",
                high=LEAKS_FROM_SHARE,
                worse="up",
                says="The return leaks more: a seam opens.",
            ),
        ),
        Number(key="leak_by_heat", name="Leak share by heat", kind="share"),
        Number(key="leak_by_moisture", name="Leak share by moisture", kind="share"),
        Number(key="leak_flow", name="Air leaking in", kind="airflow"),
        Number(key="leak_at_25pa", name="Leak at 25 Pa", kind="airflow"),
        Number(key="leak_opening", name="Opening it would take", kind="opening"),
        Number(key="capacity_lost", name="Cooling or heat lost to the return run", kind="share"),
        Number(key="lost_to_leak", name="Lost to air leaking in", kind="share"),
        Number(key="lost_to_wall", name="Lost through the duct's wall", kind="share"),
        Number(key="return_pickup", kind=_KIND),
    ),
    stations=stations,
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "leak": "Air leaking into the return duct",
    },
)
