"""What the settings that run say, beside what is planned: the quickest look of all, before any test."""

from __future__ import annotations

from collections.abc import Mapping, Set

from fentro_core.economizer.configuration import LABELS, LOOP_NAMES, Configuration

CHANGEOVER, MINIMUM, DIFFERENTIAL, ON_FAILURE, LOW_LIMIT = (
    "settings.changeover",
    "settings.minimum",
    "settings.differential",
    "settings.on_failure",
    "settings.low_limit",
)
"""Signs: the setting that runs is another than the planned one, by so much that a test would show it."""

SETTINGS = (CHANGEOVER, MINIMUM, DIFFERENTIAL, ON_FAILURE, LOW_LIMIT)

EVERY_SETTING = frozenset({*LABELS, *(f"loops.{loop}" for loop in LOOP_NAMES)})

NO_DIFFERENTIAL_K = 0.25
MINIMUM_OFF = 0.05
LIMITS_OFF: Mapping[str, Mapping[str, float]] = {
    "fixed_dry_bulb": {"high_limit_c": 1.0},
    "differential_dry_bulb": {},
    "fixed_enthalpy": {"high_limit_c": 3.0, "high_limit_j_per_kg": 2000.0},
    "differential_enthalpy": {"high_limit_c": 3.0},
}
"""By so much a setting is another: what the tests leave room for. Ours. By enthalpy, the dry-bulb limit is only a cap."""


def settings_signs(planned: Configuration, runs: Configuration, known: Set[str] = EVERY_SETTING) -> Mapping[str, bool]:
    """Whether settings that run differ from the planned ones, by sign; only where they are known.

    Parameters
    ----------
    planned, runs : Configuration
        What is due, and what was read from the controller or typed at it.
    known : set
        Keys of `runs` that were read; a loop's as ``loops.low_limit``.

    >>> settings_signs(Configuration(), Configuration(minimum_position=0.5), {"minimum_position"})
    {'settings.minimum': True}
    """
    limits = LIMITS_OFF[planned.changeover]
    other_way = planned.changeover != runs.changeover
    found = {
        CHANGEOVER: ({"changeover", *(() if other_way else limits)}, other_way or _apart(planned, runs, limits)),
        MINIMUM: ({"minimum_position"}, _apart(planned, runs, {"minimum_position": MINIMUM_OFF})),
        DIFFERENTIAL: ({"differential_k"}, planned.differential_k > NO_DIFFERENTIAL_K >= runs.differential_k),
        ON_FAILURE: ({"on_sensor_failure"}, planned.on_sensor_failure != runs.on_sensor_failure),
        LOW_LIMIT: ({"loops.low_limit"}, planned.loops.get("low_limit") != runs.loops.get("low_limit")),
    }
    return {sign: differs for sign, (needs, differs) in found.items() if needs <= known}


def _apart(planned: Configuration, runs: Configuration, room: Mapping[str, float]) -> bool:
    return any(abs(getattr(planned, key) - getattr(runs, key)) > least - 1e-9 for key, least in room.items())
