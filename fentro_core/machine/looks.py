"""The next look: what tells the leading causes apart best for its minutes and its risk, and has no answer yet."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from math import exp, log2, pi, sqrt

from fentro_core.diagnosis.cause import CAUSES, Cause
from fentro_core.diagnosis.symptom import SYMPTOMS, Symptom
from fentro_core.machine.judge import SAME, Judged, by_table, yes_of

READS: Mapping[str, tuple[str, ...]] = {
    "split": ("supply_t",),
    "moisture": ("supply_w",),
    "superheat": ("suction_t", "evaporating_t"),
    "suction": ("suction_t",),
    "subcooling": ("liquid_t", "condensing_t"),
    "condensing": ("condensing_t",),
    "condenser_air": ("condenser_out_t",),
    "recirculation": ("condenser_in_t",),
    "amps": ("amps",),
    "amps_heating": ("amps",),
    "heater": ("heater_w",),
    "registers": ("registers",),
    "airflow": ("flow",),
    "static": ("return_static", "supply_static"),
    "filter_drop": ("filter_static",),
    "coil_drop": ("coil_out_static",),
    "return_drop": ("return_static",),
    "supply_drop": ("supply_static",),
    "outdoor_share": ("mixed_t",),
    "pickup": ("return_t", "pickup_k"),
}
"""What a look at places would read."""

ORDINARY_SPREAD = {
    "supply_t": 1.6,
    "supply_w": 0.0008,
    "suction_t": 3.2,
    "evaporating_t": 2.2,
    "liquid_t": 2.6,
    "condensing_t": 3.4,
    "condenser_out_t": 2.6,
    "condenser_in_t": 0.8,
    "mixed_t": 1.4,
    "return_t": 0.8,
    "registers": 0.045,
    "heater_w": 500.0,
    "pickup_k": 1.0,
}
"""How far a sound machine's reading there lies from what is expected, one standard deviation. Ours."""

SHARE_SPREAD = {
    "amps": 0.14,
    "flow": 0.11,
    "return_static": 0.45,
    "supply_static": 0.45,
    "filter_static": 0.35,
    "coil_out_static": 0.4,
}
TAPS = frozenset(key for key, names in READS.items() if all(name.endswith("_static") for name in names))
NO_TAPS_FROM = 2
"""Looks at pressures that could not be had, and none was read: there is no manometer here, or no tap. No other is asked for."""

LEAST_CHANCE, MOST_LEADING = 0.01, 14
LEAST_BITS = 0.03
SURE_FROM = 0.985
BY_COST = 1 / 3
"""What a look is worth falls with this power of its cost: one that takes eight times as long must tell twice as much. Ours."""


@dataclass(frozen=True)
class Look:
    """A look with what it is worth [bits], and the causes it tells apart."""

    look: Symptom
    bits: float
    between: tuple[str, ...]


def next_look(
    judged: Judged, states: Mapping[str, str], cant: Collection[str], *, mode: str, kind: str, stations: Collection[str]
) -> Look | None:
    """The look with the most information for the cube root of its cost; none where all is plain, or nothing would tell more.

    Parameters
    ----------
    states : mapping
        Looks that are answered.
    cant : collection
        Looks that cannot be had on this visit.
    mode, kind, stations
        ``cooling`` or ``heating``; the kind of system; its stations.
    """
    chances = _alone(judged)
    if not chances or max(chances.values()) > SURE_FROM:
        return None
    found = []
    never = {*states, *cant, *_without_taps(judged, cant)}
    for look in SYMPTOMS.values():
        if look.key in never or not _can_be_had(look, mode, kind, stations):
            continue
        bits = _bits(look, judged, chances)
        if bits > LEAST_BITS:
            found.append((bits / look.cost**BY_COST, bits, look))
    if not found:
        return None
    _, bits, look = max(found, key=lambda each: round(each[0], SAME))
    leading = sorted((key for key in chances if key), key=lambda key: (-round(chances[key], SAME), key))
    return Look(look, bits, tuple(leading[:6]))


