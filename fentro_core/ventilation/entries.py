"""What is said of fresh air on a visit: the dwelling, the ventilator, a measured flow, what the control is set to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.limits import flows, within
from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.system.fresh_air import Dwelling, Edition, Stage, Stream, Ventilator, VentilatorControl
from fentro_core.ventilation.proof.step import VentilatorTestSeen
from fentro_core.ventilation.spaces import Space, spaces_need

Way = Literal["ports", "hood"]
PORT_PA = (0.0, 1000.0)
MOST_NOTE = 400


@dataclass(frozen=True)
class DwellingSaid:
    """The dwelling, and the edition that the code there asks for."""

    dwelling: Dwelling
    edition: Edition = "2013"


@dataclass(frozen=True)
class FlowMeasured:
    """A ventilator's flow: by the drop across its ports [Pa], or by a hood [m³/s]; with 95 % half-widths where known."""

    stream: Stream
    way: Way
    port_pa: float | None = None
    plus_minus_pa: float | None = None
    airflow_m3s: float | None = None
    plus_minus_m3s: float | None = None


@dataclass(frozen=True)
class ControlSaid:
    """What the control was found at, what is planned, what it was left at."""

    stage: Stage
    control: VentilatorControl


@dataclass(frozen=True)
class OccupiedSpaces:
    """The rooms that a system serves, how many people are in all of them at once, and what is thrown out of the building [m³/s].

    `natural_draft_flue`: a burner in the building whose flue draws by itself.
    """

    spaces: tuple[Space, ...]
    people_at_once: int | None = None
    exhaust_m3s: float | None = None
    natural_draft_flue: bool = False


def _check_spaces(body: OccupiedSpaces) -> None:
    spaces_need(body.spaces, body.people_at_once)
    if body.exhaust_m3s is not None:
        within(body.exhaust_m3s, (0.0, 200.0), "exhaust_m3s", "airflow")


def _check_dwelling(body: DwellingSaid) -> None:
    try:
        body.dwelling.check()
    except Refused as refused:
        raise refused.under("dwelling") from refused


def _check_flow(body: FlowMeasured) -> None:
    if body.way == "ports":
        if body.port_pa is None:
            raise Refused("Type the drop across the ports.", "port_pa")
        within(body.port_pa, PORT_PA, "port_pa", "pressure")
        if body.plus_minus_pa is not None:
            within(body.plus_minus_pa, (0.0, 200.0), "plus_minus_pa", "pressure")
        return
    if body.airflow_m3s is None:
        raise Refused("Type the flow that the hood shows.", "airflow_m3s")
    flows(body.airflow_m3s)
    if body.plus_minus_m3s is not None and not 0.0 <= body.plus_minus_m3s <= body.airflow_m3s:
        raise Refused("A half-width lies between zero and the flow.", "plus_minus_m3s")


def _check_control(body: ControlSaid) -> None:
    try:
        body.control.check()
    except Refused as refused:
        raise refused.under("control") from refused


def _check_test(body: VentilatorTestSeen) -> None:
    for name, between, kind in (
        ("shown_c", (-60.0, 90.0), "temperature"),
        ("probe_c", (-60.0, 90.0), "temperature"),
    ):
        value = getattr(body, name)
        if value is not None:
            within(value, between, name, kind)
    if body.minutes is not None and not 0.0 <= body.minutes <= 60.0:
        raise Refused("An hour has 0 to 60 minutes.", "minutes")
    if len(body.note) > MOST_NOTE:
        raise Refused("Keep it under 400 letters.", "note")


register(
    EntryKind(key="dwelling", body=DwellingSaid, name="Dwelling", check=_check_dwelling),
    EntryKind(key="ventilator", body=Ventilator, name="Ventilator", check=Ventilator.check),
    EntryKind(key="ventilator_flow", body=FlowMeasured, name="Ventilator's flow", check=_check_flow),
    EntryKind(key="spaces", body=OccupiedSpaces, name="Occupied spaces", check=_check_spaces),
    EntryKind(key="ventilator_test", body=VentilatorTestSeen, name="Ventilator proved", check=_check_test),
    EntryKind(key="ventilator_control", body=ControlSaid, name="Ventilator's control", check=_check_control),
)

OF_FRESH_AIR = ("dwelling", "ventilator", "ventilator_control")
"""Entries that stay with the system when a visit is closed."""
