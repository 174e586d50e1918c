"""Who may look or mend, and the cautions that stand beside it; systems and modes that causes are told for."""

ANYONE = "Anyone in the house"
TECHNICIAN = "Technician"
CERTIFIED = "Certified refrigerant technician"
LICENSED = "Licensed combustion technician, with an analyser"
ELECTRICAL = "Technician qualified for live electrical work"
BY_SKILL = (ANYONE, TECHNICIAN, ELECTRICAL, CERTIFIED, LICENSED)
"""Who may do less first: of several looks at one place, the last of theirs does all."""

POWER_OFF = "Lock out power before opening; capacitors hold charge; keep hands from a blower until it stands still."
CIRCUIT = "Refrigerant circuit: certified persons only."
FLAME = "Gas and carbon monoxide: a licensed person with an analyser."
DRAFT = (
    "A flame burns here: suction near it can pull flue gas, carbon monoxide, into the air. Alarm at hand; a licensed person "
    "checks the draft, before and after."
)
HOT_METAL = "The hot metal is the heat exchanger: keep hands and leads off. " + FLAME
FLAMMABLE = "{refrigerant} can burn: no flame, no spark, air moving, a leak detector made for it."
LIVE = "Live parts: only a person qualified for live work, with a meter rated for it; else power off."
HEIGHT = "Ladder, roof and attic: three points of contact, heat breaks; leave asbestos-like insulation alone."

COOLING = "cooling"
HEATING = "heating"
GAS = ("furnace_with_coil",)
PUMP = ("split_heat_pump",)
ROOF = ("packaged_rooftop",)
SPLIT_SYSTEMS = ("furnace_with_coil", "split_heat_pump")

RISK_MINUTES = {LIVE: 10.0, CIRCUIT: 10.0, FLAME: 10.0, HEIGHT: 5.0, POWER_OFF: 3.0}
"""What a look that can hurt costs beside its minutes: so many more are rather spent on one that can't. Ours."""
