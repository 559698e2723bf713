"""What a channel's value is: a station of a tank's chain, or something beside it; and the units it may come in."""

from __future__ import annotations

from dataclasses import dataclass

from ..quantities.units import UNITS
from ..scaling.chain import STATIONS, Chain


@dataclass(frozen=True)
class Meaning:
    """What a channel may be, beside a station of a chain.

    Parameters
    ----------
    label : str
        Its words.
    units : tuple of str
        Keys of `FACTORS` that it may come in; the first is the one it is kept in.
    """

    label: str
    units: tuple[str, ...]


#: What a value is by the unit that it is kept in: SI for what is computed with, as it is read for the rest.
FACTORS: dict[str, float] = {
    **{key: unit.si for key, unit in UNITS.items()},
    "m3/s": 1.0,
    "l/s": UNITS["l"].si,
    "l/min": UNITS["l"].si / 60,
    "m3/h": 1 / 3600,
    "usgal/min": UNITS["usgal"].si / 60,
    "degc": 1.0,
    "deg": 1.0,
    "pc": 1.0,
    "1": 1.0,
    "s": 1.0,
    "ms": 1e-3,
}
UNIT_NAMES: dict[str, str] = {
    **{key: unit.name for key, unit in UNITS.items()},
    "m3/s": "m³/s",
    "l/s": "L/s",
    "l/min": "L/min",
    "m3/h": "m³/h",
    "usgal/min": "US gal/min",
    "degc": "°C",
    "deg": "°",
    "pc": "%",
    "1": "",
    "s": "s",
    "ms": "ms",
}
MEANINGS: dict[str, Meaning] = {
    "flow": Meaning("Flow into it", ("l/min", "l/s", "m3/h", "m3/s", "usgal/min")),
    "outflow": Meaning("Flow out of it", ("l/min", "l/s", "m3/h", "m3/s", "usgal/min")),
    "total": Meaning("Meter, total", ("l", "m3", "usgal", "impgal")),
    "temperature": Meaning("Temperature", ("degc",)),
    "tilt": Meaning("Tilt", ("deg",)),
    "quality": Meaning("Echo quality", ("pc",)),
    "battery": Meaning("Battery", ("v",)),
    "network": Meaning("Network", ("pc",)),
    "pump": Meaning("Pump runs", ("1",)),
    "fault": Meaning("Fault bit", ("1",)),
}
#: What a channel may be: stations first.
KINDS: dict[str, str] = {**STATIONS, **{key: one.label for key, one in MEANINGS.items()}}
_SENSED = {
    "pressure": ("bar", "mbar", "kpa", "psi", "mh2o", "fth2o"),
    "length": ("mm", "cm", "m", "in", "ft"),
    "time": ("ms", "s"),
}


def units_of(kind: str, chain: Chain | None) -> tuple[str, ...]:
    """The units that a channel of a kind may come in, the usual one first; one without a name where it has none.

    Parameters
    ----------
    kind : str
        Of `KINDS`.
    chain : Chain or None
        The tank's chain, where it is a station of one.
    """
    if kind in MEANINGS:
        return MEANINGS[kind].units
    if kind == "level":
        return _SENSED["length"]
    if chain is None:
        return ("1",)
    if kind == "sensed":
        return _SENSED.get(chain.sensing.quantity, ("1",))
    if kind in ("sent", "arriving") and chain.signal is not None:
        return {"current": ("ma",), "voltage": ("v", "mv")}.get(chain.signal.quantity, ("1",))
    return ("1",)
