"""``python -m fentro_standins.rooftop --port 8046``: the simulated rooftop units, on loopback only."""

from __future__ import annotations

from fentro_standins.fleet import serve
from fentro_standins.rooftop.service import application

serve(application, 8046, "The simulated rooftop units, on loopback only.")
