"""Which cause it is, by what was read and seen: the chance of each, of a sound machine, and of two causes at once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.symptom import SYMPTOMS, Symptom
from fentro_core.machine.knobs import Knobs
from fentro_core.machine.model import shows
from fentro_core.machine.site import Site
from fentro_core.machine.weigh import Weights, each_chance, weights
from fentro_core.machine.weigh import chance as chance_of
from fentro_core.machine.weigh import misses as misses_of

SOUND_BEFOREHAND = 0.25
RARE_SHARE = 0.5
"""Before anything is read: one visit in four finds a sound machine; a rare cause is met once for twice a common one."""

LOOKED_INTO, BEHIND = 14, 9.0
"""Causes that are worked out at every severity and operation; the others, or those so far behind, at their middle one."""

SAME = 8
"""Digits to which chances are compared: two processes may differ in the last bits, and must not in their order."""

CHANGE = "change"
"""What the unit does to the air."""

SURE_YES = 0.85
TABLE = 0.9
CONTEXT = 0.97

PAIRS_OF, PAIRED_WITH, PAIRS_LOOKED_INTO = 4, 14, 8
PAIR_SHARE = 3.0
PAIRS_FROM, PAIRS_ANYHOW_FROM, PAIRS_UNDER_SOUND, POOR_BY = -3.0, 2.0, 0.25, 25.0
"""Two at once are looked for where the best single cause misses this much more than its readings ordinarily would: the second
where a sound machine has more than this chance; where even two miss so much as the last, nothing explains what was read."""

TYPED_OFF_K, TYPED_SHARE = (-9.0, -5.0), 0.006
"""Outdoor air was read or typed wrong, seldom: on a sound machine it looks as if the condenser drew in its own air."""

ODD_FROM, WORTH_A_WORD = 4.0, 0.05
"""A reading that lies so many standard deviations off under each of these is odd. Ours."""

SPEAKS = 0.7
"""Logarithm of twice as likely."""

States = Mapping[str, str]
Setting = Mapping[str, float]
Fit = tuple[float, float, Mapping[str, float], list[float]]
"""Chance (logarithm), misses, what would be read, and how far each lies from what was."""


@dataclass(frozen=True)
class Judged:
    """Chances by keys of causes, none for a sound machine. `shown`: what each would show in its best setting, keys joined by "+".

    `backed`: by how many readings and things seen a cause is told from a sound machine. `odd`: what was read that fits neither
    the likeliest cause nor any other. `misses`: how far the best lies from what was read, over what is ordinary; above `POOR_BY`
    nothing explains it.
    """

    chances: Mapping[tuple[str, ...], float]
    backed: Mapping[str, int]
    shown: Mapping[str, Mapping[str, float]]
    weights: Weights | None
    misses: float
    odd: tuple[str, ...] = ()

    def of(self, cause: str) -> float:
        """Chance that this cause is there, alone or with another."""
        return sum(chance for keys, chance in self.chances.items() if cause in keys)

    @property
    def sound(self) -> float:
        """Chance that nothing is wrong."""
        return self.chances.get((), 0.0)


def operations(site: Site) -> Sequence[tuple[Setting, float]]:
    """How a machine may be run now, each with its share beforehand; the first is the ordinary one.

    Who saw which stage it runs on has said so: then it is no guess.
    """
    lower = {"first": 1.0, "full": 0.0, "one": 0.0}.get(site.stage)
    if site.cooling:
        first: dict[str, float] = {"outdoor": 0.08} if site.takes_outdoor and site.roof else {}
        if site.metering == "restrictor":
            first["restrictor"] = 1.0
        other = [({**first, "restrictor": 1.0}, 0.5)] if not site.metering else []
        return [*_staged(first, 0.2 if lower is None else lower), *other]
    if site.gas:
        derated = min(max((101_325.0 - site.pressure_pa) / 3_500.0 * 0.04, 0.0), 0.3)
        less = _staged({"fire": 1 - derated}, lower or 0.0) if derated > 0.06 else []
        return [*_staged({}, 0.3 if lower is None else lower), *((setting, 0.4 * share) for setting, share in less)]
    return _pump_heats(site, _staged({}, 0.15 if lower is None else lower))


HEATERS_W = (4_800.0, 7_500.0, 10_000.0)
"""What electric heaters draw, where the nameplate does not say it."""

HALF_CALLED, HEATER_CALLED = 0.15, 0.3
"""How often half of the elements is called where the heater is, and how often it is where nobody said so. Ours."""


def _pump_heats(site: Site, compressor: list[tuple[Setting, float]]) -> list[tuple[Setting, float]]:
    """A heat pump heats by its compressor, in one of these ways, by the electric heater beside it, or by that alone."""
    if site.heater_w:
        watts = [(site.heater_w, 1 - HALF_CALLED), (site.heater_w / 2, HALF_CALLED)]
    else:
        watts = [(watt, 1 / len(HEATERS_W)) for watt in HEATERS_W]
    if site.auxiliary == "off":
        return compressor
    if site.auxiliary == "alone":
        return [({"auxiliary_w": watt, "running": 0.0}, share) for watt, share in watts]
    if site.auxiliary == "on":
        return [({**way, "auxiliary_w": watt}, share * often) for watt, share in watts for way, often in compressor]
    return [*compressor, *(({"auxiliary_w": watt}, HEATER_CALLED * share) for watt, share in watts)]


LOWER_STAGES = (0.6, 0.68, 0.78)
"""What lower stages give of the full one, by makers' published two-stage tables; the middle one where nobody saw it."""


