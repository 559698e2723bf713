"""Rescaling: one link is changed, and every setting after it must follow; what is lost, or forgotten."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..quantities.units import GRAVITY, UNITS, System, show
from ..scaling.chain import Chain
from ..scaling.chain_settings import following, length_text, settle, text_of
from ..scaling.chain_values import value_text

CARD_SIGNALS = ("counts.at_low", "counts.at_high")
#: What may be changed, with the entries of the settings that go with it.
LINKS: dict[str, tuple[str, tuple[str, ...]]] = {
    "range": ("Another sensor or range", ("sensor.low", "sensor.high", "sensor.zero", "sensor.accuracy")),
    "liquid": ("Another liquid", ("liquid.density",)),
    "signal": ("Another signal", ("signal.kind", *CARD_SIGNALS, "counts.low", "counts.high")),
    "card": (
        "Another input card",
        ("counts.bits", *CARD_SIGNALS, "counts.low", "counts.high", "counts.over", "counts.accuracy"),
    ),
    "number": ("Other units or places", ("scaled.unit", "scaled.decimals", "scaled.rounding", "scaled.digits")),
    "register": ("Another register", ("register.type", "register.order", "register.multiplier", "register.offset")),
    "screen": ("Another screen", ("shown.takes", "shown.as", "shown.unit", "shown.decimals")),
}


@dataclass(frozen=True)
class Change:
    """One setting that changes.

    Parameters
    ----------
    path, hop, label : str
        The setting's entry, its hop's name, and its words.
    old, new : str
        Its values, as they are typed.
    chosen : bool
        Whether it is the change itself; the others follow from it.
    forgotten : str
        What the screen shows at the line if this one alone is left as it was.
    """

    path: str
    hop: str
    label: str
    old: str
    new: str
    chosen: bool
    forgotten: str


@dataclass(frozen=True)
class Rescale:
    """What a change asks for.

    Parameters
    ----------
    chain : Chain
        The chain as it must be.
    changes : tuple of Change
        In the order of the hops.
    level_m : float
        The level that readings are told at [m].
    right, forgotten : str
        What the screen shows there when all is done, and when nothing after the change is.
    ratio : float or None
        The second by the first [1], where both are numbers of one sign.
    rounding_m : float
        What the places of the scaled number take off its ends, as level [m].
    """

    chain: Chain
    changes: tuple[Change, ...]
    level_m: float
    right: str
    forgotten: str
    ratio: float | None
    rounding_m: float


def rescale(old: Chain, changed: Chain, level: float, system: System) -> Rescale:
    """Work out what must change.

    Parameters
    ----------
    old : Chain
        The chain as it is, on the tank as it was surveyed then.
    changed : Chain
        The same with other settings of one link, on the tank as it is surveyed now.
    level : float
        The level that readings are told at [m].
    system : {"metric", "us"}
        The units of the words.
    """
    before, asked_for = old.settings(), changed.settings()
    # Which signals a card's raw ends stand for is the card's own: 0 mA for 0 stays so whatever the sensor.
    same = before["signal.kind"] == asked_for["signal.kind"]
    card = frozenset(
        path for path in CARD_SIGNALS if path in asked_for and (same or asked_for[path] != before.get(path))
    )
    new = settle(changed, card)
    follows = following(new)
    texts = {path: (_was(old, path, system), text_of(new, path, system)) for path in new.known()}
    left = changed.put({path: before[path] for path in following(changed) if path in before})
    shown, forgotten = new.at(level)["shown"], _shown(left, level)

    def alone(path: str) -> str:
        if path not in before:
            return ""
        return value_text(new, "shown", _shown(new.put({path: before[path]}), level), system)

    changes = _tank_changes(old, new, system) + tuple(
        Change(
            path,
            new.hop(new.known()[path][0]).name if new.known()[path][0] in new.stations else "Sensor",
            new.known()[path][1].label,
            was,
            becomes,
            path not in follows,
            alone(path),
        )
        for path, (was, becomes) in texts.items()
        if was != becomes
    )
    alike = shown * forgotten > 0 and math.isfinite(forgotten)
    same_shown = (old.screen.unit, old.screen.shows) == (new.screen.unit, new.screen.shows)
    return Rescale(
        new,
        changes,
        level,
        value_text(new, "shown", shown, system),
        value_text(old, "shown", forgotten, system),
        forgotten / shown if alike and same_shown else None,
        rounding_of(new),
    )


def _shown(c: Chain, level: float) -> float:
    """What a chain would show; NaN where one of its ends meets the other: nobody knows what a device makes of it."""
    try:
        return c.at(level)["shown"]
    except ZeroDivisionError:
        return math.nan


def _was(old: Chain, path: str, system: System) -> str:
    return text_of(old, path, system) if path in old.known() else "not there"


def _tank_changes(old: Chain, new: Chain, system: System) -> tuple[Change, ...]:
    """What is another of the tank itself: it was surveyed again since the chain was set, or its table was revised."""
    facts = [
        ("tank.inside_height", "Inside height", [length_text(c.top_m, system) for c in (old, new)]),
        (
            "tank.reference_height",
            "Reference height",
            [length_text(c.screen.reference_m, system) for c in (old, new)],
        ),
        ("tank.capacity", "Capacity by the table", [_capacity(c, system) for c in (old, new)]),
    ]
    return tuple(
        Change(path, "Tank", label, was, becomes, True, "") for path, label, (was, becomes) in facts if was != becomes
    )


def _capacity(c: Chain, system: System) -> str:
    return show(c.screen.volumes.capacity, "volume", system) if c.screen.volumes is not None else ""


def rounding_of(c: Chain) -> float:
    """What the places of the scaled number take off its ends, as level [m], at the worse end."""
    exact = settle(c.put({"scaled.decimals": -1})).scaling
    per_number = UNITS[c.scaling.unit].si
    if c.screen.takes == "percent":
        per_number *= c.screen.height_m
    elif c.screen.takes == "pressure":
        per_number /= c.screen.density * GRAVITY
    ends = np.array([c.scaling.low - exact.low, c.scaling.high - exact.high])
    return float(np.max(np.abs(ends))) * per_number
