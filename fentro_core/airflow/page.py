"""What the airflow's page shows: every way to the flow, and traverses so far."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.airflow.traverse import TraversePlan
from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.phase.results import Result


@dataclass(frozen=True)
class TraversePage:
    """A traverse at its station: where to hold the probe, what was read so far by point, and what follows."""

    station: str
    entry: str
    plan: TraversePlan
    velocities: dict[int, Quantity]
    mean: Quantity | None
    airflow: Quantity | None
    flags: tuple[Sentence, ...]


@dataclass(frozen=True)
class AirflowPage:
    """Every way to the airflow, the key of the one in use, and every measured duct."""

    methods: tuple[Result, ...]
    chosen: str
    traverses: tuple[TraversePage, ...]