def _staged(setting: Mapping[str, float], lower: float) -> list[tuple[Setting, float]]:
    """The full stage, and a lower one at this share; where the share is all, at what lower stages give."""
    if lower == 1.0:
        return [({**setting, "stage": share}, 1 / len(LOWER_STAGES)) for share in (LOWER_STAGES[1], *LOWER_STAGES[::2])]
    return [(setting, 1.0 - lower), *([({**setting, "stage": LOWER_STAGES[1]}, lower)] if lower else [])]


def settings(cause: Cause) -> list[Setting]:
    """What a cause does to the machine, at each of its severities."""
    count = max((len(levels) for levels in cause.does.values()), default=1)
    return [{knob: levels[min(at, len(levels) - 1)] for knob, levels in cause.does.items()} for at in range(count)]


def middle(cause: Cause) -> list[Setting]:
    """Its middle severity; one on either side where it makes something read more, or less."""
    levels = settings(cause)
    return levels[len(levels) // 2 - 1 : len(levels) // 2 + 1] if cause.either_way else [levels[len(levels) // 2]]


def told_by_eye(cause: Cause | None, states: States, beside: Cause | None = None) -> float:
    """Logarithm of the chance of what was seen and of what no model tells, if this cause is there, with another or without."""
    found = 0.0
    shown = {**(beside.shows if beside else {}), **(cause.shows if cause else {})}
    for key, state in states.items():
        look = SYMPTOMS[key]
        if look.by_eye:
            yes = max((yes_of(each, look) for each in (cause, beside)), default=look.besides)
            found += log(yes if state == "yes" else 1 - yes)
        elif look.tells:
            found += log(by_table(look, shown.get(key, ()), state))
    return found


def yes_of(cause: Cause | None, look: Symptom) -> float:
    """Chance of a yes to this question, if this cause is there."""
    if cause is None or "yes" not in cause.shows.get(look.key, ()):
        return look.besides
    return cause.often.get(look.key, SURE_YES)


def by_table(look: Symptom, shown: Iterable[str], state: str) -> float:
    """Chance of a state that no model tells, by the states that a cause shows; none: whatever is ordinary."""
    among = tuple(shown)
    if look.context:
        return (CONTEXT if state in among else 1 - CONTEXT) if among else 0.5
    if not among:
        return 0.93 if state == look.ordinary else 0.07 / max(len(look.states) - 1, 1)
    if state in among:
        return TABLE / len(among)
    return (1 - TABLE) / max(len(look.states) - len(among), 1)


class Judging:
    """One machine, as read and seen, against everything that can be wrong with it."""

    def __init__(self, site: Site | None, causes: Iterable[Cause], states: States) -> None:
        self.site, self.states = site, states
        self.causes = [cause for cause in causes if self._can_be(cause)]
        self.ways = operations(site) if site else [({}, 1.0)]
        self.weights = weights(site, Knobs().turned(**self.ways[0][0])) if site else None
        self.best: dict[tuple[str, ...], tuple[float, Mapping[str, float]]] = {}
        self.level: dict[tuple[str, ...], Setting] = {}
        self.apart: dict[tuple[str, ...], list[float]] = {}
        self.known: dict[tuple[tuple[str, float], ...], Fit] = {}
        self.logs: dict[tuple[str, ...], list[float]] = {}

    def _can_be(self, cause: Cause) -> bool:
        if self.site and "outdoor" in cause.does and not self.site.takes_outdoor:
            return False
        if self.site and self.site.gas and not self.site.cooling and cause.area == "Cooling":
            return False
        if self.site and "element" in cause.does and self.site.auxiliary == "off":
            return False
        if not cause.does and not any(self._speaks_for(cause, key) for key in cause.shows):
            return False
        if self.site and cause.metering and self.site.cooling:
            return self.site.metering in ("", cause.metering)
        return True

    def _speaks_for(self, cause: Cause, key: str) -> bool:
        """Something out of order was seen that this cause shows; that air is cooled by a unit that cools is none."""
        state = self.states.get(key)
        if key == CHANGE and self.site is not None:
            return state == ("heats" if self.site.cooling else "cools") and state in cause.shows[key]
        return state is not None and state != SYMPTOMS[key].ordinary and state in cause.shows[key]

    def judged(self) -> Judged:
        """The chances of all."""
        prior = {cause.key: RARE_SHARE if cause.rare else 1.0 for cause in self.causes}
        whole = sum(prior.values()) or 1.0
        for cause in self.causes:
            prior[cause.key] *= (1 - SOUND_BEFOREHAND) / whole
        base = {cause.key: log(prior[cause.key]) + told_by_eye(cause, self.states) for cause in self.causes}
        base_sound = log(SOUND_BEFOREHAND) + told_by_eye(None, self.states)
        for way, share in self.ways:
            self._try((), base_sound + log(share), way, {})
        for off_k in TYPED_OFF_K:
            self._try((), base_sound + log(TYPED_SHARE), self.ways[0][0], {"sunlit_k": off_k})
        rough: dict[str, float] = {}
        for cause in self.causes:
            tried = middle(cause)
            chances = [self._chance(self._knobs(self.ways[0][0], level))[0] for level in tried]
            rough[cause.key] = base[cause.key] + max(chances) - log(len(tried))
        leading = sorted(self.causes, key=lambda cause: (-round(rough[cause.key], SAME), cause.key))
        into = [cause for cause in leading[:LOOKED_INTO] if rough[cause.key] > rough[leading[0].key] - BEHIND]
        for cause in into:
            levels = settings(cause)
            for way, share in self.ways:
                for level in levels:
                    self._try((cause.key,), base[cause.key] + log(share / len(levels)), way, level)
        for cause in leading[len(into) :]:
            self.logs[(cause.key,)] = [rough[cause.key]]
        if self.weights and self._misses() > (PAIRS_FROM if self._sound() < PAIRS_UNDER_SOUND else PAIRS_ANYHOW_FROM):
            self._two_at_once(into, leading, prior)
        return self._told()

    def _two_at_once(self, into: list[Cause], leading: list[Cause], prior: Mapping[str, float]) -> None:
        """Each of the leading causes with any other that does something else: what one leaves unexplained, the other may.

        All at the second's middle severity; those that come out best at every one.
        """
        way = self.ways[0][0]
        found: list[tuple[float, float, Cause, Cause]] = []
        for at, one in enumerate(into[:PAIRS_OF]):
            first = self.level[(one.key,)]
            for other in leading[at + 1 : at + 1 + PAIRED_WITH]:
                if set(one.does) & set(other.does) or not other.does:
                    continue
                start = log(PAIR_SHARE * prior[one.key] * prior[other.key] / (1 - SOUND_BEFOREHAND))
                start += told_by_eye(one, self.states, other)
                tried = [self._chance(self._knobs(way, {**first, **level}))[0] for level in middle(other)]
                found.append((start + max(tried), start, one, other))
        for at, (_, start, one, other) in enumerate(sorted(found, key=lambda each: -round(each[0], SAME))):
            levels = settings(other) if at < PAIRS_LOOKED_INTO and (other.key,) in self.level else middle(other)
            for level in levels:
                self._try((one.key, other.key), start - log(len(levels)), way, {**self.level[(one.key,)], **level})

    def _knobs(self, way: Setting, level: Setting) -> Knobs:
        merged = dict(way)
        for knob, value in level.items():
            if knob == "auxiliary_w":  # Watts that are called, not a factor of them.
                merged[knob] = way.get(knob) or (self.site.heater_w if self.site else 0.0) or value
            elif knob == "outdoor":
                merged[knob] = max(way.get(knob, value), value)
            else:
                merged[knob] = way.get(knob, 1.0) * value
        return Knobs().turned(**merged)

    def _chance(self, knobs: Knobs) -> Fit:
        """How well what was read fits such a machine; the same setting, of another cause, is known already."""
        setting = tuple(sorted(vars(knobs).items()))
        found = self.known.get(setting)
        if found is None:
            found = self.known[setting] = self._fit(knobs)
        return found

    def _fit(self, knobs: Knobs) -> Fit:
        if self.site is None or self.weights is None:
            return 0.0, 0.0, {}, []
        found = []
        for off_at in self._culprits(knobs):
            shown = shows(self.site, knobs, off_at)
            apart = self.weights.apart(shown)
            found.append((chance_of(apart), misses_of(apart), shown, apart))
        best = max(found, key=lambda each: each[0])
        return best[0] - log(len(found)), *best[1:]

    def _culprits(self, knobs: Knobs) -> Iterable[frozenset[str]]:
        if not knobs.off_k or self.site is None:
            return (frozenset(),)
        return tuple(self.site.probe_at.values()) or (frozenset({"supply"}),)

    def _try(self, keys: tuple[str, ...], start: float, way: Setting, level: Setting) -> None:
        chance, misfit, shown, apart = self._chance(self._knobs(way, level))
        self.logs.setdefault(keys, []).append(start + chance)
        if keys not in self.best or misfit < self.best[keys][0]:
            self.best[keys], self.level[keys], self.apart[keys] = (misfit, shown), level, apart

    def _sound(self) -> float:
        """Chance of a sound machine so far."""
        return self._shares().get((), 0.0)

    def _shares(self) -> dict[tuple[str, ...], float]:
        """Chances of what was tried."""
        top = max(max(each) for each in self.logs.values())
        sums = {keys: sum(exp(each - top) for each in logs) for keys, logs in self.logs.items()}
        whole = sum(sums.values())
        return {keys: each / whole for keys, each in sums.items()}

    def _misses(self) -> float:
        return min(misses for misses, _ in self.best.values())

    def _backed(self, cause: Cause) -> int:
        """How many readings and things seen speak for a cause rather than for a sound machine, by `SPEAKS` or more each."""
        seen = [told_by_eye(cause, {key: state}) - told_by_eye(None, {key: state}) for key, state in self.states.items()]
        sound, with_it = self.apart.get((), []), self.apart.get((cause.key,), [])
        read = [each_chance(there) - each_chance(here) for here, there in zip(sound, with_it, strict=False)]
        return sum(each >= SPEAKS for each in (*seen, *read))

    def _told(self) -> Judged:
        chances = self._shares()
        shown = {"+".join(keys): each for keys, (_, each) in self.best.items()}
        misses = self._misses() if self.weights and self.best else 0.0
        backed = {cause.key: self._backed(cause) for cause in self.causes if (cause.key,) in self.best}
        return Judged(chances, backed, shown, self.weights, misses, self._odd(chances))

    def _odd(self, chances: Mapping[tuple[str, ...], float]) -> tuple[str, ...]:
        """Readings that lie far off whatever it is: under every machine that has a chance worth a word."""
        if self.weights is None:
            return ()
        worth = [self.apart[keys] for keys, chance in chances.items() if chance >= WORTH_A_WORD and keys in self.apart]
        least = [min(map(abs, each)) for each in zip(*worth, strict=True)]
        return tuple(name for name, off in zip(self.weights.names, least, strict=False) if off >= ODD_FROM)
