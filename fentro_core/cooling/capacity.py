"""Cooling as measured: split, and capacity by the enthalpy of the air on both sides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from fentro_core.air.constants import CP_DRY_AIR, vapour_enthalpy
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, flows, within
from fentro_core.base.quick import quick
from fentro_core.base.typed_json import Json
from fentro_core.base.units import BTU_J, BTU_PER_LB_J_PER_KG, CFM_M3S, FOOT_M, POUND_KG
from fentro_core.base.working import SILENT, Working

STANDARD_DENSITY_KG_PER_M3 = 0.075 * POUND_KG / FOOT_M**3
"""The air the trade's shortcuts are made for: 0.075 lb/ft³ (13.33 ft³/lb)."""


@calculation("cooling.split", "Temperature split, return less supply", result="split_k")
def split(return_dry_bulb_c: float, supply_dry_bulb_c: float, work: Working = SILENT) -> float:
    """Return dry bulb less supply dry bulb [K]. Below zero the air is being heated.

    Parameters
    ----------
    return_dry_bulb_c, supply_dry_bulb_c : float
        Dry bulb at return and supply [°C], read while it cools steadily.

    Raises
    ------
    Nothing: any two temperatures have a difference.

    References
    ----------
    Trade practice; the arithmetic is the definition.

    >>> split(24.6, 13.8)
    10.8
    """
    within(return_dry_bulb_c, AIR_C, "return_dry_bulb_c", "temperature")
    within(supply_dry_bulb_c, AIR_C, "supply_dry_bulb_c", "temperature")
    return work.step(
        "split",
        "dT",
        "T_return - T_supply",
        return_dry_bulb_c - supply_dry_bulb_c,
        "temperature_difference",
        T_return=(return_dry_bulb_c, "temperature"),
        T_supply=(supply_dry_bulb_c, "temperature"),
    )


@quick
@dataclass(frozen=True)
class Capacity:
    """Cooling done by the air side. Sensible and latent add up to total exactly."""

    total_w: float
    sensible_w: float
    latent_w: float
    sensible_heat_ratio: float
    water_kg_per_s: float
    dry_air_kg_per_s: float


def withhold_negative_latent(result: Json) -> Json:
    """Never print a negative latent capacity, or a sensible part above the whole: say what was found instead.

    Within its half-width of zero it is "none that these instruments can see"; beyond, the supply air is wetter than
    the return air, which no coil can do: a measuring mistake, water blown off a wet coil, or a leak. In both cases moisture is
    held equal: the total is the sensible part with the doubt of the whole, and there is no ratio of the two to print.
    """
    latent = result["latent_w"]
    if latent["value"] >= 0:
        return {**result, "moisture": "removed"}
    seen = latent["value"] + latent["plus_minus"] >= 0
    withheld = {"latent_w": None, "sensible_heat_ratio": None, "water_kg_per_s": None}
    return {
        **result,
        **withheld,
        "total_w": {**result["total_w"], "value": result["sensible_w"]["value"]},
        "moisture": "none_seen" if seen else "supply_wetter_than_return",
    }


def _withheld(schema: Json) -> Json:
    """The result's schema, where the latent part may be withheld, and what was found of moisture is said."""
    fields = dict(schema["properties"])
    for name in ("latent_w", "sensible_heat_ratio", "water_kg_per_s"):
        fields[name] = {"anyOf": [fields[name], {"type": "null"}]}
    fields["moisture"] = {"enum": ["removed", "none_seen", "supply_wetter_than_return"]}
    return {**schema, "properties": fields, "required": list(fields)}


@calculation(
    "cooling.capacity",
    "Cooling capacity from return and supply air",
    present=withhold_negative_latent,
    present_schema=_withheld,
)
def capacity(
    entering: AirState,
    leaving: AirState,
    airflow_m3s: float,
    flow_measured_at: Literal["return", "supply"] = "return",
    work: Working = SILENT,
) -> Capacity:
    """Total, sensible and latent cooling [W], sensible heat ratio, and water removed [kg/s].

    Parameters
    ----------
    entering, leaving : AirState
        Return and supply air at the same pressure.
    airflow_m3s : float
        Volume flow [m³/s] as it is at `flow_measured_at`; above zero.
    flow_measured_at : "return" or "supply"
        Which of the two air states the flow was measured in.

    Raises
    ------
    Refused
        A flow of zero or below; states at two pressures.

    Notes
    -----
    ``m = V / v`` (dry air), ``total = m (h_r - h_s)``, ``sensible = m (h(T_r, W_s) - h_s)``,
    ``latent = total - sensible``. A negative latent part is worked out here but never printed
    (`withhold_negative_latent`).

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter.

    >>> return_, supply = AirState.from_rh(24.6, 0.58), AirState.from_rh(13.8, 0.91)
    >>> round(capacity(return_, supply, 1.80).total_w / 1000, 1)
    35.3
    """
    flows(airflow_m3s)
    same_pressure(entering=entering, leaving=leaving)
    flowing = entering if flow_measured_at == "return" else leaving
    dry_air = airflow_m3s / flowing.specific_volume_m3_per_kg
    total = dry_air * (entering.enthalpy_j_per_kg - leaving.enthalpy_j_per_kg)
    dried = CP_DRY_AIR * entering.dry_bulb_c + leaving.humidity_ratio * vapour_enthalpy(entering.dry_bulb_c)
    sensible = dry_air * (dried - leaving.enthalpy_j_per_kg)
    latent = total - sensible
    result = Capacity(
        total_w=total,
        sensible_w=sensible,
        latent_w=latent,
        sensible_heat_ratio=sensible / total if total else 1.0,
        water_kg_per_s=dry_air * (entering.humidity_ratio - leaving.humidity_ratio),
        dry_air_kg_per_s=dry_air,
    )
    if not work.silent:
        _write_down(work, result, entering, leaving, flowing, dried, airflow_m3s)
    return result


