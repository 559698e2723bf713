"""The usual cautions, by product and by the work at hand. The words are data: ``cautions.json`` beside this file."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any


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


def product_names() -> list[str]:
    """Return the products that are known by name; any other may be written too."""
    return [name for product in _rules()["products"] for name in product["names"]]


def product_facts(product: str) -> dict[str, Any]:
    """Return what is known of a product: its pattern, and whether it burns, is under pressure, or is drunk."""
    wanted = product.strip().lower()
    for entry in _rules()["products"]:
        if wanted in entry["names"]:
            return dict(entry)
    # What is not known is taken as flammable: the caution costs a line, its absence may cost more.
    return {"pattern": "other", "flammable": True}


def product_pattern(product: str) -> str:
    """Return the name of the pattern a product is drawn with."""
    return str(product_facts(product)["pattern"])


def cautions_for(product: str) -> list[Caution]:
    """Return the cautions for a product, in the order of the job."""
    facts = product_facts(product)
    return [
        Caution(rule["code"], rule["station"], rule["text"])
        for rule in _rules()["cautions"]
        if all(facts.get(key, False) == value for key, value in rule["when"].items())
    ]
