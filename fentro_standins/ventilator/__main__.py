"""``python -m fentro_standins.ventilator --port 8049``: the simulated ventilators, on loopback only."""

from __future__ import annotations

from fentro_standins.fleet import serve
from fentro_standins.ventilator.service import application

serve(application, 8049, "The simulated ventilators, on loopback only.")
