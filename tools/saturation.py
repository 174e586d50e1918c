"""Makes the saturation tables that ship with the core, from CoolProp (MIT licence). Run offline, by hand:

``.venv/bin/python tools/saturation.py``

For each refrigerant: temperature [°C], and absolute pressure [Pa] of the boiling liquid (bubble) and of the vapour (dew).
"""

from __future__ import annotations

from pathlib import Path

import CoolProp
from CoolProp.CoolProp import PropsSI

TARGET = Path(__file__).parent.parent / "fentro_core" / "performance" / "saturation_tables.py"
FLUIDS = {"R-410A": "R410A", "R-32": "R32", "R-454B": "R454B.mix", "R-22": "R22", "R-134a": "R134a"}
LEAST_C, MOST_C, STEP_C = -40, 64, 4


def saturation_pressure(fluid: str, celsius: float, quality: int) -> float:
    """Pressure [Pa] at which the fluid boils (quality 0) or condenses (1)."""
    return float(PropsSI("P", "T", celsius + 273.15, "Q", quality, fluid))


def main() -> None:
    """Write the module."""
    lines = [
        '"""Saturation of common refrigerants: temperature [°C], bubble and dew pressure [Pa, absolute]. Made by',
        f"``tools/saturation.py`` from CoolProp {CoolProp.__version__} (MIT licence; its own sources by fluid): never edited.",
        '"""',
        "",
        "TABLES: dict[str, tuple[tuple[float, float, float], ...]] = {",
    ]
    for name, fluid in FLUIDS.items():
        lines.append(f'    "{name}": (')
        for celsius in range(LEAST_C, MOST_C + 1, STEP_C):
            bubble, dew = (saturation_pressure(fluid, celsius, quality) for quality in (0, 1))
            lines.append(f"        ({celsius}.0, {bubble:.0f}.0, {dew:.0f}.0),")
        lines.append("    ),")
    TARGET.write_text("\n".join([*lines, "}", ""]), encoding="utf-8")


if __name__ == "__main__":
    main()
