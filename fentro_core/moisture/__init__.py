"""Moisture: what takes water out of the air, what only warms it, and where the water comes from."""
