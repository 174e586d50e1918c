"""What may be wrong with a controlled economizer: every fault says which tests it would upset, and how surely."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import dataclass

from fentro_core.economizer.proof.settings import CHANGEOVER, DIFFERENTIAL, LOW_LIMIT, MINIMUM, ON_FAILURE

STANDS, BACKWARDS = "damper.stands", "damper.backwards"
"""Over the tests that drive it: the actuator's answer is the same at every command, or goes the other way."""

AIR_STANDS, AIR_BACKWARDS = "air.stands", "air.backwards"
"""The share of outdoor air, at both ends of the stroke, likewise."""

TRUE_AIR_STANDS, TRUE_AIR_BACKWARDS = "audit.air_stands", "audit.air_backwards"
"""The same by a probe, with the damper shut and part open: no sensor of the unit has a say in it."""

TRUE_AIR_SHUT, TRUE_AIR_SHORT = "audit.open_when_shut", "audit.opens_short"
"""A probe found much outdoor air with the damper shut, or too little with it open."""

TRUE_AIR = (TRUE_AIR_STANDS, TRUE_AIR_BACKWARDS, TRUE_AIR_SHUT, TRUE_AIR_SHORT)

NO_COOLING = "audit.no_cooling"
"""A probe found the supply air no colder than the mixed air with the compressor on."""

CERTAINLY, SURELY, USUALLY, MAYBE, SELDOM = 0.995, 0.93, 0.8, 0.35, 0.1
"""How surely a fault upsets a test. Ours. Usually: of five wrong settings one is not in what the controller shows, but a screw or
a jumper at the module."""


BY_WRONG_AIR = frozenset(
    {
        "closed.outdoor_share.high",
        "closed.outdoor_share.low",
        "full.outdoor_share.low",
        "minimum.outdoor_share.low",
        "minimum.outdoor_share.high",
        "cool.damper_position.low",
    }
)
"""What a sensor that shows another temperature than that of its air may upset."""


@dataclass(frozen=True, kw_only=True)
class Upsets:
    """What one variant of a fault upsets: ``test.point.side``, ``test.not_ready``, ``audit.swapped`` ..."""

    certainly: Set[str] = frozenset()
    surely: Set[str] = frozenset()
    usually: Set[str] = frozenset()
    maybe: Set[str] = frozenset()
    seldom: Set[str] = frozenset()

    def chances(self) -> Mapping[str, float]:
        """How likely each sign is, by sign."""
        return {
            **dict.fromkeys(self.seldom, SELDOM),
            **dict.fromkeys(self.maybe, MAYBE),
            **dict.fromkeys(self.usually, USUALLY),
            **dict.fromkeys(self.surely, SURELY),
            **dict.fromkeys(self.certainly, CERTAINLY),
        }


@dataclass(frozen=True)
class ControlFault:
    """Something that may be wrong, what to do and who may; each variant shows in its own way.

    `hides`: signs of other faults that can't be seen while this one is there.
    """

    key: str
    name: str
    do: str
    who: str
    variants: tuple[Upsets, ...]
    hides: Set[str] = frozenset()


