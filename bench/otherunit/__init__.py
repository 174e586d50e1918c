"""A second rooftop unit with its controller, written from docs/controller.md and a textbook: it shares no line with ours."""

from bench.otherunit.score import rows

__all__ = ["rows"]
