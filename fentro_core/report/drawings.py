"""Drawings of a report as SVG, for paper: the air path with its temperatures, the states on a chart, the rooms' airflows."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from html import escape
from itertools import pairwise

from fentro_core.air.chart import chart
from fentro_core.base.quantity import say
from fentro_core.base.units import KINDS, number, show
from fentro_core.report.content import AirPicture, Report, Room, StatePoint, TreePiece
from fentro_core.system.air_path import Band
from fentro_core.visit.results import RibbonJoint, Segment

WIDTH = 680
BAND = 34
"""A whole stream's width [px]: parts of it are drawn in proportion."""
ROW = 96
LEFT, RIGHT, TOP = 26, 30, 46

SCALE = ((4.0, (63, 95, 115)), (14.0, (143, 171, 181)), (24.0, (226, 210, 171)), (34.0, (207, 138, 79)), (46.0, (168, 69, 42)))
"""Our temperature scale, as in the interface: slate, sand, clay."""

INK, QUIET, LINE, CLAY, TEAL = "#1C2624", "#5A625F", "#CFC6B5", "#C4622D", "#0F5A53"


def tint(celsius: float) -> str:
    """The colour of a temperature.

    >>> tint(24.0), tint(-40.0) == tint(4.0)
    ('rgb(226,210,171)', True)
    """
    held = min(max(celsius, SCALE[0][0]), SCALE[-1][0])
    for (low, cold), (high, warm) in pairwise(SCALE):
        if held <= high:
            part = (held - low) / (high - low)
            mixed = (round(a + (b - a) * part) for a, b in zip(cold, warm, strict=True))
            return f"rgb({','.join(map(str, mixed))})"
    raise AssertionError("the scale has an end")


def _svg(height: float, title: str, body: Iterable[str], key: str = "") -> str:
    """The drawing; its hatch has a name of its own, as several drawings stand on one page."""
    drawn, hatch = "".join(body), ""
    if "url(#hatch)" in drawn:
        own = f"hatch-{key}"
        drawn = drawn.replace("url(#hatch)", f"url(#{own})")
        hatch = (
            f'<defs><pattern id="{own}" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
            f'<rect width="6" height="6" fill="#F1ECE2"/><rect width="1.6" height="6" fill="{LINE}"/></pattern></defs>'
        )
    size = f'viewBox="0 0 {WIDTH} {height:g}" width="{WIDTH}" height="{height:g}" font-family="Report, sans-serif"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} role="img"><title>{escape(title)}</title>{hatch}{drawn}</svg>'


def _tag(name: str, **of: object) -> str:
    """An element: numbers to a tenth, names with dashes."""
    said = (
        f'{key.replace("_", "-")}="{value:.1f}"' if isinstance(value, float) else f'{key.replace("_", "-")}="{value}"'
        for key, value in of.items()
    )
    return f"<{name} {' '.join(said)}/>"


def _text(
    x: float, y: float, words: str, *, size: float = 11, anchor: str = "middle", colour: str = INK, bold: bool = False
) -> str:
    look = f'font-size="{size:g}" text-anchor="{anchor}" fill="{colour}" font-weight="{700 if bold else 400}"'
    return f'<text x="{x:.1f}" y="{y:.1f}" {look}>{escape(words)}</text>'


def _fill(celsius: float | None) -> str:
    return "url(#hatch)" if celsius is None else tint(celsius)


def air_path_drawing(picture: AirPicture, system: str) -> str:
    """The air going through the system, left to right: width is flow, tint is temperature, hatch is not measured."""
    bands = picture.path.bands
    body: list[str] = []
    for row, band in enumerate(bands):
        body += _band(picture, band, TOP + BAND + row * ROW, system)
    return _svg(TOP + BAND + (len(bands) - 1) * ROW + 40, "The way of the air", body, picture.phase)


def _band(picture: AirPicture, band: Band, bottom: float, system: str) -> Iterator[str]:
    segments: Sequence[Segment] = next((each.segments for each in picture.ribbon.bands if each.band == band.id), ())
    joints = {each.joint: each for each in picture.ribbon.joints}
    count = len(band.elements)
    step = (WIDTH - LEFT - RIGHT) / count
    at = {element.id: LEFT + step * (index + 0.5) for index, element in enumerate(band.elements)}
    for joint in band.joints:
        if joint.at in at and joint.direction != "around":
            yield from _joint(joint.name, joint.direction, at[joint.at], step, bottom, joints.get(joint.id), system)
    for index in range(count):
        segment = segments[index] if index < len(segments) else None
        begin = LEFT if index == 0 else LEFT + step * (index + 0.5)
        end = WIDTH - RIGHT if index == count - 1 else LEFT + step * (index + 1.5)
        height = BAND * min(max(segment.share if segment else 1.0, 0.05), 1.0)
        celsius = segment.dry_bulb.value if segment and segment.dry_bulb else None
        yield _tag("rect", x=begin, y=bottom - height, width=end - begin, height=height, fill=_fill(celsius))
    last = segments[-1].dry_bulb if segments else None
    tip = WIDTH - RIGHT
    colour = _fill(last.value if last else None)
    yield _tag("path", d=f"M{tip} {bottom - BAND}L{tip + 14} {bottom - BAND / 2}L{tip} {bottom}Z", fill=colour)
    for index, element in enumerate(band.elements):
        x = at[element.id]
        yield _tag("line", x1=x, x2=x, y1=bottom - BAND, y2=bottom, stroke=INK, stroke_width=1.2)
        yield _text(x, bottom + 14, element.name, size=10, colour=QUIET)
        segment = segments[index] if index < len(segments) else None
        if segment and segment.dry_bulb and element.station:
            yield _text(x, bottom + 28, show(segment.dry_bulb.value, "temperature", system), size=12, bold=True)


