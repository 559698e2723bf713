"""The wiring drawing: where each part, terminal and wire stands, for the screen and the printed sheet alike.

Panel at the left, cable runs and junction boxes between, sensor at the right. Every wire has a lane of its own in
the gap that it turns in, so that no two lie on one another.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from .circuit import Circuit, Part
from .wires import size_name

ROW, LANE, HEAD = 22.0, 11.0, 34.0
_WIDTHS = {"panel": 150.0, "cable": 118.0, "terminals": 62.0, "connector": 62.0}
_APART, _MARGIN = 8.0, 8.0


@dataclass(frozen=True)
class Box:
    """A part as it is drawn: its corner, its size, its name and what it is."""

    id: str
    kind: str
    x: float
    y: float
    width: float
    height: float
    name: str
    detail: str


@dataclass(frozen=True)
class Spot:
    """A terminal as it is drawn: ``part.terminal``, its place, its label, and the side of the box it is on."""

    point: str
    x: float
    y: float
    label: str
    side: str


@dataclass(frozen=True)
class Line:
    """A wire as it is drawn: its tag, its number and where that stands, its corners, its mark, whether as planned."""

    id: str
    number: int
    points: tuple[tuple[float, float], ...]
    mark: str
    planned: bool
    number_at: tuple[float, float]


@dataclass(frozen=True)
class WiringDrawing:
    """The whole drawing, in points of its own."""

    width: float
    height: float
    boxes: tuple[Box, ...]
    spots: tuple[Spot, ...]
    lines: tuple[Line, ...]


def describe_part(part: Part) -> str:
    """Write what a part is in a line: its values in the trade's units."""
    value = part.value
    words: dict[str, Callable[[], str]] = {
        "supply": lambda: f"{value('volt'):g} V ({value('volt_min'):g}–{value('volt_max'):g})",
        "fuse": lambda: f"{value('rating_a') * 1000:g} mA",
        "barrier": lambda: f"{value('ohm'):g} Ω, return {value('return_ohm'):g} Ω",
        "cable": lambda: f"{size_name(value('area_mm2'))}, {value('length_m'):g} m",
        "two_wire": lambda: f"two-wire, from {value('lift_off_v'):g} V",
        "contact": lambda: "contact",
        "three_wire": lambda: f"{value('out_low_v'):g}–{value('out_high_v'):g} V, {value('draw_a') * 1000:g} mA",
        "four_wire": lambda: f"active, draws {value('draw_a') * 1000:g} mA",
        "digital": lambda: f"digital, draws {value('draw_a') * 1000:g} mA",
        "current_input": lambda: f"{value('ohm'):g} Ω, " + ("active" if value("supplies_v") else "passive"),
        "voltage_input": lambda: f"{value('ohm') / 1000:g} kΩ",
        "contact_input": lambda: f"{value('ohm'):g} Ω",
        "digital_input": lambda: f"{value('ohm'):g} Ω across A and B",
        "meter": lambda: f"{value('ohm'):g} Ω",
        "burden": lambda: f"{value('ohm'):g} Ω",
    }
    return words[part.kind]() if part.kind in words else ""


def draw_circuit(circuit: Circuit, planned: Mapping[str, tuple[str, str]]) -> WiringDrawing:
    """Lay a circuit out.

    Parameters
    ----------
    circuit : Circuit
        The circuit.
    planned : mapping of str to (str, str)
        The ends that each wire should have, by its tag.
    """
    columns = _columns(circuit)
    column_of = {part.id: index for index, column in enumerate(columns) for part in column}
    lanes = _lanes(circuit, column_of, len(columns))
    boxes: list[Box] = []
    spots: dict[str, Spot] = {}
    # What a conductor was rung out as stands beside its core.
    marks = {wire.b: wire.mark for wire in circuit.wires if wire.mark and wire.mark not in ("shield", "added")}
    x = _MARGIN
    gaps: list[float] = []
    for index, column in enumerate(columns):
        width = _place_column(column, x, index == 0, boxes, spots, marks)
        x += width
        gaps.append(x)
        x += (lanes[index] + 1) * LANE + 8 if index + 1 < len(columns) else _MARGIN
    bottom = max(box.y + box.height for box in boxes)
    lines, below = _route(circuit, planned, column_of, gaps, spots, bottom)
    return WiringDrawing(x, below + _MARGIN, tuple(boxes), tuple(spots.values()), tuple(lines))


def _columns(circuit: Circuit) -> list[list[Part]]:
    panel = [part for part in circuit.parts if part.place == "panel"]
    run = [[part] for part in circuit.parts if part.place == "run"]
    field = [part for part in circuit.parts if part.place == "field"]
    # Boxes stand between the runs that they join.
    cables = [column for column in run if column[0].kind == "cable"]
    between = [column for column in run if column[0].kind == "terminals"]
    middle = [cables[0]] if cables else []
    for box, cable in zip(between, cables[1:], strict=False):
        middle += [box, cable]
    plug = [column for column in run if column[0].kind == "connector"]
    return [panel, *middle, *plug, field]


