"""Kinds of fault and of sound operation, each drawn anew: machine, weather, height, how bad it is; and what an eye would see."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from random import Random
from typing import Any

from bench.stranger.machine import Day, Machine, Wrong, a_machine, run
from fentro_core.air.pressure import standard_pressure
from fentro_core.air.state import AirState

KINDS = ("furnace_with_coil", "split_heat_pump", "packaged_rooftop")
ANY, COOLS, HEATS = "any", "cooling", "heating"


@dataclass(frozen=True)
class Slip:
    """What the technician does wrong, whatever the machine does."""

    probe: str = ""
    off_k: float = 0.0
    sees_k: float = 0.0
    touches_k: float = 0.0
    sunlit_k: float = 0.0
    height_unset: bool = False
    early: float = 1.0
    flow_share: float = 1.0
    plate_share: float = 1.0


@dataclass(frozen=True)
class Kind:
    """A kind of fault: the cause that is right, or none; how it is drawn. `only`: kinds of system; `metering`: devices.

    `also`: what is right as well, because it brings the first about.
    """

    key: str
    truth: str
    draw: Callable[[Random], Wrong]
    slip: Callable[[Random], Slip] = lambda draw: Slip()
    mode: str = COOLS
    only: tuple[str, ...] = KINDS
    metering: str = ""
    day: Mapping[str, Any] = field(default_factory=dict)
    also: str = ""


@dataclass(frozen=True)
class Case:
    """One visit to be made; `truths`: every cause that is right; `also`: one more that is right, and need not be named."""

    kind: str
    truths: tuple[str, ...]
    machine: Machine
    day: Day
    wrong: Wrong
    slip: Slip
    elevation_m: float
    seed: int
    also: str = ""

    @property
    def right(self) -> tuple[str, ...]:
        """Every cause that counts as found."""
        return (*self.truths, self.also) if self.also else self.truths


def _worse(**stretches: tuple[float, float]) -> Callable[[Random], Wrong]:
    return lambda draw: Wrong(resistances={name: draw.uniform(*between) for name, between in stretches.items()})


def _one(name: str, low: float, high: float, **more: float) -> Callable[[Random], Wrong]:
    return lambda draw: Wrong(**{name: draw.uniform(low, high)}, **more)  # type: ignore[arg-type]


def _slip(name: str, low: float, high: float, signed: bool = False) -> Callable[[Random], Slip]:
    def drawn(draw: Random) -> Slip:
        much = draw.uniform(low, high) * (draw.choice((-1, 1)) if signed else 1)
        return Slip(probe=draw.choice(("air_1", "air_2")), **{name: much})  # type: ignore[arg-type]

    return drawn


SOUND = lambda draw: Wrong()  # noqa: E731
GAS, PUMP, ROOF = ("furnace_with_coil",), ("split_heat_pump",), ("packaged_rooftop",)
SPLIT = (*GAS, *PUMP)

FAULTS: tuple[Kind, ...] = (
    Kind("filter clogged", "filter_clogged", _worse(filter=(4.5, 9.0))),
    Kind("filter clogged, heating", "filter_clogged", _worse(filter=(5.0, 9.0)), mode=HEATS, only=SPLIT),
    Kind("filter too dense", "filter_thick", _worse(filter=(3.0, 5.0))),
    Kind("filter missing", "filter_missing", _worse(filter=(0.02, 0.05))),
    Kind("coil dirty", "coil_dirty", lambda d: Wrong(resistances={"coil": d.uniform(2.6, 4.5)}, surface=d.uniform(0.7, 0.85))),
    Kind("return small", "return_small", _worse(**{"return": (4.5, 9.0)})),
    Kind("return small, heating", "return_small", _worse(**{"return": (5.0, 9.0)}), mode=HEATS, only=SPLIT),
    Kind("registers closed", "registers_closed", _worse(supply=(4.0, 9.0))),
    Kind("registers closed, heating", "registers_closed", _worse(supply=(5.0, 9.0)), mode=HEATS, only=SPLIT),
    Kind("duct crushed", "duct_crushed", _worse(supply=(4.0, 8.0))),
    Kind("zones shut", "zones_shut", _worse(supply=(4.0, 8.0))),
    Kind("blower low", "blower_low", _one("fan", 0.62, 0.78)),
    Kind("blower low, heating", "blower_low", _one("fan", 0.6, 0.76), mode=HEATS, only=GAS),
    Kind("wheel dirty", "wheel_dirty", _one("fan", 0.64, 0.8)),
    Kind("belt slips", "belt_slips", _one("fan", 0.6, 0.78), only=ROOF),
    Kind("motor weak", "motor_weak", _one("fan", 0.6, 0.78)),
    Kind("blower high", "blower_high", _one("fan", 1.22, 1.4)),
    Kind("coil frozen", "coil_frozen", lambda d: Wrong(resistances={"coil": d.uniform(6, 14)}, surface=d.uniform(0.3, 0.5))),
    Kind("return leak", "return_leak", _one("return_leak", 0.12, 0.28)),
    Kind("return leak, heating", "return_leak", _one("return_leak", 0.12, 0.25), mode=HEATS, only=SPLIT),
    Kind("return bare", "return_bare", _one("bare", 0.7, 1.6), only=SPLIT),
    Kind("supply leak", "supply_leak", _one("supply_leak", 0.18, 0.35)),
    Kind("return bypass", "return_bypass", _one("bypass", 0.15, 0.35)),
    Kind("low charge, valve", "low_charge", _one("charge", 0.58, 0.74), metering="valve"),
    Kind("low charge, restrictor", "low_charge", _one("charge", 0.66, 0.84), metering="restrictor", only=SPLIT),
    Kind("low charge, heating", "low_charge", _one("charge", 0.55, 0.7), mode=HEATS, only=PUMP),
    Kind("high charge, valve", "high_charge", _one("charge", 1.2, 1.4), metering="valve"),
    Kind("high charge, restrictor", "high_charge", _one("charge", 1.18, 1.35), metering="restrictor", only=SPLIT),
    Kind("foreign gas", "foreign_gas", _one("foreign_k", 5.0, 11.0)),
    Kind("liquid line restricted", "liquid_restricted", _one("restricted", 0.35, 0.8)),
    Kind("valve starves", "valve_starves", _one("starved", 0.35, 0.8), metering="valve"),
    Kind("valve floods", "valve_floods", _one("flooded", 0.6, 1.0), metering="valve"),
    Kind("compressor weak", "compressor_weak", _one("pumping", 0.6, 0.8)),
    Kind("compressor weak, heating", "compressor_weak", _one("pumping", 0.55, 0.75), mode=HEATS, only=PUMP),
    Kind("compressor off", "compressor_off", lambda d: Wrong(off=True)),
    Kind(
        "condenser dirty",
        "condenser_dirty",
        lambda d: Wrong(condenser_air=d.uniform(0.35, 0.6), condenser_fouled=d.uniform(0, 0.3)),
    ),
    Kind("condenser fan", "condenser_fan", _one("condenser_air", 0.25, 0.5)),
    Kind("recirculation", "recirculation", _one("drawn_back_k", 4.0, 10.0)),
    Kind("reversing valve leaks", "valve_leaks", _one("valve_leak", 0.2, 0.4), only=PUMP),
    Kind("reversing valve leaks, heating", "valve_leaks", _one("valve_leak", 0.25, 0.45), mode=HEATS, only=PUMP),
    Kind("heat on while cooling", "heat_on", _one("heater_w", 2_500.0, 5_000.0), only=PUMP),
    Kind("water blown off", "water_blown", _one("water", 0.4, 0.9)),
    Kind("outdoor damper open", "damper_open", _one("damper_share", 0.35, 0.7), only=ROOF),
    Kind("over-fired", "over_fired", _one("fire", 1.25, 1.5), mode=HEATS, only=GAS),
    Kind("under-fired", "under_fired", _one("fire", 0.55, 0.75), mode=HEATS, only=GAS),
    Kind(
        "limit cycles",
        "limit_cycles",
        lambda d: Wrong(fan=d.uniform(0.5, 0.65), limit=d.uniform(0.75, 0.9)),
        mode=HEATS,
        only=GAS,
        also="blower_low",
    ),
    Kind("element dead", "element_dead", _one("element", 0.0, 0.5), mode=HEATS, only=PUMP, day={"auxiliary": True}),
    Kind("outdoor coil iced", "outdoor_iced", _one("iced", 0.4, 0.65), mode=HEATS, only=PUMP),
    Kind("read in defrost", "defrosting", _one("defrosts", 0.3, 0.75), mode=HEATS, only=PUMP, day={"outdoor": (-4.0, 6.0)}),
    Kind(
        "read in defrost, heater on",
        "defrosting",
        _one("defrosts", 0.3, 0.75),
        mode=HEATS,
        only=PUMP,
        day={"outdoor": (-4.0, 6.0), "auxiliary": True},
    ),
    Kind("one probe off", "one_probe_off", SOUND, _slip("off_k", 2.5, 5.0, signed=True), mode=ANY),
    Kind("probe sees metal", "probe_sees", SOUND, _slip("sees_k", 8.0, 16.0), mode=HEATS, only=GAS),
    Kind("probe touches", "probe_touches", SOUND, _slip("touches_k", 3.0, 6.0, signed=True)),
    Kind("outdoor probe in the sun", "outdoor_sunlit", SOUND, _slip("sunlit_k", 5.0, 11.0)),
    Kind("height unset", "altitude_ignored", SOUND, lambda d: Slip(height_unset=True), mode=ANY, day={"high": True}),
    Kind("read too early", "too_early", SOUND, _slip("early", 0.45, 0.7), mode=ANY),
    Kind("flow misread", "flow_misread", SOUND, lambda d: Slip(flow_share=d.choice((d.uniform(0.6, 0.75), d.uniform(1.3, 1.5))))),
    Kind("plate wrong", "plate_wrong", SOUND, lambda d: Slip(plate_share=d.choice((d.uniform(0.6, 0.72), d.uniform(1.4, 1.65))))),
)

SOUNDS: tuple[Kind, ...] = (
    Kind("sound, hot", "", SOUND),
    Kind("sound, first stage", "", SOUND, day={"stage": 0.7}),
    Kind("sound, mild", "", SOUND, day={"outdoor": (17.0, 23.0)}),
    Kind("sound, dry", "", SOUND, day={"rh": (0.22, 0.33)}),
    Kind("sound, high", "", SOUND, day={"high": True}, mode=ANY),
    Kind("sound, minimum outdoor air", "", SOUND, only=ROOF, day={"outdoor_share": (0.12, 0.3)}),
    Kind("sound, gas heat", "", SOUND, mode=HEATS, only=GAS),
    Kind("sound, gas heat, first stage", "", SOUND, mode=HEATS, only=GAS, day={"stage": 0.7}),
    Kind("sound, gas heat, derated", "", SOUND, mode=HEATS, only=GAS, day={"high": True, "derated": True}),
    Kind("sound, heat pump heats", "", SOUND, mode=HEATS, only=PUMP),
    Kind("sound, auxiliary heat", "", SOUND, mode=HEATS, only=PUMP, day={"auxiliary": True}),
)

EYE: dict[str, dict[str, float]] = {
    "filter_clogged": {"filter_seen": 0.95},
    "filter_thick": {"filter_thick": 0.9},
    "filter_missing": {"filter_missing": 0.97},
    "coil_dirty": {"coil_dirty": 0.85, "wheel_dirty": 0.3, "filter_missing": 0.2},
    "return_small": {"return_whistles": 0.65},
    "foreign_gas": {"standing_high": 0.9},
    "registers_closed": {"registers_shut": 0.95, "worst_room_far": 0.3},
    "duct_crushed": {"duct_crushed": 0.85, "worst_room_far": 0.7},
    "zones_shut": {"zones_shut": 0.92, "worst_room_far": 0.4},
    "blower_low": {"tap_low": 0.92},
    "wheel_dirty": {"wheel_dirty": 0.92},
    "belt_slips": {"belt_slips": 0.88},
    "motor_weak": {"motor_weak": 0.82},
    "blower_high": {"tap_high": 0.88},
    "coil_frozen": {"frost": 0.92},
    "return_leak": {"seam_open": 0.75},
    "return_bare": {"return_bare": 0.93},
    "supply_leak": {"supply_open": 0.65},
    "low_charge": {"oil_stain": 0.5, "frost": 0.12},
    "liquid_restricted": {"drier_cold": 0.7, "frost": 0.1},
    "valve_floods": {"bulb_loose": 0.65},
    "compressor_off": {"compressor_silent": 0.96},
    "condenser_dirty": {"condenser_dirty": 0.92},
    "condenser_fan": {"condenser_fan_weak": 0.92},
    "compressor_weak": {"pressures_close": 0.8},
    "valve_leaks": {"pressures_close": 0.7, "valve_leaks": 0.85},
    "heat_on": {"heat_on": 0.92},
    "water_blown": {"drops_blown": 0.8},
    "damper_open": {"damper_open": 0.93},
    "over_fired": {"meter_fast": 0.92},
    "under_fired": {"meter_slow": 0.92},
    "limit_cycles": {"burner_cycles": 0.95, "tap_low": 0.6},
    "element_dead": {"element_dead": 0.92},
    "outdoor_iced": {"outdoor_iced": 0.95},
    "defrosting": {"defrosting": 0.85, "outdoor_iced": 0.3},
    "one_probe_off": {"probe_swap_moves": 0.88},
    "probe_sees": {"probe_sees": 0.9},
    "probe_touches": {"probe_touches": 0.85},
    "outdoor_sunlit": {"outdoor_sunlit": 0.92},
    "flow_misread": {"hood_leaks": 0.65},
    "plate_wrong": {"plate_differs": 0.9},
}
"""How often a question is answered yes where the cause is there. Ours; half of low charges show no oil."""

BESIDES = {"filter_seen": 0.1, "oil_stain": 0.06, "condenser_dirty": 0.08, "worst_room_far": 0.15, "return_whistles": 0.08}
"""How often it is yes where it is not; 0.03 where nothing stands here."""


def drawn(kind: Kind, seed: int, other: Kind | None = None) -> Case:
    """One visit of this kind, with a second fault beside it where one is given."""
    draw = Random(f"{kind.key}|{other.key if other else ''}|{seed}")
    only = [each for each in kind.only if other is None or each in other.only]
    system = draw.choice(only)
    mode = draw.choice((COOLS, HEATS)) if kind.mode == ANY else kind.mode
    if system == "packaged_rooftop":
        mode = COOLS
    machine = a_machine(system, draw)
    metering = kind.metering or (other.metering if other else "")
    if metering:
        machine = replace(machine, metering=metering)  # type: ignore[arg-type]
    elevation, day = _day(draw, machine, mode, {**kind.day, **(other.day if other else {})})
    wrong, slip = kind.draw(draw), kind.slip(draw)
    if other is not None:
        wrong, slip = _both(wrong, other.draw(draw)), slip if slip != Slip() else other.slip(draw)
    wrong.trend = draw.uniform(0.67, 1.33)
    if not kind.truth:
        wrong.return_leak, wrong.supply_leak = draw.uniform(0.0, 0.04), draw.uniform(0.0, 0.05)
        wrong.resistances = {name: draw.uniform(0.8, 1.5) for name in ("filter", "coil", "supply")}
        wrong.charge = draw.uniform(0.96, 1.04)
    truths = tuple(each.truth for each in (kind, other) if each is not None and each.truth)
    return Case(
        kind.key if other is None else f"{kind.key} + {other.key}", truths, machine, day, wrong, slip, elevation, seed, kind.also
    )


def _both(one: Wrong, other: Wrong) -> Wrong:
    sound = Wrong()
    changed = {name: value for name, value in vars(other).items() if value != getattr(sound, name)}
    changed["resistances"] = {**one.resistances, **other.resistances}
    return replace(one, **changed)


def _day(draw: Random, machine: Machine, mode: str, asked: Mapping[str, Any]) -> tuple[float, Day]:
    high = asked.get("high", draw.random() < 0.2)
    elevation = draw.uniform(1300.0, 2200.0) if high else draw.uniform(0.0, 500.0)
    pressure = standard_pressure(elevation) + draw.gauss(0.0, 500.0)
    stage = asked.get("stage", 1.0)
    if mode == HEATS:
        outdoor_c = draw.uniform(*asked.get("outdoor", (-8.0, 8.0) if machine.input_w else (-4.0, 11.0)))
        room_c, rh = draw.uniform(19.0, 22.5), draw.uniform(0.22, 0.42)
        around_c, outdoor_rh = outdoor_c + draw.uniform(2.0, 8.0), draw.uniform(0.4, 0.9)
    else:
        outdoor_c = draw.uniform(*asked.get("outdoor", (26.0, 38.0)))
        room_c = draw.uniform(22.5, 26.5)
        rh = draw.uniform(*asked.get("rh", (0.40, 0.58)))
        around_c, outdoor_rh = outdoor_c + draw.uniform(2.0, 16.0), draw.uniform(0.3, 0.55)
    share = draw.uniform(*asked["outdoor_share"]) if "outdoor_share" in asked else 0.0
    if machine.kind == "packaged_rooftop" and "outdoor_share" not in asked:
        share = draw.uniform(0.0, 0.2)
    room = AirState.from_rh(room_c, rh, pressure)
    outdoor = AirState.from_rh(outdoor_c, outdoor_rh, pressure)
    derate = 1.0
    if machine.input_w and mode == HEATS and high:
        derate = 1 - 0.04 * elevation / 305.0 if asked.get("derated", True) else 1.0
    day = Day(
        mode=mode,
        outdoor_c=outdoor_c,
        outdoor_ratio=outdoor.humidity_ratio,
        room_c=room_c,
        room_ratio=room.humidity_ratio,
        around_c=around_c,
        around_ratio=0.7 * outdoor.humidity_ratio + 0.3 * room.humidity_ratio,
        pressure_pa=pressure,
        stage=stage,
        auxiliary=bool(asked.get("auxiliary", False)),
        outdoor_share=share,
        derate=derate,
    )
    return elevation, day


def all_cases(seed: int, faulty: int, sound: int) -> tuple[list[Case], list[Case]]:
    """So many of each, kinds in turn."""
    return (
        [drawn(FAULTS[at % len(FAULTS)], seed * 1000 + at) for at in range(faulty)],
        [drawn(SOUNDS[at % len(SOUNDS)], seed * 1000 + at) for at in range(sound)],
    )


def pairs(seed: int, count: int) -> list[Case]:
    """Two faults at once, of those that can meet."""
    draw = Random(f"pairs|{seed}")
    found: list[Case] = []
    while len(found) < count:
        one, other = draw.sample(FAULTS, 2)
        meet = set(one.only) & set(other.only)
        if not meet or one.mode != other.mode or {one.metering, other.metering} == {"valve", "restrictor"}:
            continue
        if one.truth == other.truth or one.truth == "compressor_off" or other.truth == "compressor_off":
            continue
        if set(vars(one.draw(Random(1)))["resistances"]) & set(vars(other.draw(Random(1)))["resistances"]):
            continue
        found.append(drawn(one, seed * 1000 + len(found), other))
    return found


def truth_of(case: Case) -> Any:
    """The machine as it truly is, settled."""
    return run(case.machine, case.day, case.wrong)