def _joint(
    name: str, direction: str, x: float, step: float, bottom: float, found: RibbonJoint | None, system: str
) -> Iterator[str]:
    share = found.share if found else 0.2
    thick = max(BAND * share, 2.5)
    inside, top = bottom - BAND + thick / 2, bottom - BAND - 22
    outer = x - step * 0.3 if direction == "joins" else x + step * 0.3
    celsius = found.dry_bulb.value if found and found.dry_bulb else None
    colour = LINE if celsius is None else tint(celsius)
    way = f"M{outer:.1f} {top:.1f}Q{outer:.1f} {inside:.1f} {x:.1f} {inside:.1f}"
    yield _tag("path", d=way, fill="none", stroke=colour, stroke_width=thick)
    known = f" {show(share, 'share', system)}" if found and found.share_known else ""
    side = "start" if outer + 90 < WIDTH else "end"
    row = top + 8 if direction == "joins" else top - 5
    yield _text(outer + (6 if side == "start" else -6), row, f"{name}{known}", size=10, anchor=side, colour=QUIET)


@dataclass(frozen=True)
class _Frame:
    """The window of a chart on paper."""

    low_c: float
    high_c: float
    top: float
    height: float = 330.0

    def x(self, celsius: float) -> float:
        return 20 + (celsius - self.low_c) / (self.high_c - self.low_c) * (WIDTH - 80)

    def y(self, ratio: float) -> float:
        return self.height - 30 - ratio / self.top * (self.height - 46)


def _framed(states: Sequence[StatePoint]) -> _Frame:
    cold, hot = min(state.dry_bulb_c for state in states), max(state.dry_bulb_c for state in states)
    low, high = max(-60.0, min(5.0, cold - 4)), min(90.0, max(35.0, hot + 4))
    return _Frame(low, high, min(0.1, max(0.016, 1.25 * max(state.humidity_ratio for state in states))))


def chart_drawing(states: Sequence[StatePoint], pressure_pa: float, system: str) -> str:
    """The states of a visit on a psychrometric chart for the site's pressure; as found hollow, as left filled."""
    frame = _framed(states)
    lines = chart(frame.low_c, frame.high_c, frame.top, pressure_pa, "US" if system == "US" else "SI").lines
    body = []
    for line in lines:
        if line.family not in ("saturation", "relative_humidity", "enthalpy"):
            continue
        points = " ".join(f"{frame.x(t):.1f},{frame.y(w):.1f}" for t, w in zip(line.dry_bulb_c, line.humidity_ratio, strict=True))
        thick, dash = (
            (1.5, "") if line.family == "saturation" else (0.5, ' stroke-dasharray="2 3"' if line.family == "enthalpy" else "")
        )
        colour = QUIET if line.family == "saturation" else LINE
        body.append(f'<polyline points="{points}" fill="none" stroke="{colour}" stroke-width="{thick}"{dash}/>')
        if line.family == "relative_humidity" and round(line.value * 10) % 2 == 0:
            x, y = frame.x(line.dry_bulb_c[-1]), frame.y(line.humidity_ratio[-1])
            body.append(
                _text(min(x, WIDTH - 62) - 2, y - 3, show(line.value, "relative_humidity"), size=8, anchor="end", colour=QUIET)
            )
    body += _axes(frame, system)
    for number_, state in enumerate(states, 1):
        x, y = frame.x(state.dry_bulb_c), frame.y(state.humidity_ratio)
        fill = TEAL if state.phase == "as_left" else "#FBF8F3"
        body.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="7.5" fill="{fill}" stroke="{TEAL}" stroke-width="1.6"/>')
        body.append(_text(x, y + 3.6, str(number_), size=10, colour="#FBF8F3" if state.phase == "as_left" else TEAL, bold=True))
    return _svg(frame.height, "Air states on the chart", body)


