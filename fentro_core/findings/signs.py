"""What a finding is made from: each thing looked at, the states it can be in, and how to look at it.

A sign is one thing in one state ("airflow: low"). Numbers give most of them; the rest are questions a technician answers by
eye. What is in its ordinary state supports a cause weakly, what is out of order supports it fully.
"""

from __future__ import annotations

from dataclasses import dataclass

ANYONE, TECHNICIAN, CERTIFIED, LICENSED, ELECTRICAL = (
    "Anyone in the house",
    "Technician",
    "Certified refrigerant technician",
    "Licensed combustion technician, with an analyser",
    "Technician qualified for live electrical work",
)

POWER_OFF = "Lock out power before opening; capacitors hold charge; keep hands from a blower until it stands still."
CIRCUIT = "Refrigerant circuit: certified persons only."
FLAME = "Gas and carbon monoxide: a licensed person with an analyser."
HEIGHT = "Ladder, roof and attic: three points of contact, heat breaks; leave asbestos-like insulation alone."


@dataclass(frozen=True)
class Look:
    """One thing to look at.

    `states`: what it can be, each in words; `ordinary`: the state of a sound system. `ask`: how to find out. `telling`: counts
    double, because it hardly comes from anything else. `mode`: only while cooling or heating. `kinds`: only these systems.
    """

    key: str
    title: str
    states: dict[str, str]
    ordinary: str
    ask: str
    minutes: float = 3.0
    who: str = TECHNICIAN
    caution: str = ""
    telling: bool = False
    by_eye: bool = False
    mode: str = ""
    kinds: tuple[str, ...] = ()
    context: bool = False
    stations: tuple[str, ...] = ()


def _band(key: str, title: str, low: str, right: str, high: str, ask: str, minutes: float = 3.0, **more: object) -> Look:
    states = {"low": low, "right": right, "high": high}
    return Look(key, title, states, "right", ask, minutes, **more)  # type: ignore[arg-type]


def _eye(key: str, title: str, question: str, minutes: float, caution: str = "", **more: object) -> Look:
    states = {"yes": f"{title}: yes", "no": f"{title}: no"}
    return Look(key, title, states, "no", question, minutes, caution=caution, by_eye=True, **more)  # type: ignore[arg-type]


COOLING, HEATING = "cooling", "heating"
GAS = ("furnace_with_coil",)
PUMP = ("split_heat_pump",)
ROOF = ("packaged_rooftop",)
SPLIT_SYSTEMS = ("furnace_with_coil", "split_heat_pump")