FAULTS: tuple[ControlFault, ...] = (
    ControlFault(
        "stuck_damper",
        "Damper stuck",
        do="Power locked out, loosen the linkage and move the blades by hand: free them or renew the actuator.",
        who="technician",
        variants=(
            Upsets(
                certainly={STANDS, TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHORT,
                    AIR_STANDS,
                    "full.damper_position.low",
                    "cool.damper_position.low",
                    "assist.damper_position.low",
                    "below.damper_position.low",
                    "relief.damper_position.low",
                    "power.not_ready",
                },
                maybe={
                    TRUE_AIR_SHUT,
                    "minimum.damper_position.low",
                    "full.outdoor_share.low",
                    "above.damper_position.low",
                    "heating.damper_position.low",
                    "cold_mixed.not_ready",
                    "cold_outdoor.damper_position.low",
                    "sensor.damper_position.low",
                    "inside.damper_position.low",
                },
            ),
            Upsets(
                certainly={STANDS, TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHORT,
                    TRUE_AIR_SHUT,
                    AIR_STANDS,
                    "closed.damper_position.high",
                    "full.damper_position.low",
                    "assist.damper_position.low",
                    "unoccupied.damper_position.high",
                    "relief.damper_position.low",
                },
                maybe={
                    "assist.damper_position.high",
                    "closed.outdoor_share.high",
                    "minimum.damper_position.high",
                    "full.outdoor_share.low",
                    "cool.damper_position.low",
                    "above.damper_position.high",
                    "inside.not_ready",
                    "below.not_ready",
                    "below.damper_position.low",
                    "heating.damper_position.high",
                    "cold_mixed.damper_position.high",
                    "cold_mixed.not_ready",
                    "power.damper_position.high",
                    "power.not_ready",
                    "sensor.damper_position.high",
                    "minimum.outdoor_share.high",
                },
            ),
            Upsets(
                certainly={STANDS, TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHUT,
                    AIR_STANDS,
                    "closed.damper_position.high",
                    "minimum.damper_position.high",
                    "above.damper_position.high",
                    "inside.not_ready",
                    "below.not_ready",
                    "heating.damper_position.high",
                    "unoccupied.damper_position.high",
                    "cold_mixed.damper_position.high",
                    "power.damper_position.high",
                },
                maybe={
                    TRUE_AIR_SHORT,
                    "assist.damper_position.high",
                    "closed.outdoor_share.high",
                    "minimum.outdoor_share.high",
                    "sensor.damper_position.high",
                    "full.damper_position.low",
                },
            ),
        ),
    ),
    ControlFault(
        "reversed_actuator",
        "Actuator turns the wrong way",
        do="Turn its direction switch, or mount it the other way round; then drive it closed and look at the blades.",
        who="technician",
        variants=(
            Upsets(
                certainly={BACKWARDS, TRUE_AIR_BACKWARDS},
                surely={
                    TRUE_AIR_SHORT,
                    TRUE_AIR_SHUT,
                    AIR_BACKWARDS,
                    "closed.damper_position.high",
                    "minimum.damper_position.high",
                    "full.damper_position.low",
                    "cool.damper_position.low",
                    "above.damper_position.high",
                    "heating.damper_position.high",
                    "unoccupied.damper_position.high",
                    "cold_mixed.damper_position.high",
                    "cold_outdoor.damper_position.low",
                    "relief.damper_position.low",
                    "power.not_ready",
                },
                maybe={
                    "closed.outdoor_share.high",
                    "full.outdoor_share.low",
                    "minimum.outdoor_share.high",
                    "assist.damper_position.low",
                    "assist.damper_position.high",
                    "below.damper_position.low",
                    "inside.damper_position.high",
                    "inside.not_ready",
                    "below.not_ready",
                    "cold_mixed.not_ready",
                    "sensor.damper_position.high",
                    "power.damper_position.high",
                    "any.tripped",
                },
            ),
            Upsets(
                certainly={TRUE_AIR_BACKWARDS},
                surely={
                    TRUE_AIR_SHORT,
                    TRUE_AIR_SHUT,
                    AIR_BACKWARDS,
                    "closed.outdoor_share.high",
                    "full.outdoor_share.low",
                },
                maybe={
                    "minimum.outdoor_share.high",
                    "any.tripped",
                },
            ),
        ),
    ),
    ControlFault(
        "slipped_linkage",
        "Linkage slips",
        do="Power locked out, set the blades shut with the actuator shut, and tighten the clamp; mark the shaft.",
        who="technician",
        variants=(
            Upsets(
                certainly={TRUE_AIR_SHORT},
                surely={
                    "full.outdoor_share.low",
                },
                maybe={
                    "minimum.outdoor_share.low",
                },
                seldom={TRUE_AIR_STANDS},
            ),
        ),
    ),
    ControlFault(
        "loose_blades",
        "Blades loose on their shaft",
        do="Power locked out, set the blades by hand, tighten their clamps; drive the whole stroke and look.",
        who="technician",
        hides={AIR_BACKWARDS, TRUE_AIR_BACKWARDS},
        variants=(
            Upsets(
                certainly={TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHORT,
                    AIR_STANDS,
                    "full.outdoor_share.low",
                },
                maybe={
                    TRUE_AIR_SHUT,
                    "minimum.outdoor_share.low",
                    "any.tripped",
                },
            ),
            Upsets(
                certainly={TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHORT,
                    TRUE_AIR_SHUT,
                    AIR_STANDS,
                    "full.outdoor_share.low",
                    "closed.outdoor_share.high",
                },
                maybe={
                    "minimum.outdoor_share.high",
                    "any.tripped",
                },
            ),
            Upsets(
                certainly={TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHUT,
                    AIR_STANDS,
                    "closed.outdoor_share.high",
                    "minimum.outdoor_share.high",
                },
                maybe={
                    TRUE_AIR_SHORT,
                    "full.outdoor_share.low",
                    "any.tripped",
                },
            ),
            # Open in the cold: the low limit drives the actuator shut, and the air stays as cold as it was.
            Upsets(
                certainly={TRUE_AIR_STANDS},
                surely={
                    TRUE_AIR_SHUT,
                    AIR_STANDS,
                    "closed.outdoor_share.high",
                    "minimum.outdoor_share.high",
                    "cool.damper_position.low",
                    "above.damper_position.low",
                    "below.damper_position.low",
                },
                maybe={
                    TRUE_AIR_SHORT,
                    "full.outdoor_share.low",
                    "inside.damper_position.low",
                    "heating.damper_position.low",
                    "sensor.damper_position.low",
                    "cold_mixed.not_ready",
                    "any.tripped",
                },
            ),
        ),
    ),
    ControlFault(
        "low_limit_tied",
        "Low limit reads the outdoor sensor",
        do="Tie the loop to the mixed-air sensor in the configuration; save as found first.",
        who="technician",
        variants=(
            Upsets(
                surely={
                    "cold_mixed.damper_position.high",
                    "cold_outdoor.damper_position.low",
                },
                maybe={LOW_LIMIT},
            ),
            Upsets(
                surely={
                    "cold_outdoor.damper_position.low",
                    "cool.damper_position.low",
                },
                maybe={
                    LOW_LIMIT,
                    "cold_mixed.damper_position.high",
                    "cold_mixed.not_ready",
                    "above.damper_position.low",
                    "heating.damper_position.low",
                    "sensor.damper_position.low",
                },
            ),
        ),
    ),
    ControlFault(
        "swapped_sensors",
        "Two sensors swapped",
        do="Follow the wires; swap them back, or their names in the configuration.",
        who="technician",
        variants=(
            Upsets(certainly={"audit.swapped"}),
            Upsets(certainly={"audit.swapped"}, surely={"sensor.damper_position.low"}),
            Upsets(
                certainly={"audit.swapped"},
                surely={AIR_BACKWARDS, "closed.outdoor_share.high", "full.outdoor_share.low"},
                maybe={"minimum.outdoor_share.high", "any.tripped"},
            ),
            Upsets(
                certainly={
                    "audit.swapped",
                },
                surely={
                    "above.damper_position.low",
                    "heating.damper_position.low",
                    "inside.damper_position.low",
                    "cool.damper_position.low",
                    "below.damper_position.low",
                },
                maybe={
                    "cool.compressor.high",
                    "cold_mixed.not_ready",
                    "any.tripped",
                },
            ),
            Upsets(
                certainly={
                    "audit.swapped",
                },
                maybe={
                    "any.tripped",
                    *BY_WRONG_AIR,
                    AIR_STANDS,
                    AIR_BACKWARDS,
                    "full.outdoor_share.high",
                    "below.damper_position.low",
                    "cold_outdoor.damper_position.low",
                    "inside.damper_position.low",
                    "sensor.damper_position.low",
                },
            ),
        ),
    ),
    ControlFault(
        "drifted_sensor",
        "A sensor shows a wrong temperature",
        do="Clean its connector, check it by resistance, renew it if it drifts.",
        who="technician",
        variants=(
            Upsets(certainly={"audit.drifted"}),
            Upsets(
                certainly={
                    "audit.drifted",
                },
                maybe=BY_WRONG_AIR,
            ),
        ),
    ),
    ControlFault(
        "misplaced_sensor",
        "A sensor in another sensor's air",
        do="Follow its wire, and move it into its own air, away from coil, heater and bare metal.",
        who="technician",
        variants=(
            Upsets(certainly={"audit.misplaced"}),
            Upsets(
                certainly={"audit.misplaced"},
                surely={AIR_STANDS, "full.outdoor_share.low"},
                maybe={"minimum.outdoor_share.low"},
            ),
            Upsets(
                certainly={
                    "audit.misplaced",
                },
                maybe={
                    *BY_WRONG_AIR,
                    AIR_STANDS,
                    "assist.damper_position.low",
                    "above.damper_position.low",
                    "inside.damper_position.low",
                    "cold_mixed.not_ready",
                },
            ),
        ),
    ),
    ControlFault(
        "wrong_changeover",
        "Changeover set wrong",
        do="Set the changeover as planned.",
        who="technician",
        variants=(
            Upsets(
                usually={CHANGEOVER},
                surely={
                    "above.damper_position.high",
                    "above.compressor.low",
                    "inside.not_ready",
                    "below.not_ready",
                },
            ),
            Upsets(
                usually={CHANGEOVER},
                surely={
                    "below.damper_position.low",
                },
            ),
            # Where it lets no outdoor air cool, the damper stays as well as the compressor runs: never the one without the other.
            Upsets(
                usually={CHANGEOVER},
                surely={
                    "below.damper_position.low",
                    "cool.damper_position.low",
                    "cool.compressor.high",
                    "cold_mixed.not_ready",
                },
                maybe={
                    "assist.damper_position.low",
                },
            ),
        ),
    ),
    ControlFault(
        "wrong_minimum",
        "Minimum position set wrong",
        do="Set the minimum position by the measured share.",
        who="technician",
        variants=(
            Upsets(
                usually={MINIMUM},
                surely={
                    "above.damper_position.high",
                    "inside.not_ready",
                    "below.not_ready",
                    "heating.minimum.high",
                    "sensor.minimum.high",
                },
                maybe={"assist.damper_position.high"},
            ),
            Upsets(
                usually={MINIMUM},
                surely={
                    "above.damper_position.high",
                },
                maybe={
                    "heating.minimum.high",
                    "sensor.minimum.high",
                    "inside.not_ready",
                    "below.not_ready",
                    "inside.damper_position.high",
                    "assist.damper_position.high",
                },
            ),
            Upsets(
                usually={MINIMUM},
                surely={
                    "above.damper_position.low",
                    "heating.minimum.low",
                    "sensor.minimum.low",
                },
                maybe={
                    "inside.damper_position.low",
                    "assist.damper_position.low",
                    "cold_mixed.not_ready",
                },
                seldom={"cold_outdoor.damper_position.low"},
            ),
        ),
    ),
    ControlFault(
        "relief_blocked",
        "Relief does not open",
        do="Free the relief damper; look for screens full of leaves, and a fan that runs the wrong way.",
        who="technician",
        variants=(
            Upsets(
                surely={
                    "relief.building_pressure.high",
                },
            ),
        ),
    ),
    ControlFault(
        "compressor_not_locked",
        "Compressor runs although outdoor air cools",
        do="Wire or set the interlock: outdoor air first.",
        who="technician",
        hides={"above.compressor.low", "assist.compressor.low"},
        variants=(
            Upsets(
                surely={
                    "cool.compressor.high",
                },
            ),
            Upsets(
                surely={
                    "cool.compressor.high",
                },
                maybe={
                    "assist.compressor.high",
                    "assist.damper_position.high",
                },
                seldom={
                    "cool.damper_position.low",
                    "assist.damper_position.low",
                    "below.damper_position.low",
                },
            ),
        ),
    ),
    ControlFault(
        "no_cooling",
        "Compressor does not run, or does not cool",
        do="Wait out its rest time and compare again. Then contactor, safeties, power: a licensed person where it carries mains.",
        who="licensed person",
        variants=(
            Upsets(
                certainly={
                    NO_COOLING,
                },
                maybe={
                    "above.compressor.low",
                    "assist.compressor.low",
                },
            ),
            Upsets(
                surely={
                    "above.compressor.low",
                    "assist.compressor.low",
                },
            ),
        ),
    ),
    ControlFault(
        "no_differential",
        "Changeover has no switching differential",
        do="Set a differential of 1 to 2 °F (about 1 K).",
        who="technician",
        variants=(
            Upsets(
                usually={DIFFERENTIAL},
                surely={
                    "inside.damper_position.high",
                },
            ),
        ),
    ),
    ControlFault(
        "fail_safe",
        "Falls to the wrong side when power or a sensor fails",
        do="Mount the actuator so that its spring closes; set the fallback as planned.",
        who="technician",
        variants=(
            Upsets(
                surely={
                    "power.damper_position.high",
                },
            ),
            Upsets(
                usually={ON_FAILURE},
                surely={
                    "sensor.damper_position.high",
                },
            ),
            Upsets(
                surely={
                    "power.damper_position.high",
                    "sensor.damper_position.high",
                },
                maybe={ON_FAILURE},
            ),
            Upsets(
                usually={ON_FAILURE},
                surely={
                    "sensor.damper_position.low",
                },
            ),
        ),
    ),
)

FAULTS_BY_KEY: dict[str, ControlFault] = {fault.key: fault for fault in FAULTS}
