"""A second simulated machine and technician, by other equations than `fentro_standins.plant`."""

from bench.stranger.score import rows

__all__ = ["rows"]
