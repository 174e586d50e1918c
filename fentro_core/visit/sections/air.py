"""The air itself: airflow, outdoor-air share, a ventilator's flows, traverses so far."""

from __future__ import annotations

from collections.abc import Iterable

from fentro_core.air.outdoor_share import outdoor_share
from fentro_core.measured import Measured, propagate
from fentro_core.measuring.traverse import plan, profile_flags, traverse_flow
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import RESULT_NAMES, Bench, missing, said
from fentro_core.visit.flows import Method, tightest
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import Result, TraversePage
from fentro_core.working import Working


def airflow(bench: Bench) -> Result:
    """The flow in use."""
    flow = bench.flow
    if flow is None or flow.flow is None:
        return missing("airflow", ["Airflow, or the plate's rated cooling"])
    rated = bench.rated_airflow_m3s
    if rated and not flow.nominal:
        bench.measured["airflow_share"] = propagate(lambda flow: {"share": flow / rated}, {"flow": flow.flow})["share"]
    return bench.keep("airflow", flow.flow, "airflow", flow.work or Working(), flow.remark, nominal=flow.nominal)


def ventilator_flows(bench: Bench) -> list[Result]:
    """Fresh and extract flow, read directly or by traverse."""
    results = []
    for side, key in (("supply", "flow_supply"), ("extract", "flow_extract")):
        direct = bench.readings.average(side, "airflow")
        traversed = bench.flows.by_traverse(side)
        methods = [Method(key, RESULT_NAMES[key], direct, remark=Sentence.of("Read directly."))] if direct else []
        methods += [traversed] if traversed and traversed.flow else []
        best = tightest(methods)
        if best and best.flow:
            results.append(bench.keep(key, best.flow, "airflow", best.work or Working(), best.remark))
        else:
            results.append(missing(key, [f"Airflow at {bench.readings.names[side].lower()}"]))
    return results


def outdoor_air_share(bench: Bench) -> Result:
    """Outdoor air in the mixed air, by temperature."""
    needed = ("return", "outdoor", "mixed")
    airs = bench.readings.matched_airs
    lacking = [f"{name.title()} dry bulb" for name in needed if name not in airs]
    if lacking:
        return missing("outdoor_share", lacking)
    inputs = {f"{name}_dry_bulb_c": airs[name].dry_bulb for name in needed}
    work = Working()
    try:
        outdoor_share(**{name: given.value for name, given in inputs.items()}, work=work)
        share = propagate(lambda **given: {"x": outdoor_share(**given)}, inputs)["x"]
    except Refused as refusal:
        return said("outdoor_share", refusal.sentence)
    return bench.keep("outdoor_share", share, "share", work)


def traverses(bench: Bench) -> Iterable[TraversePage]:
    """Every measured duct: where to hold the probe, what was read so far."""
    for station, duct in bench.scene.planes.items():
        reads = bench.readings.at(station, "velocity")
        average = bench.readings.average(station, "velocity")
        flow = _flow_so_far(bench, station, [read.value for read in reads])
        yield TraversePage(
            station,
            bench.scene.plane_entries[station],
            plan(duct),
            {read.reading.point: quantity(read.value, "velocity") for read in reads},
            quantity(average, "velocity") if average else None,
            quantity(flow, "airflow") if flow else None,
            profile_flags(duct, tuple(read.value.value for read in reads)) if reads else (),
        )


def _flow_so_far(bench: Bench, station: str, velocities: list[Measured]) -> Measured | None:
    """What the points read until now would give; used for nothing until all are read."""
    return traverse_flow(bench.scene.planes[station], velocities, f"{bench.phase}/{station}") if velocities else None
