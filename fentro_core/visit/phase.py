"""One phase of a visit, as found or as left: from its readings to results, verdicts, causes and the air path."""

from __future__ import annotations

from fentro_core.history.indices import INDICES
from fentro_core.measured import Measured
from fentro_core.performance.expected import CAPACITY_TOLERANCE_SHARE, SPLIT_TOLERANCE_K
from fentro_core.performance.heating import judge_rise
from fentro_core.performance.judging import four_way
from fentro_core.sentence import Sentence
from fentro_core.verdict import judge
from fentro_core.visit.bench import Bench
from fentro_core.visit.findings import findings
from fentro_core.visit.findings import rail_lines as finding_lines
from fentro_core.visit.flows import disagreements
from fentro_core.visit.nameplate import CoolingPlate, FurnacePlate
from fentro_core.visit.observed import Observer
from fentro_core.visit.proof_lines import rail_lines as proof_lines
from fentro_core.visit.rail import Facts, rail, softened
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import Finding, FourWay, LeakPage, NextCheck, PhaseResult, RailLine, Result, StaticPage
from fentro_core.visit.ribbon import ribbon
from fentro_core.visit.scene import Scene
from fentro_core.visit.sections import air, cooling, heating, leakage, refrigerant, statics

_JUDGED_AT = ("return", "supply", "mixed")
"""Readings here carry verdicts: when one of them came too early, no verdict hardens."""


class PhaseWork:
    """Works out one phase; `measured` keeps every result with its sources, for comparing phases."""

    def __init__(self, scene: Scene, phase: str) -> None:
        self.scene = scene
        self.phase = phase
        self.bench = Bench(scene, phase)
        self.measured: dict[str, Measured] = self.bench.measured

    def result(self) -> PhaseResult:
        """Stations, results, pages, rail and causes of this phase."""
        bench, path = self.bench, self.scene.path
        plate = bench.plate
        core = {station.id for station in path.stations if station.core}
        static_page: StaticPage | None = None
        leak_page: LeakPage | None = None
        results: list[Result]
        if isinstance(plate, CoolingPlate):
            flow = air.airflow(bench)
            heats = bench.mode == "heating"
            results = heating.results(bench, flow) if heats else cooling.results(bench, plate, flow)
            results += refrigerant.results(bench, plate)
            results += statics.external(bench, plate)
            static_page = statics.page(bench, plate)
            leak_page = leakage.page(bench)
        else:
            results = air.ventilator_flows(bench)
        if path.station("mixed"):
            results.append(air.outdoor_air_share(bench))
        read = any(station.readings for station in bench.stations)
        found: tuple[Finding, ...] = ()
        following: NextCheck | None = None
        lines: tuple[RailLine, ...] = ()
        proof = proof_lines(self.scene.entries, self.phase)
        if read or proof or self.scene.against():
            if isinstance(plate, CoolingPlate):
                found, following = findings(bench, Observer(bench, static_page, leak_page).observe())
            more = [*self._heating_lines(), *statics.rail_lines(static_page), *finding_lines(found), *proof]
            more += leakage.rail_lines(leak_page) if leak_page else []
            lines = rail(self._facts(results, more))
        return PhaseResult(
            self.phase,
            tuple(result for result in bench.stations if result.readings or result.station in core),
            tuple(results),
            lines,
            ribbon(path, bench.readings.airs, bench.measured, bench.stations, self.scene.used),
            tuple(bench.method_result(method) for method in bench.methods),
            bench.flow.key if bench.flow else "",
            tuple(air.traverses(bench)),
            bench.mode,
            cooling.schools(bench),
            self._four_way(),
            static_page,
            leak_page,
            heating.page(bench),
            found,
            following,
            {key: quantity(self.measured[key], index.kind) for key, index in INDICES.items() if self._followed(key)},
        )

    def _followed(self, key: str) -> bool:
        nominal = key == "airflow" and self.bench.measured_flow is None
        return key in self.measured and not nominal

    def _facts(self, results: list[Result], more: list[RailLine]) -> Facts:
        bench, plate = self.bench, self.bench.plate
        return Facts(
            {station.id: station.name for station in self.scene.path.stations},
            bench.readings.labels,
            bench.stations,
            {result.key: result for result in results},
            bench.measured,
            bench.readings.matched_airs,
            self._early,
            plate.max_external_static_pa if isinstance(plate, CoolingPlate) else None,
            [
                (first.name, second.name, first.flow, second.flow)
                for first, second in disagreements(bench.methods)
                if first.flow and second.flow
            ],
            [match.trouble for match in self.scene.matches.results if match.trouble],
            self._matched_note(),
            self.scene.against(),
            more,
        )

    @property
    def _early(self) -> Sentence | None:
        return self.bench.readings.early(_JUDGED_AT)

    def _matched_note(self) -> Sentence | None:
        """What the probe match brought to the split, when it brought something."""
        plain = [self.bench.readings.airs.get(name) for name in ("return", "supply")]
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

    def _heating_lines(self) -> list[RailLine]:
        """Rise and outlet against the plate, heat against what was to be expected."""
        plate, measured, early = self.bench.plate, self.measured, self._early
        lines = []
        notes = (early,) if early else ()
        if "rise" in measured and isinstance(plate, FurnacePlate) and plate.rise_low_k and plate.rise_high_k:
            verdict, words = judge_rise(measured["rise"], plate.rise_low_k, plate.rise_high_k)
            lines.append(RailLine("rise", softened(verdict.mark, early), words, "rise", notes, bool(early), "heating"))
        if "outlet" in measured and isinstance(plate, FurnacePlate) and plate.max_outlet_c:
            verdict = judge(measured["outlet"], None, plate.max_outlet_c)
            if verdict.mark in ("off", "too_close"):
                words = Sentence.of(
                    "Supply air {outlet}: the plate allows at most {most}. Stop, and find the missing air or the extra fire.",
                    outlet=(measured["outlet"].value, "temperature"),
                    most=(plate.max_outlet_c, "temperature"),
                )
                lines.append(
                    RailLine("outlet", softened(verdict.mark, early), words, "rise", notes, early is not None, "heating")
                )
        if "heat_share" in measured:
            share = measured["heat_share"]
            verdict = judge(share, 0.9, 1.1)
            words = Sentence.of("Heat given is {share} of what is to be expected now.", share=(share.value, "share"))
            lines.append(
                RailLine("heat", softened(verdict.mark, early), words, "heat_total", notes, early is not None, "heating")
            )
        return lines

    def _four_way(self) -> FourWay | None:
        split, share = self.measured.get("design_residual"), self.measured.get("capacity_share")
        if split is None or share is None:
            return None
        return FourWay(
            quantity(split, "temperature_difference"),
            quantity(share, "share"),
            SPLIT_TOLERANCE_K,
            CAPACITY_TOLERANCE_SHARE,
            four_way(split, share),
        )
