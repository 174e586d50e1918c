"""A house of which the ducts are not as drawn: other losses, other dampers, a hood that shows too much. Deterministic by seed.

What differs from the drawing is drawn by other rules than those the core assumes: one run crushed, one joint open on its way,
damper blades that lose more or less than the table's, seams that leak, handles that miss their marks.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from random import Random

from fentro_core.ducts.blower import AirMover, Blower
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.ducts import DuctTree, RoomBranch, Trunk

ROOMS = ("Hall", "Kitchen", "Living", "Study", "Bath", "Bedroom 1", "Bedroom 2", "Bedroom 3", "Loft", "Laundry", "Shop", "Store")

CURVE = ((0.0, 0.62), (60.0, 0.58), (120.0, 0.53), (180.0, 0.46), (240.0, 0.36), (300.0, 0.20))
"""External static [Pa] and flow [m³/s] of an ordinary blower."""


@dataclass
class House:
    """The tree as drawn, and what is true of it; `turn` moves handles, `read` is a technician with a hood."""

    seed: int
    branches: int = 11
    faults: bool = False
    drawn: DuctTree = field(init=False)
    mover_drawn: AirMover = field(init=False)
    design: dict[str, float] = field(init=False)

    def __post_init__(self) -> None:
        random = self._random = Random(self.seed)
        trunks = tuple(
            Trunk(
                id=f"t{at}",
                after=f"t{at - 1}" if at else "",
                name=f"Trunk {at + 1}",
                width_m=0.5 - 0.06 * at,
                height_m=0.25,
                length_m=random.uniform(2.0, 5.0),
                fittings=("plenum_entry",) if at == 0 else ("past_takeoff",),
            )
            for at in range(4)
        )
        self.drawn = DuctTree(trunks, tuple(self._branch(random, at) for at in range(self.branches)))
        scale = random.uniform(0.85, 1.15) * self.branches / 6.0
        points = tuple(sorted((flow * scale, head) for head, flow in CURVE))
        self.mover_drawn = AirMover(Blower(points), 110.0, 0.5 * scale)
        drawn = Network(self.drawn, 1.18).solve(self.mover_drawn)
        self.design = {branch.id: drawn.flow(branch.id) * random.uniform(0.65, 1.1) for branch in self.drawn.branches}
        self.positions: dict[str, tuple[float, float]] = {}
        self._truth()

    def _branch(self, random: Random, at: int) -> RoomBranch:
        flexible = random.random() < 0.4
        return RoomBranch(
            id=f"b{at}",
            after=f"t{random.randrange(4)}",
            room=ROOMS[at % len(ROOMS)] + (f" {at // len(ROOMS) + 1}" if at >= len(ROOMS) else ""),
            floor=random.choice(("Ground", "Upper")),
            diameter_m=random.choice((0.127, 0.1524, 0.1778, 0.2032)),
            length_m=random.uniform(2.5, 12.0),
            wall="flexible" if flexible else "metal",
            compressed=random.choice((0.0, 0.04, 0.1)) if flexible else 0.0,
            fittings=("takeoff_shoe", "bend_90_pieces", "boot_turning"),
            damper="blade" if random.random() < 0.8 else "none",
            register_pa=12.0,
            register_m3s=0.07,
        )

    def _truth(self) -> None:
        random = self._random
        self._factors = {piece.id: random.lognormvariate(0.0, 0.25) for piece in self.drawn.pieces}
        self.crushed = self.open_joint = ""
        if self.faults:
            self.crushed, self.open_joint = random.sample([branch.id for branch in self.drawn.branches], 2)
            self._factors[self.crushed] *= random.uniform(3.0, 6.0)
        self._lost = {self.open_joint: random.uniform(0.25, 0.45)} if self.open_joint else {}
        self._blades = {branch.id: random.lognormvariate(0.0, 0.25) for branch in self.drawn.branches}
        self._hood = random.gauss(1.0, 0.02)
        mover = self.mover_drawn
        scale = random.gauss(1.0, 0.04)
        points = tuple((flow * scale, head) for flow, head in mover.blower.points)
        self.mover = AirMover(Blower(points), mover.drop_pa * random.lognormvariate(0.0, 0.2), mover.at_m3s)
        self._leak = random.uniform(0.0, 0.03)

    def _network(self) -> Network:
        at = self.positions

        def stands(branch: RoomBranch) -> RoomBranch:
            angle, open_ = at.get(branch.id, (branch.damper_deg, branch.register_open))
            return replace(branch, damper_deg=angle, register_open=open_)

        tree = replace(self.drawn, branches=tuple(stands(branch) for branch in self.drawn.branches))
        network = Network(tree, 1.18, self._factors, self._leak)
        for branch in tree.branches:
            network.resistance(branch.id).handle = self._blades[branch.id]
        return network

    def flows(self) -> DuctFlows:
        """What is true now."""
        return self._network().solve(self.mover)

    def at_registers(self) -> dict[str, float]:
        """Flow that comes out of each register [m³/s]; of a run with an open joint only a part arrives."""
        flows = self.flows()
        return {branch.id: flows.flow(branch.id) * (1.0 - self._lost.get(branch.id, 0.0)) for branch in self.drawn.branches}

    def turn(self, branch: str, damper_deg: float, register_open: float) -> None:
        """A handle; nobody hits a mark exactly."""
        self.positions[branch] = (min(max(self._random.gauss(damper_deg, 0.7), 0.0), 90.0), register_open)

    def read(self) -> dict[str, float]:
        """All registers by hood: its own error, and each reading's [m³/s]."""
        return {branch: flow * self._hood * self._random.gauss(1.0, 0.015) for branch, flow in self.at_registers().items()}

    def shares(self) -> dict[str, float]:
        """What each room truly gets, as a share of its design."""
        return {branch: flow / self.design[branch] for branch, flow in self.at_registers().items()}
