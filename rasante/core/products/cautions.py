"""The usual cautions, by product and by the work at hand. The words are data: ``cautions.json`` beside this file."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from .registry import product_of


@dataclass(frozen=True)
class Caution:
    """One caution: a short name, the station it belongs to, and its words."""

    code: str
    station: str
    text: str


@cache
def _rules() -> dict[str, Any]:
    rules: dict[str, Any] = json.loads(resources.files(__package__).joinpath("cautions.json").read_text("utf-8"))
    return rules


def standing_caution() -> str:
    """Return the words that always stand."""
    return str(_rules()["standing"])


def cautions_for(product: str) -> list[Caution]:
    """Return the cautions for a product, in the order of the job."""
    found = product_of(product)
    facts = {
        "flammable": found.flammable,
        "pressurised": found.pressurised,
        "potable": found.potable,
        "known": found.known,
    }
    return [
        Caution(rule["code"], rule["station"], rule["text"])
        for rule in _rules()["cautions"]
        if all(facts[key] == value for key, value in rule["when"].items())
    ]
