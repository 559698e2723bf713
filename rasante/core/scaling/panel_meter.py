"""A panel meter in the loop: what it must show at the signal's two ends to agree with the chain."""

from __future__ import annotations

from dataclasses import dataclass

from ..quantities.errors import InputError
from ..quantities.units import UNITS
from .chain import Chain
from .steps import step_one

#: What a panel meter may show: units of level, and per cent of the height.
METER_UNITS = ("mm", "cm", "m", "in", "ft", "pct")


@dataclass(frozen=True)
class MeterEnds:
    """The two ends of a panel meter.

    Parameters
    ----------
    signal_low, signal_high : float
        The signal at its ends [A or V].
    low, high : float
        What it shows there, in its unit, brought to its places.
    decimals : int
        Places that fit its digits.
    error_m : float
        What bringing the ends to these places is off at most, as level [m].
    falls : bool
        Whether it falls as the signal rises.
    """

    signal_low: float
    signal_high: float
    low: float
    high: float
    decimals: int
    error_m: float
    falls: bool


def meter_ends(c: Chain, unit: str, digits: int) -> MeterEnds:
    """Work out a panel meter's ends.

    Parameters
    ----------
    c : Chain
        The chain; its meter hangs in the sensor's own signal.
    unit : str
        Of `METER_UNITS`.
    digits : int
        How many digits the meter has, 3 to 6.

    Raises
    ------
    InputError
        If there is no signal, or the level does not fit so many digits.
    """
    if c.signal is None:
        raise InputError.at("meter.unit", "a digital sensor has no signal that a panel meter could hang in")
    if unit not in METER_UNITS:
        raise InputError.at("meter.unit", f"must be one of {', '.join(METER_UNITS)}")
    if not 3 <= digits <= 6:
        raise InputError.at("meter.digits", "panel meters have 3 to 6 digits")
    size = UNITS[unit].si * (c.top_m if unit == "pct" else 1.0)
    signals = (c.signal.low, c.signal.high)
    ends = [c.ideal.level_from("arriving", end) / size for end in signals]
    most = 10.0**digits - 1
    for decimals in range(min(digits - 1, 3), -1, -1):
        if all(abs(end) * 10**decimals <= most for end in ends):
            break
    else:
        raise InputError.at(
            "meter.digits", f"{max(ends, key=abs):.0f} {UNITS[unit].name} needs more than {digits} digits"
        )
    low, high = (step_one(end, decimals) for end in ends)
    error = max(abs(low - ends[0]), abs(high - ends[1])) * size
    return MeterEnds(*signals, low, high, decimals, error, high < low)
