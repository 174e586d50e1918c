"""The instruments of the demo's van."""

from __future__ import annotations

from typing import Any

from fentro_core.base.typed_json import write
from fentro_core.instruments.instrument import ACCURACY_CLASSES

_HYGRO = {
    "dry_bulb": {"plus_minus": 0.3, "resolution": 0.1, "repeatability": 0.1},
    "relative_humidity": {"plus_minus": 0.02, "resolution": 0.01, "repeatability": 0.005},
    "dew_point": {"plus_minus": 0.6, "resolution": 0.1, "repeatability": 0.2},
    "wet_bulb": {"plus_minus": 0.4, "resolution": 0.1, "repeatability": 0.1},
}


def _of_class(key: str) -> dict[str, Any]:
    return {quantity: write(figure) for quantity, figure in ACCURACY_CLASSES[key][2].items()}


INSTRUMENTS: dict[str, dict[str, Any]] = {
    "probe_a": {
        "name": "Probe A",
        "kind": "thermo_hygrometer",
        "serial": "TH-2041",
        "accuracy": _HYGRO,
        "due": 190,
        "by": "oona",
    },
    "probe_b": {
        "name": "Probe B",
        "kind": "thermo_hygrometer",
        "serial": "TH-2042",
        "accuracy": _HYGRO,
        "due": 190,
        "by": "oona",
    },
    "probe_c": {
        "name": "Probe C",
        "kind": "thermo_hygrometer",
        "serial": "TH-1807",
        "accuracy": _HYGRO,
        "due": -41,
        "by": "jomar",
    },
    "hood": {
        "name": "Flow hood",
        "kind": "flow_hood",
        "serial": "FH-311",
        "accuracy": {"airflow": {"plus_minus": 0.02, "share": 0.03, "resolution": 0.001}},
        "due": 75,
        "by": "tova",
    },
    "register_hood": {
        "name": "Register hood",
        "kind": "flow_hood",
        "serial": "RH-058",
        "accuracy": _of_class("register_hood"),
        "due": 210,
        "by": "oona",
    },
    "probe_d": {"name": "Probe D", "kind": "thermo_hygrometer", "serial": "TH-2060", "accuracy": _HYGRO, "due": 22, "by": "oona"},
    "clamp": {
        "name": "Pipe clamp",
        "kind": "pipe_clamp",
        "serial": "PC-118",
        "accuracy": _of_class("clamp"),
        "due": 140,
        "by": "oona",
    },
    "manometer_1": {
        "name": "Manometer 1",
        "kind": "manometer",
        "serial": "MN-507",
        "accuracy": _of_class("manometer"),
        "due": 118,
        "by": "oona",
    },
    "manometer_2": {
        "name": "Manometer 2",
        "kind": "manometer",
        "serial": "MN-508",
        "accuracy": _of_class("manometer"),
        "due": 118,
        "by": "oona",
    },
    "gauges": {
        "name": "Gauges",
        "kind": "gauges",
        "serial": "RG-077",
        "accuracy": _of_class("gauges"),
        "due": 96,
        "by": "oona",
    },
    "vane": {
        "name": "Vane",
        "kind": "anemometer",
        "serial": "VA-220",
        "accuracy": {**_of_class("vane"), **_of_class("hood")},
        "due": 60,
        "by": "oona",
    },
    "power": {
        "name": "Power meter",
        "kind": "power_meter",
        "serial": "PM-034",
        "accuracy": _of_class("power"),
        "due": 201,
        "by": "tova",
    },
}
"""Serial numbers are those of the simulated probes, where there is one."""
