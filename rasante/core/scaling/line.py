"""The line: everything that can be read at one level, from whichever of its readings is known."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from ..tanks.table import table_at
from ..tanks.tank_file import TankFile
from ..units import System, read_quantity, show
from .transmitter import MEASURING_A, Transmitter

#: What the line can be moved by, with the quantity it is typed in.
MOVED_BY: dict[str, str] = {
    "innage": "length",
    "ullage": "length",
    "volume": "volume",
    "volume_pct": "ratio",
    "linear_pct": "ratio",
    "sensed": "length",
    "current": "current",
}


@dataclass(frozen=True)
class LineReading:
    """All that reads at one level.

    Parameters
    ----------
    innage_m, ullage_m : float
        Liquid above the inside bottom, and from the reference point down to it [m].
    volume_m3 : float
        Volume of liquid [m³].
    u95_m3 : float or None
        Its expanded uncertainty from the tank's dimensions, k = 2 [m³], if those are stated.
    volume_ratio, linear_ratio : float
        Share of the capacity, and what a gauge linear in height shows [1].
    surface_m2 : float
        Area of the liquid's surface [m²]: a millimetre there is so many litres.
    sensed_m : float or None
        What the transmitter senses [m], if there is one.
    current_a : float or None
        Its current on the straight line [A].
    signal_a : float or None
        The current it really sends, held within the measuring limits [A].
    """

    innage_m: float
    ullage_m: float
    volume_m3: float
    u95_m3: float | None
    volume_ratio: float
    linear_ratio: float
    surface_m2: float
    sensed_m: float | None
    current_a: float | None
    signal_a: float | None


def read_line(file: TankFile, transmitter: Transmitter | None, innage: float) -> LineReading:
    """Read everything at one level.

    Parameters
    ----------
    file : TankFile
        The tank.
    transmitter : Transmitter or None
        Its transmitter, if it is scaled.
    innage : float
        The level [m], within the tank.
    """
    row = table_at(file, np.array([innage]))
    sensed = current = signal = None
    if transmitter is not None:
        sensed = float(transmitter.sensed(file.tank, innage))
        current = float(transmitter.current(file.tank, innage))
        signal = float(np.clip(current, *MEASURING_A))
    return LineReading(
        innage,
        float(row.ullage_m[0]),
        float(row.volume_m3[0]),
        None if row.u95_m3 is None else float(row.u95_m3[0]),
        float(row.volume_ratio[0]),
        float(row.linear_ratio[0]),
        float(file.tank.surface(innage)),
        sensed,
        current,
        signal,
    )


def find_line(file: TankFile, transmitter: Transmitter | None, by: str, text: str, system: System) -> float:
    """Find the level at which one reading is what was typed.

    Parameters
    ----------
    file, transmitter
        As in `read_line`.
    by : str
        Which reading, a key of `MOVED_BY`.
    text : str
        Its value as typed.
    system : {"metric", "us"}
        What a bare number means.

    Returns
    -------
    float
        Innage [m], from the model itself.

    Raises
    ------
    InputError
        If it cannot be read, or no level of this tank gives it.
    """
    if by not in MOVED_BY:
        raise InputError.at("by", f"must be one of {', '.join(MOVED_BY)}")
    tank = file.tank
    value = read_quantity(text, MOVED_BY[by], system, "text")
    if by in ("sensed", "current") and transmitter is None:
        raise InputError.at("text", "this tank is not scaled yet: set its transmitter at Scale first")
    if by in ("volume", "volume_pct"):
        if by == "volume_pct" and not 0 <= value <= 1:
            raise InputError.at("text", f"{value:.1%} is outside 0 to 100 %")
        wanted = value * tank.capacity if by == "volume_pct" else value
        try:
            return tank.level(wanted)
        except InputError:
            least, most = (show(float(tank.volume(h)), "volume", system) for h in (0.0, tank.inside_height))
            seen = "it holds" if tank.volume(0.0) == 0 else "its gauge tells"
            raise InputError.at(
                "text", f"{show(wanted, 'volume', system)} is outside this tank: {seen} {least.split()[0]} to {most}"
            ) from None
    innage = {
        "innage": lambda: value,
        "ullage": lambda: tank.reference_height_m - value,
        "linear_pct": lambda: value * tank.inside_height,
        "sensed": lambda: float(transmitter.innage_of(tank, value)) if transmitter else value,
        "current": lambda: float(transmitter.innage(tank, value)) if transmitter else value,
    }[by]()
    if not -1e-9 <= innage <= tank.inside_height + 1e-9:
        raise InputError.at(
            "text",
            f"“{text.strip()}” stands for an innage of {show(innage, 'length', system)}; this tank has 0 to "
            f"{show(tank.inside_height, 'length', system)}",
        )
    return float(np.clip(innage, 0.0, tank.inside_height))
