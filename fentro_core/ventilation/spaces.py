"""Outdoor air for occupied spaces: what people and floor ask, how well it reaches them, what the system must take in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.ventilation.dwelling import CFM, SQ_FT

Use = Literal[
    "office", "classroom", "library", "retail", "assembly", "laboratory", "workshop", "gym", "dining", "corridor", "other"
]
Rule = Literal["simplified", "single"]

EDITIONS: dict[Rule, str] = {
    "simplified": "2019 edition's simplified procedure; rates by use unchanged since 2004",
    "single": "2019 edition's rule for a single zone; rates by use unchanged since 2004",
}


@dataclass(frozen=True)
class Rate:
    """What a use asks: for a person [m³/s], for a square metre [m³/s]; people on a square metre where nobody counted them."""

    name: str
    per_person_m3s: float
    area_rate_m3s_per_m2: float
    people_per_m2: float


def _rate(name: str, cfm_person: float, cfm_sq_ft: float, people_1000_sq_ft: float) -> Rate:
    return Rate(name, cfm_person * CFM, cfm_sq_ft * CFM / SQ_FT, people_1000_sq_ft / (1000.0 * SQ_FT))


RATES: Mapping[Use, Rate] = {
    "office": _rate("Office", 5, 0.06, 5),
    "classroom": _rate("Classroom", 10, 0.12, 35),
    "library": _rate("Library", 5, 0.12, 10),
    "retail": _rate("Shop", 7.5, 0.12, 15),
    "assembly": _rate("Assembly hall", 5, 0.06, 150),
    "laboratory": _rate("Laboratory", 10, 0.18, 25),
    "workshop": _rate("Workshop", 10, 0.18, 20),
    "gym": _rate("Gym", 20, 0.18, 7),
    "dining": _rate("Dining room", 7.5, 0.18, 70),
    "corridor": _rate("Corridor", 0, 0.06, 0),
}
"""By use of room: 5 cfm a person and 0.06 cfm a square foot for an office, and so on; ordinary density per 1,000 sq ft."""

Place = Literal["ceiling_cool", "ceiling_warm", "floor_cool", "floor_warm", "displacement", "far_makeup"]

EFFECTIVENESS: Mapping[Place, tuple[str, float]] = {
    "ceiling_cool": ("Ceiling supply, cooling", 1.0),
    "ceiling_warm": ("Ceiling supply, heating over 15 °F above the room, ceiling return", 0.8),
    "floor_cool": ("Floor supply, cooling, ceiling return", 1.0),
    "floor_warm": ("Floor supply, heating, floor return", 1.0),
    "displacement": ("Floor supply without mixing, ceiling return", 1.2),
    "far_makeup": ("Supply and return on opposite sides of the room, or supply close to the return", 0.8),
}
"""How well the air reaches people, by supply and return place and mode."""

LOW_DIVERSITY = 0.6


@dataclass(frozen=True)
class Space:
    """One room, or several alike.

    Attributes
    ----------
    name, use
        As called; by the table, or ``other`` with rates of its own.
    floor_area_m2
        Of its floor [m²], 0 to 20,000.
    people
        At most at once; None: by the use's ordinary density.
    effectiveness
        Of its air, 0.4 to 1.5.
    per_person_m3s, area_rate_m3s_per_m2
        Rates of its own [m³/s], for use ``other``.
    """

    name: str
    use: Use
    floor_area_m2: float
    people: int | None = None
    effectiveness: float = 1.0
    per_person_m3s: float | None = None
    area_rate_m3s_per_m2: float | None = None

    def check(self) -> None:
        """Refuse what no space is."""
        if not self.name.strip() or len(self.name) > 80:
            raise Refused("Give the space a name of at most 80 letters.", "name")
        within(self.floor_area_m2, (0.0, 20_000.0), "floor_area_m2", "area")
        if self.people is not None and not 0 <= self.people <= 10_000:
            raise Refused("Between 0 and 10,000 people.", "people")
        if not 0.4 <= self.effectiveness <= 1.5:
            raise Refused("An effectiveness lies between 0.4 and 1.5; ordinary are 0.8, 1.0 and 1.2.", "effectiveness")
        if self.use == "other" and (self.per_person_m3s is None or self.area_rate_m3s_per_m2 is None):
            raise Refused(
                "A use that is not in the table needs both rates.",
                "per_person_m3s" if self.per_person_m3s is None else "area_rate_m3s_per_m2",
            )
        for name in ("per_person_m3s", "area_rate_m3s_per_m2"):
            value = getattr(self, name)
            if value is not None and not 0 <= value <= 0.1:
                raise Refused("This rate can't be: check its unit.", name)

    @property
    def rate(self) -> Rate:
        """By the table, or its own."""
        if self.use != "other":
            return RATES[self.use]
        return Rate(self.name, self.per_person_m3s or 0.0, self.area_rate_m3s_per_m2 or 0.0, 0.0)

    @property
    def occupants(self) -> float:
        """Counted, or by ordinary density."""
        return float(self.people) if self.people is not None else self.rate.people_per_m2 * self.floor_area_m2


@dataclass(frozen=True)
class SpaceNeed:
    """One space: people reckoned with, what reaches them [m³/s], what must be supplied for it [m³/s]."""

    name: str
    occupants: float
    breathing_m3s: float
    zone_m3s: float
    by_density: bool


@dataclass(frozen=True)
class SpacesNeed:
    """All spaces of a system.

    Attributes
    ----------
    spaces
        Each.
    diversity
        People in the building at once over the sum of all rooms' people.
    uncorrected_m3s
        Zones' outdoor air, people's part by diversity.
    system_effectiveness
        1 for a single zone.
    outdoor_m3s
        What the system must take in.
    rule, edition
        By which form of which rule.
    """

    spaces: tuple[SpaceNeed, ...]
    diversity: float
    uncorrected_m3s: float
    system_effectiveness: float
    outdoor_m3s: float
    rule: Rule
    edition: str


@calculation("ventilation.spaces", "Outdoor air for occupied spaces")
def spaces_need(
    spaces: tuple[Space, ...], people_at_once: int | None = None, rule: Rule | None = None, work: Working = SILENT
) -> SpacesNeed:
    """``V_bz = R_p P + R_a A``, over ``E_z``; several zones by the simplified rule: people's part by diversity, over ``E_v``.

    ``E_v`` is ``0.88 D + 0.22`` below a diversity of 0.6, else 0.75. The people's part is cut by diversity, zone by zone, before
    the zones are added: ``V_ou = sum((D R_p P + R_a A) / E_z)``.

    Parameters
    ----------
    spaces : tuple of Space
        1 to 200.
    people_at_once : int
        In all of them at the same time; None: as many as the sum of all.
    rule : str
        ``single`` for one zone, ``simplified`` for several; None: by how many there are.

    Raises
    ------
    Refused
        No space, over 200; a space that can't be; more people at once than the spaces hold; one zone by the wrong rule.

    References
    ----------
    Commercial ventilation standard: rates by use, zone effectiveness, simplified procedure for several zones.

    >>> office = Space("Office", "office", 1800 * SQ_FT, 9, 0.8)
    >>> round(spaces_need((office,)).outdoor_m3s / CFM, 2)
    191.25
    """
    if not 1 <= len(spaces) <= 200:
        raise Refused("Give 1 to 200 spaces.", "spaces")
    for index, space in enumerate(spaces):
        try:
            space.check()
        except Refused as refusal:
            raise refusal.under(f"spaces.{index}") from refusal
    used: Rule = rule or ("single" if len(spaces) == 1 else "simplified")
    if used == "single" and len(spaces) > 1:
        raise Refused("The rule for a single zone takes one space.", "rule")
    all_people = sum(space.occupants for space in spaces)
    if people_at_once is not None and not 0 <= people_at_once <= max(all_people, 0.0):
        raise Refused("At most as many people at once as the spaces hold together.", "people_at_once")
    diversity = people_at_once / all_people if people_at_once is not None and all_people > 0 else 1.0
    needs = tuple(_need(space, work) for space in spaces)
    cut = diversity if used == "simplified" else 1.0
    uncorrected = sum(
        (cut * space.rate.per_person_m3s * space.occupants + space.rate.area_rate_m3s_per_m2 * space.floor_area_m2)
        / space.effectiveness
        for space in spaces
    )
    effect = 1.0 if used == "single" else 0.88 * diversity + 0.22 if diversity < LOW_DIVERSITY else 0.75
    outdoor = work.step(
        "outdoor air of the system",
        "V_ot",
        "V_ou / E_v",
        uncorrected / effect,
        "airflow",
        source="simplified rule for several zones" if used == "simplified" else "single zone",
        remark=EDITIONS[used],
        V_ou=(uncorrected, "airflow"),
        E_v=(effect, "ratio"),
    )
    return SpacesNeed(needs, diversity, uncorrected, effect, outdoor, used, EDITIONS[used])


def _need(space: Space, work: Working) -> SpaceNeed:
    rate, people = space.rate, space.occupants
    breathing = work.step(
        f"{space.name}: at the people",
        "V_bz",
        f"{rate.per_person_m3s * 1000:.3f} * P + {rate.area_rate_m3s_per_m2 * 1000:.4f} * A",
        rate.per_person_m3s * people + rate.area_rate_m3s_per_m2 * space.floor_area_m2,
        "airflow",
        us=f"{rate.per_person_m3s / CFM:.3g} * P + {rate.area_rate_m3s_per_m2 / CFM * SQ_FT:.3g} * A",
        source=f"rates by use: {rate.name.lower()}",
        P=(people, "ratio"),
        A=(space.floor_area_m2, "area"),
    )
    zone = work.step(
        f"{space.name}: to be supplied",
        "V_oz",
        "V_bz / E_z",
        breathing / space.effectiveness,
        "airflow",
        V_bz=(breathing, "airflow"),
        E_z=(space.effectiveness, "ratio"),
    )
    return SpaceNeed(space.name, people, breathing, zone, space.people is None)


Balance = Literal["positive", "even", "negative", "hazard"]

SLIGHTLY = 0.05
"""A building takes in this share more than it throws out: slightly over the outdoors' pressure. Ours."""


