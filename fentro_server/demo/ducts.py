"""The printworks' ducts as they were walked, its rooms' readings, and a balance begun: the demo's own made-up house."""

from __future__ import annotations

from typing import Any

TRUNKS: tuple[dict[str, Any], ...] = (
    {
        "id": "main",
        "name": "Main run",
        "width_m": 0.5,
        "height_m": 0.3,
        "length_m": 4.0,
        "fittings": ["plenum_entry"],
    },
    {
        "id": "shop",
        "after": "main",
        "name": "Shop run",
        "width_m": 0.4,
        "height_m": 0.25,
        "length_m": 6.0,
        "fittings": ["past_takeoff"],
    },
    {
        "id": "upper",
        "after": "main",
        "name": "Upper floor",
        "width_m": 0.35,
        "height_m": 0.25,
        "length_m": 5.0,
        "fittings": ["bend_90_pieces", "takeoff_shoe"],
    },
)

METAL, FLEXIBLE = "metal", "flexible"

BRANCHES: tuple[tuple[str, str, str, str, float, float, str, float, float, float], ...] = (
    ("press-north", "main", "Press room, north", "Ground", 0.254, 6.0, METAL, 0.0, 0.085, 0.045),
    ("press-south", "main", "Press room, south", "Ground", 0.254, 9.5, METAL, 0.0, 0.085, 0.045),
    ("press-desk", "main", "Press room, desk", "Ground", 0.152, 11.0, FLEXIBLE, 0.04, 0.025, 0.015),
    ("bindery-east", "main", "Bindery, east", "Ground", 0.203, 7.0, METAL, 0.0, 0.06, 0.03),
    ("bindery-west", "shop", "Bindery, west", "Ground", 0.203, 12.5, METAL, 0.0, 0.06, 0.03),
    ("shop-front", "shop", "Shop, front", "Ground", 0.203, 15.0, METAL, 0.0, 0.06, 0.03),
    ("shop-counter", "shop", "Shop, counter", "Ground", 0.152, 13.5, METAL, 0.0, 0.03, 0.015),
    ("paper-a", "upper", "Paper store, A", "Upper", 0.178, 10.0, METAL, 0.0, 0.045, 0.02),
    ("paper-b", "upper", "Paper store, B", "Upper", 0.178, 14.0, METAL, 0.0, 0.045, 0.02),
    ("proof", "upper", "Proof room", "Upper", 0.152, 9.0, FLEXIBLE, 0.04, 0.03, 0.02),
    ("office", "upper", "Office", "Upper", 0.152, 16.5, FLEXIBLE, 0.04, 0.025, 0.012),
)
"""Id, trunk, room, floor, diameter [m], length [m], wall, compressed, design for cooling [m³/s], register's free face [m²]."""


def branch(row: tuple[str, str, str, str, float, float, str, float, float, float]) -> dict[str, Any]:
    """One branch as it is noted."""
    key, after, room, floor, diameter, length, wall, compressed, design, face = row
    return {
        "id": key,
        "after": after,
        "room": room,
        "floor": floor,
        "diameter_m": diameter,
        "length_m": length,
        "wall": wall,
        "compressed": compressed,
        "fittings": ["takeoff_shoe", "bend_90_pieces", "boot_turning"],
        "damper": "none" if key == "press-desk" else "blade",
        "register_pa": 8.0,
        "register_m3s": design * 1.4,
        "face_area_m2": face,
        "cooling_design_m3s": design,
        "heating_design_m3s": round(design * (1.1 if floor == "Ground" else 0.8), 4),
    }


READ_L_S: dict[str, float] = {
    "press-north": 124.7,
    "press-south": 107.0,
    "press-desk": 25.3,
    "bindery-east": 67.5,
    "bindery-west": 56.8,
    "shop-front": 53.7,
    "shop-counter": 30.4,
    "paper-a": 48.8,
    "paper-b": 44.8,
    "proof": 23.3,
    "office": 9.1,
}
"""By hood, as found. The office's run is crushed."""

