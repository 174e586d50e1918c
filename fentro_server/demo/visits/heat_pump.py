"""Visits to the heat pump."""

from fentro_server.demo import night
from fentro_server.demo.steps import ARRIVED, RESTORED, SETTLED, DemoVisit, air, close, note, ticks

VISITS: tuple[DemoVisit, ...] = (
    DemoVisit(
        "heat-pump-close",
        "heat_pump",
        "oona",
        41.2,
        "Bedrooms slow to cool",
        (
            *ARRIVED,
            *SETTLED,
            *air(22, "return", 24.2, 52, "probe_a"),
            *air(24, "supply", 15.2, 82, "probe_b"),
            *air(25, "outdoor", 29.4, 40, "probe_b"),
            *note(30, "work_out", "Too close to call with two probes. Come back with one probe, or match them."),
            *ticks(34, "nothing_to_change"),
            *RESTORED,
            *close(45, "No verdict yet. Flow not measured."),
        ),
    ),
    DemoVisit(
        "heat-pump-night",
        "heat_pump",
        "oona",
        8.2,
        "Compressor runs from noon to midnight",
        (
            *ARRIVED,
            *SETTLED,
            *air(22, "return", 24.8, 44, "probe_a"),
            *air(24, "outdoor", 29.0, 33, "probe_a"),
            *night.planned(28),
            *note(36, "set_up", "Night damper moves freely. Owner will say tomorrow how the night was."),
            *RESTORED,
            *close(45, "Night cooling set for one hot day. Look next time what it saved."),
        ),
    ),
)
