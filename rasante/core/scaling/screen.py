"""The last hop: what a screen takes a number for, and what it shows."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ..quantities.arrays import Array
from ..quantities.units import GRAVITY, UNITS
from .hop import Hop, setting
from .numbers import NUMBER_UNITS
from .steps import stepped
from .volumes import Volumes

ERRORS: dict[str, str] = {
    "none": "shows what comes of it",
    "flag": "shows an error",
    "hold": "holds the last value",
}
TAKES: dict[str, str] = {
    "level": "level",
    "distance": "distance down",
    "pressure": "pressure",
    "percent": "per cent of the height",
}
#: What a screen may show, with the quantity of its unit.
SHOWS: dict[str, str] = {
    "level": "level",
    "ullage": "ullage",
    "volume": "volume",
    "volume_pct": "per cent by volume",
    "linear_pct": "per cent by height",
}
_SHOWN_KEYS = ("mm", "cm", "m", "in", "ft", "l", "m3", "usgal", "impgal", "pct")
SHOWN_UNITS: dict[str, str] = {key: UNITS[key].name for key in _SHOWN_KEYS}
PERCENT = ("volume_pct", "linear_pct")
BY_VOLUME = ("volume", "volume_pct")


@dataclass(frozen=True)
class Screen(Hop):
    """A screen at the far end.

    Parameters
    ----------
    takes, from_unit : str
        What it takes the number for, of `TAKES`, and in which unit.
    zero_m : float
        Level of that number's zero above the inside bottom [m].
    density : float
        Density that it works with [kg/m³].
    height_m : float
        Height of its hundred per cent [m].
    shows, unit : str
        What it shows, of `SHOWS`, and in which unit.
    decimals : int
        To how many places.
    error : str
        What it does with a failed sensor's signal, of `ERRORS`.
    below, above : float
        Signals at and beyond which it takes the sensor for failed.
    filter_s : float
        Time constant of all filters together [s].
    volumes : Volumes or None
        How it turns level into volume.
    top_m, reference_m : float
        Inside height of the tank, and height of its reference point [m].
    """

    station: ClassVar[str] = "shown"
    name: ClassVar[str] = "Screen"

    takes: str = setting("shown.takes", "Takes it for", "choice", options=TAKES, default="level")
    from_unit: str = setting("shown.from", "In", "choice", options=NUMBER_UNITS, follows=True, default="mm")
    zero_m: float = setting("shown.zero", "Height of its zero", "length", -100, 100, follows=True, default=0.0)
    density: float = setting(
        "shown.density", "Density it works with", "density", 100, 20000, follows=True, default=1000.0
    )
    height_m: float = setting("shown.height", "Height of its 100 %", "length", 0.01, 100, follows=True, default=1.0)
    shows: str = setting("shown.as", "Shows", "choice", options=SHOWS, default="level")
    unit: str = setting("shown.unit", "Unit", "choice", options=SHOWN_UNITS, default="mm")
    decimals: int = setting("shown.decimals", "Places", "whole", 0, 9, default=0)
    error: str = setting(
        "shown.error", "With a failed sensor it", "choice", options=ERRORS, moves=False, default="none"
    )
    below: float = setting("shown.below", "Failed at and below", "signal", follows=True, moves=False, default=0.0036)
    above: float = setting("shown.above", "Failed at and above", "signal", follows=True, moves=False, default=0.0210)
    filter_s: float = setting("filter.time", "Filter, time constant, s", "number", 0, 3600, moves=False, default=0.0)
    volumes: Volumes | None = None
    top_m: float = 1.0
    reference_m: float = 1.0

    @property
    def size(self) -> float:
        """How much one of what it shows is, in SI; of a per cent one."""
        return 1.0 if self.shows in PERCENT else UNITS[self.unit].si

    def innage(self, number: Array) -> Array:
        """Innage that it takes a number for [m]."""
        value = number * UNITS[self.from_unit].si
        if self.takes == "distance":
            return self.zero_m - value
        if self.takes == "pressure":
            return value / (self.density * GRAVITY) + self.zero_m
        if self.takes == "percent":
            return value * self.height_m + self.zero_m
        return value + self.zero_m

    def number(self, innage: Array) -> Array:
        """Number that it takes for an innage; the inverse of `innage`."""
        value = innage - self.zero_m
        if self.takes == "distance":
            value = -value
        elif self.takes == "pressure":
            value = value * (self.density * GRAVITY)
        elif self.takes == "percent":
            value = value / self.height_m
        return value / UNITS[self.from_unit].si

    def show(self, innage: Array) -> Array:
        """What it shows of an innage, all places kept."""
        if self.shows in BY_VOLUME and self.volumes is not None:
            whole = self.volumes.capacity / 100 if self.shows == "volume_pct" else self.size
            return self.volumes.volume(innage) / whole
        if self.shows == "linear_pct":
            return innage / self.top_m * 100
        return (self.reference_m - innage if self.shows == "ullage" else innage) / self.size

    def innage_shown(self, shown: Array) -> Array:
        """Innage at which it shows a value [m]; the inverse of `show`."""
        if self.shows in BY_VOLUME and self.volumes is not None:
            whole = self.volumes.capacity / 100 if self.shows == "volume_pct" else self.size
            return self.volumes.level(shown * whole)
        if self.shows == "linear_pct":
            return shown / 100 * self.top_m
        return self.reference_m - shown * self.size if self.shows == "ullage" else shown * self.size

    def forward(self, x: Array, exact: bool = True) -> Array:
        """What it shows of a number."""
        shown = self.show(self.innage(x))
        return stepped(shown, self.decimals) if exact else shown

    def backward(self, y: Array) -> Array:
        """The number of which it shows a value."""
        return self.number(self.innage_shown(y))

    @property
    def step(self) -> float:
        """One of its last place."""
        return 10.0**-self.decimals

    def unasked(self) -> frozenset[str]:
        """What only a pressure, a per cent of the height, an error or a unit of its own asks for."""
        found = {"shown.density"} if self.takes != "pressure" else set()
        found |= {"shown.height"} if self.takes != "percent" else set()
        found |= {"shown.below", "shown.above"} if self.error == "none" else set()
        return frozenset(found | ({"shown.unit"} if self.shows in PERCENT else set()))