def _write_down(
    work: Working,
    result: Capacity,
    entering: AirState,
    leaving: AirState,
    flowing: AirState,
    dried: float,
    airflow_m3s: float,
) -> None:
    m, v = (result.dry_air_kg_per_s, "mass_flow"), (flowing.specific_volume_m3_per_kg, "specific_volume")
    h_r, h_s = (entering.enthalpy_j_per_kg, "enthalpy"), (leaving.enthalpy_j_per_kg, "enthalpy")
    flow = (airflow_m3s, "airflow")
    balance = "balance over the coil"
    work.step("dry-air mass flow", "m", "V / 1000 / v", *m, us="V / v", source="v where the flow was measured", V=flow, v=v)
    work.step(
        "total cooling",
        "Q",
        "m * (h_r - h_s)",
        result.total_w,
        "power",
        us="60 * m * (h_r - h_s)",
        source=balance,
        m=m,
        h_r=h_r,
        h_s=h_s,
    )
    work.step(
        "enthalpy of return air dried to the supply's humidity",
        "h_d",
        "1.006 * T_r + W_s * (2.501 + 0.00186 * T_r)",
        dried,
        "enthalpy",
        us="0.24028 * T_r - 0.009 + W_s / 7000 * (1061.02 + 0.44425 * T_r)",
        T_r=(entering.dry_bulb_c, "temperature"),
        W_s=(leaving.humidity_ratio, "humidity_ratio"),
    )
    work.step(
        "sensible cooling",
        "Q_s",
        "m * (h_d - h_s)",
        result.sensible_w,
        "power",
        us="60 * m * (h_d - h_s)",
        source=balance,
        m=m,
        h_d=(dried, "enthalpy"),
        h_s=h_s,
    )
    if result.latent_w < 0:
        work.step(
            "total cooling, moisture held equal",
            "Q",
            "Q_s",
            result.sensible_w,
            "power",
            source="a coil adds no water",
            remark="The supply reads no drier than the return: these instruments see no water taken out.",
            Q_s=(result.sensible_w, "power"),
        )
    else:
        total, sensible = (result.total_w, "power"), (result.sensible_w, "power")
        work.step("latent cooling", "Q_l", "Q - Q_s", result.latent_w, "power", Q=total, Q_s=sensible)
        if result.total_w > 0:
            work.step("sensible heat ratio", "SHR", "Q_s / Q", result.sensible_heat_ratio, "ratio", Q_s=sensible, Q=total)
        work.step(
            "water removed",
            "w",
            "3.6 * m * (W_r - W_s)",
            result.water_kg_per_s,
            "water_rate",
            us="60 * m * (W_r - W_s) / 7000",
            source="balance of water",
            m=m,
            W_r=(entering.humidity_ratio, "humidity_ratio"),
            W_s=(leaving.humidity_ratio, "humidity_ratio"),
        )
    _shortcuts(work, result, entering, leaving, airflow_m3s)


def _shortcuts(work: Working, result: Capacity, entering: AirState, leaving: AirState, airflow_m3s: float) -> None:
    """The trade's 4.5, 1.08 and 0.68 lines: as at sea level, and corrected for this air."""
    density = result.dry_air_kg_per_s / airflow_m3s
    share = density / STANDARD_DENSITY_KG_PER_M3
    cfm = airflow_m3s / CFM_M3S
    dh = entering.enthalpy_j_per_kg - leaving.enthalpy_j_per_kg
    dt = entering.dry_bulb_c - leaving.dry_bulb_c
    dw = entering.humidity_ratio - leaving.humidity_ratio
    flow = (airflow_m3s, "airflow")
    work.step(
        "this air against the shortcuts' air",
        "s",
        "d / 1.2014",
        share,
        "ratio",
        us="d / 0.075",
        source="dry air per volume; the shortcuts assume sea level",
        d=(density, "density"),
    )
    rows = (
        (
            "total",
            4.5,
            "1.2014 / 1000",
            "h_r - h_s",
            dh / BTU_PER_LB_J_PER_KG,
            "enthalpy",
            (entering.enthalpy_j_per_kg, leaving.enthalpy_j_per_kg),
        ),
        ("sensible", 1.08, "1.2072 / 1000", "T_r - T_s", dt * 1.8, "temperature", (entering.dry_bulb_c, leaving.dry_bulb_c)),
        (
            "latent",
            0.68,
            "2.956 / 1000",
            "W_r - W_s",
            dw * 7000,
            "humidity_ratio",
            (entering.humidity_ratio, leaving.humidity_ratio),
        ),
    )
    for name, factor, metric, difference, size, kind, (first, second) in rows:
        if name == "latent" and result.latent_w < 0:
            continue
        symbol = difference[0]
        numbers: dict[str, Any] = {f"{symbol}_r": (first, kind), f"{symbol}_s": (second, kind), "V": flow}
        sea_level = factor * cfm * size * BTU_J / 3600
        work.step(
            f"{name} by shortcut, sea level",
            "Q",
            f"{metric} * V * ({difference})",
            sea_level,
            "power",
            us=f"{factor} * V * ({difference})",
            source="trade shortcut",
            remark="Not corrected: compare only.",
            **numbers,
        )
        work.step(
            f"{name} by shortcut, this air",
            "Q",
            f"s * {metric} * V * ({difference})",
            sea_level * share,
            "power",
            us=f"s * {factor} * V * ({difference})",
            source="trade shortcut times density share",
            s=(share, "ratio"),
            **numbers,
        )
