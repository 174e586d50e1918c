"""From one phase's results to the states that findings are made of. The limits are a table, not a chain of ifs."""

from __future__ import annotations

from dataclasses import dataclass
from math import erf, sqrt

from fentro_core.findings.engine import CLEAR_FROM
from fentro_core.findings.signs import LOOKS
from fentro_core.measured import Measured, propagate
from fentro_core.performance.expected import CAPACITY_TOLERANCE_SHARE, SPLIT_TOLERANCE_K
from fentro_core.performance.heating import HEAT_TOLERANCE_SHARE
from fentro_core.performance.refrigerant import SANE_SUPERHEAT_K, SUBCOOLING_TOLERANCE_K, SUPERHEAT_TOLERANCE_K
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import Bench
from fentro_core.visit.flows import disagreements
from fentro_core.visit.nameplate import CoolingPlate, FurnacePlate
from fentro_core.visit.results import LeakPage, StaticPage
from fentro_core.visit.sections.leakage import PICKUP_K

AIRFLOW_TOLERANCE_SHARE = 0.15
"""Airflow within ±15 % of the plate is as it should be."""

SHR_TOLERANCE = 0.08
ORDINARY_CONDENSING_K = (6.0, 17.0)
"""Condensing lies this far over the air entering the condenser on an ordinary unit. Ours."""

ORDINARY_CONDENSER_AIR_K = (5.0, 14.0)
ORDINARY_SUCTION_C = (2.0, 19.0)
ORDINARY_CURRENT_SHARE = (0.5, 1.0)
"""Running current against the plate's, on an ordinary day. Ours."""

RECIRCULATION_K = 2.5
REGISTER_SHARE = 0.90
LARGE_OUTDOOR_SHARE = 0.40
BAROMETER_PA = 1500.0
FAR_APART = 2.0
"""A probe this many times its accuracy from the mean of all is one that reads wrong, not merely one to be corrected."""


@dataclass(frozen=True)
class Band:
    """A look answered by one number: its key, and the limits of its ordinary state (None: open)."""

    look: str
    number: str
    low: float | None
    high: float | None


_BANDS = (
    Band("split", "design_residual", -SPLIT_TOLERANCE_K, SPLIT_TOLERANCE_K),
    Band("capacity", "capacity_share", 1 - CAPACITY_TOLERANCE_SHARE, 1 + CAPACITY_TOLERANCE_SHARE),
    Band("shr", "shr_residual", -SHR_TOLERANCE, SHR_TOLERANCE),
    Band("superheat", "superheat_off", -1.0, 1.0),
    Band("subcooling", "subcooling_off", -SUBCOOLING_TOLERANCE_K, SUBCOOLING_TOLERANCE_K),
    Band("condensing", "condensing_over", *ORDINARY_CONDENSING_K),
    Band("condenser_air", "condenser_rise", *ORDINARY_CONDENSER_AIR_K),
    Band("amps", "current_share", *ORDINARY_CURRENT_SHARE),
    Band("heat", "heat_share", 1 - HEAT_TOLERANCE_SHARE, 1 + HEAT_TOLERANCE_SHARE),
    Band("registers", "register_share", REGISTER_SHARE, 1 / REGISTER_SHARE),
)


@dataclass(frozen=True)
class Observed:
    """States by look, and the sentence that says each with its number."""

    states: dict[str, str]
    words: dict[str, Sentence]
    sure: dict[str, float]


LEANS_FROM = 0.65
"""Below this a state is not even leaned to, and the thing counts as not known."""


def state_of(value: Measured, low: float | None, high: float | None) -> tuple[str, float]:
    """The likeliest of ``low``, ``right`` and ``high``, and how surely it is that: by a normal doubt of half the half-width.

    >>> state_of(Measured(3.0, {"a": 0.5}), -1.7, 1.7)[0], state_of(Measured(1.6, {"a": 0.5}), -1.7, 1.7)[0]
    ('high', 'right')
    """
    under = _below(value, low) if low is not None else 0.0
    over = 1 - _below(value, high) if high is not None else 0.0
    chances = {"low": under, "high": over, "right": 1 - under - over}
    state = max(chances, key=lambda each: chances[each])
    return state, chances[state]


