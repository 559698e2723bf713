"""What was poured, in its order: amounts through the meter, readings once they stood still, and their curve."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError, Problem
from .curve import Curve

Rows = npt.NDArray[np.int_]


@dataclass(frozen=True)
class Pour:
    """One amount poured in or drawn off.

    Parameters
    ----------
    amount : float
        By the meter [m³]; less than 0 for what was drawn off.
    reading : float or None
        Once it stood still, in its own unit; None where the next was poured without reading.
    spilled : bool
        Whether some of it went beside: how much came is told from the curve.
    resumed : float or None
        The reading from which the work went on before it, where the tank was used meanwhile.
    row : int
        Its row among what is typed, from 0.
    sure : bool
        Whether somebody has looked at it again and says that it is right.
    """

    amount: float
    reading: float | None
    spilled: bool = False
    resumed: float | None = None
    row: int = 0
    sure: bool = False


@dataclass(frozen=True)
class Start:
    """What was in the tank before the first.

    Parameters
    ----------
    volume : float
        [m³].
    half : float
        What that may be off by, k = 2 [m³].
    reading : float
        In its own unit.
    """

    volume: float
    half: float
    reading: float


@dataclass(frozen=True)
class Instruments:
    """What meter and sensor are good for.

    Parameters
    ----------
    factor : float
        True amount by metered amount [1].
    factor_half : float
        What that may be off by, k = 2, as a share [1].
    repeat : float
        What one amount repeats to, k = 2, as a share [1].
    reading_half : float
        What a reading that stands still may be off by, k = 2, in its own unit.
    extra : float
        What the day adds to every volume, k = 2, as a share [1]: another temperature, the tank not level.
    """

    factor: float = 1.0
    factor_half: float = 0.003
    repeat: float = 0.001
    reading_half: float = 0.5e-3
    extra: float = 0.0


@dataclass(frozen=True)
class Run:
    """Everything of a run in its order.

    Parameters
    ----------
    volumes, readings : ndarray, shape (n,)
        After each amount that has a reading, in the order of the work [m³], in its own unit.
    rows : ndarray of int, shape (n,)
        The row of each; −1 for the start.
    steps : ndarray, shape (n, m)
        Which of the m measured steps each volume holds: 0 or 1.
    amounts : ndarray, shape (m,)
        What came with each step [m³], its cans taken together, less than 0 for what was drawn off.
    step_rows : ndarray of int, shape (m,)
        The row with each step's reading.
    variance, since : ndarray, shape (n,)
        Of each volume for repeats [m⁶], and what came up to it [m³].
    """

    volumes: Array
    readings: Array
    rows: Rows
    steps: Array
    amounts: Array
    step_rows: Rows
    variance: Array
    since: Array

    @property
    def volume(self) -> float:
        """What is in the tank now [m³]."""
        return float(self.volumes[-1])


@dataclass(frozen=True)
class Plateau:
    """A reading that stood, in its own unit, while so much went in [m³]."""

    reading: float
    volume: float


@dataclass(frozen=True)
class Poured(Run):
    """A run, the curve through it, and where its reading stood while more went in."""

    curve: Curve
    plateaus: tuple[Plateau, ...] = ()


def put_together(start: Start, pours: Sequence[Pour], instruments: Instruments) -> Poured | None:
    """Put a run together, with the curve through it.

    Parameters
    ----------
    start : Start
    pours : sequence of Pour
        In the order in which they were done.
    instruments : Instruments

    Returns
    -------
    Poured or None
        None before anything was read after a pour.

    Raises
    ------
    InputError
        As `run_of`; at ``reads`` where every reading falls as it fills; at ``pours[i].reading`` where a volume
        does not rise with its reading, and at ``pours[i].amount`` where more was drawn off than there was.
    """
    run = run_of(start, pours, instruments)
    if not len(run.amounts):
        return None
    lacking = np.flatnonzero(run.volumes < -1e-9)
    if len(lacking):
        raise InputError.at(f"pours[{run.rows[lacking[0]]}].amount", "is more than there was in the tank")
    moved, came = np.diff(run.readings), np.diff(run.volumes)
    if len(moved) >= _FALLING and np.all(moved * came < 0):
        raise InputError.at(
            "reads",
            "every reading falls as it fills: it tells the distance to the surface. Set it to level, or type "
            "reference height less reading",
        )
    curve = _curve(run, start, instruments)
    return None if curve is None else Poured(**vars(run), curve=curve, plateaus=_plateaus(run, instruments))


#: So many readings that all go the other way are a setting, and no row of mistakes.
_FALLING = 2
#: Where a reading stands, volumes may differ by so many times what it is good for before that is said.
_STANDS = 3.0


def _groups(run: Run, instruments: Instruments) -> tuple[Rows, Rows]:
    """The order of a run by its readings, and which of them are one point: nearer than they are good for."""
    order = np.argsort(run.readings, kind="stable")
    near = np.concatenate([[0], np.cumsum(np.diff(run.readings[order]) > instruments.reading_half)])
    return order, near


def _plateaus(run: Run, instruments: Instruments) -> tuple[Plateau, ...]:
    order, near = _groups(run, instruments)
    surface = float(np.ptp(run.volumes)) / max(float(np.ptp(run.readings)), instruments.reading_half)
    found = []
    for at in range(int(near[-1]) + 1):
        inside = order[near == at]
        stood, own = float(np.ptp(run.volumes[inside])), 2 * np.sqrt(float(run.variance[inside].max()))
        if stood > _STANDS * (surface * instruments.reading_half + own):
            found.append(Plateau(float(run.readings[inside].mean()), stood))
    return tuple(found)


def run_of(start: Start, pours: Sequence[Pour], instruments: Instruments) -> Run:
    """Put a run together in its order, whether or not a curve goes through it.

    Parameters
    ----------
    start : Start
    pours : sequence of Pour
    instruments : Instruments

    Raises
    ------
    InputError
        At ``pours[i].resumed`` where nothing is known of the reading from which it went on.

    Notes
    -----
    The factor is common to all amounts, so what it may be off by grows with what came since the start; each amount's
    own repeat adds as the root of the sum of squares.
    """
    volumes, readings, rows = [start.volume], [start.reading], [-1]
    variance, since = [0.0], [0.0]
    amounts: list[float] = []
    step_rows: list[int] = []
    held: list[set[int]] = [set()]
    waiting, squares = 0.0, 0.0

    def so_far() -> Run:
        steps = np.array([[float(step in one) for step in range(len(amounts))] for one in held])
        return Run(
            np.array(volumes), np.array(readings), np.array(rows), steps.reshape(len(held), len(amounts)),
            np.array(amounts), np.array(step_rows, dtype=int), np.array(variance), np.array(since),
        )  # fmt: skip

    for pour in pours:
        if pour.resumed is not None:
            known = _curve(so_far(), start, instruments)
            if known is None or not known.reading[0] <= pour.resumed <= known.reading[-1]:
                raise InputError.at(
                    f"pours[{pour.row}].resumed",
                    "nothing is known of this reading yet: go on from one between those that were taken",
                )
            volumes.append(float(known.at(pour.resumed)))
            readings.append(pour.resumed)
            rows.append(pour.row)
            variance.append(float((known.half(pour.resumed) / 2) ** 2))
            since.append(0.0)
            held.append(set())
            waiting = squares = 0.0
        amount = pour.amount * instruments.factor
        waiting += amount
        squares += (amount * instruments.repeat / 2) ** 2
        if pour.reading is None:
            continue
        held.append(held[-1] | {len(amounts)})
        amounts.append(waiting)
        step_rows.append(pour.row)
        volumes.append(volumes[-1] + waiting)
        readings.append(pour.reading)
        rows.append(pour.row)
        variance.append(variance[-1] + squares)
        since.append(since[-1] + waiting)
        waiting = squares = 0.0
    return so_far()


def _curve(run: Run, start: Start, instruments: Instruments) -> Curve | None:
    """The curve through a run: readings nearer to one another than they are good for are one point, at their mean."""
    order, near = _groups(run, instruments)
    row = run.rows[order]
    count = np.bincount(near)
    # Where a reading stood while more went in, any of it may be the truth.
    inside = [run.volumes[order][near == at] for at in range(len(count))]
    stood = np.array([float(np.ptp(one)) for one in inside])

    def mean(of: Array) -> Array:
        return np.asarray(np.bincount(near, of[order]) / count)

    reading, volume = mean(run.readings), mean(run.volumes)
    if len(reading) < 2:
        return None
    falls = np.flatnonzero(np.diff(volume) <= 0)
    if len(falls):
        raise InputError(
            *(
                Problem(
                    f"pours[{max(row[near == at].max(), row[near == at + 1].max())}].reading",
                    "does not go with its amount: more reads lower. Not still yet, or mistyped?",
                )
                for at in falls
            )
        )
    surface = np.gradient(volume, reading)
    own = mean(run.variance) / count + (surface * instruments.reading_half / 2) ** 2 / count + (stood / 2) ** 2
    together = (mean(run.since) * instruments.factor_half) ** 2 + (volume * instruments.extra) ** 2
    return Curve(reading, volume, 2 * np.sqrt(own), np.sqrt(start.half**2 + together))