def _axes(frame: _Frame, system: str) -> Iterator[str]:
    temperature, moisture = KINDS["temperature"].unit(system), KINDS["humidity_ratio"].unit(system)
    floor = frame.y(0.0)
    yield f'<line x1="20" x2="{WIDTH - 60}" y1="{floor:.1f}" y2="{floor:.1f}" stroke="{QUIET}"/>'
    yield f'<line x1="{WIDTH - 60}" x2="{WIDTH - 60}" y1="{frame.y(frame.top):.1f}" y2="{floor:.1f}" stroke="{QUIET}"/>'
    for shown in _ticks(temperature.from_si(frame.low_c), temperature.from_si(frame.high_c), 10 if system == "US" else 5):
        x = frame.x(temperature.to_si(shown))
        yield f'<line x1="{x:.1f}" x2="{x:.1f}" y1="{floor:.1f}" y2="{floor + 4:.1f}" stroke="{QUIET}"/>'
        yield _text(x, floor + 15, number(shown, 0), size=9, colour=QUIET)
    yield _text((WIDTH - 40) / 2, floor + 27, f"Dry bulb, {temperature.label}", size=9, colour=QUIET)
    for shown in _ticks(0.0, moisture.from_si(frame.top), 20 if system == "US" else 4):
        y = frame.y(moisture.to_si(shown))
        yield _text(WIDTH - 54, y + 3, number(shown, 0), size=9, anchor="start", colour=QUIET)
    yield _text(WIDTH - 6, frame.y(frame.top) - 6, f"Humidity ratio, {moisture.label}", size=9, anchor="end", colour=QUIET)


def _ticks(low: float, high: float, step: int) -> list[int]:
    first = int(low // step + (1 if low % step else 0)) * step
    return list(range(first, int(high) + 1, step))


def rooms_drawing(rooms: Sequence[Room], system: str) -> str:
    """What each room gets, against what it should get by design."""
    most = max(max(room.measured.value, room.design.value if room.design else 0.0) for room in rooms) or 1.0
    left, room_for = 190, WIDTH - 190 - 130
    body = []
    for index, room in enumerate(rooms):
        y = 8 + index * 24
        body.append(_text(left - 8, y + 13, room.name, size=11, anchor="end"))
        width = room.measured.value / most * room_for
        body.append(f'<rect x="{left}" y="{y + 3}" width="{width:.1f}" height="13" fill="{TEAL}"/>')
        words = say(room.measured, system)
        if room.design:
            x = left + room.design.value / most * room_for
            body.append(f'<line x1="{x:.1f}" x2="{x:.1f}" y1="{y}" y2="{y + 19}" stroke="{CLAY}" stroke-width="2.4"/>')
            words += f" of {show(room.design.value, 'airflow', system)}"
        body.append(
            _text(
                left + max(width, (room.design.value / most * room_for) if room.design else 0) + 8,
                y + 13,
                words,
                size=10,
                anchor="start",
            )
        )
    return _svg(16 + 24 * len(rooms), "Airflow of the rooms", body)


def tree_drawing(pieces: Sequence[TreePiece], system: str) -> str:
    """The ducts from the unit on: trunks thick, branches thin, each under the piece that it leaves."""
    body, ends = [], {-1: 0.0}
    for index, piece in enumerate(pieces):
        y, x = 14.0 + 20 * index, 14.0 + 26 * piece.depth
        from_ = ends.get(piece.depth - 1, 0.0) + 8
        thick = 3.2 if piece.trunk else 1.4
        body.append(_tag("path", d=f"M{x - 8:.1f} {from_:.1f}V{y:.1f}H{x + 8:.1f}", fill="none", stroke=TEAL, stroke_width=thick))
        ends[piece.depth] = y
        body.append(_text(x + 14, y + 4, piece.name, size=11, anchor="start", bold=piece.trunk))
        body.append(_text(330, y + 4, piece.size.say(system), size=10, anchor="start", colour=QUIET))
        if piece.airflow:
            body.append(_text(WIDTH - 20, y + 4, say(piece.airflow, system), size=11, anchor="end"))
    return _svg(20 + 20 * len(pieces), "The ducts", body)


@dataclass(frozen=True)
class Drawing:
    """A drawing with its title and how to read it."""

    title: str
    words: str
    svg: str


def drawings(report: Report, system: str) -> tuple[Drawing, ...]:
    """Every drawing of a report, in the reader's units."""
    found = [
        Drawing(
            f"The way of the air, {PHASES[picture.phase]}",
            "Width: flow. Tint: temperature. Hatched: not measured.",
            air_path_drawing(picture, system),
        )
        for picture in report.pictures
    ]
    if report.states:
        key = "; ".join(f"{number_} {state.name}, {PHASES[state.phase]}" for number_, state in enumerate(report.states, 1))
        found.append(Drawing("Air states on the chart", key, chart_drawing(report.states, report.pressure.value, system)))
    if report.tree:
        words = "Thick: trunks. Each piece under the one it leaves; at the right its airflow, as far as it is known."
        found.append(Drawing("The ducts", words, tree_drawing(report.tree, system)))
    if report.rooms:
        found.append(
            Drawing("Airflow of the rooms", "Bar: measured. Upright line: by design.", rooms_drawing(report.rooms, system))
        )
    return tuple(found)


PHASES = {"as_found": "as found", "as_left": "as left", "": ""}
