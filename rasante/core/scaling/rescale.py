"""Rescaling: one link is changed, and every setting after it must follow; what is lost, or forgotten."""

from __future__ import annotations

from dataclasses import dataclass, replace

from scipy.constants import g as GRAVITY

from ..units import System, show
from .chain import HOPS, Chain, path_of
from .chain_settings import FOLLOWING, SETTINGS, asked, length_text, settle, text_of
from .chain_values import value_text
from .hops import run, unit_size

CARD_SIGNALS = ("counts_at_low", "counts_at_high")
#: What may be changed, with the settings that go with it.
LINKS: dict[str, tuple[str, tuple[str, ...]]] = {
    "range": ("Another sensor or range", ("sensor_low", "sensor_high", "sensor_zero", "sensor_accuracy")),
    "liquid": ("Another liquid", ("liquid_density",)),
    "signal": ("Another signal", ("signal_kind", *CARD_SIGNALS, "counts_low", "counts_high")),
    "card": (
        "Another input card",
        ("counts_bits", *CARD_SIGNALS, "counts_low", "counts_high", "counts_over", "counts_accuracy"),
    ),
    "number": ("Other units or places", ("scaled_unit", "scaled_decimals", "scaled_rounding", "scaled_digits")),
    "register": ("Another register", ("register_type", "register_order", "register_multiplier", "register_offset")),
    "screen": ("Another screen", ("shown_takes", "shown_as", "shown_unit", "shown_decimals")),
}


@dataclass(frozen=True)
class Change:
    """One setting that changes.

    Parameters
    ----------
    name, path, hop, label : str
        The setting, the entry that it is typed under, its hop's name, and its words.
    old, new : str
        Its values, as they are typed.
    chosen : bool
        Whether it is the change itself; the others follow from it.
    forgotten : str
        What the screen shows at the line if this one alone is left as it was.
    """

    name: str
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
    # Which signals a card's raw ends stand for is the card's own: 0 mA for 0 stays so whatever the sensor.
    same = changed.signal_kind == old.signal_kind
    card = frozenset(name for name in CARD_SIGNALS if same or getattr(changed, name) != getattr(old, name))
    new = settle(changed, card)
    names = [name for name in asked(new) if text_of(new, name, system) != text_of(old, name, system)]
    shown = run(new, level)["shown"]
    left = replace(changed, **{name: getattr(old, name) for name in FOLLOWING})
    forgotten = run(left, level)["shown"]
    changes = _tank_changes(old, new, system) + tuple(
        Change(
            name,
            path_of(name),
            HOPS[SETTINGS[name].hop],
            SETTINGS[name].label,
            text_of(old, name, system),
            text_of(new, name, system),
            name not in FOLLOWING,
            value_text(new, "shown", run(replace(new, **{name: getattr(old, name)}), level)["shown"], system),
        )
        for name in names
    )
    alike = shown * forgotten > 0
    return Rescale(
        new,
        changes,
        level,
        value_text(new, "shown", shown, system),
        value_text(old, "shown", forgotten, system),
        forgotten / shown if alike and old.shown_unit == new.shown_unit and old.shown_as == new.shown_as else None,
        rounding_of(new),
    )


def _tank_changes(old: Chain, new: Chain, system: System) -> tuple[Change, ...]:
    """What is another of the tank itself: it was surveyed again since the chain was set, or its table was revised."""
    facts = {
        "tank.inside_height": ("Inside height", [length_text(c.tank.inside_height, system) for c in (old, new)]),
        "tank.reference_height": (
            "Reference height",
            [length_text(c.tank.reference_height_m, system) for c in (old, new)],
        ),
        "tank.capacity": (
            "Capacity by the table",
            [show(c.volumes.tank.capacity, "volume", system) for c in (old, new)],
        ),
    }
    return tuple(
        Change(path, path, "Tank", label, before, after, True, "")
        for path, (label, (before, after)) in facts.items()
        if before != after
    )


def rounding_of(c: Chain) -> float:
    """What the places of the scaled number take off its ends, as level [m], at the worse end."""
    exact = settle(replace(c, scaled_decimals=-1))
    per_number = unit_size(c.scaled_unit)
    if c.shown_takes == "percent":
        per_number *= c.shown_height
    elif c.shown_takes == "pressure":
        per_number /= c.shown_density * GRAVITY
    return max(abs(c.scaled_low - exact.scaled_low), abs(c.scaled_high - exact.scaled_high)) * per_number