def _place_column(
    column: list[Part],
    x: float,
    panel: bool,
    boxes: list[Box],
    spots: dict[str, Spot],
    marks: Mapping[str, str],
) -> float:
    """Stack a column's parts from the top and give its width; cable rows lie between those of the panel."""
    y = _MARGIN if panel else _MARGIN + ROW / 2
    width = 0.0
    for part in column:
        width = max(width, _WIDTHS.get(part.kind, _WIDTHS["panel"]))
        rows = list(dict.fromkeys(t[:-1] for t in part.terminals)) if part.kind == "cable" else list(part.terminals)
        height = HEAD + ROW * max(len(rows), 1)
        box_width = _WIDTHS.get(part.kind, _WIDTHS["panel"])
        boxes.append(Box(part.id, part.kind, x, y, box_width, height, part.name, describe_part(part)))
        for index, row in enumerate(rows):
            at = y + HEAD + ROW * (index + 0.5)
            if part.kind == "cable":
                for end, where in (("a", x), ("b", x + box_width)):
                    point = f"{part.id}.{row}{end}"
                    label = f"{row} {marks.get(point, '')}".strip()[:14] if end == "a" else ""
                    spots[point] = Spot(point, where, at, label, "left" if end == "a" else "right")
            elif part.kind in ("terminals", "connector"):
                spots[f"{part.id}.{row}"] = Spot(f"{part.id}.{row}", x + box_width / 2, at, row, "middle")
            else:
                where, side = (x + box_width, "right") if panel else (x, "left")
                spots[f"{part.id}.{row}"] = Spot(f"{part.id}.{row}", where, at, row, side)
        y += height + _APART + (ROW / 2 if not panel else 0)
    return width


def _gap(column_of: Mapping[str, int], spot_side: str, id: str) -> int:
    """Which gap a terminal turns into: the one after its column, or before it where it is on the left."""
    column = column_of[id]
    return column - 1 if spot_side == "left" and column > 0 else column


def _side(circuit: Circuit, point: str) -> str:
    id, _, terminal = point.partition(".")
    part = circuit.part(id)
    if part.kind == "cable":
        return "left" if terminal.endswith("a") else "right"
    if part.kind in ("terminals", "connector"):
        return "middle"
    return "right" if part.place == "panel" else "left"


def _gaps_of(circuit: Circuit, column_of: Mapping[str, int], a: str, b: str) -> tuple[int, int]:
    """The gaps that a wire's ends turn into; a junction box turns to whichever side the other end is."""
    sides = {point: _side(circuit, point) for point in (a, b)}
    found = []
    for point, other in ((a, b), (b, a)):
        id, other_id = point.partition(".")[0], other.partition(".")[0]
        if sides[point] == "middle":
            found.append(column_of[id] - 1 if column_of[other_id] < column_of[id] else column_of[id])
        else:
            found.append(_gap(column_of, sides[point], id))
    return found[0], found[1]


def _lanes(circuit: Circuit, column_of: Mapping[str, int], count: int) -> list[int]:
    """How many lanes each gap needs."""
    lanes = [0] * count
    for wire in circuit.wires:
        for gap in set(_gaps_of(circuit, column_of, wire.a, wire.b)):
            lanes[gap] += 1
    return lanes


def _route(
    circuit: Circuit,
    planned: Mapping[str, tuple[str, str]],
    column_of: Mapping[str, int],
    gaps: list[float],
    spots: Mapping[str, Spot],
    bottom: float,
) -> tuple[list[Line], float]:
    """Give every wire its corners; give the lowest of them too."""
    used = [0] * len(gaps)
    lines: list[Line] = []
    below = bottom

    def lane(gap: int) -> float:
        used[gap] += 1
        return gaps[gap] + used[gap] * LANE

    for number, wire in enumerate(circuit.wires, start=1):
        a, b = spots[wire.a], spots[wire.b]
        first, second = _gaps_of(circuit, column_of, wire.a, wire.b)
        points = [(a.x, a.y)]
        if first == second:
            x = lane(first)
            if a.y != b.y:
                points += [(x, a.y), (x, b.y)]
        else:
            # Past other columns: down, along below everything, and up again.
            below += LANE
            left, right = lane(first), lane(second)
            points += [(left, a.y), (left, below), (right, below), (right, b.y)]
        points.append((b.x, b.y))
        as_planned = planned.get(wire.id) == (wire.a, wire.b)
        lines.append(Line(wire.id, number, tuple(points), wire.mark, as_planned, _number_at(points)))
    return lines, below


def _number_at(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Where a wire's number stands: above the middle of a straight one, beside the upright part of one that turns."""
    (x0, y0), (x1, y1) = points[1:3] if len(points) > 2 else points
    middle = (y0 + y1) / 2
    return (x0 + 2, middle + 3) if len(points) > 2 else ((x0 + x1) / 2 - 3, middle - 3)


def terminal_list(circuit: Circuit) -> list[dict[str, str]]:
    """List the wires terminal by terminal: number, from, to, mark."""
    return [
        {
            "number": str(number),
            "id": wire.id,
            "a": wire.a,
            "b": wire.b,
            "from": circuit.name(wire.a),
            "to": circuit.name(wire.b),
            "mark": wire.mark,
        }
        for number, wire in enumerate(circuit.wires, start=1)
    ]
