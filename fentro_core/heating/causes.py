"""Causes in heating: what each shows, what proves it, what to do, and who may.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A symptom that a cause says nothing about may be in any
state.
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.people import ELECTRICAL, FLAME, GAS, HEATING, LICENSED, POWER_OFF, PUMP

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="over_fired",
        name="Burner gives too much",
        area="Heating",
        why="More gas than the nameplate says: large rise at the right airflow.",
        do="Clock the meter, set the gas pressure, check the flue.",
        shows={
            "rise": {"high"},
            "outlet": {"over", "under"},
            "heat": {"high"},
            "airflow": {"right", "high"},
            "flows": {"apart", "agree"},
            "supply_layers": {"even"},
            "static": {"right", "low"},
            "filter_drop": {"right", "low"},
            "coil_drop": {"right", "low"},
            "meter_fast": {"yes"},
            "probe_sees": {"no"},
        },
        proof="meter_fast",
        who=LICENSED,
        caution=FLAME,
        mode=HEATING,
        kinds=GAS,
    ),
    Cause(
        key="under_fired",
        name="Burner gives too little",
        area="Heating",
        why="Less gas than the nameplate says: small rise at the right airflow.",
        do="Clock the meter, set the gas pressure, check the orifices.",
        shows={
            "rise": {"low", "right"},
            "outlet": {"under"},
            "heat": {"low"},
            "airflow": {"right"},
            "flows": {"apart", "agree"},
            "supply_layers": {"even"},
            "meter_slow": {"yes"},
            "pickup": {"same"},
            "leak": {"tight"},
            "burner_cycles": {"no"},
        },
        proof="meter_slow",
        who=LICENSED,
        caution=FLAME,
        mode=HEATING,
        kinds=GAS,
    ),
    Cause(
        key="limit_cycles",
        name="Burner goes out on its limit",
        area="Heating",
        why="Too hot inside: the limit stops the burner, and the rise wanders.",
        do="Find the missing air first; never bridge a limit.",
        shows={
            "steadiness": {"early"},
            "rise": {"high", "right"},
            "airflow": {"low"},
            "static": {"high", "right"},
            "heat": {"low", "right"},
            "burner_cycles": {"yes"},
        },
        proof="burner_cycles",
        who=LICENSED,
        caution=FLAME,
        mode=HEATING,
        kinds=GAS,
    ),
    Cause(
        key="element_dead",
        name="An electric element is dead",
        area="Heating",
        why="Part of the heater draws nothing.",
        do="Fuse link, limit, sequencer, element.",
        shows={
            "heat": {"low"},
            "rise": {"low"},
            "airflow": {"right", "high"},
            "element_dead": {"yes"},
        },
        proof="element_dead",
        who=ELECTRICAL,
        caution=POWER_OFF,
        mode=HEATING,
        kinds=PUMP,
    ),
    Cause(
        key="outdoor_iced",
        name="Outdoor coil iced, no defrost",
        area="Heating",
        why="Ice insulates the outdoor coil: little heat comes in.",
        do="Defrost board, sensor, reversing valve.",
        shows={
            "heat": {"low"},
            "rise": {"low"},
            "airflow": {"right", "high"},
            "outdoor_iced": {"yes"},
        },
        proof="outdoor_iced",
        caution=POWER_OFF,
        mode=HEATING,
        kinds=PUMP,
    ),
)
