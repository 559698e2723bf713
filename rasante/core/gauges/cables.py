"""How long the cable of a submersible sensor has to be, and which stock length to order."""

from __future__ import annotations

from dataclasses import dataclass

from ..quantities.form import Form
from ..quantities.judgement import Judgement, by_weight, good, stop, watch
from .model import GaugeModel
from .situation import Situation


@dataclass(frozen=True)
class CableCut:
    """A submersible sensor's cable.

    Parameters
    ----------
    down_m, run_m, loop_m, need_m : float
        From the flange to the sensor, on to the box, the drip loop, and all of it [m].
    off_floor_m : float
        How far the sensor hangs above the floor [m].
    stock_m : float or None
        The length to order; None if none is long enough [m].
    have_m : float or None
        The length that arrived [m].
    range_m : float
        What the sensor measures, of water [m]: not its cable.
    judgements : tuple of Judgement
        What to mind.
    """

    down_m: float
    run_m: float
    loop_m: float
    need_m: float
    off_floor_m: float
    stock_m: float | None
    have_m: float | None
    range_m: float
    judgements: tuple[Judgement, ...]


@dataclass(frozen=True)
class Hang:
    """How a submersible sensor is to hang; None where nobody said.

    Parameters
    ----------
    depth_m, off_floor_m, run_m, loop_m, have_m : float or None
        Depth at the very spot, how far off the floor, the run to the box, the drip loop, and the cable that arrived
        [m].
    """

    depth_m: float | None = None
    off_floor_m: float | None = None
    run_m: float | None = None
    loop_m: float | None = None
    have_m: float | None = None


def read_hang(form: Form, depth_m: float) -> Hang:
    """Read how a submersible sensor is to hang.

    Parameters
    ----------
    form : Form
        ``cut.depth``, ``cable.off_floor``, ``cable.run``, ``cable.loop``, ``cable.have``.
    depth_m : float
        The depth by the drawing, where none is typed [m].
    """
    measured = form.quantity("cut.depth", "length", 0.02, 60.0)
    return Hang(
        measured,
        form.quantity("cable.off_floor", "length", 0.0, depth_m if measured is None else measured),
        form.quantity("cable.run", "length", 0.0, 2000.0),
        form.quantity("cable.loop", "length", 0.0, 20.0),
        form.quantity("cable.have", "length", 0.0, 5000.0),
    )


def stock_length(need_m: float, stock_m: tuple[float, ...]) -> float | None:
    """The next length that a cable is sold in [m]; None if none is long enough."""
    return min((length for length in stock_m if length >= need_m - 1e-9), default=None)


def cut_cable(hang: Hang, there: Situation, model: GaugeModel) -> CableCut:
    """Work a submersible sensor's cable out.

    Parameters
    ----------
    hang : Hang
        How it is to hang; as usual where nobody said.
    there : Situation
        The tank, with the spot.
    model : GaugeModel
        The sensor.

    Notes
    -----
    Need = depth − off the floor + run to the box + drip loop; the next stock length up. A sensor hangs 50 mm off the
    floor, or above its sediment, where nobody typed it; the drip loop is 0.3 m. Common practice, no published source.
    """
    depth = there.depth_m if hang.depth_m is None else hang.depth_m
    off_floor = max(0.05, there.sediment_m + 0.05) if hang.off_floor_m is None else hang.off_floor_m
    down = depth - off_floor
    run, loop = 3.0 if hang.run_m is None else hang.run_m, 0.3 if hang.loop_m is None else hang.loop_m
    need, have = down + run + loop, hang.have_m
    stock = stock_length(need, model.cable_stock_m)
    found = [_two_lengths(model, stock, have)]
    if hang.run_m is None:
        found.append(watch("run", "The run to the box is taken as {value:run}: measure it.", value=run))
    if stock is None and have is None:
        text = (
            "Needs {value:run}; the longest that is sold is {limit:run}: a vented junction box nearer the tank, "
            "never a plain splice."
        )
        found.append(stop("stock", text, value=need, limit=max(model.cable_stock_m, default=0.0)))
    lost = float(there.tank.volume(min(there.floor_m + off_floor, there.tank.inside_height)))
    text = "Hangs {value:length} off the floor: set that as its offset, {lost:volume} below it."
    judge = watch if off_floor < there.sediment_m else good
    found.append(judge("off-floor", text, value=off_floor, limit=there.sediment_m, lost=lost))
    if have is not None and have < need - 1e-9:
        found.append(_too_short(there, need, have, off_floor))
    elif have is not None:
        text = "{spare:run} to spare: coil it in the box, never cut the vent tube short."
        found.append(good("cable-enough", text, value=have, limit=need, spare=have - need))
    return CableCut(down, run, loop, need, off_floor, stock, have, model.range_m, tuple(by_weight(found)))


def _two_lengths(model: GaugeModel, stock: float | None, have: float | None) -> Judgement:
    """Range and cable length, which one label carries and people confuse."""
    if have is not None and abs(have - model.range_m) < 0.005 * model.range_m:
        text = "{limit:length} is the range on the label: is the cable that long as well? Two different lengths."
        return watch("range-or-cable", text, value=have, limit=model.range_m)
    order = ", order {stock:run} of cable" if stock else ""
    text = "Measures {value:length} of water" + order + ": two different lengths."
    return good("range-or-cable", text, value=model.range_m, stock=stock or 0.0)


def _too_short(there: Situation, need: float, have: float, off_floor: float) -> Judgement:
    short = need - have
    unread = min(there.floor_m + off_floor + short, there.tank.inside_height)
    text = (
        "{short:length} too short: hung where it reaches, it reads from {unread:length} up, and the lowest "
        "{lost:volume} show as empty."
    )
    lost = float(there.tank.volume(unread))
    numbers = {"value": have, "limit": need, "short": short, "unread": unread, "lost": lost}
    if unread <= there.lowest_m:
        return watch("cable-short", text + " Nothing is lost of what is worked with: set its offset.", **numbers)
    rescue = " A shorter run, or a vented junction box at the tank, rescues it."
    return stop("cable-short", text + rescue, **numbers)
