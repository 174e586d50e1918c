"""What may be wrong with a controlled economizer: every fault says which tests it would upset, and how surely."""

from __future__ import annotations

from fentro_core.economizer.proof.fault import ControlFault
from fentro_core.economizer.proof.faults_of_control import OF_CONTROL
from fentro_core.economizer.proof.faults_of_sensors import OF_SENSORS
from fentro_core.economizer.proof.faults_of_stroke import OF_THE_STROKE

FAULTS: tuple[ControlFault, ...] = (*OF_THE_STROKE, *OF_SENSORS, *OF_CONTROL)

FAULTS_BY_KEY: dict[str, ControlFault] = {fault.key: fault for fault in FAULTS}
