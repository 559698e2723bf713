"""What is read to the office over the telephone: dimensions, product, depth and time at activation."""

from __future__ import annotations

from ..core.scaling.line import read_line
from .shown import Context, Line, Shown


def office_lines(c: Context) -> list[str]:
    """Return it line by line."""
    tank, w, dip = c.tank, c.words, c.quantity("dip", "length")
    shape = tank.file.tank
    found = [
        f"{tank.site.name}, {tank.name}.",
        f"Product {tank.product or 'not noted'}, capacity {w.worth(shape.capacity)}.",
        f"Inside height {w.length(shape.inside_height)}, reference height {w.length(shape.reference_height_m)}.",
    ]
    serial, address = c.value("serial"), c.value("address")
    if serial:
        found.append(f"Serial {serial}{', address ' + address if address else ''}.")
    if dip is not None:
        taken = c.course.steps.get("dip")
        at = f" at {taken.at:%H:%M} UTC" if taken is not None and taken.at is not None else ""
        reading = read_line(tank.file, None, min(dip, shape.inside_height))
        found.append(f"Depth {w.length(dip)}{at}, {w.worth(reading.volume_m3, reading.u95_m3)}.")
    elif c.value("float_pct"):
        found.append(f"Dial {c.value('float_pct')} by height.")
    return found


def office(c: Context) -> Shown:
    """The same as a step shows it."""
    return Shown([Line("Read out", text) for text in office_lines(c)], [], "")
