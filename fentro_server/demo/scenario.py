"""The demo company: invented people, places, makers, models and numbers. Times count back from the day it is loaded."""

from fentro_server.demo.instruments import INSTRUMENTS
from fentro_server.demo.steps import DemoVisit
from fentro_server.demo.systems import SITES, SYSTEMS
from fentro_server.demo.visits import VISITS

__all__ = ["COMPANY", "GATEWAYS", "INSTRUMENTS", "LETTERHEAD", "PEOPLE", "SIGNED", "SITES", "SYSTEMS", "VISITS", "DemoVisit"]

COMPANY = "Saltbox Air Care"
LETTERHEAD = "Slipway 3, Old Harbour\nTelephone 555 0142\nMechanical licence M-20417"
SIGNED = {"furnace-leak": ("jomar", "tova"), "rooftop-filter": ("oona",)}
"""Visits whose report was signed: by the technician, then by a lead."""

PEOPLE = (
    ("oona", "Oona Lindahl", "technician"),
    ("jomar", "Jomar Vance", "technician"),
    ("tova", "Tova Brandt", "lead"),
    ("edwin", "Edwin Pell", "viewer"),
)

GATEWAYS = {
    "probes": "Van, probe receiver",
    "controllers": "Rooftop units",
    "zone_boards": "Zone boards",
    "ventilators": "Ventilators",
}
"""Simulated gateways of the demo's company, by kind."""
