"""The table of causes: what each one shows when it is there, what to look at first, what to do, and who may do it.

Ours, after the trade's usual reasoning (docs/method.md, "Findings"). A cause that expects a thing in one of several states
lists them with ``|``; things it says nothing about may be in any state.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.findings.signs import (
    ANYONE,
    CERTIFIED,
    CIRCUIT,
    COOLING,
    ELECTRICAL,
    FLAME,
    GAS,
    HEATING,
    HEIGHT,
    LICENSED,
    POWER_OFF,
    PUMP,
    ROOF,
    SPLIT_SYSTEMS,
    TECHNICIAN,
)

Part = Literal["air", "cooling", "heating", "leakage", "measuring"]

PART_NAMES: dict[Part, str] = {
    "air": "Airflow",
    "cooling": "Cooling",
    "heating": "Heating",
    "leakage": "Leakage",
    "measuring": "Measuring",
}


@dataclass(frozen=True)
class Cause:
    """One cause. `expects`: state (or states, ``a|b``) of each thing it shows in. `proof`: the look that proves it best.

    `mode`: only while cooling, or heating. `kinds`: only on these kinds of system; empty means all.
    `rare`: seldom met; it stands behind a common cause of the same fit.
    """

    key: str
    name: str
    part: Part
    why: str
    do: str
    expects: dict[str, str]
    proof: str
    who: str = TECHNICIAN
    caution: str = ""
    mode: str = ""
    kinds: tuple[str, ...] = ()
    rare: bool = False


_STARVED = {"airflow": "low", "split": "high|right", "capacity": "low|right", "rise": "high", "outlet": "over|under",
            "heat": "right|high", "pickup": "same", "leak": "tight", "superheat": "low|right",
            "condenser_air": "low|right"}  # fmt: skip
"""What too little air shows, whatever holds it back."""

_RUNS_RIGHT = {"airflow": "right|high", "filter_drop": "right|low", "coil_drop": "right|low", "static": "right|low",
               "pickup": "same", "leak": "tight"}  # fmt: skip
"""The air side is sound."""

CAUSES: dict[str, Cause] = {
    cause.key: cause
    for cause in (
        # airflow
        Cause("filter_clogged", "Filter clogged", "air", "Dust holds the air back: little flow, large drop over the filter.",
              "Change the filter; read the drop again with the new one.",
              {**_STARVED, "filter_drop": "high", "static": "high|right", "coil_drop": "right|low", "return_drop": "right|low",
               "supply_drop": "right|low", "filter_seen": "yes"}, "filter_seen", ANYONE, POWER_OFF),
        Cause("filter_thick", "Filter too fine for this blower", "air", "A fine filter drops more than the blower has to spare.",
              "A larger or deeper filter of the same fineness.",
              {**_STARVED, "filter_drop": "high", "static": "high|right", "coil_drop": "right|low", "filter_seen": "no",
               "filter_thick": "yes"}, "filter_thick", TECHNICIAN, POWER_OFF, rare=True),
        Cause("coil_dirty", "Coil face dirty", "air", "Dust mats on the coil's wet face: large drop, little flow, little heat moved.",
              "Clean the coil; look how dust got past the filter.",
              {**_STARVED, "coil_drop": "high", "static": "high|right", "filter_drop": "right|low", "capacity": "low", "return_drop": "right|low",
               "coil_dirty": "yes"}, "coil_dirty", TECHNICIAN, POWER_OFF),
        Cause("coil_frozen", "Coil frozen", "air", "Ice closes the coil: flow falls, and so does everything else.",
              "Stop cooling, run the blower till it has thawed, then find out why: air or charge.",
              {**_STARVED, "coil_drop": "high", "split": "low|right|high", "capacity": "low", "suction": "cold", "frost": "yes",
               "superheat": "low"}, "frost", TECHNICIAN, mode=COOLING),
        Cause("return_small", "Return too small", "air", "The return duct or grille is too small: high suction before the filter.",
              "A second return, or a larger grille and duct.",
              {**_STARVED, "return_drop": "high", "static": "high|right", "filter_drop": "right|low", "coil_drop": "right|low",
               "supply_drop": "right|low", "return_whistles": "yes"}, "return_whistles", TECHNICIAN),
        Cause("registers_closed", "Registers shut or covered", "air", "Shut registers hold the air back: high supply static.",
              "Open them; look for furniture and rugs.",
              {**_STARVED, "supply_drop": "high", "static": "high|right", "filter_drop": "right|low", "coil_drop": "right|low",
               "return_drop": "right|low", "registers_shut": "yes"}, "registers_shut", ANYONE),
        Cause("duct_crushed", "Supply duct crushed or too small", "air", "A kinked or undersized supply holds the air back.",
              "Straighten, support or replace it.",
              {**_STARVED, "supply_drop": "high", "static": "high|right", "filter_drop": "right|low", "coil_drop": "right|low",
               "registers_shut": "no", "duct_crushed": "yes", "worst_room_far": "yes"}, "duct_crushed", TECHNICIAN, HEIGHT, rare=True),
        Cause("zones_shut", "Zone or balancing dampers shut", "air", "Closed dampers leave the blower no way out.",
              "Find out which zone calls; open what should be open.",
              {**_STARVED, "supply_drop": "high", "static": "high|right", "registers_shut": "no", "zones_shut": "yes"}, "zones_shut", rare=True),
        Cause("blower_low", "Blower speed set too low", "air", "Every drop is small and so is the flow: the blower does not push.",
              "Set the tap or speed for this job; read flow and static again.",
              {**_STARVED, "static": "low|right", "filter_drop": "right|low", "coil_drop": "right|low", "return_drop": "right|low",
               "supply_drop": "right|low", "tap_low": "yes"}, "tap_low", TECHNICIAN, POWER_OFF),
        Cause("wheel_dirty", "Blower wheel caked", "air", "Caked blades move little air at the right speed.", "Clean the wheel.",
              {**_STARVED, "static": "low|right", "filter_drop": "right|low", "coil_drop": "right|low", "return_drop": "right|low",
               "supply_drop": "right|low", "tap_low": "no", "wheel_dirty": "yes"}, "wheel_dirty", TECHNICIAN, POWER_OFF, rare=True),
        Cause("belt_slips", "Belt slips", "air", "A slipping belt turns the wheel too slowly.", "Set or change the belt.",
              {**_STARVED, "static": "low|right", "filter_drop": "right|low", "coil_drop": "right|low", "return_drop": "right|low",
               "supply_drop": "right|low", "belt_slips": "yes"}, "belt_slips", TECHNICIAN, POWER_OFF, kinds=ROOF, rare=True),
        Cause("motor_weak", "Blower motor or capacitor weak", "air", "The motor turns too slowly.", "Test capacitor and motor; replace.",
              {**_STARVED, "static": "low|right", "filter_drop": "right|low", "coil_drop": "right|low", "return_drop": "right|low",
               "supply_drop": "right|low", "tap_low": "no", "motor_weak": "yes"}, "motor_weak", ELECTRICAL, POWER_OFF, rare=True),
        Cause("blower_high", "Blower speed set too high", "air", "More air than rated: small split or rise, full output.",
              "Set the tap or speed for this job.",
              {"airflow": "high", "split": "low|right", "capacity": "right|high", "rise": "low|right", "heat": "right", "static": "right|high",
               "shr": "right|high", "superheat": "right|high", "pickup": "same", "leak": "tight", "tap_high": "yes"}, "tap_high",
              TECHNICIAN, POWER_OFF),
        Cause("filter_missing", "Filter missing, or air goes past it", "air", "No drop over the filter, dust goes to the coil.",
              "Put a filter in, close the gaps, look at the coil.",
              {"filter_drop": "low", "airflow": "right|high", "split": "right|low", "capacity": "right|high", "filter_missing": "yes"},
              "filter_missing", ANYONE, POWER_OFF),
        # cooling
        Cause("low_charge", "Refrigerant charge low", "cooling", "Too little refrigerant: the coil is starved and warm at its end.",
              "Find and mend the leak, then weigh the charge in.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "shr": "right|high", "superheat": "high", "subcooling": "low",
               "condensing": "low|right", "condenser_air": "low|right", "suction": "warm|cool", "amps": "low|right", "oil_stain": "yes", "heat": "low",
               "rise": "low"}, "oil_stain", CERTIFIED, CIRCUIT),
        Cause("high_charge", "Refrigerant charge high", "cooling", "Liquid backs up in the condenser: pressure and current rise.",
              "Take charge out by the plate's subcooling or superheat.",
              {**_RUNS_RIGHT, "split": "low|right", "capacity": "low|right", "superheat": "low|right", "subcooling": "high",
               "condensing": "high|right", "amps": "high|right", "condenser_air": "right|high", "condenser_dirty": "no"}, "subcooling", CERTIFIED,
              CIRCUIT, mode=COOLING),
        Cause("foreign_gas", "Air or other gas in the circuit", "cooling", "A gas that does not condense takes up the condenser.",
              "Recover, evacuate, weigh a fresh charge in.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "subcooling": "high", "condensing": "high", "amps": "high",
               "superheat": "right|low", "condenser_dirty": "no"}, "condensing", CERTIFIED, CIRCUIT, mode=COOLING, rare=True),
        Cause("liquid_restricted", "Liquid line restricted", "cooling", "A clogged drier or kinked line starves the coil.",
              "Find the cold spot; change the drier.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "superheat": "high", "subcooling": "high|right", "condensing": "low|right",
               "condenser_air": "low|right", "drier_cold": "yes", "amps": "low|right"}, "drier_cold", CERTIFIED, CIRCUIT, mode=COOLING, rare=True),
        Cause("valve_starves", "Expansion valve gives too little", "cooling", "The valve starves the coil: a lost bulb charge, dirt, or its setting.",
              "Bulb, strainer, setting; then the valve.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "superheat": "high", "subcooling": "right|high", "condensing": "low|right",
               "condenser_air": "low|right", "amps": "low|right", "drier_cold": "no"}, "superheat", CERTIFIED, CIRCUIT, mode=COOLING, rare=True),
        Cause("valve_floods", "Expansion valve gives too much", "cooling", "The bulb is loose or bare, and the valve stands open.",
              "Strap and insulate the bulb.",
              {**_RUNS_RIGHT, "split": "right|low", "capacity": "right|low", "superheat": "low", "subcooling": "low|right", "suction": "cold",
               "bulb_loose": "yes"}, "bulb_loose", CERTIFIED, CIRCUIT, mode=COOLING, rare=True),
        Cause("compressor_weak", "Compressor pumps badly", "cooling", "Worn valves or scrolls: pressures come together, little is pumped.",
              "Prove it by pressures and current before it is condemned.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "superheat": "right|low", "subcooling": "right|low", "condensing": "low",
               "suction": "warm|cool", "amps": "low", "condenser_air": "low|right", "oil_stain": "no", "heat": "low", "rise": "low"}, "amps",
              CERTIFIED, CIRCUIT, rare=True),
        Cause("compressor_off", "Compressor does not run", "cooling", "The fans run and nothing is moved: contactor, capacitor, protection.",
              "Find out why it is held off, then why it tripped.",
              {"change": "nothing", "split": "low", "capacity": "low", "suction": "warm", "amps": "low", "condenser_air": "low",
               "compressor_silent": "yes", "heat": "low", "rise": "low", "airflow": "right|high"}, "compressor_silent", ELECTRICAL,
              POWER_OFF),
        Cause("condenser_dirty", "Condenser coil dirty or blocked", "cooling", "The heat can't leave: pressure and current rise.",
              "Clean it from inside out; clear a metre around it.",
              {**_RUNS_RIGHT, "split": "low|right", "capacity": "low|right", "condensing": "high", "amps": "high|right",
               "condenser_air": "high", "subcooling": "right|low", "superheat": "right", "condenser_dirty": "yes", "recirculation": "same"}, "condenser_dirty",
              TECHNICIAN, POWER_OFF, mode=COOLING),
        Cause("condenser_fan", "Condenser fan slow or backwards", "cooling", "Little air over the condenser: it comes out very warm.",
              "Capacitor, motor, direction.",
              {**_RUNS_RIGHT, "split": "low|right", "capacity": "low|right", "condensing": "high", "amps": "high|right", "condenser_air": "high",
               "subcooling": "right|low", "condenser_fan_weak": "yes", "condenser_dirty": "no"}, "condenser_fan_weak", ELECTRICAL, POWER_OFF, mode=COOLING, rare=True),
        Cause("recirculation", "Condenser draws in its own air", "cooling", "A wall, deck or hedge turns the warm air back.",
              "Give it room, or a baffle.",
              {**_RUNS_RIGHT, "recirculation": "warmer", "condensing": "right|high", "amps": "right|high", "capacity": "low|right", "split": "low|right",
               "condenser_air": "right"}, "recirculation", TECHNICIAN, mode=COOLING, rare=True),
        Cause("heat_on", "Heat is on while it cools", "cooling", "A stuck relay or sequencer heats what was just cooled.",
              "Find the relay; check the wiring.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "shr": "low", "superheat": "right|low", "condenser_air": "right",
               "subcooling": "right", "heat_on": "yes"}, "heat_on", ELECTRICAL, POWER_OFF, mode=COOLING, rare=True),
        Cause("damper_open", "Outdoor damper stands too far open", "cooling", "The unit cools outdoor air instead of the room's.",
              "Linkage, actuator, minimum position.",
              {"outdoor_share": "large", "airflow": "right|high", "split": "low|right|high", "damper_open": "yes"}, "damper_open",
              TECHNICIAN, HEIGHT, kinds=("packaged_rooftop", "split_heat_pump")),
        Cause("water_blown", "Water blown off the coil, or evaporated again", "cooling", "The supply air takes back what the coil took out.",
              "Less air over the coil; fan off when cooling stops; drain and trap.",
              {"moisture": "wetter", "shr": "high", "capacity": "low|right", "split": "right|low|high", "airflow": "right|high",
               "drops_blown": "yes"}, "drops_blown", TECHNICIAN, mode=COOLING, rare=True),
        Cause("wrong_piston", "Restrictor of the wrong size", "cooling", "Too wide floods, too narrow starves: charge by superheat never settles.",
              "Compare with the outdoor unit's plate; change the piston.",
              {**_RUNS_RIGHT, "split": "low|right", "capacity": "low|right", "superheat": "low|high", "subcooling": "low|high",
               "condensing": "right|low", "oil_stain": "no", "plate_differs": "yes"}, "plate_differs", CERTIFIED, CIRCUIT, mode=COOLING, kinds=SPLIT_SYSTEMS, rare=True),
        Cause("valve_leaks", "Reversing valve leaks through", "cooling", "Hot gas leaks back to the suction: it acts like a weak compressor.",
              "Compare the valve's pipes; replace it.",
              {**_RUNS_RIGHT, "split": "low", "capacity": "low", "heat": "low", "rise": "low", "superheat": "high|right", "condensing": "low|right",
               "suction": "warm", "valve_leaks": "yes"}, "valve_leaks", CERTIFIED, CIRCUIT, kinds=PUMP, rare=True),
        # heating
        Cause("over_fired", "Burner gives too much", "heating", "More gas than the plate says: large rise at the right airflow.",
              "Clock the meter, set the gas pressure, check the flue.",
              {"rise": "high", "outlet": "over|under", "heat": "high", "airflow": "right|high", "flows": "apart|agree", "supply_layers": "even", "static": "right|low", "filter_drop": "right|low",
               "coil_drop": "right|low", "meter_fast": "yes", "probe_sees": "no"}, "meter_fast", LICENSED, FLAME, mode=HEATING, kinds=GAS),
        Cause("under_fired", "Burner gives too little", "heating", "Less gas than the plate says: small rise at the right airflow.",
              "Clock the meter, set the gas pressure, check the orifices.",
              {"rise": "low|right", "outlet": "under", "heat": "low", "airflow": "right", "flows": "apart|agree", "supply_layers": "even", "meter_slow": "yes", "pickup": "same", "leak": "tight",
               "burner_cycles": "no"}, "meter_slow", LICENSED, FLAME, mode=HEATING, kinds=GAS),
        Cause("limit_cycles", "Burner goes out on its limit", "heating", "Too hot inside: the limit stops the burner, and the rise wanders.",
              "Find the missing air first; never bridge a limit.",
              {"steadiness": "early", "rise": "high|right", "airflow": "low", "static": "high|right", "heat": "low|right",
               "burner_cycles": "yes"}, "burner_cycles", LICENSED, FLAME, mode=HEATING, kinds=GAS),
        Cause("element_dead", "An electric element is dead", "heating", "Part of the heater draws nothing.",
              "Fuse link, limit, sequencer, element.",
              {"heat": "low", "rise": "low", "airflow": "right|high", "element_dead": "yes"}, "element_dead", ELECTRICAL, POWER_OFF,
              mode=HEATING, kinds=PUMP),
        Cause("outdoor_iced", "Outdoor coil iced, no defrost", "heating", "Ice insulates the outdoor coil: little heat comes in.",
              "Defrost board, sensor, reversing valve.",
              {"heat": "low", "rise": "low", "airflow": "right|high", "outdoor_iced": "yes"}, "outdoor_iced", TECHNICIAN, POWER_OFF,
              mode=HEATING, kinds=PUMP),
        # leakage
        Cause("return_leak", "Return draws in air from around the duct", "leakage", "A gap under suction: the unit cools or heats attic or crawl-space air.",
              "Find the gap by smoke or hand, seal it with mastic, read again.",
              {"pickup": "changed", "layers": "apart", "leak": "leaks", "split": "right|low|high", "capacity": "right|low|high",
               "airflow": "right|high", "rise": "right|low", "heat": "right", "seam_open": "yes", "better_when_cool": "yes",
               "superheat": "right|high", "subcooling": "right"}, "seam_open",
              TECHNICIAN, HEIGHT),
        Cause("return_bare", "Return duct takes up heat through its wall", "leakage", "A bare duct warms the air without letting any in.",
              "Insulate it.",
              {"pickup": "changed", "layers": "even", "leak": "tight", "airflow": "right|high", "split": "right", "capacity": "right",
               "return_bare": "yes", "better_when_cool": "yes"}, "return_bare", TECHNICIAN, HEIGHT),
        Cause("supply_leak", "Supply duct leaks", "leakage", "Conditioned air is lost before the rooms: less at the registers than through the unit.",
              "Seal the joints; hood the registers again.",
              {"registers": "low", "airflow": "right|high", "supply_drop": "low|right", "split": "right", "capacity": "right", "rise": "right", "heat": "right",
               "pickup": "same", "supply_open": "yes", "worst_room_far": "yes"}, "supply_open", TECHNICIAN, HEIGHT),
        # measuring
        Cause("too_early", "Read too early", "measuring", "The unit had not settled: nothing that follows can be trusted.",
              "Wait for the settle clock, then read again.",
              {"steadiness": "early", "split": "low|right|high", "capacity": "low|right|high", "rise": "low|right", "heat": "low|right|high",
               "airflow": "right", "pickup": "same", "burner_cycles": "no"}, "steadiness"),
        Cause("one_probe_off", "One probe reads wrong", "measuring", "What one probe shows fits nothing else.",
              "Match the probes, or read both places with one.",
              {"match": "apart", "split": "low|high", "capacity": "low|high", "shr": "low|high", "moisture": "drier|wetter", "calibration": "overdue|valid",
               "airflow": "right", "superheat": "right", "subcooling": "right", "condenser_air": "right", "amps": "right", "condensing": "right",
               "filter_drop": "right", "coil_drop": "right", "static": "right|low", "layers": "even", "supply_layers": "even", "probe_swap_moves": "yes",
               "heat": "low|high", "rise": "low|high", "leak": "tight"}, "probe_swap_moves"),
        Cause("probe_sees", "Supply probe in sight of hot metal", "measuring", "Radiation warms the probe: the rise reads high.",
              "Move it past a bend, out of sight of the heat exchanger.",
              {"rise": "high", "outlet": "over|under", "heat": "high", "airflow": "right|high", "flows": "apart|agree", "supply_layers": "apart", "static": "right|low", "filter_drop": "right|low",
               "coil_drop": "right|low", "meter_fast": "no", "probe_sees": "yes"}, "probe_sees", mode=HEATING),
        Cause("probe_touches", "Supply probe in the wrong place", "measuring", "It touches coil or wall, hangs in spray, or reads one layer.",
              "Move it down the duct, past a bend; several points.",
              {"split": "high|low", "capacity": "high|low", "shr": "low|high", "moisture": "drier|wetter", "airflow": "right|high", "superheat": "right",
               "subcooling": "right", "condenser_air": "right", "match": "agree", "supply_layers": "apart", "probe_touches": "yes", "rise": "low|high", "amps": "right"},
              "probe_touches", mode=""),
        Cause("single_point", "Return read at one point only", "measuring", "A layered return hides its warm side from one probe.",
              "Read left and right, high and low.",
              {"layers": "apart", "pickup": "same", "split": "low|high|right", "capacity": "low|high|right", "leak": "tight"}, "layers", rare=True),
        Cause("altitude_ignored", "Site's height left out", "measuring", "Thin air carries less: cooling comes out too large by its share.",
              "Set the elevation or a barometer for this site.",
              {"pressure_known": "unset", "air_pressure": "differs", "split": "high|right", "capacity": "high", "heat": "high", "airflow": "right",
               "pickup": "same", "superheat": "right|low", "subcooling": "right", "condenser_air": "right|high|low"}, "air_pressure"),
        Cause("flow_misread", "Airflow read wrongly", "measuring", "A leaky hood, a plane near a bend, a wrong size: the flow does not fit the rest.",
              "Measure it a second way.",
              {"flows": "apart", "split": "right", "capacity": "high|low", "airflow": "high|low", "filter_drop": "right", "coil_drop": "right",
               "static": "right", "heat": "high|low", "supply_layers": "even", "rise": "right", "hood_leaks": "yes"}, "hood_leaks"),
        Cause("air_backwards", "Return and supply mixed up", "measuring", "The filter's arrow stands against the path shown.",
              "Follow the air again before anything else.", {"arrow": "against", "change": "heats|cools|nothing"}, "arrow"),
        Cause("outdoor_sunlit", "Outdoor air read in sun or warm breath", "measuring", "The target is made for air that is not there.",
              "Read in the shade, away from the condenser.",
              {"split": "high|right", "capacity": "high", "recirculation": "same", "outdoor_sunlit": "yes", "airflow": "right",
               "superheat": "right"}, "outdoor_sunlit", mode=COOLING, rare=True),
        Cause("plate_wrong", "Unit is not what its plate here says", "measuring", "Another size or model stands there than is written here.",
              "Read the plate on the unit; correct it here.",
              {"capacity": "high|low", "split": "right|high|low", "airflow": "high|low", "plate_differs": "yes", "heat": "high|low",
               "filter_drop": "right", "coil_drop": "right"}, "plate_differs", rare=True),
    )
}  # fmt: skip
"""Every cause, by key, in the order of the work."""