def _below(value: Measured, limit: float) -> float:
    """Chance that the true value lies below the limit."""
    spread = value.plus_minus / 2
    if spread == 0:
        return 1.0 if value.value < limit else 0.0
    return 0.5 * (1 + erf((limit - value.value) / spread / sqrt(2)))


class Observer:
    """Collects the states of one phase."""

    def __init__(self, bench: Bench, statics: StaticPage | None, leak: LeakPage | None) -> None:
        self.bench = bench
        self.statics = statics
        self.leak = leak
        self.states: dict[str, str] = {}
        self.words: dict[str, Sentence] = {}
        self.sure: dict[str, float] = {}

    def observe(self) -> Observed:
        """All that can be told from this phase."""
        self._mode()
        self._derived()
        measured = self.bench.measured
        for band in _BANDS:
            if band.number in measured:
                self._judge(band.look, measured[band.number], band.low, band.high)
        self._airflow()
        self._heating()
        self._statics()
        self._return_side()
        self._other()
        self._by_eye()
        return Observed(self.states, self.words, self.sure)

    def _judge(
        self, look: str, value: Measured, low: float | None, high: float | None, names: dict[str, str] | None = None
    ) -> None:
        """A thing by one number: its state when the number leans clearly enough to one side."""
        state, sure = state_of(value, low, high)
        if sure >= LEANS_FROM:
            self._put(look, (names or {}).get(state, state), sure)

    def _put(self, look: str, state: str, sure: float = 1.0) -> None:
        if state not in LOOKS[look].states:
            return
        self.states[look] = state
        weight = 1.0 if sure >= CLEAR_FROM else 2 * sure - 1
        self.sure[look] = weight
        words = LOOKS[look].states[state]
        if weight < 1:
            words = f"Perhaps: {words[0].lower()}{words[1:]}"
        number, kind = _SHOWN.get(look, ("", ""))
        measured = self.bench.measured.get(number)
        if measured is not None:
            self.words[look] = Sentence.of(f"{words}: {{value}}", value=(measured.value, kind))
        else:
            self.words[look] = Sentence.of(words)

    def _mode(self) -> None:
        return_, supply = self.bench.air("return"), self.bench.air("supply")
        if return_ and supply:
            mode = self.bench.mode
            self._put("change", {"cooling": "cools", "heating": "heats"}.get(mode, "nothing"))

    def _derived(self) -> None:
        """Numbers that only findings use."""
        bench, measured = self.bench, self.bench.measured
        plate = bench.plate
        into, out = bench.air("condenser_in") or bench.air("outdoor"), bench.air("condenser_out")
        if into and out and bench.mode != "heating":
            measured["condenser_rise"] = out.dry_bulb - into.dry_bulb
        if "superheat_residual" in measured:
            found = measured["superheat_residual"]
            measured["superheat_off"] = _scaled(found, 0.0, SUPERHEAT_TOLERANCE_K)
        elif "superheat" in measured and isinstance(plate, CoolingPlate) and plate.metering == "valve":
            low, high = SANE_SUPERHEAT_K
            measured["superheat_off"] = _scaled(measured["superheat"], (low + high) / 2, (high - low) / 2)
        if "subcooling" in measured and isinstance(plate, CoolingPlate) and plate.subcooling_k:
            measured["subcooling_off"] = _scaled(measured["subcooling"], plate.subcooling_k, 1.0)
        amps = bench.readings.average("outdoor_unit", "current")
        if amps and isinstance(plate, CoolingPlate) and plate.compressor_current_a:
            measured["current_share"] = _scaled(amps, 0.0, plate.compressor_current_a)
        registers = next((method for method in bench.methods if method.key == "airflow_registers" and method.flow), None)
        flow = bench.flow_apart_from_heat
        if registers and registers.flow and flow and flow.flow and flow.key != "airflow_registers":
            inputs = {"sum_": registers.flow, "unit": flow.flow}
            measured["register_share"] = propagate(lambda sum_, unit: {"share": sum_ / unit}, inputs)["share"]

    def _airflow(self) -> None:
        bench = self.bench
        flow = bench.flow_apart_from_heat if bench.mode == "heating" else bench.measured_flow
        if flow is None or flow.flow is None:
            return
        low, high = self._flow_band()
        if low is None or high is None:
            return
        self._judge("airflow", flow.flow, low, high)
        apart = disagreements(bench.methods)
        measured = [method for method in bench.methods if method.flow and not method.nominal]
        if len([method for method in measured if method.key != "airflow_registers"]) > 1:
            pairs = [pair for pair in apart if "airflow_registers" not in {pair[0].key, pair[1].key}]
            self._put("flows", "apart" if pairs else "agree")

    def _flow_band(self) -> tuple[float | None, float | None]:
        """The flow this unit should have: by the plate's rise range while heating, else its rated flow."""
        bench, plate = self.bench, self.bench.plate
        fuel = bench.flows.heat() if isinstance(plate, FurnacePlate) and bench.mode == "heating" else ""
        return_ = bench.air("return")
        if not isinstance(fuel, str) and isinstance(plate, FurnacePlate) and plate.rise_low_k and plate.rise_high_k and return_:
            per_kelvin = 1006.0 * bench.pressure_pa / (287.05 * (return_.dry_bulb.value + 273.15))
            return fuel[0].value / plate.rise_high_k / per_kelvin, fuel[0].value / plate.rise_low_k / per_kelvin
        rated = bench.rated_airflow_m3s
        if rated is None:
            return None, None
        return rated * (1 - AIRFLOW_TOLERANCE_SHARE), rated * (1 + AIRFLOW_TOLERANCE_SHARE)

    def _heating(self) -> None:
        measured, plate = self.bench.measured, self.bench.plate
        if "rise" not in measured:
            return
        if isinstance(plate, FurnacePlate):
            if plate.rise_low_k and plate.rise_high_k:
                self._judge("rise", measured["rise"], plate.rise_low_k, plate.rise_high_k)
            if plate.max_outlet_c:
                self._judge("outlet", measured["outlet"], None, plate.max_outlet_c, {"right": "under", "high": "over"})
        elif "rise_residual" in measured:
            tolerance = HEAT_TOLERANCE_SHARE * measured["target_rise"].value
            self._judge("rise", measured["rise_residual"], -tolerance, tolerance)

    def _statics(self) -> None:
        measured, plate = self.bench.measured, self.bench.plate
        static = measured.get("external_static")
        limit = plate.max_external_static_pa if isinstance(plate, CoolingPlate) else None
        if static and limit:
            self._judge("static", static, 0.25 * limit, limit)
        for drop in self.statics.drops if self.statics else ():
            value = measured[f"drop_{drop.part}_at_rated"]
            self._judge(f"{drop.part}_drop", value, 0.08 * drop.most, drop.most)

    def _return_side(self) -> None:
        bench = self.bench
        pickup = bench.measured.get("return_pickup")
        if pickup:
            apart = Measured(abs(pickup.value), pickup.parts)
            self._judge("pickup", apart, None, PICKUP_K, {"right": "same", "high": "changed"})
        plenum = bench.air("return")
        if plenum and plenum.points > 1:
            self._put("layers", "apart" if plenum.spread_k > PICKUP_K else "even")
        supply = bench.air("supply")
        if supply and supply.points > 1:
            self._put("supply_layers", "apart" if supply.spread_k > PICKUP_K else "even")
        if self.leak and self.leak.mark == "off" and bench.measured["leak_share"].value > 0:
            self._put("leak", "leaks")
        elif self.leak and self.leak.mark in ("holds", "watch"):
            self._put("leak", "tight")

    def _other(self) -> None:
        bench, measured = self.bench, self.bench.measured
        if "latent_withheld" in measured or "latent" in measured:
            withheld = measured.get("latent_withheld")
            self._put("moisture", "wetter" if withheld is not None and withheld.high < 0 else "drier")
        line = bench.readings.average("suction_line", "pipe_temperature")
        if line and bench.mode != "heating":
            measured["suction_line"] = line
            self._judge("suction", line, *ORDINARY_SUCTION_C, {"low": "cold", "right": "cool", "high": "warm"})
        outdoor, into = bench.air("outdoor"), bench.air("condenser_in")
        if outdoor and into:
            warmer = into.dry_bulb - outdoor.dry_bulb
            self._judge("recirculation", warmer, None, RECIRCULATION_K, {"right": "same", "high": "warmer"})
        if "outdoor_share" in measured:
            names = {"right": "ordinary", "high": "large"}
            self._judge("outdoor_share", measured["outdoor_share"], None, LARGE_OUTDOOR_SHARE, names)
        if bench.scene.runs.events:
            self._put("steadiness", "early" if bench.readings.early(("return", "supply", "mixed")) else "steady")
        for match in bench.scene.matches.results:
            furthest = max(abs(line.offset.value) / line.accuracy.value for line in match.probes)
            if furthest > FAR_APART or not match.trouble:
                self._put("match", "apart" if furthest > FAR_APART else "agree")
        if bench.scene.against() or bench.scene.arrow_settled():
            self._put("arrow", "against" if bench.scene.against() else "agrees")
        site = bench.scene.snapshot.site
        self._put("pressure_known", "unset" if site.elevation_m == 0 and site.barometer_pa is None else "known")
        barometer = bench.readings.average("outdoor", "air_pressure")
        if barometer:
            self._put("air_pressure", "agrees" if abs(barometer.value - bench.pressure_pa) < BAROMETER_PA else "differs")
        overdue = any(reading.overdue for station in bench.stations for reading in station.readings)
        self._put("calibration", "overdue" if overdue else "valid")

    def _by_eye(self) -> None:
        for seen in self.bench.scene.seen_in(self.bench.phase):
            if seen.item in LOOKS and LOOKS[seen.item].by_eye:
                self._put(seen.item, seen.value)


