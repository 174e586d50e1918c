"""One phase of a visit, as found or as left: from its readings to results, verdicts and the air path."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Literal

from fentro_core.air.outdoor_share import outdoor_share
from fentro_core.air.state import AirState
from fentro_core.measured import Measured, propagate
from fentro_core.measuring.stations import StationAir
from fentro_core.measuring.traverse import plan, profile_flags, traverse_flow
from fentro_core.performance.airflow import climate_of, nominal_airflow
from fentro_core.performance.cooling import Capacity, capacity, split, withhold_negative_latent
from fentro_core.performance.expected import USUAL_SHR, expected_cooling
from fentro_core.performance.judging import FIXED_BAND_REASON, OWN_TARGET_REASON
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.visit.flows import Flows, Method, disagreements, tightest
from fentro_core.visit.nameplate import CoolingPlate
from fentro_core.visit.rail import Facts, rail
from fentro_core.visit.readings import Readings, quantity
from fentro_core.visit.results import Contribution, PhaseResult, RailLine, Result, TraversePage
from fentro_core.visit.ribbon import ribbon
from fentro_core.visit.scene import Scene
from fentro_core.working import Working

RESULT_NAMES = {
    "split": "Split",
    "airflow": "Airflow",
    "total": "Total cooling",
    "sensible": "Sensible cooling",
    "latent": "Latent cooling",
    "shr": "Sensible heat ratio",
    "water": "Water removed",
    "water_per_day": "Water removed in a day",
    "rated_share": "Share of the plate's rated cooling",
    "target_split": "Target split of this unit now",
    "target_total": "Target cooling of this unit now",
    "external_static": "Total external static",
    "outdoor_share": "Outdoor-air share",
    "flow_supply": "Fresh-air flow",
    "flow_extract": "Extract flow",
}
"""The results in the order they are shown."""

_CAPACITY_FIELDS = {
    "total": ("total_w", "power"),
    "sensible": ("sensible_w", "power"),
    "latent": ("latent_w", "power"),
    "shr": ("sensible_heat_ratio", "ratio"),
    "water": ("water_kg_per_s", "water_rate"),
}

_JUDGED_AT = ("return", "supply", "mixed")
"""Readings here carry verdicts: when one of them came too early, no verdict hardens."""


class PhaseWork:
    """Works out one phase step by step; `measured` keeps every result with its sources, for comparing phases."""

    def __init__(self, scene: Scene, phase: str) -> None:
        self.scene = scene
        self.phase = phase
        self.path = scene.path
        self.pressure_pa = scene.pressure_pa
        entries = [entry for entry in scene.entries if entry.phase == phase]
        self.readings = Readings(
            phase, entries, scene.snapshot.instruments, self.path.stations, scene.runs, scene.matches, self.pressure_pa
        )
        self.measured: dict[str, Measured] = {}
        self.early: Sentence | None = None

    def result(self) -> PhaseResult:
        """Stations, results and rail of this phase."""
        stations = tuple(self.readings.station(station) for station in self.path.stations)
        core = {station.id for station in self.path.stations if station.core}
        self.early = self.readings.early(_JUDGED_AT)
        results: list[Result] = []
        methods: list[Method] = []
        chosen: Method | None = None
        plate = self.scene.snapshot.system.nameplate
        if isinstance(plate, CoolingPlate):
            flows = self._flows(plate)
            methods = flows.methods()
            chosen = tightest(methods)
            results += self._cooling(plate, chosen)
            results += self._external_static(plate, flows)
        else:
            results += self._ventilator_flows()
        if self.path.station("mixed"):
            results.append(self._outdoor_share())
        lines: tuple[RailLine, ...] = ()
        if any(station.readings for station in stations) or self.scene.against():
            facts = Facts(
                {station.id: station.name for station in self.path.stations},
                self.readings.labels,
                stations,
                {result.key: result for result in results},
                self.measured,
                self.readings.matched_airs,
                self.early,
                plate.max_external_static_pa if isinstance(plate, CoolingPlate) else None,
                [
                    (first.name, second.name, first.flow, second.flow)
                    for first, second in disagreements(methods)
                    if first.flow and second.flow
                ],
                [match.trouble for match in self.scene.matches.results if match.trouble],
                self._matched_note(),
                self.scene.against(),
            )
            lines = rail(facts)
        return PhaseResult(
            self.phase,
            tuple(result for result in stations if result.readings or result.station in core),
            tuple(results),
            lines,
            ribbon(self.path, self.readings.airs, self.measured, stations, self.scene.used),
            tuple(self._method(method) for method in methods),
            chosen.key if chosen else "",
            tuple(self._traverses()),
        )

    # airflow

    def _flows(self, plate: CoolingPlate) -> Flows:
        return Flows(
            plate,
            self.path,
            self.readings,
            self.scene.planes,
            self.scene.fan_tap(self.phase),
            climate_of(self.scene.snapshot.site.climate_zone),
            self.readings.early(("return", "supply")),
        )

    def _method(self, method: Method) -> Result:
        if method.flow is None:
            return Result(method.key, method.name, None, remark=method.remark, missing=method.missing)
        return self._result(method.key, method.name, method.flow, "airflow", method.work, method.remark, method.nominal)

    def _traverses(self) -> Iterable[TraversePage]:
        for station, duct in self.scene.planes.items():
            reads = self.readings.at(station, "velocity")
            velocities = {read.reading.point: quantity(read.value, "velocity") for read in reads}
            average = self.readings.average(station, "velocity")
            flow = self._flow_so_far(station, [read.value for read in reads])
            yield TraversePage(
                station,
                self.scene.plane_entries[station],
                plan(duct),
                velocities,
                quantity(average, "velocity") if average else None,
                quantity(flow, "airflow") if flow else None,
                profile_flags(duct, tuple(read.value.value for read in reads)) if reads else (),
            )

    def _flow_so_far(self, station: str, velocities: list[Measured]) -> Measured | None:
        """What the points read until now would give; used for nothing until all are read."""
        return traverse_flow(self.scene.planes[station], velocities, f"{self.phase}/{station}") if velocities else None

    def _ventilator_flows(self) -> list[Result]:
        """Fresh and extract flow, read directly or by traverse."""
        flows = self._flows(CoolingPlate())
        results = []
        for side, key in (("supply", "flow_supply"), ("extract", "flow_extract")):
            direct = self.readings.average(side, "airflow")
            traversed = flows.by_traverse(side)
            methods = [Method(key, RESULT_NAMES[key], direct, remark=Sentence.of("Read directly."))] if direct else []
            methods += [traversed] if traversed and traversed.flow else []
            best = tightest(methods)
            if best and best.flow:
                results.append(self._keep(key, best.flow, "airflow", best.work or Working(), best.remark))
            else:
                results.append(_missing(key, [f"Airflow at {self.readings.names[side].lower()}"]))
        return results

    def _external_static(self, plate: CoolingPlate, flows: Flows) -> list[Result]:
        found = flows.external_static()
        if isinstance(found[0], Measured) and isinstance(found[1], Working):
            limit = plate.max_external_static_pa
            remark = Sentence.of("The plate allows {limit}.", limit=(limit, "pressure")) if limit else None
            return [self._keep("external_static", found[0], "pressure", found[1], remark)]
        taps = [str(each) for each in found]
        return [_missing("external_static", taps)] if len(taps) < 2 else []

    def _matched_note(self) -> Sentence | None:
        """What the probe match brought to the split, when it brought something."""
        plain = [self.readings.airs.get(name) for name in ("return", "supply")]
        if "split" not in self.measured or plain[0] is None or plain[1] is None:
            return None
        before = plain[0].dry_bulb - plain[1].dry_bulb
        after = self.measured["split"]
        if abs(before.plus_minus - after.plus_minus) < 0.005 and abs(before.value - after.value) < 0.005:
            return None
        return Sentence.of(
            "Probes matched: {after} ±{after_width} instead of {before} ±{before_width}.",
            after=(after.value, "temperature_difference"),
            after_width=(after.plus_minus, "temperature_difference"),
            before=(before.value, "temperature_difference"),
            before_width=(before.plus_minus, "temperature_difference"),
        )

    # cooling

    def _cooling(self, plate: CoolingPlate, flow: Method | None) -> list[Result]:
        airs = self.readings.matched_airs
        return_, supply = airs.get("return"), airs.get("supply")
        if flow is None or flow.flow is None:
            flow_result = _missing("airflow", ["Airflow, or the plate's rated cooling"])
        else:
            flow_result = self._keep("airflow", flow.flow, "airflow", flow.work or Working(), flow.remark, nominal=flow.nominal)
        results = [self._split(return_, supply), flow_result, *self._capacity(plate, return_, supply, flow)]
        expected = self._expected(plate, return_, supply, flow)
        if "split_residual" in self.measured:
            results[0] = replace(results[0], remark=OWN_TARGET_REASON)
        return [*results, *expected]

    def _expected(
        self, plate: CoolingPlate, return_: StationAir | None, supply: StationAir | None, flow: Method | None
    ) -> list[Result]:
        """What this unit should show now, and how far the measured split and cooling lie from it."""
        outdoor = self.readings.matched_airs.get("outdoor")
        rated = plate.rated_total_w
        cooling = return_ and supply and supply.dry_bulb.value < return_.dry_bulb.value
        if not (cooling and rated and return_ and supply and flow and flow.flow and return_.humidity_ratio):
            return []
        if outdoor is None:
            return [_missing(key, ["Outdoor dry bulb"]) for key in ("target_split", "target_total")]
        rated_flow = plate.rated_airflow_m3s or nominal_airflow(rated, climate_of(self.scene.snapshot.site.climate_zone))
        shr = plate.rated_sensible_heat_ratio or USUAL_SHR
        total = self.measured.get("total")
        inputs = {
            "t_r": return_.dry_bulb,
            "w_r": return_.humidity_ratio,
            "t_s": supply.dry_bulb,
            "t_o": outdoor.dry_bulb,
            "flow": flow.flow,
        }

        def worked(t_r: float, w_r: float, t_s: float, t_o: float, flow: float, work: Working | None = None) -> dict[str, float]:
            entering = AirState(t_r, max(w_r, 0.0), self.pressure_pa)
            found = expected_cooling(entering, t_o, flow, rated, rated_flow, shr, work=work or Working(silent=True))
            design = expected_cooling(entering, t_o, rated_flow, rated, rated_flow, shr)
            return {
                "split": found.split_k,
                "total": found.total_w,
                "residual": t_r - t_s - found.split_k,
                "design_residual": t_r - t_s - design.split_k,
                "design_total": design.total_w,
            }

        try:
            outside = expected_cooling(
                AirState(return_.dry_bulb.value, max(return_.humidity_ratio.value, 0.0), self.pressure_pa),
                outdoor.dry_bulb.value, flow.flow.value, rated, rated_flow, shr,
            ).outside  # fmt: skip
            fields = propagate(worked, inputs)
            work = Working()
            worked(**{name: given.value for name, given in inputs.items()}, work=work)
        except Refused as refusal:
            return [Result(key, RESULT_NAMES[key], None, remark=refusal.sentence) for key in ("target_split", "target_total")]
        remark = None
        if outside:
            remark = Sentence.of(f"Outside what the model knows ({', '.join(outside)}): no verdict comes from it.")
        elif plate.rated_sensible_heat_ratio is None:
            remark = Sentence.of("With an ordinary rated sensible heat ratio, 0.76: the plate says none.")
        results = [
            self._keep("target_split", fields["split"], "temperature_difference", work, remark),
            self._keep("target_total", fields["total"], "power", work, remark),
        ]
        if not outside:
            self.measured["split_residual"] = fields["residual"]
            self.measured["design_residual"] = fields["design_residual"]
            if total is not None and not flow.nominal:
                self.measured["capacity_share"] = propagate(
                    lambda measured, expected: {"share": measured / expected},
                    {"measured": total, "expected": fields["design_total"]},
                )["share"]
        return results

    def _split(self, return_: StationAir | None, supply: StationAir | None) -> Result:
        if return_ is None or supply is None:
            return _missing("split", [f"{n} dry bulb" for n, a in (("Return", return_), ("Supply", supply)) if not a])
        work = Working()
        split(return_.dry_bulb.value, supply.dry_bulb.value, work)
        return self._keep("split", return_.dry_bulb - supply.dry_bulb, "temperature_difference", work, FIXED_BAND_REASON)

    def _capacity(
        self, plate: CoolingPlate, return_: StationAir | None, supply: StationAir | None, flow: Method | None
    ) -> list[Result]:
        missing = [
            f"{name} {what}"
            for name, air in (("Return", return_), ("Supply", supply))
            for what, there in (("dry bulb", air), ("humidity", air and air.humidity_ratio))
            if not there
        ]
        if flow is None or flow.flow is None:
            missing.append("Airflow")
        keys = [*_CAPACITY_FIELDS, "water_per_day", *(["rated_share"] if plate.rated_total_w else [])]
        if missing or not (return_ and supply and flow and flow.flow and return_.humidity_ratio and supply.humidity_ratio):
            return [_missing(key, missing) for key in keys]
        at: Literal["return", "supply"] = flow.at
        inputs = {
            "t_r": return_.dry_bulb,
            "w_r": return_.humidity_ratio,
            "t_s": supply.dry_bulb,
            "w_s": supply.humidity_ratio,
            "flow": flow.flow,
        }

        def worked(t_r: float, w_r: float, t_s: float, w_s: float, flow: float, work: Working | None = None) -> Capacity:
            entering = AirState(t_r, max(w_r, 0.0), self.pressure_pa)
            leaving = AirState(t_s, max(w_s, 0.0), self.pressure_pa)
            return capacity(entering, leaving, flow, at, work or Working(silent=True))

        fields = propagate(lambda **given: vars(worked(**given)), inputs)
        work = Working()
        worked(**{name: given.value for name, given in inputs.items()}, work=work)
        shown = withhold_negative_latent({name: {"value": m.value, "plus_minus": m.plus_minus} for name, m in fields.items()})
        results = []
        for key, (name, kind) in _CAPACITY_FIELDS.items():
            if shown[name] is None or (key == "shr" and fields["total_w"].value <= 0):
                results.append(Result(key, RESULT_NAMES[key], None, remark=_MOISTURE.get(shown["moisture"], _HEATED)))
                if key == "latent":
                    self.measured["latent_withheld"] = fields[name]
            else:
                results.append(self._keep(key, fields[name], kind, work))
        results += self._derived(plate, fields, shown["water_kg_per_s"] is not None)
        return results

    def _derived(self, plate: CoolingPlate, fields: Mapping[str, Measured], dries: bool) -> list[Result]:
        results = []
        if dries:
            results.append(self._keep("water_per_day", fields["water_kg_per_s"], "water_per_day", Working()))
        if plate.rated_total_w:
            rated = plate.rated_total_w
            work = Working()
            total = fields["total_w"]
            work.step(
                "share of rated", "R", "100 * Q / Q_rated", total.value / rated, "share",
                source="the plate, at 80/67 °F entering and 95 °F outdoor: another day gives another share",
                Q=(total.value, "power"), Q_rated=(rated, "power"),
            )  # fmt: skip
            share = propagate(lambda total: {"share": total / rated}, {"total": total})["share"]
            results.append(self._keep("rated_share", share, "share", work))
        return results

    def _outdoor_share(self) -> Result:
        needed = ("return", "outdoor", "mixed")
        airs = self.readings.matched_airs
        missing = [f"{name.title()} dry bulb" for name in needed if name not in airs]
        if missing:
            return _missing("outdoor_share", missing)
        inputs = {f"{name}_dry_bulb_c": airs[name].dry_bulb for name in needed}
        work = Working()
        try:
            outdoor_share(**{name: given.value for name, given in inputs.items()}, work=work)
            share = propagate(lambda **given: {"x": outdoor_share(**given)}, inputs)["x"]
        except Refused as refusal:
            return Result("outdoor_share", RESULT_NAMES["outdoor_share"], None, remark=refusal.sentence)
        return self._keep("outdoor_share", share, "share", work)

    # shared

    def _keep(
        self, key: str, measured: Measured, kind: str, work: Working, remark: Sentence | None = None, nominal: bool = False
    ) -> Result:
        self.measured[key] = measured
        return self._result(key, RESULT_NAMES[key], measured, kind, work, remark, nominal)

    def _result(
        self,
        key: str,
        name: str,
        measured: Measured,
        kind: str,
        work: Working | None,
        remark: Sentence | None,
        nominal: bool,
    ) -> Result:
        contributions = tuple(
            Contribution(self.readings.labels.get(source, source), share)
            for source, share in measured.shares().items()
            if share >= 0.005
        )
        lines = tuple(work.lines) if work else ()
        return Result(key, name, quantity(measured, kind), lines, contributions, remark, nominal=nominal)


_MOISTURE = {
    "none_seen": Sentence.of("No moisture removal that these instruments can see."),
    "supply_wetter_than_return": Sentence.of("Not shown: supply air is wetter than return air."),
}


_HEATED = Sentence.of("Not shown: the air is being heated, not cooled.")


def _missing(key: str, what: Iterable[str]) -> Result:
    return Result(key, RESULT_NAMES[key], None, missing=tuple(what))
