"""Zones: rooms grouped behind control points, every combination of calls, what becomes of the air, and the hardware."""
