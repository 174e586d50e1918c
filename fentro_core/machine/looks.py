"""The next look: what tells the leading causes apart best for its minutes and its risk, and has no answer yet."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, log2, pi, sqrt
from typing import NamedTuple

from fentro_core.diagnosis.cause import CAUSES, Cause
from fentro_core.diagnosis.places import EACH_MORE_MINUTES
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
FEW, NEARER_BITS = 3, 3.0
"""A list of causes is read to this place; that the true one surely comes to stand so far up is worth so many bits. Ours."""

LEAST_AT_A_PLACE, MOST_AT_A_PLACE = 0.004, 4
"""A question that tells this much is put beside another at the same place; no more than so many at once."""

SURE_FROM = 0.985
BY_COST = 1 / 3
"""What a look is worth falls with this power of its cost: one that takes eight times as long must tell twice as much. Ours."""


class Worth(NamedTuple):
    """What an answer is expected to tell [bits], and how much likelier it makes the true cause one of the first `FEW`."""

    bits: float = 0.0
    nearer: float = 0.0

    @property
    def value(self) -> float:
        """Both together."""
        return self.bits + NEARER_BITS * self.nearer

    def of(self, share: float) -> Worth:
        """So much of it."""
        return Worth(share * self.bits, share * self.nearer)


@dataclass(frozen=True)
class Look:
    """A look with what it is worth [bits], and the causes it tells apart. `beside`: what is seen at the same place besides."""

    look: Symptom
    bits: float
    between: tuple[str, ...]
    beside: tuple[Symptom, ...] = ()


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
    never = {*states, *cant, *_without_taps(judged, cant)}
    places: dict[str, list[tuple[Worth, Symptom]]] = {}
    for look in SYMPTOMS.values():
        if look.key in never or not _can_be_had(look, mode, kind, stations):
            continue
        worth = _worth(look, judged, chances)
        if worth.value > (LEAST_AT_A_PLACE if look.place else LEAST_BITS):
            places.setdefault(look.place or look.key, []).append((worth, look))
    found = []
    for looks in places.values():
        looks.sort(key=lambda each: -round(each[0].value, SAME))
        bundles = [([look], worth) for worth, look in looks]
        if len(looks) > 1:
            seen = [look for _, look in looks[:MOST_AT_A_PLACE]]
            bundles.append((seen, _together(seen, chances)))
        found += [(worth.value / _cost(seen) ** BY_COST, worth, seen) for seen, worth in bundles if worth.value > LEAST_BITS]
    if not found:
        return None
    _, worth, (look, *beside) = max(found, key=lambda each: round(each[0], SAME))
    leading = sorted((key for key in chances if key), key=lambda key: (-round(chances[key], SAME), key))
    return Look(look, worth.bits, tuple(leading[:6]), tuple(beside))


def _cost(looks: Sequence[Symptom]) -> float:
    """Of all looks at one place."""
    return max(look.cost for look in looks) + EACH_MORE_MINUTES * (len(looks) - 1)


def _together(looks: Sequence[Symptom], chances: Mapping[str, float]) -> Worth:
    """What several questions are worth that are answered at one place, each by itself."""
    answers = {}
    for key in chances:
        each = {"": 1.0}
        for look in looks:
            yes = yes_of(CAUSES.get(key), look)
            each = {**{f"{so}y": p * yes for so, p in each.items()}, **{f"{so}n": p * (1 - yes) for so, p in each.items()}}
        answers[key] = each
    return _told(answers, chances)


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


def _worth(look: Symptom, judged: Judged, chances: Mapping[str, float]) -> Worth:
    if look.by_eye:
        return _together([look], chances)
    if look.tells:
        return _told(
            {key: {state: by_table(look, _shows(key, look), state) for state in look.states} for key in chances}, chances
        )
    return max((_by_reading(name, judged, chances) for name in READS[look.key]), key=lambda each: each.value, default=Worth())


def _shows(cause: str, look: Symptom) -> Collection[str]:
    found: Cause | None = CAUSES.get(cause)
    return found.shows.get(look.key, ()) if found else ()


def _few(weights: Iterable[float]) -> float:
    """Chance that the true cause is one of the first `FEW`."""
    return sum(sorted(weights, reverse=True)[:FEW])


def _told(answers: Mapping[str, Mapping[str, float]], chances: Mapping[str, float]) -> Worth:
    """What an answer is worth, whose states have these chances under each cause and, by the key "", under none."""
    bits, few = 0.0, 0.0
    for state in next(iter(answers.values())):
        together = {key: chances[key] * each[state] for key, each in answers.items()}
        total = sum(together.values())
        bits += sum(both * log2(answers[key][state] / total) for key, both in together.items() if both > 0)
        few += _few(both for key, both in together.items() if key)
    return Worth(bits, max(few - _few(chance for key, chance in chances.items() if key), 0.0))


def _by_reading(name: str, judged: Judged, chances: Mapping[str, float]) -> Worth:
    """What one reading is worth: how far apart the causes would put it, against its ordinary spread."""
    if judged.weights is not None and name in judged.weights.names:
        return Worth()
    shown = {key: judged.shown[key][name] for key in chances if name in judged.shown.get(key, {})}
    whole = sum(chances[key] for key in shown)
    if len(shown) < 2 or whole <= 0:
        return Worth()
    mean = sum(value * chances[key] for key, value in shown.items()) / whole
    within = ORDINARY_SPREAD.get(name) or SHARE_SPREAD.get(name, 0.3) * max(abs(mean), 1e-3)
    apart = [((value - mean) / within, chances[key] / whole, bool(key)) for key, value in shown.items()]
    return _in_mixture(apart).of(whole)


STEP, BEYOND, MOST_STEPS = 0.6, 2.4, 60


def _in_mixture(shown: list[tuple[float, float, bool]]) -> Worth:
    """What a reading is worth that each puts elsewhere, all with a spread of one; last of each: whether it is a cause."""
    low, high = min(shown)[0] - BEYOND, max(shown)[0] + BEYOND
    if high - low - 2 * BEYOND < 0.2:
        return Worth()
    step = max(STEP, (high - low) / MOST_STEPS)
    bits, few = 0.0, 0.0
    for at in range(int((high - low) / step) + 1):
        here = low + at * step
        dense = [weight * exp(-0.5 * (here - value) ** 2) for value, weight, _ in shown]
        total = sum(dense)
        bits += sum(
            each * log2(each / (weight * total)) for each, (_, weight, _) in zip(dense, shown, strict=True) if each > 1e-9
        )
        few += _few(each for each, (_, _, cause) in zip(dense, shown, strict=True) if cause)
    share = step / sqrt(2 * pi)
    return Worth(share * bits, max(share * few - _few(weight for _, weight, cause in shown if cause), 0.0))
