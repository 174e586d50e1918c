"""How often the true value lies within the half-width that the core says of a number: 95 of 100 would be right.

Sound machines and faulty ones, read by the technician without a slip: what a number says of itself must be true of both.
Targets are held against what the stranger's sound machines truly give.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping

from bench.findings import Told
from bench.stranger.faults import FAULTS, SOUNDS, Case, Slip, all_cases
from bench.stranger.machine import CP, State
from bench.stranger.technician import Technician
from fentro_core.air.state import AirState
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.refrigerant.circuit import BUBBLE, DEW, saturation_temperature
from fentro_core.visit.work_up import work_up

LEAST = 20
"""Fewer say nothing."""

OF_SOUND = {"target_split": "split", "target_total": "total", "target_heat": "heat_total"}
"""What a target foretells, of a sound machine on its full stage, without its electric heater."""


def truths(case: Case, state: State) -> dict[str, float]:
    """What the numbers of a visit truly are, SI."""
    mass = state.flow_m3s / state.return_.specific_volume_m3_per_kg
    fall = state.return_.dry_bulb_c - state.supply.dry_bulb_c
    total = mass * (state.return_.enthalpy_j_per_kg - state.supply.enthalpy_j_per_kg)
    found = {"airflow": state.flow_m3s}
    if case.day.mode == "heating":
        return {**found, "rise": -fall, "heat_total": -mass * CP * fall}
    dry = AirState(state.supply.dry_bulb_c, state.return_.humidity_ratio, case.day.pressure_pa)
    sensible = mass * (state.return_.enthalpy_j_per_kg - dry.enthalpy_j_per_kg)
    found |= {"split": fall, "total": total, "sensible": sensible, "latent": total - sensible, "shr": sensible / total}
    if state.suction_gauge_pa > 0 and not case.wrong.off:
        kind, around = case.machine.refrigerant, case.day.pressure_pa
        found["superheat"] = state.suction_c - saturation_temperature(kind, state.suction_gauge_pa + around, DEW)
        found["subcooling"] = saturation_temperature(kind, state.liquid_gauge_pa + around, BUBBLE) - state.liquid_c
    return found


def covered(case: Case) -> Iterator[tuple[str, float, float]]:
    """Of one visit: number, how far it lies from the truth, its half-width."""
    technician = Technician(case)
    true = truths(case, technician.state)
    for result in work_up(read_snapshot(technician.snapshot())).phases[0].results:
        quantity = result.quantity
        key = OF_SOUND.get(result.key, result.key)
        if (
            quantity is None
            or key not in true
            or (result.key in OF_SOUND and (case.truths or case.day.stage < 1 or case.day.auxiliary))
        ):
            continue
        named = f"{result.key}{', nominal' if result.nominal else ''}"
        yield named, abs(quantity.value - true[key]), quantity.plus_minus


def coverage(cases: list[Case]) -> Mapping[str, list[tuple[float, float]]]:
    """Distance and half-width of every number, over visits without a slip."""
    found: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for case in cases:
        if case.slip == Slip():
            for key, off, width in covered(case):
                found[key].append((off, width))
    return found


def rows(seed: int, rounds: int = 4, sounds: int = 20) -> Iterator[Told]:
    """Every number: share of visits within its half-width, and what half-width would have held 95 of 100."""
    faulty, sound = all_cases(seed, rounds * len(FAULTS), sounds * len(SOUNDS))
    for key, each in sorted(coverage([*faulty, *sound]).items()):
        if len(each) < LEAST:
            continue
        within = sum(off <= width for off, width in each) / len(each)
        ratios = sorted(off / width for off, width in each if width > 0)
        needed = ratios[int(0.95 * (len(ratios) - 1))] if ratios else 0.0
        yield Told(f"  {key:24} within its half-width {within:4.0%} of {len(each)}; 95 % would need {needed:.2f} of it")
