"""Causes of a room that stays damp; faults of reheat and bypass stand in `proof`, and are causes here.

Ours, after the trade's usual reasoning (docs/method.md, "Moisture").
"""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.people import CERTIFIED, COOLING, POWER_OFF, TECHNICIAN
from fentro_core.moisture.proof import FAULTS
from fentro_core.moisture.symptoms import APART, PROOF_APART

SHOWN_BY: dict[str, tuple[str, str]] = {
    "reheat_stuck_on": ("reheat_proof", "always"),
    "reheat_dead": ("reheat_proof", "never"),
    "bypass_stuck_open": ("bypass_proof", "open"),
    "bypass_blocked": ("bypass_proof", "shut"),
    "bypass_too_far": ("bypass_proof", "far"),
    "call_dead": ("dry_call_proof", "dead"),
}
"""By which symptom, and in which state, a fault that the proof names is told."""

BY_EYE: dict[str, dict[str, set[str]]] = {
    "reheat_stuck_on": {"reheat_line_warm": {"yes"}},
    "reheat_dead": {"reheat_line_warm": {"no"}, "reheat_no_power": {"yes", "no"}},
    "bypass_stuck_open": {"bypass_blade": {"yes", "no"}},
    "bypass_blocked": {"bypass_blade": {"yes", "no"}},
    "bypass_too_far": {"bypass_blade": {"no"}},
    "call_dead": {"dry_call_lost": {"yes"}},
}

WHY: dict[str, str] = {
    "reheat_stuck_on": "Cooling is paid twice: the coil cools what reheat warms again, and the room gets warm air on a hot day.",
    "reheat_dead": "On a call to dry the room is overcooled, and the thermostat stops what should dry it.",
    "bypass_stuck_open": "Warm return air joins the supply all the time: less cooling reaches the room.",
    "bypass_blocked": "All the air goes over the coil: it stays too warm to dry at a small load.",
    "bypass_too_far": "Too little air goes over the coil: it frosts.",
    "call_dead": "Nothing dries while the room's temperature is satisfied.",
}

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="coil_too_warm",
        name="Coil too warm to dry",
        area="Moisture",
        why="The coil's surface lies above the dew point of the air that enters: it cools, and takes out no water.",
        do="Airflow and charge first. Then less air over the coil, a return bypass, or more cooling with reheat after it.",
        shows={"damp_room": {"damp"}, "coil_dries": {"dry"}, "airflow": {"high", "right"}, "bucket": {"agrees"}},
        proof="coil_dries",
        mode=COOLING,
        apart=APART,
    ),
    Cause(
        key="runs_too_short",
        name="Unit too large for this load: short runs",
        area="Moisture",
        why="A coil dries only after it is wet through; a short run ends before that.",
        do="A lower stage, less air, a wider differential at the thermostat. A colder setpoint overcools, and stays damp.",
        shows={"damp_room": {"damp"}, "short_runs": {"yes"}, "coil_dries": {"dries"}, "bucket": {"agrees", "less"}},
        proof="short_runs",
        mode=COOLING,
        apart=APART,
    ),
    Cause(
        key="fan_gives_back",
        name="Fan blows the coil's water back",
        area="Moisture",
        why="Between the runs the fan dries the wet coil into the room.",
        do="Let the fan stop with the compressor, where the maker and the outdoor air that is required allow it.",
        shows={
            "damp_room": {"damp"},
            "fan_always": {"yes"},
            "gives_back": {"yes"},
            "coil_dries": {"dries"},
            "bucket": {"agrees", "less"},
        },
        proof="gives_back",
        mode=COOLING,
        apart=APART,
    ),
    Cause(
        key="outdoor_damp",
        name="Outdoor air brings the water",
        area="Moisture",
        why="With every cubic metre of damp outdoor air the coil has to take out its water, too.",
        do="No more outdoor air than is required; less at night; or dry it before it is mixed.",
        shows={"damp_room": {"damp"}, "water_in": {"outdoor"}, "coil_dries": {"dries"}, "bucket": {"agrees"}},
        proof="water_in",
        apart=APART,
    ),
    Cause(
        key="hidden_water",
        name="Another way in for water",
        area="Moisture",
        why="The coil takes out more than outdoor air, people and open water bring.",
        do="Look at damp ground, a roof or pipe that leaks, doors that stand open, a building that draws air in.",
        shows={"damp_room": {"damp"}, "water_in": {"unexplained"}, "coil_dries": {"dries"}, "bucket": {"agrees"}},
        proof="water_in",
        apart=APART,
    ),
    Cause(
        key="drain_loses",
        name="Condensate does not reach the drain",
        area="Moisture",
        why="Water that left the air stays in the unit, or runs where it should not.",
        do="Look at trap and pan: a trap blocked or dry, a pan that is cracked, tilted or overflows.",
        shows={"bucket": {"less"}, "coil_dries": {"dries"}, "damp_room": {"damp", "right"}},
        proof="bucket",
        mode=COOLING,
        caution=POWER_OFF,
        apart=APART,
    ),
    *(
        Cause(
            key=f"drying_{fault.key}",
            name=fault.name,
            area="Moisture",
            why=WHY[fault.key],
            do=fault.do,
            shows={SHOWN_BY[fault.key][0]: {SHOWN_BY[fault.key][1]}, **BY_EYE[fault.key]},
            proof=SHOWN_BY[fault.key][0],
            who=CERTIFIED if fault.who == "certified" else TECHNICIAN,
            caution=POWER_OFF,
            apart=PROOF_APART,
        )
        for fault in FAULTS.values()
    ),
)
