"""How a connected device fails: it will not, or it does not answer. Alike for controllers, zone boards, ventilators."""

from __future__ import annotations


class DeviceRefused(Exception):
    """The device will not: its reason as a sentence."""


class DeviceGone(Exception):
    """The device does not answer, or not so that anybody could go on: why as a sentence, where more is known than silence."""
