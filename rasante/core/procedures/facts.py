"""The facts that decide which steps a visit has: what was chosen, and what follows from it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..gauges.model import technologies
from ..products.registry import product_of
from ..quantities.errors import InputError, Problem
from ..quantities.signals import OUTPUTS

Facts = Mapping[str, str]
#: One alternative of a condition: every fact named has one of these values.
Clause = Mapping[str, tuple[str, ...]]

HAZARDS = ("flammable", "pressurised", "potable")
#: What follows from the facts chosen.
DERIVED = (
    *("mount", "senses", "cut", "beams", "weighs", "through_wall"),
    *("fits", "opens", "vented", "hot", "wired", "terminals", "injects", "acts", "sets"),
)


def _yes(holds: bool) -> str:
    return "yes" if holds else "no"


def settle(chosen: Facts) -> dict[str, str]:
    """Add what follows from the facts chosen.

    Parameters
    ----------
    chosen : mapping of str to str
        ``job``, ``method``, the hazards of the product and the facts of ``procedures.json``, each with its key.

    Returns
    -------
    dict of str to str
        All of them, with `DERIVED`.

    Notes
    -----
    A vessel under pressure is never opened; a signal is injected wherever one is wired and more than looked at.
    """
    job, link = chosen["job"], chosen["link"]
    way = technologies()[chosen["method"]]
    fits = job in ("install", "replace")
    opens = fits and way.mount != "below" and chosen["pressurised"] == "no"
    wired = link != "radio"
    terminals = wired and job in ("install", "replace", "trouble")
    injects = link in ("current", "voltage") and job != "check"
    follows = {
        "mount": way.mount,
        "senses": way.senses,
        "cut": way.cut or "none",
        "beams": _yes(way.beams),
        "weighs": _yes(way.weighs),
        "through_wall": _yes(way.through_wall),
        "fits": _yes(fits),
        "opens": _yes(opens),
        "vented": _yes(opens),
        "hot": _yes(opens and chosen["flammable"] == "yes" and chosen["port"] == "new"),
        "wired": _yes(wired),
        "terminals": _yes(terminals),
        "injects": _yes(injects),
        "acts": _yes(injects or link == "relay" or (chosen["pumps"] == "yes" and terminals)),
        "sets": _yes(job in ("install", "replace", "commission")),
    }
    return {**chosen, **follows}


def holds(clauses: tuple[Clause, ...], facts: Facts) -> bool:
    """Tell whether one of some alternatives holds; none at all always does."""
    return not clauses or any(all(facts[key] in values for key, values in clause.items()) for clause in clauses)


def hazards_of(product_name: str) -> dict[str, str]:
    """Return the hazards of a product as facts."""
    found = product_of(product_name)
    return {key: _yes(getattr(found, key)) for key in HAZARDS}


def options_of(data: Mapping[str, Any]) -> dict[str, dict[str, str]]:
    """Return what may be chosen for each fact, with its words; the hazards are the product's."""
    return {
        "job": dict(data["jobs"]),
        "method": {key: way.name for key, way in technologies().items()},
        **{key: dict(row["options"]) for key, row in data["facts"].items()},
    }


def check_facts(chosen: Mapping[str, Any], data: Mapping[str, Any], product_name: str) -> dict[str, str]:
    """Check the facts chosen for a visit and add what follows from them.

    Raises
    ------
    InputError
        At every fact that is missing, is not known, or does not go with another.
    """
    options = options_of(data)
    found = [Problem(f"facts.{key}", "is not a fact of a visit") for key in chosen if key not in options]
    for key, words in options.items():
        value = chosen.get(key)
        if value not in words:
            what = "is missing" if value in (None, "") else f"“{str(value)[:24]}” is not known"
            found.append(Problem(f"facts.{key}", f"{what}: choose one of {', '.join(words)}"))
    if found:
        raise InputError(*found)
    facts = settle({**{key: str(chosen[key]) for key in options}, **hazards_of(product_name)})
    against = clash(facts)
    if against:
        raise InputError(*(Problem(f"facts.{key}", what) for key, what in against))
    return facts


def clash(facts: Facts) -> list[tuple[str, str]]:
    """Tell which facts do not go together: the fact to change, and why."""
    found = []
    if facts["pressurised"] == "yes" and facts["mount"] != "below" and facts["method"] != "float":
        found.append(("method", "a vessel under pressure is gauged from outside: choose sonar, or its float"))
    if facts["mount"] == "below" and facts["port"] != "none":
        found.append(("port", "what sits under the bottom needs no opening: choose none"))
    if facts["opens"] == "yes" and facts["port"] == "none":
        found.append(("port", "say through which opening it goes in"))
    if (facts["method"] == "rods") != (facts["link"] == "relay"):
        found.append(("link", "conductance rods switch relays, and nothing else here does"))
    if facts["power"] == "battery" and facts["link"] == "relay":
        found.append(("power", "relays are fed from a panel: choose loop or mains"))
    return found


def link_of_output(output: str, kind: str) -> str:
    """Return the link that goes with a gauge's output and its circuit's kind, as far as they say."""
    if not output:
        return "radio"
    if output not in OUTPUTS:
        return "digital"
    return {"two_wire": "current", "four_wire": "current", "three_wire": "voltage", "contact": "relay"}.get(
        kind, "digital"
    )