_SHOWN = {
    "split": ("split", "temperature_difference"),
    "capacity": ("capacity_share", "share"),
    "shr": ("shr_any", "ratio"),
    "airflow": ("airflow", "airflow"),
    "static": ("external_static", "pressure"),
    "return_drop": ("drop_return", "pressure"),
    "filter_drop": ("drop_filter", "pressure"),
    "coil_drop": ("drop_coil", "pressure"),
    "supply_drop": ("drop_supply", "pressure"),
    "registers": ("register_share", "share"),
    "pickup": ("return_pickup", "temperature_difference"),
    "leak": ("leak_share", "share"),
    "superheat": ("superheat", "temperature_difference"),
    "subcooling": ("subcooling", "temperature_difference"),
    "condensing": ("condensing_over", "temperature_difference"),
    "condenser_air": ("condenser_rise", "temperature_difference"),
    "suction": ("suction_line", "temperature"),
    "amps": ("current_share", "share"),
    "rise": ("rise", "temperature_difference"),
    "outlet": ("outlet", "temperature"),
    "heat": ("heat_share", "share"),
    "outdoor_share": ("outdoor_share", "share"),
}
"""The number said beside a state, and its kind."""


def _scaled(value: Measured, middle: float, half: float) -> Measured:
    return Measured((value.value - middle) / half, {source: part / half for source, part in value.parts.items()})
