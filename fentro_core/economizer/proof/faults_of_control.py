"""What may be wrong with settings, interlocks, compressor and relief: how each shows."""

from __future__ import annotations

from fentro_core.economizer.proof.fault import NO_COOLING, ControlFault, Upsets
from fentro_core.economizer.proof.settings import CHANGEOVER, DIFFERENTIAL, MINIMUM, ON_FAILURE

OF_CONTROL: tuple[ControlFault, ...] = (
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
