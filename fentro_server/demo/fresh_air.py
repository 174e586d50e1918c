"""The courtyard dwelling's fresh air: its rooms, the ventilator with its port chart, what was measured, a wrong setting."""

from __future__ import annotations

from typing import Any

DWELLING: dict[str, Any] = {"floor_area_m2": 161.65, "bedrooms": 3}

CHART = ((20.0, 0.041), (45.0, 0.062), (80.0, 0.084), (120.0, 0.103), (170.0, 0.121))
"""Drop across the ports [Pa] and flow [m³/s]; both streams of this model have ports alike."""

VENTILATOR: dict[str, Any] = {
    "kind": "balanced",
    "model": "FV-60",
    "chart": [{"port_pa": drop, "airflow_m3s": flow} for drop, flow in CHART],
    "stale_chart": [{"port_pa": drop, "airflow_m3s": flow} for drop, flow in CHART],
    "step_min": 5.0,
    "fan_power_w": 74.0,
    "recovered_share": 0.68,
    "control_name": "FA-1",
}

FOUND: dict[str, Any] = {"minutes_per_hour": 15.0, "low_c": 2.0, "high_c": 30.0, "boost_min": 240.0, "filter_months": 12}
"""Set for another dwelling: too few minutes, off on every cold night and every hot day."""


def measured(minute: int) -> list[Any]:
    """What was said and measured, minute by minute."""
    said = (
        ("dwelling", {"dwelling": DWELLING, "edition": "2013"}),
        ("ventilator", VENTILATOR),
        ("ventilator_flow", {"stream": "fresh", "way": "ports", "port_pa": 36.0, "plus_minus_pa": 1.0}),
        ("ventilator_flow", {"stream": "stale", "way": "ports", "port_pa": 34.0, "plus_minus_pa": 1.0}),
        ("ventilator_control", {"stage": "found", "control": FOUND}),
    )
    return [(minute + 2 * at, kind, body, "as_found") for at, (kind, body) in enumerate(said)]
