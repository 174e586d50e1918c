"""When outdoor air is good enough to cool with: four methods, limits by climate zone, and the reason for each."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.pressure import SEA_LEVEL_PA, standard_pressure
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.units import BTU_PER_LB_J_PER_KG, ENTHALPY_ZERO_SHIFT_J_PER_KG
from fentro_core.base.working import SILENT, Working
from fentro_core.system.nameplate import ChangeoverMethod

_WARM_DRY = ("0B", "1B", "2B", "3B", "3C", "4B", "4C", "5B", "5C", "6B", "7", "8")
_COLD_MOIST = ("5A", "6A")
_WARM_MOIST = ("0A", "1A", "2A", "3A", "4A")

FIXED_LIMIT_F: dict[str, float] = {
    **dict.fromkeys(_WARM_DRY, 75.0),
    **dict.fromkeys(_COLD_MOIST, 70.0),
    **dict.fromkeys(_WARM_MOIST, 65.0),
}
"""Fixed dry-bulb high limit by climate zone, after the usual energy standard (2019 edition); local code rules."""

CAP_F = 75.0
"""Over this an enthalpy changeover is off too."""

FIXED_ENTHALPY_J_PER_KG = 28.0 * BTU_PER_LB_J_PER_KG - ENTHALPY_ZERO_SHIFT_J_PER_KG
"""28 Btu/lb, counted from 0 °C."""

NEAR_SEA_LEVEL_M = 300.0
"""Up to here the standard's own figure holds; higher up its rule for altitude. Ours: it says "substantially different"."""


def enthalpy_limit(pressure_pa: float = SEA_LEVEL_PA) -> float:
    """High limit of a fixed-enthalpy changeover [J/kg]: 28 Btu/lb; at altitude the enthalpy of 75 °F and 50 % at the site.

    >>> round((enthalpy_limit(standard_pressure(1830.0)) + ENTHALPY_ZERO_SHIFT_J_PER_KG) / BTU_PER_LB_J_PER_KG, 1)
    30.7
    """
    if pressure_pa > standard_pressure(NEAR_SEA_LEVEL_M):
        return FIXED_ENTHALPY_J_PER_KG
    return AirState.from_rh(_celsius(CAP_F), 0.5, pressure_pa).enthalpy_j_per_kg


NOT_DIFFERENTIAL_DRY_BULB = _WARM_MOIST

SWITCHING_DIFFERENTIAL_K = 1.5 / 1.8
"""1 to 2 °F between off and on again; the middle."""


METHOD_REASONS: dict[ChangeoverMethod, str] = {
    "fixed_dry_bulb": "One good temperature sensor. The least error of all; in humid climates its limit must be low.",
    "differential_dry_bulb": "Outdoor against return temperature. Takes every mild hour, and cool, wet air in humid climates.",
    "fixed_enthalpy": "Heat and moisture of the outdoor air against a limit. Keeps wet air out; needs a good humidity sensor.",
    "differential_enthalpy": "Outdoor against return enthalpy. Best on paper; two humidity sensors err, and drift.",
}


def _celsius(fahrenheit: float) -> float:
    return (fahrenheit - 32) / 1.8


def default_method(zone: str) -> tuple[ChangeoverMethod, Sentence]:
    """The method to start from in a climate zone, and why.

    >>> default_method("3A")[0], default_method("5B")[0]
    ('fixed_enthalpy', 'fixed_dry_bulb')
    """
    if zone in NOT_DIFFERENTIAL_DRY_BULB:
        return "fixed_enthalpy", Sentence.of(
            "Humid climate: cool but wet air costs more to dry than it saves. Enthalpy, with a dry-bulb cap at {cap}.",
            cap=(_celsius(CAP_F), "temperature"),
        )
    return "fixed_dry_bulb", Sentence.of(
        "Dry or cold climate: dry bulb tells enough, and one good temperature sensor errs less than two humidity sensors."
    )


@dataclass(frozen=True)
class Changeover:
    """Whether outdoor air may cool now. Margins: how far dry bulb and enthalpy lie under their limits."""

    free_cooling: bool
    dry_bulb_limit_c: float
    margin_k: float
    margin_difference_j_per_kg: float
    decided_by: str


@calculation("economizer.changeover", "Whether outdoor air is good enough to cool with")
def changeover(
    method: ChangeoverMethod,
    climate_zone: str,
    outdoor: AirState,
    return_: AirState,
    limit_c: float | None = None,
    work: Working = SILENT,
) -> Changeover:
    """Each method's rule, without its switching differential.

    Parameters
    ----------
    method : str
        Fixed or differential, by dry bulb or by enthalpy.
    climate_zone : str
        Of the site: 0A to 8.
    outdoor, return_ : AirState
        Outdoor and return air at the site's pressure.
    limit_c : float, optional
        The controller's own dry-bulb limit [°C] where it has one; else the zone's.

    Raises
    ------
    Refused
        No such zone; differential dry bulb in a zone where the standard does not allow it.

    References
    ----------
    The usual energy standard for buildings (2019), high-limit shutoff by climate zone. Local code rules.

    >>> mild, room = AirState.from_rh(16.0, 0.6), AirState.from_rh(24.0, 0.5)
    >>> changeover("fixed_dry_bulb", "5B", mild, room).free_cooling
    True
    """
    if climate_zone not in FIXED_LIMIT_F:
        raise Refused("Set the site's climate zone first.", "climate_zone")
    if method == "differential_dry_bulb" and climate_zone in NOT_DIFFERENTIAL_DRY_BULB:
        raise Refused("Differential dry bulb is not for humid zones: cool, wet outdoor air would be let in.", "method")
    same_pressure(outdoor=outdoor, return_=return_)
    if limit_c is not None:
        within(limit_c, (-40.0, 60.0), "limit_c", "temperature", "A high limit lies between {low} and {high}.")
    zone_limit = _celsius(FIXED_LIMIT_F[climate_zone])
    limit = {
        "fixed_dry_bulb": zone_limit if limit_c is None else limit_c,
        "differential_dry_bulb": return_.dry_bulb_c,
    }.get(method, _celsius(CAP_F) if limit_c is None else limit_c)
    margin = work.step(
        "outdoor under its dry-bulb limit",
        "dT",
        "T_limit - T_o",
        limit - outdoor.dry_bulb_c,
        "temperature_difference",
        source="energy standard's high limit for the zone, or the controller's",
        T_limit=(limit, "temperature"),
        T_o=(outdoor.dry_bulb_c, "temperature"),
    )
    if method in ("fixed_dry_bulb", "differential_dry_bulb"):
        return Changeover(margin >= 0, limit, margin, 0.0, "dry bulb")
    most = enthalpy_limit(outdoor.pressure_pa) if method == "fixed_enthalpy" else return_.enthalpy_j_per_kg
    spare = work.step(
        "outdoor under its enthalpy limit",
        "dh",
        "h_limit - h_o",
        most - outdoor.enthalpy_j_per_kg,
        "enthalpy_difference",
        h_limit=(most, "enthalpy"),
        h_o=(outdoor.enthalpy_j_per_kg, "enthalpy"),
    )
    return Changeover(margin >= 0 and spare >= 0, limit, margin, spare, "dry bulb" if margin < 0 else "enthalpy")
