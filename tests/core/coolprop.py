"""CoolProp as a reference, loaded when the first test asks: loading it takes longer than most tests together."""

from __future__ import annotations

from functools import cache
from typing import Any


@cache
def _library() -> Any:
    from CoolProp import CoolProp

    return CoolProp


def fluid_property(*given: Any) -> float:
    """``PropsSI`` of CoolProp."""
    return float(_library().PropsSI(*given))


def air_property(*given: Any) -> float:
    """``HAPropsSI`` of CoolProp."""
    return float(_library().HAPropsSI(*given))
