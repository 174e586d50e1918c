"""Causes in how the ducts are cut into zones."""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="zone_too_small",
        name="Zone too small for the unit",
        area="Zones",
        why="With few zones calling the blower has too little duct before it: static, noise or coil air leaves its limits.",
        do="Make two zones one, keep shut dampers a little open, give what is left to a zone that can take it, or turn the "
        "blower down. A bypass only with a supply temperature limit of its own.",
        shows={"zones_worst": {"over"}, "zone_static": {"high"}, "zone_supply": {"right", "past"}},
        proof="zone_static",
        apart="zones",
    ),
    Cause(
        key="bypass_too_much",
        name="Bypass takes too much",
        area="Zones",
        why="Supply air that goes round makes the return colder, or hotter, each time, until the unit is stopped by its limit.",
        do="Set the bypass's weight at the smallest zone again. If static is then too high, the zone is too small.",
        shows={"zone_supply": {"past"}, "zone_static": {"right", "low"}},
        proof="zone_static",
        apart="zones",
    ),
)
