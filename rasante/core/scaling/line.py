"""The line: everything that can be read at one level, from whichever of its readings is known."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..quantities.errors import InputError
from ..quantities.typed import read_quantity
from ..quantities.units import System, show
from ..tanks.table import table_at
from ..tanks.tank_file import TankFile
from .chain import STATIONS, Chain
from .chain_values import find_level

#: What the line can be moved by beside the stations of its chain, with the quantity it is typed in.
MOVED_BY: dict[str, str] = {
    "innage": "length",
    "ullage": "length",
    "volume": "volume",
    "volume_pct": "ratio",
    "linear_pct": "ratio",
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
    stations : dict of str to float
        Every value along the chain, by its stations; empty without one.
    """

    innage_m: float
    ullage_m: float
    volume_m3: float
    u95_m3: float | None
    volume_ratio: float
    linear_ratio: float
    surface_m2: float
    stations: dict[str, float]


def read_line(file: TankFile, chain: Chain | None, innage: float) -> LineReading:
    """Read everything at one level.

    Parameters
    ----------
    file : TankFile
        The tank.
    chain : Chain or None
        Its scaling chain, if one is kept.
    innage : float
        The level [m], within the tank.
    """
    row = table_at(file, np.array([innage]))
    return LineReading(
        innage,
        float(row.ullage_m[0]),
        float(row.volume_m3[0]),
        None if row.u95_m3 is None else float(row.u95_m3[0]),
        float(row.volume_ratio[0]),
        float(row.linear_ratio[0]),
        float(file.tank.surface(innage)),
        {} if chain is None else chain.at(innage),
    )


def find_line(file: TankFile, chain: Chain | None, by: str, text: str, system: System) -> float:
    """Find the level at which one reading is what was typed.

    Parameters
    ----------
    file, chain
        As in `read_line`.
    by : str
        Which reading: a key of `MOVED_BY`, or a station of the chain.
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
        if by not in STATIONS:
            raise InputError.at("by", f"must be one of {', '.join((*MOVED_BY, *list(STATIONS)[1:]))}")
        if chain is None:
            raise InputError.at("text", "no chain is kept of this tank yet: look at it at Scale, and keep it first")
        if by not in chain.stations:
            raise InputError.at("by", f"must be one of {', '.join((*MOVED_BY, *chain.stations[1:]))}")
        return find_level(chain, by, text, system)
    tank = file.tank
    value = read_quantity(text, MOVED_BY[by], system, "text")
    if by in ("volume", "volume_pct"):
        return _by_volume(file, value, by == "volume_pct", system)
    innage = {
        "innage": value,
        "ullage": tank.reference_height_m - value,
        "linear_pct": value * tank.inside_height,
    }[by]
    if not -1e-9 <= innage <= tank.inside_height + 1e-9:
        raise InputError.at(
            "text",
            f"“{text.strip()}” stands for an innage of {show(innage, 'length', system)}; this tank has 0 to "
            f"{show(tank.inside_height, 'length', system)}",
        )
    return float(np.clip(innage, 0.0, tank.inside_height))


def _by_volume(file: TankFile, value: float, share: bool, system: System) -> float:
    tank = file.tank
    if share and not 0 <= value <= 1:
        raise InputError.at("text", f"{value:.1%} is outside 0 to 100 %")
    wanted = value * tank.capacity if share else value
    try:
        return tank.level(wanted)
    except InputError:
        least, most = (show(float(tank.volume(h)), "volume", system) for h in (0.0, tank.inside_height))
        seen = "it holds" if tank.volume(0.0) == 0 else "its gauge tells"
        raise InputError.at(
            "text", f"{show(wanted, 'volume', system)} is outside this tank: {seen} {least.split()[0]} to {most}"
        ) from None
