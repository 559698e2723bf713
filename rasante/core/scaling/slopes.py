"""The slope of a sensor by every school: what one unit of its signal stands for, from what was read and measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.judgement import Judgement, good, watch
from ..quantities.signals import SIGNALS
from ..quantities.units import UNITS, System


@dataclass(frozen=True)
class Read:
    """What the signal is read in: its name, its quantity (empty for counts), its unit in SI, and its usual ends."""

    name: str
    quantity: str
    si: float
    zero: float
    full: float


def _read_in() -> dict[str, Read]:
    """By a meter in the signal's own unit, one for each quantity that signals have; or by a card's counts."""
    found = {}
    for quantity, unit in (("current", "ma"), ("voltage", "v")):
        first = next(one for one in SIGNALS.values() if one.quantity == quantity)
        si = UNITS[unit].si
        name = f"{quantity.capitalize()}, {UNITS[unit].name}"
        found[unit] = Read(name, quantity, si, first.low / si, first.high / si)
    return found | {"counts": Read("Counts", "", 1.0, 0.0, 32767.0)}


READ_IN: dict[str, Read] = _read_in()
_Errors = tuple[float | None, float | None, float | None]
SCHOOLS: dict[str, str] = {
    "sheet": "Data sheet",
    "one": "One point",
    "two": "Two points",
    "fit": "Least squares",
    "ratio": "Ratio through zero",
    "averaged": "Ratios averaged",
}
MOST_READINGS = 40
#: A residual beyond this many standard deviations of the others' line is told, and the level of its test.
_OUTLIER_LEVEL = 0.01
#: How far the ratio of two readings may be off that of their depths in a bench test [1]: common practice.
_DOUBLES_WITHIN = 0.03


@dataclass(frozen=True)
class Slope:
    """One school's line: level = zero + slope × (signal − signal at zero).

    Parameters
    ----------
    school : str
        Of `SCHOOLS`.
    zero_m : float
        Level where the signal stands at its zero [m].
    per_unit_m : float
        Level by one unit of the signal [m].
    full_m : float
        Level at the signal's full scale [m].
    residuals_m : ndarray
        Measured less the line, a reading each [m], shape (readings,).
    zero_se_m, per_unit_se_m, r : float or None
        Standard errors of both, and the correlation; of a fit alone.
    says : str
        What it rests on, and what it hides.
    """

    school: str
    zero_m: float
    per_unit_m: float
    full_m: float
    residuals_m: Array
    zero_se_m: float | None
    per_unit_se_m: float | None
    r: float | None
    says: str

    @property
    def worst_m(self) -> float:
        """The largest residual, by size [m]."""
        return float(np.max(np.abs(self.residuals_m), initial=0.0))


@dataclass(frozen=True)
class Slopes:
    """What was read, and every school's answer to it.

    Parameters
    ----------
    form : Form
        The fields.
    signal : str
        Of `READ_IN`.
    zero, full : float
        The signal at its zero and its full scale, in its own unit.
    signals, levels : ndarray
        The readings: signal in its own unit, and level measured [m], shape (readings,).
    slopes : tuple of Slope
        By the schools that have what they need.
    outlier : int or None
        The reading that does not fit the others, if one does not.
    judgements : tuple of Judgement
        What to make of it.
    """

    form: Form
    signal: str
    zero: float
    full: float
    signals: Array
    levels: Array
    slopes: tuple[Slope, ...]
    outlier: int | None
    judgements: tuple[Judgement, ...]


def read_slopes(entries: Mapping[str, str], system: System, scale: tuple[float, float] | None = None) -> Slopes:
    """Work out the slope by every school.

    Parameters
    ----------
    entries : mapping of str to str
        ``signal`` (a key of `READ_IN`), ``zero`` and ``full`` (the signal's ends), ``sheet.zero`` and ``sheet.full``
        (the levels they stand for by the data sheet), ``readings[i].signal`` and ``readings[i].level``.
    system : {"metric", "us"}
        What a bare number means.
    scale : (float, float), optional
        What the chain has at its signal's ends [m], where the sheet's are not typed.
    """
    form = Form(entries, system)
    signal = form.choice("signal", {key: one.name for key, one in READ_IN.items()}, "ma")
    usual_zero, usual_full = READ_IN[signal].zero, READ_IN[signal].full
    zero, full = (_signal(form, path, signal) for path in ("zero", "full"))
    zero, full = usual_zero if zero is None else zero, usual_full if full is None else full
    if zero == full:
        form.blame("full", "is the same as at zero: such a signal says nothing")
        full = zero + 1.0
    signals, levels = _readings(form, signal)
    sheet = [form.quantity(f"sheet.{end}", "length", -100.0, 100.0) for end in ("zero", "full")]
    ends = None if sheet[0] is None or sheet[1] is None else (sheet[0], sheet[1])
    slopes = tuple(_schools(signals, levels, zero, full, ends or scale))
    outlier = find_outlier(signals, levels)
    judgements = _judge(slopes, signals, levels, zero, outlier)
    return Slopes(form, signal, zero, full, signals, levels, slopes, outlier, tuple(judgements))


def _signal(form: Form, path: str, signal: str) -> float | None:
    read = READ_IN[signal]
    if not read.quantity:
        return form.number(path, -1e10, 1e10)
    value = form.quantity(path, read.quantity, -1e6, 1e6)
    return None if value is None else value / read.si


def _readings(form: Form, signal: str) -> tuple[Array, Array]:
    signals, levels = [], []
    for index in range(form.count("readings", "signal", MOST_READINGS)):
        path = f"readings[{index}]"
        read = _signal(form, f"{path}.signal", signal)
        level = form.quantity(f"{path}.level", "length", -10.0, 100.0)
        if read is not None and level is not None:
            signals.append(read)
            levels.append(level)
    return np.array(signals), np.array(levels)


def _schools(
    signals: Array, levels: Array, zero: float, full: float, ends: tuple[float, float] | None
) -> list[Slope]:
    """The answer of every school that has what it needs."""
    x = signals - zero
    found = []

    def add(school: str, offset: float, per_unit: float, says: str, errors: _Errors = (None, None, None)) -> None:
        residuals = levels - (offset + per_unit * x)
        found.append(Slope(school, offset, per_unit, offset + per_unit * (full - zero), residuals, *errors, says))

    if ends is not None:
        says = "As the range and the density say; no reading has a part in it."
        add("sheet", ends[0], (ends[1] - ends[0]) / (full - zero), says)
    clear = np.abs(x) > 1e-9
    if clear.any():
        at = int(np.argmax(np.abs(x)))
        add(
            "one",
            0.0,
            float(levels[at] / x[at]),
            "The farthest reading, and nothing at zero: takes any offset for slope.",
        )
    if len(x) >= 2 and np.ptp(x) > 1e-9:
        low, high = int(np.argmin(x)), int(np.argmax(x))
        per_unit = float((levels[high] - levels[low]) / (x[high] - x[low]))
        add(
            "two",
            float(levels[low] - per_unit * x[low]),
            per_unit,
            "The lowest and the highest reading: both must be right.",
        )
    if len(x) >= 3 and np.ptp(x) > 1e-9:
        line = scipy.stats.linregress(x, levels)
        errors = (float(line.intercept_stderr), float(line.stderr), float(line.rvalue))
        says = "All readings alike; shows an offset, and how sure it is."
        add("fit", float(line.intercept), float(line.slope), says, errors)
    if clear.any():
        per_unit = float(np.sum(x * levels) / np.sum(x * x))
        add("ratio", 0.0, per_unit, "Least squares through zero: right only where nothing is read at nothing.")
        per_unit = float(np.mean(levels[clear] / x[clear]))
        add(
            "averaged",
            0.0,
            per_unit,
            "Every reading's own ratio, averaged: hides an offset, and the lowest counts most.",
        )
    return found


def find_outlier(signals: Array, levels: Array) -> int | None:
    """Find the reading that does not fit the others.

    Parameters
    ----------
    signals, levels : ndarray
        The readings, shape (n,).

    Returns
    -------
    int or None
        The one with the largest externally studentised residual, where that is beyond Student's t at 1 % for all n
        readings together (Bonferroni); None for fewer than four readings.

    References
    ----------
    .. [1] R. D. Cook, S. Weisberg, "Residuals and Influence in Regression", Chapman and Hall, 1982, 2.2.2.
    """
    count = len(signals)
    if count < 4 or np.ptp(signals) < 1e-9:
        return None
    x = signals - signals.mean()
    leverage = 1 / count + x * x / np.sum(x * x)
    line = scipy.stats.linregress(x, levels)
    residuals = levels - (line.intercept + line.slope * x)
    squares = float(np.sum(residuals**2))
    # What is left of the squares without each reading; where nothing is left the others lie on one line.
    rest = np.maximum(squares - residuals**2 / np.maximum(1 - leverage, 1e-12), 0.0) / (count - 3)
    floor = (1e-9 * (np.ptp(levels) + 1e-9)) ** 2
    studentised = np.abs(residuals) / np.sqrt(np.maximum(rest, floor) * np.maximum(1 - leverage, 1e-12))
    worst = int(np.argmax(studentised))
    limit = float(scipy.stats.t.ppf(1 - _OUTLIER_LEVEL / (2 * count), count - 3))
    return worst if studentised[worst] > limit and abs(residuals[worst]) > 1e-6 else None


def _judge(
    slopes: Sequence[Slope], signals: Array, levels: Array, zero: float, outlier: int | None
) -> list[Judgement]:
    by_school = {slope.school: slope for slope in slopes}
    found = []
    if outlier is not None:
        text = "Reading {value:d} does not fit the others: take it again, or leave it out."
        found.append(watch("outlier", text, value=outlier + 1))
    fit = by_school.get("fit")
    if fit is not None and fit.zero_se_m is not None:
        limit = float(scipy.stats.t.ppf(0.975, len(signals) - 2)) * fit.zero_se_m
        if abs(fit.zero_m) > max(limit, 1e-6):
            text = "There is an offset of {value:length} (± {limit:length}): schools through zero hide it."
            averaged, off = by_school.get("averaged"), 0.0
            if averaged is not None:
                off = abs(averaged.full_m - fit.full_m)
                text += " Averaging the ratios puts full scale {off:length} off."
            found.append(watch("offset", text, value=fit.zero_m, limit=limit, off=off))
        else:
            text = "No offset beyond its own uncertainty of {limit:length}: through zero and with offset agree."
            found.append(good("no-offset", text, value=fit.zero_m, limit=limit))
    if len(signals) == 2:
        found += _bench_test(signals - zero, levels)
    sheet = by_school.get("sheet")
    if sheet is not None and fit is not None and sheet.per_unit_m:
        ratio = fit.per_unit_m / sheet.per_unit_m
        if abs(ratio - 1) > 0.02:
            text = "The readings' slope is {value:.3f} of the data sheet's: another range, density or unit?"
            found.append(watch("sheet-differs", text, value=ratio, limit=0.02))
    return found


def _bench_test(x: Array, levels: Array) -> list[Judgement]:
    """Two depths in a bucket: what stands above the signal's zero grows as the depth does."""
    low, high = np.argsort(levels)
    if levels[low] <= 0 or abs(x[low]) < 1e-9:
        return []
    depth, read = float(levels[high] / levels[low]), float(x[high] / x[low])
    text = "{limit:.2f} times the depth gives {value:.2f} times the reading above zero"
    if abs(read / depth - 1) <= _DOUBLES_WITHIN:
        return [good("bench", text + ": the sensor is sound, and its zero is right.", value=read, limit=depth)]
    wrong = ": its zero is not where it should be, or it is not the sensor you think."
    return [watch("bench", text + wrong, value=read, limit=depth)]


def slope_of(slopes: Slopes, school: str) -> Slope:
    """Return the line of a school.

    Raises
    ------
    InputError
        If that school lacks readings.
    """
    for slope in slopes.slopes:
        if slope.school == school:
            return slope
    raise InputError.at("choice", f"{SCHOOLS.get(school, 'this school')} lacks readings: take some more first")
