"""``python -m fentro_standins.zones --port 8048``: the simulated zone boards, on loopback only."""

from __future__ import annotations

from fentro_standins.fleet import serve
from fentro_standins.zones.service import application

serve(application, 8048, "The simulated zone boards, on loopback only.")
