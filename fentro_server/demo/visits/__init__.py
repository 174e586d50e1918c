"""The demo's visits, a file for each system."""

from fentro_server.demo.visits import furnace, heat_pump, rooftop, ventilator

VISITS = (*rooftop.VISITS, *furnace.VISITS, *heat_pump.VISITS, *ventilator.VISITS)
