"""What a machine can differ in: what nobody knows of a sound one, what causes do to it, and how it is run and read."""

from __future__ import annotations

from dataclasses import dataclass, fields


@dataclass(init=False)
class Knobs:
    """A sound machine as its nameplate says, read rightly. Factors of 1, shares and offsets of 0.

    One holds what differs from that; the rest is the class's own, so that hundreds are made for one visit in no time.

    `r_return` to `r_supply`: resistance to air. `yields`: how much the flow gives way to resistance. `leak`, `lost`: share of
    the air that comes in before the blower, or goes out after it. `outdoor`: share of outdoor air. `charge`, `pumping`,
    `surface`, `condenser`: what is left of it. `heater`: heat while cooling, as a share of the rated cooling. `defrosts`:
    cooling while heat is called, as a share of the rated cooling. `restrictor`: 1 where no valve meters. `settled`: how much of
    the way the supply had come when it was read. `hood`, `plate`: what is read, over what is so. `off_k`: what the culprit
    probe is off by.
    """

    flow: float = 1.0
    yields: float = 0.24
    fan: float = 1.0
    r_return: float = 1.0
    r_filter: float = 1.0
    r_coil: float = 1.0
    r_supply: float = 1.0
    leak: float = 0.02
    wall: float = 1.0
    lost: float = 0.02
    outdoor: float = 0.0
    bypassed: float = 0.0
    cooling: float = 1.0
    moist: float = 1.0
    surface: float = 1.0
    evaporating_k: float = 0.0
    superheat_k: float = 0.0
    subcooling_k: float = 0.0
    approach: float = 1.0
    warming: float = 1.0
    current: float = 1.0
    charge: float = 1.0
    foreign_k: float = 0.0
    restricted: float = 0.0
    starved: float = 0.0
    flooded: float = 0.0
    piston: float = 0.0
    pumping: float = 1.0
    valve_leak: float = 0.0
    running: float = 1.0
    condenser: float = 1.0
    drawn_back_k: float = 0.0
    heater: float = 0.0
    water: float = 0.0
    fire: float = 1.0
    iced: float = 1.0
    defrosts: float = 0.0
    element: float = 1.0
    auxiliary_w: float = 0.0
    stage: float = 1.0
    restrictor: float = 0.0
    settled: float = 1.0
    sees_k: float = 0.0
    touches_k: float = 0.0
    sunlit_k: float = 0.0
    hood: float = 1.0
    plate: float = 1.0
    off_k: float = 0.0
    layered_k: float = 0.0

    def turned(self, **to: float) -> Knobs:
        """Another one with these set."""
        found = Knobs()
        found.__dict__.update(self.__dict__)
        found.__dict__.update(to)
        return found


NAMES = tuple(each.name for each in fields(Knobs))