def _without_taps(judged: Judged, cant: Collection[str]) -> Collection[str]:
    """Looks at pressures, where so many of them could not be had that no other will."""
    read = judged.weights.names if judged.weights else ()
    if any(name.endswith("_static") for name in read) or len(TAPS.intersection(cant)) < NO_TAPS_FROM:
        return ()
    return TAPS


def _alone(judged: Judged) -> dict[str, float]:
    """Chance of each leading cause, with whatever else, and of none."""
    keys = {key for keys in judged.chances for key in keys}
    found = {key: judged.of(key) for key in sorted(keys)}
    found = {key: chance for key, chance in found.items() if chance >= LEAST_CHANCE}
    found = dict(sorted(found.items(), key=lambda each: (-round(each[1], SAME), each[0]))[:MOST_LEADING])
    if not found:
        return {}
    found[""] = max(judged.sound, 0.001)
    whole = sum(found.values())
    return {key: chance / whole for key, chance in found.items()}


def _can_be_had(look: Symptom, mode: str, kind: str, stations: Collection[str]) -> bool:
    return (
        (not look.kinds or kind in look.kinds)
        and (not look.mode or look.mode == mode)
        and all(station in stations for station in look.stations)
        and (look.by_eye or look.tells or look.key in READS)
        and not look.apart
        and not look.context
    )


def _bits(look: Symptom, judged: Judged, chances: Mapping[str, float]) -> float:
    if look.by_eye:
        return _told([({"yes": p, "no": 1 - p}, chances[key]) for key in chances for p in (yes_of(CAUSES.get(key), look),)])
    if look.tells:
        return _told(
            [({state: by_table(look, _shows(key, look), state) for state in look.states}, chances[key]) for key in chances]
        )
    return max((_by_reading(name, judged, chances) for name in READS[look.key]), default=0.0)


def _shows(cause: str, look: Symptom) -> Collection[str]:
    found: Cause | None = CAUSES.get(cause)
    return found.shows.get(look.key, ()) if found else ()


def _told(chances: list[tuple[dict[str, float], float]]) -> float:
    """Expected information [bits] of an answer."""
    gain = 0.0
    for state in chances[0][0]:
        total = sum(weight * each[state] for each, weight in chances)
        gain += sum(weight * each[state] * log2(each[state] / total) for each, weight in chances if each[state] > 0)
    return gain


def _by_reading(name: str, judged: Judged, chances: Mapping[str, float]) -> float:
    """Expected information [bits] of one reading: how far apart the causes would put it, against its ordinary spread."""
    if judged.weights is not None and name in judged.weights.names:
        return 0.0
    shown = [(judged.shown[key][name], chances[key]) for key in chances if name in judged.shown.get(key, {})]
    whole = sum(weight for _, weight in shown)
    if len(shown) < 2 or whole <= 0:
        return 0.0
    mean = sum(value * weight for value, weight in shown) / whole
    within = ORDINARY_SPREAD.get(name) or SHARE_SPREAD.get(name, 0.3) * max(abs(mean), 1e-3)
    return _in_mixture([((value - mean) / within, weight / whole) for value, weight in shown]) * whole


STEP, BEYOND, MOST_STEPS = 0.6, 2.4, 60


def _in_mixture(shown: list[tuple[float, float]]) -> float:
    """Expected information [bits] of a reading that each cause puts elsewhere, all with a spread of one: by its densities."""
    low, high = min(shown)[0] - BEYOND, max(shown)[0] + BEYOND
    if high - low - 2 * BEYOND < 0.2:
        return 0.0
    step = max(STEP, (high - low) / MOST_STEPS)
    gain = 0.0
    for at in range(int((high - low) / step) + 1):
        here = low + at * step
        dense = [weight * exp(-0.5 * (here - value) ** 2) for value, weight in shown]
        total = sum(dense)
        gain += sum(each * log2(each / (weight * total)) for each, (_, weight) in zip(dense, shown, strict=True) if each > 1e-9)
    return gain * step / sqrt(2 * pi)
