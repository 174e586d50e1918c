"""Places that answer several questions at once: whoever goes there sees all of them, and is asked for all of them together."""

from __future__ import annotations

FILTER = "filter"
BLOWER = "blower"
OUTDOOR_UNIT = "outdoor unit"
LINES = "refrigerant lines"
RETURN_RUN = "return run"
SUPPLY_RUN = "supply run"
ROOMS = "rooms"
SUPPLY_PROBE = "supply probe"
BURNER = "burner"

AT: dict[str, str] = {
    FILTER: "Listen at the filter. Then take it out and look at it.",
    BLOWER: "Open the blower's compartment, and look at the blower.",
    OUTDOOR_UNIT: "Stand at the outdoor unit while it runs. Look and listen.",
    LINES: "Follow the refrigerant lines from the outdoor unit to the coil.",
    RETURN_RUN: "Follow the return duct with a lamp.",
    SUPPLY_RUN: "Follow the supply duct and its dampers with a lamp.",
    ROOMS: "Walk the rooms, and ask there.",
    SUPPLY_PROBE: "Look at where the supply probe sits.",
    BURNER: "Clock the gas meter, and watch the burner meanwhile.",
}
"""What to do there, in words; then every question of the place is put."""

EACH_MORE_MINUTES = 1.0
"""What each further question at a place costs, where one is there already. Ours."""