ROOM_C: dict[str, float] = {
    "press-north": 21.9,
    "bindery-east": 22.6,
    "shop-front": 24.6,
    "paper-a": 22.8,
    "proof": 24.9,
    "office": 27.3,
}

TURNED: tuple[tuple[str, float], ...] = (("press-north", 37.0), ("press-south", 35.0))
"""Handles turned before the visit ended [° from open]: the plan is half carried out."""

Step = tuple[int, str, dict[str, Any], str]


def walked(minute: int) -> list[Step]:
    """The tree, one piece a minute."""
    trunks = [(minute + at, "duct_trunk", trunk, "as_found") for at, trunk in enumerate(TRUNKS)]
    branches = [(minute + len(TRUNKS) + at, "duct_branch", branch(row), "as_found") for at, row in enumerate(BRANCHES)]
    return [*trunks, *branches]


def registers(minute: int) -> list[Step]:
    """Every register by hood."""
    found = []
    for at, row in enumerate(BRANCHES):
        station = f"register-{row[2]}-{row[3]}".lower().replace(", ", "-").replace(" ", "-")
        body = {
            "station": station,
            "quantity": "airflow",
            "value": READ_L_S[row[0]],
            "unit": "L/s",
            "instrument": "register_hood",
        }
        found.append((minute + at, "reading", body, "as_found"))
    return found


def surveyed(minute: int) -> list[Step]:
    """Rooms after an hour's running; the thermostat asks for 23 °C."""
    return [
        (minute + at, "room_surveyed", {"branch": key, "room_c": room_c, "wanted_c": 23.0}, "as_found")
        for at, (key, room_c) in enumerate(ROOM_C.items())
    ]


def turned(minute: int) -> list[Step]:
    """The first handles of the plan."""
    return [
        (minute + 4 * at, "damper_turned", {"branch": key, "damper_deg": angle}, "as_left")
        for at, (key, angle) in enumerate(TURNED)
    ]


ZONES: tuple[dict[str, Any], ...] = (
    {
        "id": "zone-press",
        "name": "Press room",
        "rooms": ["press-north", "press-south", "press-desk"],
        "damper": "power",
        "control": "Inner wall beside the ink store",
        "cable_m": 14.0,
        "damper_va": 6.5,
    },
    {
        "id": "zone-bindery",
        "name": "Bindery",
        "rooms": ["bindery-east", "bindery-west"],
        "damper": "power",
        "control": "Column between both benches",
        "cable_m": 22.0,
        "damper_va": 6.5,
    },
    {
        "id": "zone-shop",
        "name": "Shop",
        "rooms": ["shop-front", "shop-counter"],
        "damper": "spring",
        "control": "Behind the counter",
        "cable_m": 31.0,
        "damper_va": 6.5,
    },
    {
        "id": "zone-paper",
        "name": "Paper store",
        "rooms": ["paper-a", "paper-b", "proof", "office"],
        "damper": "inflatable",
        "control": "Upstairs landing",
        "wireless": True,
    },
)


def zoned(minute: int) -> list[Step]:
    """The zoning proposal: four zones, a week for the press room, the board."""
    zones = [(minute + at, "zone", dict(zone), "as_found") for at, zone in enumerate(ZONES)]
    used = {"cooling_setpoint_c": 23.0, "heating_setpoint_c": 20.0}
    idle = {"cooling_setpoint_c": 27.0, "heating_setpoint_c": 16.0}
    slots = [
        slot for day in range(5) for slot in ({"from_min": day * 1440 + 390, **used}, {"from_min": day * 1440 + 1080, **idle})
    ]
    week = {"zone": "zone-press", "slots": slots}
    board = {
        "board_va": 4.0,
        "control_va": 2.0,
        "rated_va": 75.0,
        "ports": 8,
        "board": "ZB-1",
        "costs": {"bypass": 640.0, "merge": 90.0},
    }
    return [
        *zones,
        (minute + len(ZONES), "zone_timetable", week, "as_found"),
        (minute + len(ZONES) + 1, "zone_hardware", board, "as_found"),
    ]
