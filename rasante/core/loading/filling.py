"""The filling limit of a vessel under pressure: by the code's filling density, the gas and its temperature."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..quantities.errors import InputError
from .gas import Gas


@cache
def _data() -> Any:
    return json.loads(resources.files(__package__).joinpath("filling_densities.json").read_text("utf-8"))


def places() -> dict[str, str]:
    """Where a vessel may stand, and how large it is, by the table's columns."""
    return dict(_data()["places"])


def source() -> str:
    """Where the table comes from, in words."""
    return str(_data()["source"])


def filling_density(relative_density: float, place: str) -> float:
    """Filling density of a vessel: weight of liquid by that of the water it holds at 60 °F [1].

    Parameters
    ----------
    relative_density : float
        Of the liquid at 60 °F [1].
    place : str
        Of `places`.

    Raises
    ------
    InputError
        If the table has no row for it.

    References
    ----------
    .. [1] NFPA 58, and 49 CFR 173.315(b) for cargo tanks; the table from memory: check the code in force.
    """
    rounded = round(relative_density, 3)
    for row in _data()["rows"]:
        if row["from"] <= rounded <= row["to"]:
            return float(row[place]) / 100
    least, most = _data()["rows"][0]["from"], _data()["rows"][-1]["to"]
    raise InputError.at(
        "density",
        f"a relative density of {rounded:.3f} is outside the table's {least} to {most}: use the code's figure",
    )


@dataclass(frozen=True)
class Permitted:
    """How full a vessel may be.

    Parameters
    ----------
    ratio : float
        Liquid by all that it holds [1].
    filling_density : float
        [1]
    """

    ratio: float
    filling_density: float


def permitted(gas: Gas, temperature_c: float, place: str) -> Permitted:
    """How full a vessel may be with a gas at a temperature.

    Notes
    -----
    Filling density / (relative density × volume correction factor).
    """
    allowed = filling_density(gas.relative_density, place)
    return Permitted(allowed / (gas.relative_density * gas.correction(temperature_c)), allowed)