LOOKS: dict[str, Look] = {
    look.key: look
    for look in (
        Look("change", "What the unit does to the air", {"cools": "The unit cools", "heats": "The unit heats",
             "nothing": "Supply is hardly different from return"}, "", "Read return and supply air.", stations=("return", "supply"),
             context=True),
        _band("split", "Split against target", "Split below target at the plate's airflow", "Split on target",
              "Split above target at the plate's airflow", "Read return, supply and outdoor air.", mode=COOLING,
              stations=("return", "supply", "outdoor")),
        _band("capacity", "Cooling against target", "Too little cooling", "Cooling as expected", "More cooling than the unit can give",
              "Measure the airflow, and humidity at return and supply.", 8, mode=COOLING, stations=("return",)),
        _band("shr", "Sensible heat ratio", "Drier supply air than expected", "Sensible heat ratio as expected",
              "Dries less than expected", "Read humidity at return and supply with one probe.", mode=COOLING,
              stations=("return", "supply")),
        Look("moisture", "Supply against return moisture", {"drier": "Supply air no wetter than return air",
             "wetter": "Supply air wetter than return air"}, "drier", "Read humidity at return and supply with one probe.", mode=COOLING,
             stations=("return", "supply")),
        _band("airflow", "Airflow against the plate", "Airflow low", "Airflow as on the plate", "Airflow high",
              "Measure the airflow: hood, traverse or fan table.", 10, stations=("return",)),
        Look("flows", "Airflow by several ways", {"agree": "Ways to the airflow agree", "apart": "Two ways to the airflow disagree"},
             "agree", "Measure the airflow a second way.", 10, stations=("return_traverse",)),
        _band("static", "External static against the plate", "External static low", "External static within the plate's limit",
              "External static over the plate's limit", "Read return and supply static.", 5, stations=("return_static", "supply_static")),
        _band("return_drop", "Return duct's drop", "Return duct's drop small", "Return duct's drop ordinary", "Return duct's drop large",
              "Read static in the return, before the filter.", 3, stations=("return_static",)),
        _band("filter_drop", "Filter's drop", "Filter's drop very small", "Filter's drop ordinary", "Filter's drop large",
              "Read static before and after the filter.", 3, stations=("return_static", "filter_static")),
        _band("coil_drop", "Coil's drop", "Coil's drop very small", "Coil's drop ordinary", "Coil's drop large",
              "Read static before and after the coil.", 4, stations=("coil_out_static",)),
        _band("supply_drop", "Supply duct's drop", "Supply static small", "Supply duct's drop ordinary", "Supply duct's drop large",
              "Read static in the supply duct.", 3, stations=("supply_static",)),
        _band("registers", "Registers' sum against the airflow", "Less air at the registers than through the unit",
              "Registers' sum agrees with the airflow", "More air at the registers than through the unit",
              "Hood at every register.", 20),
        Look("pickup", "Return plenum against grille", {"same": "Return plenum as warm as the grille",
             "changed": "Return plenum differs from the grille by over 1.5 K"}, "same",
             "Read the return grille with the probe used in the plenum.", 3, stations=("return_grille",)),
        Look("layers", "Points across the return", {"even": "Points across the return agree",
             "apart": "Points across the return differ by over 1.5 K"}, "even", "Read two points or more across the return, left and right.",
             2, stations=("return",)),
        Look("supply_layers", "Points across the supply", {"even": "Points across the supply agree",
             "apart": "Points across the supply differ by over 1.5 K"}, "even", "Read two points or more across the supply.", 2,
             stations=("supply",)),
        Look("leak", "Return leak test", {"tight": "Return leak test: none found", "leaks": "Return leak test: air is drawn in"}, "tight",
             "Read the grille, and the air around the duct.", 5, caution=HEIGHT, telling=True, stations=("surroundings",)),
        _band("superheat", "Superheat", "Superheat low", "Superheat as it should be", "Superheat high",
              "Suction pressure and suction line temperature.", 10, who=CERTIFIED, caution=CIRCUIT, mode=COOLING,
              stations=("suction_line",)),
        _band("subcooling", "Subcooling", "Subcooling low", "Subcooling as on the plate", "Subcooling high",
              "Liquid pressure and liquid line temperature.", 10, who=CERTIFIED, caution=CIRCUIT, mode=COOLING,
              stations=("liquid_line",)),
        _band("condensing", "Condensing temperature over outdoor air", "Condensing temperature low", "Condensing temperature ordinary",
              "Condensing temperature high", "Liquid pressure, and the air entering the condenser.", 10, who=CERTIFIED, caution=CIRCUIT,
              mode=COOLING, stations=("liquid_line",)),
        _band("condenser_air", "Air's rise over the condenser", "Condenser air hardly warmed", "Condenser air warmed as usual",
              "Condenser air very warm", "Read the air into and out of the condenser.", 4, caution="Keep hands and leads out of the fan.",
              mode=COOLING, stations=("condenser_in", "condenser_out")),
        Look("suction", "Suction line by hand or clamp", {"cold": "Suction line near freezing", "cool": "Suction line cool",
             "warm": "Suction line warm"}, "cool", "Clamp a probe on the larger pipe at the condenser.", 3, mode=COOLING,
             stations=("suction_line",)),
        _band("amps", "Compressor's current against the plate", "Current low", "Current ordinary", "Current high",
              "Clamp the outdoor unit's feed.", 5, who=ELECTRICAL, caution="Live parts.", mode=COOLING, stations=("outdoor_unit",)),
        Look("recirculation", "Condenser inlet against outdoor air", {"same": "Condenser draws outdoor air",
             "warmer": "Condenser draws in its own warm air"}, "same", "Read the condenser's inlet and outdoor air in the shade.", 4,
             mode=COOLING, stations=("condenser_in",)),
        _band("rise", "Rise against the plate", "Rise below the plate's range", "Rise in the plate's range", "Rise above the plate's range",
              "Read return and supply air after ten minutes of steady heating.", 10, mode=HEATING, stations=("return", "supply")),
        Look("outlet", "Supply air against the plate's most", {"under": "Supply air under the plate's maximum",
             "over": "Supply air over the plate's maximum"}, "under", "Read supply air after ten minutes of steady heating.", 10,
             mode=HEATING, stations=("supply",)),
        _band("heat", "Heat given against expected", "Too little heat", "Heat as expected", "Too much heat",
              "Measure the airflow by hood or traverse while heating.", 10, mode=HEATING, stations=("return",)),
        Look("outdoor_share", "Outdoor-air share", {"ordinary": "Outdoor-air share ordinary", "large": "Very much outdoor air"}, "ordinary",
             "Read return, outdoor and mixed air.", 5, stations=("mixed",)),
        Look("steadiness", "Steadiness of the readings", {"steady": "Readings steady", "early": "Readings taken too early"}, "steady",
             "Wait until the readings stand still, and read again.", 10, telling=True),
        Look("match", "Probes side by side", {"agree": "Probes agree side by side", "apart": "Probes differ by more than they may"},
             "agree", "Hold the probes together for two minutes and match them.", 4, telling=True),
        Look("arrow", "Filter's arrow", {"agrees": "Filter's arrow agrees with the air path", "against": "Filter's arrow stands against"},
             "agrees", "Look at the arrow on the filter's frame.", 2, telling=True),
        Look("pressure_known", "Site's air pressure", {"known": "Elevation or barometer is set",
             "unset": "Elevation stands at zero and no barometer is set"}, "known", "Set the site's elevation.", 1, context=True),
        Look("air_pressure", "Barometer against the site's pressure", {"agrees": "Barometer agrees with the site's elevation",
             "differs": "Barometer differs from the pressure used"}, "agrees",
             "Read the air pressure (a phone shows it; not the one corrected to sea level).", 1, telling=True, stations=("outdoor",)),
        Look("calibration", "Calibration", {"valid": "Instruments within their calibration", "overdue": "An instrument is overdue"}, "valid",
             "Look at the instruments' dates.", 1, context=True),
        _eye("filter_seen", "Filter clogged", "Take the filter out. Is it clogged?", 2, POWER_OFF, telling=True, who=ANYONE),
        _eye("filter_thick", "Filter finer than planned", "Is it a finer or thicker filter than the unit was set up with?", 2, POWER_OFF),
        _eye("filter_missing", "Filter missing or bypassed", "Is there no filter, or a gap beside it?", 2, POWER_OFF, telling=True),
        _eye("coil_dirty", "Coil face dirty", "Look at the coil's face with a lamp. Is it matted?", 10, POWER_OFF, telling=True),
        _eye("frost", "Frost", "Is there frost on coil or suction line?", 2, telling=True, mode=COOLING),
        _eye("registers_shut", "Registers shut or covered", "Walk the rooms. Are registers shut or covered?", 6, who=ANYONE, telling=True),
        _eye("return_whistles", "Return grille whistles", "Does the return grille whistle, or the filter door pull hard?", 1),
        _eye("duct_crushed", "Duct crushed", "Is a duct kinked, crushed or too long?", 15, HEIGHT, telling=True),
        _eye("wheel_dirty", "Blower wheel caked", "Look into the blower wheel. Are its blades caked?", 12, POWER_OFF, telling=True),
        _eye("tap_low", "Blower on a low speed", "Is the blower on a lower tap or speed than this job needs?", 5, POWER_OFF, telling=True),
        _eye("tap_high", "Blower on a high speed", "Is the blower on a higher tap or speed than this job needs?", 5, POWER_OFF, telling=True),
        _eye("belt_slips", "Belt slips", "Is the belt loose, glazed or dusty?", 6, POWER_OFF, kinds=ROOF, telling=True),
        _eye("motor_weak", "Blower motor weak", "Is the capacitor out of range, or does the motor run hot or slow?", 10, POWER_OFF,
             who=ELECTRICAL, telling=True),
        _eye("zones_shut", "Zone dampers shut", "Do zone or balancing dampers stand shut?", 6, telling=True),
        _eye("condenser_dirty", "Condenser coil dirty", "Is the condenser's coil matted or its air blocked?", 4, telling=True, mode=COOLING),
        _eye("condenser_fan_weak", "Condenser fan slow", "Does the condenser fan run slow, backwards or not at all?", 2, telling=True,
             mode=COOLING),
        _eye("compressor_silent", "Compressor stands still", "Does the outdoor fan run while the compressor is silent?", 2, telling=True,
             mode=""),
        _eye("oil_stain", "Oil at joints", "Is there oil at joints, valves or the coil?", 5, telling=True),
        _eye("bulb_loose", "Sensing bulb loose", "Is the expansion valve's bulb loose or bare?", 5, telling=True, mode=COOLING),
        _eye("drier_cold", "Drier cold at one side", "Is the liquid line's drier colder after than before?", 3, telling=True, mode=COOLING),
        _eye("heat_on", "Heat on while cooling", "Is electric or gas heat on while it cools?", 4, POWER_OFF, telling=True, mode=COOLING),
        _eye("damper_open", "Outdoor damper open", "Does the outdoor damper stand further open than it should?", 4, HEIGHT, telling=True),
        _eye("drops_blown", "Water drops blown off", "Do drops leave the coil with the air, or does the fan run on after cooling?", 5,
             telling=True, mode=COOLING),
        _eye("meter_fast", "Gas meter fast", "Clock the meter: more than the plate's input?", 8, FLAME, who=LICENSED, telling=True,
             mode=HEATING, kinds=GAS),
        _eye("meter_slow", "Gas meter slow", "Clock the meter: less than the plate's input?", 8, FLAME, who=LICENSED, telling=True,
             mode=HEATING, kinds=GAS),
        _eye("burner_cycles", "Burner goes out and relights", "Does the burner stop on its limit while the blower runs?", 10, FLAME,
             telling=True, mode=HEATING, kinds=GAS),
        _eye("element_dead", "A heater element draws nothing", "Clamp each element: does one draw nothing?", 6, who=ELECTRICAL,
             caution="Live parts.", telling=True, mode=HEATING, kinds=PUMP),
        _eye("outdoor_iced", "Outdoor coil iced", "Is the outdoor coil a block of ice?", 2, telling=True, mode=HEATING, kinds=PUMP),
        _eye("valve_leaks", "Reversing valve leaks", "Are both suction pipes of the reversing valve not equally warm?", 5, telling=True,
             kinds=PUMP),
        _eye("seam_open", "Return run open", "Is there a gap, open seam or missing panel in the return run?", 12, HEIGHT, telling=True),
        _eye("return_bare", "Return run bare", "Is the return duct bare where it is hot or cold around it?", 6, HEIGHT, telling=True),
        _eye("supply_open", "Supply duct open", "Is a supply duct off its collar or leaking?", 15, HEIGHT, telling=True),
        _eye("probe_sees", "Probe sees hot metal", "Can the supply probe see the heat exchanger or heater?", 2, telling=True, mode=HEATING),
        _eye("probe_touches", "Probe touches coil or wall", "Does the supply probe touch metal, or hang in spray?", 2, telling=True),
        _eye("probe_swap_moves", "Reading moves when probes are swapped", "Swap the two probes. Do their readings stay with the probe?", 4,
             telling=True),
        _eye("outdoor_sunlit", "Outdoor probe in sun", "Does the outdoor probe hang in sun or the condenser's breath?", 1, telling=True),
        _eye("hood_leaks", "Flow read wrongly", "Hood not tight, traverse near a bend, or wrong size typed?", 4, telling=True),
        _eye("plate_differs", "Plate differs", "Does the plate on the unit say something else than here?", 3, telling=True),
        _eye("better_when_cool", "Better when it is cool around the duct",
             "Does it cool better in the evening, when the attic is cool?", 1, who=ANYONE, mode=COOLING),
        _eye("worst_room_far", "Only some rooms uncomfortable", "Are only one or two rooms uncomfortable?", 1, who=ANYONE),
    )
}  # fmt: skip
"""Every thing looked at, by key."""

EYE_ITEMS = tuple(look.key for look in LOOKS.values() if look.by_eye)
