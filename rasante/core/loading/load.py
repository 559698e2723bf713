"""One load: how much by weight and how much by the filling limit, which of the two rules, and when to stop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..quantities.errors import InputError
from .gas import Gas

#: What a float gauge is off by, by the vessel: common practice, no published source; and a good sensor.
FLOAT_ERROR, SENSOR_ERROR = (0.05, 0.10), 0.01
Rule = Literal["weight", "filling"]


@dataclass(frozen=True)
class Targets:
    """How much a vessel may hold.

    Parameters
    ----------
    by_weight_m3 : float or None
        Liquid by its weight alone: weight ÷ density [m³]; None where no weight limits it.
    with_vapour_m3 : float or None
        The same with the vapour above it weighed too [m³]: what is taken.
    by_filling_m3 : float
        Liquid by the filling limit [m³].
    rule : {"weight", "filling"}
        Which of the two is smaller.
    target_m3 : float
        The smaller one [m³].
    mass_kg, vapour_kg : float
        Liquid, and vapour above it, when the target is reached [kg].
    full_at_c : float or None
        Temperature at which that would be all liquid [°C]; None where it is beyond what is met.
    """

    by_weight_m3: float | None
    with_vapour_m3: float | None
    by_filling_m3: float
    rule: Rule
    target_m3: float
    mass_kg: float
    vapour_kg: float
    full_at_c: float | None


def targets(gas: Gas, temperature_c: float, capacity_m3: float, filling: float, weight_kg: float | None) -> Targets:
    """How much a vessel may hold of a gas.

    Parameters
    ----------
    gas, temperature_c
        What is loaded, and how warm it is.
    capacity_m3 : float
        All that the vessel holds [m³].
    filling : float
        Share of it that may be liquid [1].
    weight_kg : float or None
        The most that its contents may weigh [kg]; None where no weight limits it.

    Raises
    ------
    InputError
        If a limit makes no sense.
    """
    if not 0 < filling <= 1:
        raise InputError.at("filling", "is a share of the vessel, from 0 to 100 %")
    if weight_kg is not None and not weight_kg > 0:
        raise InputError.at("weight", "must be more than nothing")
    liquid, vapour = gas.density(temperature_c), gas.vapour_density(temperature_c)
    by_filling = filling * capacity_m3
    by_weight = None if weight_kg is None else weight_kg / liquid
    with_vapour = None if weight_kg is None else (weight_kg - capacity_m3 * vapour) / (liquid - vapour)
    if with_vapour is not None and with_vapour <= 0:
        raise InputError.at("weight", "the vapour in this vessel alone weighs as much: check the weight and its unit")
    rule: Rule = "filling" if with_vapour is None or by_filling <= with_vapour else "weight"
    target = by_filling if with_vapour is None else min(by_filling, with_vapour)
    mass, above = target * liquid, (capacity_m3 - target) * vapour
    return Targets(
        by_weight, with_vapour, by_filling, rule, target, mass, above, gas.liquid_full_at(mass + above, capacity_m3)
    )


@dataclass(frozen=True)
class Progress:
    """How far a load has come.

    Parameters
    ----------
    volume_m3 : float
        Liquid in the vessel now [m³].
    left_m3 : float
        To the target [m³]; negative beyond it.
    stop_m3 : float
        Contents at which to give the word to stop [m³]: the target less what still comes while it is being stopped.
    to_stop_s : float or None
        How long until then at this rate [s]; None while nothing flows.
    overshoot_m3 : float
        By how much it would go over the target if the word were given only there [m³].
    state : {"load", "stop", "over"}
        Go on; stop now; more than may be in it.
    """

    volume_m3: float
    left_m3: float
    stop_m3: float
    to_stop_s: float | None
    overshoot_m3: float
    state: Literal["load", "stop", "over"]


def progress(target_m3: float, volume_m3: float, rate_m3_s: float, stopping_s: float) -> Progress:
    """How far a load has come.

    Parameters
    ----------
    target_m3, volume_m3 : float
        What may be in it, and what is in it now [m³].
    rate_m3_s : float
        How fast it fills [m³/s].
    stopping_s : float
        How long it takes from the word until nothing flows any more [s].
    """
    coming = max(rate_m3_s, 0.0) * stopping_s
    stop = target_m3 - coming
    to_stop = (stop - volume_m3) / rate_m3_s if rate_m3_s > 0 else None
    state: Literal["load", "stop", "over"] = "load"
    if volume_m3 > target_m3 * (1 + 1e-9):
        state = "over"
    elif volume_m3 >= stop:
        state = "stop"
    return Progress(volume_m3, target_m3 - volume_m3, stop, to_stop, coming, state)


def short_by_float(capacity_m3: float) -> tuple[float, float]:
    """What a float gauge would cost in short filling beside a good sensor: least and most [m³]."""
    return tuple((error - SENSOR_ERROR) * capacity_m3 for error in FLOAT_ERROR)  # type: ignore[return-value]
