"""What is known of a cause, and what several of them show alike. The causes themselves stand in their parts."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import dataclass, field

from fentro_core.diagnosis.people import TECHNICIAN


@dataclass(frozen=True, kw_only=True)
class Cause:
    """One cause. `shows`: the states of each symptom it shows in. `proof`: the symptom that proves it best.

    `area`: where in the system it is, in words. `mode`: only while cooling, or heating. `kinds`: only on these kinds of system;
    empty means all. `rare`: seldom met; it stands behind a common cause of the same fit. `apart`: a matter of its own, as of
    symptoms. `does`: what it does to the machine, by knob (`fentro_core.machine.knobs`), at each of its severities; none: nothing
    that readings of the machine show. `often`: how often a question about it is truly answered yes, where that is not 0.85.
    `metering`: only with such a device. `by_flame`: the caution besides, where the unit burns gas.
    """

    key: str
    name: str
    area: str
    why: str
    do: str
    shows: Mapping[str, Set[str]]
    proof: str
    who: str = TECHNICIAN
    caution: str = ""
    mode: str = ""
    kinds: tuple[str, ...] = ()
    rare: bool = False
    apart: str = ""
    does: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    often: Mapping[str, float] = field(default_factory=dict)
    metering: str = ""
    by_flame: str = ""

    @property
    def either_way(self) -> bool:
        """It makes something read more, or less."""
        return any(min(levels) < middle < max(levels) for levels in self.does.values() for middle in EITHER)


EITHER = (0.0, 1.0)
"""Where knobs of a sound machine stand."""

AREAS = ("Airflow", "Ducts", "Zones", "Cooling", "Heating", "Leakage", "Moisture", "Measuring")
"""Where in the system a cause can be, in the order in which causes of the same fit are told."""

CAUSES: dict[str, Cause] = {}
"""Every cause by key, filled from the parts (`fentro_core.parts`)."""

STARVED: dict[str, set[str]] = {
    "airflow": {"low"},
    "split": {"high", "right"},
    "capacity": {"low", "right"},
    "rise": {"high"},
    "outlet": {"over", "under"},
    "heat": {"right", "high"},
    "pickup": {"same"},
    "leak": {"tight"},
    "superheat": {"low", "right"},
    "condenser_air": {"low", "right"},
}
"""What too little air shows, whatever holds it back."""

RUNS_RIGHT: dict[str, set[str]] = {
    "airflow": {"right", "high"},
    "filter_drop": {"right", "low"},
    "coil_drop": {"right", "low"},
    "static": {"right", "low"},
    "pickup": {"same"},
    "leak": {"tight"},
}
"""The air side is sound."""
