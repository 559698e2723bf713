"""Conductance rods: their lengths from the levels, and the relays they switch, simulated."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..quantities.form import Form
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from .situation import Situation

#: The rods, longest first, with what each is for.
RODS: dict[str, str] = {
    "common": "Common",
    "cutout": "Low-water cut-out",
    "start": "Fill start",
    "stop": "Fill stop",
}
CONTACTS = {"no": "normally open", "nc": "normally closed"}
#: Common practice, no published source: a tip of about 45 mm and the top inch stay bare, the common ends 50 mm above
#: the floor, and a coupling's nut takes a rod's thread by half of its 40 mm.
BARE_TIP_M, BARE_TOP_M, COMMON_OFF_FLOOR_M, COUPLING_M = 0.045, 0.025, 0.05, 0.040
PIECE_M = 1.0
#: The least difference between two tips: waves and drops bridge less.
_APART_M = 0.05


@dataclass(frozen=True)
class Rod:
    """One rod.

    Parameters
    ----------
    key, name : str
        Which of `RODS`, and its name.
    tip_m : float
        Level of its tip, innage [m].
    length_m : float
        From the head's underside to its tip [m].
    sheath_m : float
        Length of its sheath: all but tip and top [m].
    pieces_m : tuple of float
        The pieces that it is coupled from, the topmost first; each coupling takes half of itself from both [m].
    """

    key: str
    name: str
    tip_m: float
    length_m: float
    sheath_m: float
    pieces_m: tuple[float, ...]

    @property
    def couplings(self) -> int:
        """How many couplings it has."""
        return len(self.pieces_m) - 1


@dataclass(frozen=True)
class Relays:
    """Two relays as they are wired.

    Parameters
    ----------
    pump_on, booster_on : str
        The contact that the well pump and the booster are wired to, of `CONTACTS`.
    order : tuple of str
        What is wired to the head's terminals common, cut-out, start, stop: rods by their keys.

    Notes
    -----
    The fill relay is energised from the fill-start rod coming dry until the fill-stop rod is wet; the cut-out relay
    is energised while the cut-out rod is dry. So the well pump runs on the normally-open set of the first, the
    booster on the normally-closed set of the second.
    """

    pump_on: str = "no"
    booster_on: str = "nc"
    order: tuple[str, ...] = tuple(RODS)


@dataclass(frozen=True)
class State:
    """What the relays do at one level.

    Parameters
    ----------
    level_m : float
        Innage [m].
    wet : dict of str to bool
        Which rods' tips are wet.
    fill, cutout : bool
        Whether each relay is energised; its lamp is lit then.
    pump, booster : bool
        Whether each runs.
    """

    level_m: float
    wet: dict[str, bool]
    fill: bool
    cutout: bool
    pump: bool
    booster: bool


@dataclass(frozen=True)
class Band:
    """A band of levels, and what holds in it while the level rises and while it falls.

    Parameters
    ----------
    from_m, to_m : float
        The band [m].
    rising, falling : State
        In its middle.
    filling, resting : State
        In its middle, after a fill relay that was energised, and after one that was not.
    """

    from_m: float
    to_m: float
    rising: State
    falling: State
    filling: State
    resting: State


def state_at(level_m: float, tips: dict[str, float], relays: Relays, filling: bool, powered: bool = True) -> State:
    """Work out what the relays do.

    Parameters
    ----------
    level_m : float
        Innage [m].
    tips : dict of str to float
        Levels of the rods' tips [m].
    relays : Relays
        How they are wired.
    filling : bool
        Whether the fill relay was energised before: it holds between start and stop.
    powered : bool
        Whether the relays have power; without it neither is energised.
    """
    wet = {key: level_m >= tips[key] for key in RODS}
    at = dict(zip(RODS, relays.order, strict=True))
    # A terminal senses its rod only through the liquid, against whatever rod is on the common terminal.
    sensed = {terminal: wet[rod] and wet[at["common"]] for terminal, rod in at.items()}
    if not powered:
        fill = cutout = False
    else:
        fill = False if sensed["stop"] else True if not sensed["start"] else filling
        cutout = not sensed["cutout"]
    # The loads have a supply of their own: a closed contact runs them even with the relays dead.
    pump = fill if relays.pump_on == "no" else not fill
    booster = cutout if relays.booster_on == "no" else not cutout
    return State(level_m, wet, fill, cutout, pump, booster)


def run_levels(
    levels: Sequence[float], tips: dict[str, float], relays: Relays, filling: bool = False, powered: bool = True
) -> list[State]:
    """Follow the relays through levels, one after the other; between start and stop each holds what it was."""
    found = []
    for level in levels:
        state = state_at(level, tips, relays, filling, powered)
        filling = state.fill
        found.append(state)
    return found


def truth_table(tips: dict[str, float], relays: Relays, top_m: float) -> list[Band]:
    """List the bands between the tips, from the lowest up, with what holds in each, rising and falling."""
    edges = sorted({0.0, top_m, *(tip for tip in tips.values() if 0 < tip < top_m)})
    middles = [(low + high) / 2 for low, high in pairwise(edges)]
    up = run_levels(middles, tips, relays)
    down = run_levels(middles[::-1], tips, relays, filling=up[-1].fill)[::-1]
    after = [[state_at(level, tips, relays, filling) for filling in (True, False)] for level in middles]
    return [
        Band(low, high, rising, falling, filling, resting)
        for (low, high), rising, falling, (filling, resting) in zip(pairwise(edges), up, down, after, strict=True)
    ]


@dataclass(frozen=True)
class RodSet:
    """Rods cut to their levels, and their relays.

    Parameters
    ----------
    rods : tuple of Rod
        Longest first.
    relays : Relays
        How they are wired.
    bands : tuple of Band
        The truth table.
    spacer_m : float
        Where the spacer sits: above the tip of the longest [m].
    judgements : tuple of Judgement
        The heaviest first.
    """

    rods: tuple[Rod, ...]
    relays: Relays
    bands: tuple[Band, ...]
    spacer_m: float
    judgements: tuple[Judgement, ...]


def _pieces(length: float, piece: float) -> tuple[float, ...]:
    """Split a rod into pieces; what a coupling takes in is not lost, for the rods meet in its middle."""
    found, left = [], length
    while left > piece + 1e-9:
        # Never a stump that a coupling would swallow.
        take = piece if left - piece > 2 * COUPLING_M else left / 2
        found.append(take)
        left -= take
    return (*found, left)


@dataclass(frozen=True)
class RodEntries:
    """What was typed of four rods; what was not is as usual.

    Parameters
    ----------
    tips_m : dict of str to float
        Levels of the tips by `RODS`, those that were typed [m].
    relays : Relays
        How they are wired.
    piece_m : float
        Length of the pieces that rods are sold in [m].
    """

    tips_m: dict[str, float]
    relays: Relays
    piece_m: float = PIECE_M


def read_rods(form: Form, inside_height_m: float) -> RodEntries:
    """Read four rods.

    Parameters
    ----------
    form : Form
        ``rods.cutout|start|stop|common`` (levels), ``rods.pump_on``, ``rods.booster_on``, ``rods.terminal[i]`` (what
        is wired to the head's terminals), ``rods.piece``.
    inside_height_m : float
        The highest that a tip can be [m].
    """
    typed = {key: form.quantity(f"rods.{key}", "length", 0.0, inside_height_m) for key in RODS}
    piece = form.quantity("rods.piece", "length", 0.2, 6.0, usual=PIECE_M)
    order = tuple(form.choice(f"rods.terminal[{i}]", RODS, key) for i, key in enumerate(RODS))
    relays = Relays(
        form.choice("rods.pump_on", CONTACTS, "no"), form.choice("rods.booster_on", CONTACTS, "nc"), order
    )
    return RodEntries({key: level for key, level in typed.items() if level is not None}, relays, piece)


def rod_length(face_m: float, tip_m: float) -> float:
    """Length of a rod from the head's underside to its tip [m]."""
    return face_m - tip_m


def set_rods(entries: RodEntries, there: Situation) -> RodSet:
    """Cut four rods from their levels, and follow their relays.

    Parameters
    ----------
    entries : RodEntries
        What was typed.
    there : Situation
        The tank.
    """
    top, relays = there.tank.inside_height, entries.relays
    span = there.highest_m - there.lowest_m
    tips = {
        "common": there.floor_m + COMMON_OFF_FLOOR_M + there.sediment_m,
        "cutout": there.lowest_m + 0.15 * span,
        "start": there.lowest_m + 0.6 * span,
        "stop": there.lowest_m + 0.95 * span,
    } | entries.tips_m
    rods = []
    for key, name in RODS.items():
        length = rod_length(there.face_m, tips[key])
        sheath = max(length - BARE_TIP_M - BARE_TOP_M, 0.0)
        rods.append(Rod(key, name, tips[key], length, sheath, _pieces(length, entries.piece_m)))
    bands = tuple(truth_table(tips, relays, top))
    found = _judge_levels(tips, there) + _judge_wiring(tips, relays, top)
    return RodSet(tuple(rods), relays, bands, 0.15, tuple(by_weight(found)))


def _judge_levels(tips: dict[str, float], there: Situation) -> list[Judgement]:
    found = []
    for longer, shorter in pairwise(RODS):
        gap = tips[shorter] - tips[longer]
        names = {"longer": RODS[longer], "shorter": RODS[shorter].lower()}
        if gap <= 0:
            text = "{longer} at {value:length} is not below {shorter} at {limit:length}: longest to shortest."
            found.append(stop(f"order-{shorter}", text, value=tips[longer], limit=tips[shorter], **names))
        elif gap < _APART_M:
            text = "{longer} and {shorter} are {value:length} apart: waves and drops bridge that."
            found.append(watch(f"close-{shorter}", text, value=gap, limit=_APART_M, **names))
    if tips["stop"] > there.highest_m + 1e-9:
        text = "Fill stop is {over:length} above the highest level: it overflows first."
        over = tips["stop"] - there.highest_m
        found.append(stop("stop-high", text, value=tips["stop"], limit=there.highest_m, over=over))
    if tips["common"] < there.floor_m + there.sediment_m:
        found.append(stop("common-floor", "The common's tip is in the floor or the sediment."))
    stroke = float(there.tank.volume(tips["stop"]) - there.tank.volume(tips["start"]))
    if stroke > 0:
        found.append(good("stroke", "Each filling brings {value:volume} between start and stop.", value=stroke))
    return found


def _judge_wiring(tips: dict[str, float], relays: Relays, top: float) -> list[Judgement]:
    """What a wrong order or a swapped contact does, by following the relays themselves."""
    found = []
    if sorted(relays.order) != sorted(RODS):
        found.append(stop("rod-twice", "One rod is on two terminals, and another on none."))
    right = Relays()
    wanted_all = truth_table(tips, right, top)
    where = " between {low:length} and {high:length}: "
    for want, have in zip(wanted_all, truth_table(tips, relays, top), strict=True):
        band = {"low": want.from_m, "high": want.to_m}
        for wanted, got, falls in (
            (want.rising, have.rising, False),
            (want.falling, have.falling, True),
        ):
            if got.booster and not wanted.booster:
                text = "The booster runs dry" + where + "it is not locked out below the cut-out rod."
                found.append(stop("dry-run", text, **band))
            if got.pump and not wanted.pump and want is wanted_all[-1]:
                found.append(stop("overflow", "The well pump runs on" + where + "the tank overflows.", **band))
            if wanted.pump and not got.pump and want.from_m < tips["cutout"]:
                text = "The well pump does not start" + where + "the tank runs dry."
                found.append(stop("never-fills", text, **band))
            if wanted.booster and not got.booster and falls:
                found.append(
                    watch(
                        "no-booster",
                        "The booster is locked out between {low:length} and {high:length}, with water there.",
                        **band,
                    )
                )
    if relays.pump_on == "nc":
        text = "With the relays' power lost the well pump, on a normally-closed set, runs on."
        found.append(stop("pump-power-loss", text))
    if relays.booster_on == "nc":
        text = "With the relays' power lost the booster may run dry: feed relays and booster from one supply."
        found.append(watch("booster-power-loss", text))
    unique: list[Judgement] = []
    for one in found:
        if one not in unique:
            unique.append(one)
    if relays == right:
        text = "The well pump is on its normally-open set, the booster on its normally-closed."
        unique.append(good("wired-right", text))
    return unique
