"""The wiring drawing as an SVG file: the same boxes, terminals and wires as on the screen, in black on white."""

from __future__ import annotations

from xml.sax.saxutils import escape

from .circuit_drawing import WiringDrawing

_STYLE = (
    "text{font-family:sans-serif;font-size:13px}.n{font-weight:bold}.d,.w{font-size:11px}"
    "rect{fill:none;stroke:#000}path{fill:none;stroke:#000;stroke-width:1.4}.m path{stroke-dasharray:6 3}"
)


def circuit_svg(drawing: WiringDrawing, title: str) -> str:
    """Write a wiring drawing as SVG.

    Parameters
    ----------
    drawing : WiringDrawing
        The drawing.
    title : str
        What it is of, for whoever cannot see it.

    Returns
    -------
    str
        The file. A wire that is not as planned is dashed.
    """
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {drawing.width:g} {drawing.height:g}" '
        f'width="{drawing.width:g}" height="{drawing.height:g}" role="img">',
        f"<title>{escape(title)}</title><style>{_STYLE}</style>",
    ]
    for box in drawing.boxes:
        out.append(f'<rect x="{box.x:g}" y="{box.y:g}" width="{box.width:g}" height="{box.height:g}"/>')
        out.append(f'<text class="n" x="{box.x + 5:g}" y="{box.y + 15:g}">{escape(box.name)}</text>')
        out.append(f'<text class="d" x="{box.x + 5:g}" y="{box.y + 29:g}">{escape(box.detail)}</text>')
    for line in drawing.lines:
        way = "L".join(f"{x:g} {y:g}" for x, y in line.points)
        x, y = line.number_at
        kind = "" if line.planned else ' class="m"'
        out.append(f'<g{kind}><path d="M{way}"/><text class="w" x="{x:g}" y="{y:g}">{line.number}</text></g>')
    for spot in drawing.spots:
        out.append(f'<circle cx="{spot.x:g}" cy="{spot.y:g}" r="3"/>')
        off, anchor = {"right": (-7, "end"), "left": (7, "start")}.get(spot.side, (0, "middle"))
        y = spot.y + (-5 if spot.side == "middle" else 4)
        out.append(f'<text x="{spot.x + off:g}" y="{y:g}" text-anchor="{anchor}">{escape(spot.label)}</text>')
    return "\n".join([*out, "</svg>"]) + "\n"
