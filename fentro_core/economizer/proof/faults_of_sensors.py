"""What may be wrong with the sensors, and with what a loop reads: how each shows."""

from __future__ import annotations

from fentro_core.economizer.proof.fault import AIR_BACKWARDS, AIR_STANDS, ControlFault, Upsets
from fentro_core.economizer.proof.settings import LOW_LIMIT

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

OF_SENSORS: tuple[ControlFault, ...] = (
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
)
