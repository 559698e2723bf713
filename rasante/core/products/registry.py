"""The registry of products: what is known of each, found by any of the names that people write on a tank."""

from __future__ import annotations

import json
import re
import unicodedata
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from importlib import resources
from typing import Any, Literal

Correction = Literal["refined", "boiling", "linear", ""]
NOT_KNOWN = "not known: density, hazards and materials must be given"


@dataclass(frozen=True)
class Product:
    """A product.

    Parameters
    ----------
    key : str
        Its plain name; empty for one that is not known.
    group : str
        What materials bear it by; empty for one that is not known.
    pattern : str
        The pattern that it is drawn with.
    flammable, pressurised, potable : bool
        Its hazards; what is not known is treated as flammable, and said to be not known: the caution costs a line,
        its absence may cost more.
    conductive : bool or None
        Whether it conducts; None if nobody knows.
    density_kg_m3 : float or None
        Its usual density at 15 °C [kg/m³]; None for one that is computed, or not known.
    correction : {"refined", "boiling", "linear", ""}
        How its density goes with temperature: by API MPMS 11.1, as a pure liquid, by `per_k`, or not known.
    per_k : float
        Change of density [kg/m³ by K].
    fluid : str
        Name of a pure liquid, by which `saturation` knows it.
    vapour, zone, why_zone : str
        How much vapour stands above it, the zone inside the tank, and why.
    sound_m_s : float or None
        Speed of sound in the liquid [m/s].
    filling_limit : float or None
        Share of a vessel that it may be filled to, where no better figure is known [1].
    """

    key: str = ""
    group: str = ""
    pattern: str = "other"
    flammable: bool = False
    pressurised: bool = False
    potable: bool = False
    conductive: bool | None = None
    density_kg_m3: float | None = None
    correction: Correction = ""
    per_k: float = 0.0
    fluid: str = ""
    vapour: str = "some"
    zone: str = "0"
    why_zone: str = "the product is not known: taken as flammable"
    sound_m_s: float | None = None
    filling_limit: float | None = None

    @property
    def fills_to(self) -> float | None:
        """Share of a vessel that liquid under pressure may fill [1]; None for what is not under pressure."""
        return (self.filling_limit or USUAL_FILLING) if self.pressurised else None

    @property
    def known(self) -> bool:
        """Whether it was found in the registry."""
        return bool(self.key)


UNKNOWN = Product(flammable=True)
#: Share of a pressurised vessel that it may be filled to where nothing better is known: common practice, no published
#: source; the code in force gives it by relative density, size and place.
USUAL_FILLING = 0.80


@cache
def _data() -> Any:
    return json.loads(resources.files(__package__).joinpath("products.json").read_text("utf-8"))


@cache
def _synonyms() -> dict[tuple[str, ...], Product]:
    found = {}
    for row in _data()["products"]:
        facts = {key: value for key, value in row.items() if key != "names"}
        for name in row["names"]:
            found[_parts(name)] = Product(**facts)
    return found


def _parts(name: str) -> tuple[str, ...]:
    """Its words, in small letters and without accents: people type with and without them."""
    plain = unicodedata.normalize("NFKD", name.casefold()).encode("ascii", "ignore").decode()
    return tuple(re.findall(r"[a-z0-9]+", plain))


def product_names() -> list[str]:
    """Return the names to choose from; any other may be written too."""
    return [name for row in _data()["products"] for name in row["names"]]


@lru_cache(maxsize=512)
def product_of(name: str) -> Product:
    """Find a product by what is written on its tank.

    Parameters
    ----------
    name : str
        For instance ``Commercial propane HD-5`` or ``red diesel``.

    Returns
    -------
    Product
        The one whose name is the longest run of whole words in it, if every other word only qualifies it. Otherwise
        one that is not known, flammable, and under pressure if anything in it is: hazards are never lost, and
        nothing else is guessed.
    """
    words = _parts(name)
    runs = [(words[i:j], i, j) for i in range(len(words)) for j in range(i + 1, len(words) + 1)]
    there = [(run, i, j) for run, i, j in runs if run in _synonyms()]
    if not there:
        return UNKNOWN
    longest, start, end = max(there, key=lambda found: (len(found[0]), sum(map(len, found[0]))))
    found = _synonyms()[longest]
    rest = [word for at, word in enumerate(words) if not start <= at < end]
    also = [one for one, i, j in there if j <= start or i >= end]
    qualifiers = set(_data()["qualifiers"])
    spoken_of = {word for one in also if _synonyms()[one] == found for word in one}
    if all(word in qualifiers or word in spoken_of for word in rest):
        return found
    pressurised = any(_synonyms()[one].pressurised for one, _, _ in there)
    return replace(UNKNOWN, pressurised=pressurised, pattern="gas" if pressurised else "other")


@cache
def materials() -> dict[str, dict[str, Any]]:
    """Return the materials by their keys: name, and the groups of products that each bears for good, or not for ever.

    Notes
    -----
    Common practice, no published source: a maker's own table of the very compound comes first.
    """
    found: dict[str, dict[str, Any]] = json.loads(
        resources.files(__package__).joinpath("materials.json").read_text("utf-8")
    )
    return found