@dataclass(frozen=True)
class AirBalance:
    """What a building takes in less what it throws out [m³/s], and what that means. `hazard`: under the outdoors' pressure with a
    flue that draws by itself.
    """

    net_m3s: float
    balance: Balance


@calculation("ventilation.balance", "Outdoor air against exhaust")
def air_balance(outdoor_m3s: float, exhaust_m3s: float, natural_draft_flue: bool = False, work: Working = SILENT) -> AirBalance:
    """Outdoor air taken in less all exhaust; a building should be slightly positive, never negative with a flue that draws.

    Parameters
    ----------
    outdoor_m3s, exhaust_m3s : float
        0 to 200 m³/s.
    natural_draft_flue : bool
        A burner in the building whose flue draws by itself.

    Raises
    ------
    Refused
        Beyond these.

    References
    ----------
    Conservation of air. A negative pressure can pull flue gas into the rooms: licensed practice and local code decide.

    >>> air_balance(0.5, 0.6, True).balance
    'hazard'
    """
    for value, name in ((outdoor_m3s, "outdoor_m3s"), (exhaust_m3s, "exhaust_m3s")):
        within(value, (0.0, 200.0), name, "airflow")
    net = work.step(
        "net",
        "V_net",
        "V_in - V_out",
        outdoor_m3s - exhaust_m3s,
        "airflow",
        V_in=(outdoor_m3s, "airflow"),
        V_out=(exhaust_m3s, "airflow"),
    )
    near = SLIGHTLY * max(outdoor_m3s, exhaust_m3s)
    if net < 0:
        return AirBalance(net, "hazard" if natural_draft_flue else "negative" if net < -near else "even")
    return AirBalance(net, "positive" if net > near else "even")
