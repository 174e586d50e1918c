"""How likely what was read is, if the machine were so: residuals against the joint doubt of readings and of what nobody knows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from math import copysign, log, sqrt
from operator import mul

from fentro_core.base.measured import Measured
from fentro_core.machine.knobs import Knobs
from fentro_core.machine.model import shows
from fentro_core.machine.site import Site

UNSURE: dict[str, float] = {
    "flow": 0.09,
    "yields": 0.14,
    "r_return": 0.45,
    "r_filter": 0.35,
    "r_coil": 0.38,
    "r_supply": 0.50,
    "leak": 0.02,
    "wall": 0.7,
    "lost": 0.03,
    "cooling": 0.06,
    "moist": 0.15,
    "evaporating_k": 1.8,
    "superheat_k": 2.0,
    "subcooling_k": 1.6,
    "approach": 0.22,
    "warming": 0.22,
    "current": 0.12,
    "fire": 0.05,
}
"""How far a sound machine ordinarily lies off, one standard deviation: of factors a share, of the others their own unit. Ours."""

OWN = {
    "return_t": 0.3,
    "mixed_t": 0.8,
    "supply_t": 0.5,
    "return_w": 0.00025,
    "mixed_w": 0.0004,
    "supply_w": 0.0003,
    "condenser_in_t": 0.7,
    "condenser_out_t": 1.0,
    "suction_t": 1.2,
    "liquid_t": 0.8,
    "evaporating_t": 0.8,
    "condensing_t": 0.8,
    "registers": 0.03,
    "return_static": 4.0,
    "filter_static": 4.0,
    "coil_out_static": 5.0,
    "supply_static": 5.0,
}
"""How far the model itself lies off at each place, beside all that, one standard deviation. Ours."""

HEATED_OWN_K = 1.2
STATIC_SHARE = 0.06
FLOW_SHARE = 0.02
AMPS_SHARE = 0.04
HEATER_SHARE = 0.05
FREEDOM, FAR = 5.0, 3.0
"""Degrees of freedom of each spread: tails heavier than normal, for a digit typed wrong must not decide alone."""


@dataclass(frozen=True)
class Weights:
    """What was read, in a fixed order, with the lower triangle that whitens its residuals."""

    names: tuple[str, ...]
    values: tuple[float, ...]
    triangle: tuple[tuple[float, ...], ...]

    def apart(self, shown: Mapping[str, float]) -> list[float]:
        """How far what was read lies from what would show, each in its own doubt once those before it are known.

        One that lies far out moves those after it no further than `FAR`: it may be a digit typed wrong.
        """
        white: list[float] = []
        found: list[float] = []
        for name, value, row in zip(self.names, self.values, self.triangle, strict=True):
            left = (value - shown[name] - sum(map(mul, row, white))) / row[-1]
            found.append(left)
            white.append(left if -FAR < left < FAR else copysign(FAR, left))
        return found


def chance(apart: Iterable[float]) -> float:
    """Natural logarithm of the chance of lying so far apart, but for what is the same for all: Student's t for each."""
    return sum(each_chance(each) for each in apart)


def each_chance(apart: float) -> float:
    """The same of one reading."""
    return -(FREEDOM + 1) / 2 * log(1 + apart * apart / FREEDOM)


def misses(apart: Iterable[float]) -> float:
    """How far that is in all, over what is ordinary; each counts to `FAR` at most."""
    return sum(min(each * each, FAR * FAR) - 1 for each in apart)


def unsure(site: Site) -> dict[str, float]:
    """What may differ on this machine, and how much."""
    found = dict(UNSURE)
    if not site.cooling:
        for name in ("moist", "evaporating_k", "superheat_k", "subcooling_k", "approach", "warming"):
            del found[name]
        found["flow"], found["current"] = 0.14, 0.16
    if not site.gas:
        found.pop("fire")
    elif not site.cooling:
        found.pop("cooling")
    for name, places in ONLY_AT.items():
        if not any(place in site.read for place in places):
            found.pop(name, None)
    if site.takes_outdoor:
        found["outdoor"] = 0.08
    if not site.plated_subcooling:
        found["subcooling_k"] = 2.2
    return found


ONLY_AT = {
    "evaporating_k": ("suction_t", "evaporating_t"),
    "superheat_k": ("suction_t",),
    "subcooling_k": ("liquid_t",),
    "approach": ("liquid_t", "condensing_t", "condenser_out_t", "amps"),
    "warming": ("condenser_out_t",),
    "current": ("amps",),
    "lost": ("registers",),
}
"""Knobs that are seen at these places and hardly anywhere else."""

STEPS = {"leak": 0.02, "lost": 0.02, "outdoor": 0.05, "yields": 0.05}


def weights(site: Site, sound: Knobs) -> Weights | None:
    """The joint doubt of everything that was read, about the machine as it would be sound. None where nothing was read."""
    centre = shows(site, sound)
    names = tuple(name for name in site.read if name in centre)
    if not names:
        return None
    sources: list[dict[str, float]] = []
    for name in names:
        parts = {source: part / 2 for source, part in site.read[name].parts.items()}
        sources.append(parts)
    for knob, spread in unsure(site).items():
        step = STEPS.get(knob, 0.1 if spread < 1 else 1.0)
        moved = shows(site, sound.turned(**{knob: getattr(sound, knob) + step}))
        for parts, name in zip(sources, names, strict=True):
            slope = (moved[name] - centre[name]) / step
            if slope:
                parts[f"knob:{knob}"] = slope * spread
    _by_given(site, sound, centre, names, sources)
    for parts, name in zip(sources, names, strict=True):
        parts[f"own:{name}"] = own_of(site, name, centre[name])
    return Weights(names, tuple(site.read[name].value for name in names), _triangle(sources))


def own_of(site: Site, name: str, shown: float) -> float:
    """How far the model lies off there."""
    if name == "flow":
        return FLOW_SHARE * shown
    if name == "heater_w":
        return HEATER_SHARE * max(abs(shown), site.read[name].value) + 60.0
    if name == "amps":
        return AMPS_SHARE * abs(shown) + 0.1
    own = HEATED_OWN_K if name == "supply_t" and not site.cooling else OWN[name]
    return own + (STATIC_SHARE * abs(shown) if name.endswith("static") else 0.0)


def _by_given(
    site: Site, sound: Knobs, centre: Mapping[str, float], names: tuple[str, ...], sources: list[dict[str, float]]
) -> None:
    """What the model starts from was read too: its doubt passes through, and cancels where the same probe was used."""
    for key, measured in site.given.items():
        if not measured.parts:
            continue
        step = 0.3 if key.endswith("_t") else 0.0003
        moved_given = {**site.given, key: Measured(measured.value + step)}
        moved = shows(replace(site, given=moved_given), sound)
        for parts, name in zip(sources, names, strict=True):
            slope = (moved[name] - centre[name]) / step
            if slope:
                for source, part in measured.parts.items():
                    parts[source] = parts.get(source, 0.0) - slope * part / 2


def _triangle(sources: list[dict[str, float]]) -> tuple[tuple[float, ...], ...]:
    """Cholesky's lower triangle of the covariance."""
    rows: list[tuple[float, ...]] = []
    for at, parts in enumerate(sources):
        row: list[float] = []
        for other in range(at + 1):
            theirs = sources[other]
            joint = sum(part * theirs[source] for source, part in parts.items() if source in theirs)
            for each in range(other):
                joint -= row[each] * (rows[other][each] if other < at else row[each])
            row.append(joint / rows[other][other] if other < at else sqrt(max(joint, 1e-12)))
        rows.append(tuple(row))
    return tuple(rows)
