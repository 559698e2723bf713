"""Wet calibration of a capacitance probe: full and empty counts, each taken once it stands still."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..products.registry import product_of
from ..quantities.form import Form
from ..quantities.judgement import Judgement, Number, good, stop, watch
from ..quantities.units import System

ENDS: dict[str, str] = {"full": "Full, in a pipe of the fuel", "empty": "Empty, drained"}
MOST_READINGS = 40
#: How many of the last readings must lie together, and how closely by the span: common practice, no published source.
_LAST, _STILL_SHARE = 3, 0.002
#: Counts of a full probe by those of an empty one: what fuels and oils give; common practice, no published source.
_FUEL_RATIO = (1.5, 2.6)


@dataclass(frozen=True)
class WetEnd:
    """One end: its readings, their last spread, whether they stand still, and the counts that are taken then."""

    readings: tuple[float, ...]
    spread: float | None
    still: bool
    counts: float | None


@dataclass(frozen=True)
class WetEnds:
    """Both ends as far as they have been read.

    Parameters
    ----------
    form : Form
        The fields: ``full[i].counts``, ``empty[i].counts``, ``fuel``, ``temperature``, ``still``.
    ends : mapping of str to WetEnd
        By `ENDS`.
    limit : float
        The spread that counts as still.
    fuel : str
        What it was calibrated in.
    temperature_c : float or None
        How warm that was [°C].
    judgements : tuple of Judgement
        What to make of it.
    """

    form: Form
    ends: Mapping[str, WetEnd]
    limit: float
    fuel: str
    temperature_c: float | None
    judgements: tuple[Judgement, ...]

    @property
    def ready(self) -> bool:
        """Whether both ends stand still, and fuel and temperature are known."""
        return all(end.still for end in self.ends.values()) and bool(self.fuel) and self.temperature_c is not None


def read_wet_ends(entries: Mapping[str, str], system: System, product: str) -> WetEnds:
    """Read a wet calibration as far as it has been typed.

    Parameters
    ----------
    entries : mapping of str to str
        As in `WetEnds`.
    system : {"metric", "us"}
        What a bare temperature means.
    product : str
        What the tank holds.
    """
    form = Form(entries, system)
    readings: dict[str, tuple[float, ...]] = {}
    for end in ENDS:
        rows = range(form.count(end, "counts", MOST_READINGS))
        found = [form.number(f"{end}[{row}].counts", 0, 1e9) for row in rows]
        readings[end] = tuple(value for value in found if value is not None)
    typed = form.number("still", 0, 1e6)
    limit = still_limit(readings["full"], readings["empty"]) if typed is None else typed
    ends = {end: wet_end(values, limit) for end, values in readings.items()}
    fuel, temperature = form.text("fuel", 80), form.quantity("temperature", "temperature", -60, 90)
    judgements = judge_wet_ends(ends, limit, fuel, temperature, product)
    return WetEnds(form, ends, limit, fuel, temperature, tuple(judgements))


def still_limit(full: tuple[float, ...], empty: tuple[float, ...]) -> float:
    """The spread of a probe's readings that counts as still [counts]: a share of what lies between its ends."""
    last = [values[-1] for values in (full, empty) if values]
    span = abs(last[0] - last[1]) if len(last) == 2 else max(last, default=0.0)
    return max(span * _STILL_SHARE, 1.0)


def wet_end(values: tuple[float, ...], limit: float) -> WetEnd:
    """Judge whether the last readings of one end lie within `limit` counts of one another, and take their mean."""
    if len(values) < _LAST:
        return WetEnd(values, None, False, None)
    tail = values[-_LAST:]
    spread = max(tail) - min(tail)
    still = spread <= limit
    return WetEnd(values, spread, still, sum(tail) / _LAST if still else None)


def judge_wet_ends(
    ends: Mapping[str, WetEnd], limit: float, fuel: str, temperature: float | None, product: str
) -> list[Judgement]:
    """Judge both ends, and whether they were taken in what the tank holds."""
    found = []
    for end, state in ends.items():
        name = "Full" if end == "full" else "Empty"
        if state.spread is None:
            missing = _LAST - len(state.readings)
            text = "{end}: {value:d} more reading{s} until it can be judged."
            found.append(watch(f"{end}-few", text, end=name, value=missing, s="s" if missing > 1 else ""))
        elif not state.still:
            text = "{end}: the last {last:d} lie {value:g} counts apart, still is {limit:.0f}: wait, read again."
            more = " Drain it longer: fuel clings." if end == "empty" else " Tap it: bubbles rise."
            numbers: dict[str, Number] = {"value": state.spread, "limit": limit, "last": _LAST, "end": name}
            found.append(watch(f"{end}-moves", text + more, **numbers))
        else:
            text = "{end}: stands still at {value:.0f} counts."
            found.append(good(f"{end}-still", text, end=name, value=state.counts or 0.0))
    full, empty = ends["full"].counts, ends["empty"].counts
    if full is not None and empty is not None:
        found += _judge_both(full, empty)
    if not fuel or temperature is None:
        text = "Name the fuel and its temperature: another fuel, or the same one much colder, has other ends."
        found.append(watch("fuel", text))
    elif product and not same_product(fuel, product):
        text = "Calibrated in {fuel}; the tank holds {product}: full will not be full."
        found.append(stop("other-fuel", text, fuel=fuel, product=product))
    return found


def same_product(first: str, second: str) -> bool:
    """Whether two names mean one product: the same words, or the same row of the registry."""
    if first.casefold().split() == second.casefold().split():
        return True
    one, two = product_of(first), product_of(second)
    return one.known and one == two


def _judge_both(full: float, empty: float) -> list[Judgement]:
    if full <= empty:
        text = "Full reads no more than empty: the readings are swapped, or the inner rod touches the tube."
        return [stop("swapped", text, value=full, limit=empty)]
    if empty <= 0:
        return []
    ratio, (low, high) = full / empty, _FUEL_RATIO
    if low <= ratio <= high:
        return []
    text = (
        "Full is {value:.2f} times empty; fuels give about {low:g} to {high:g} where counts grow with capacitance: "
        "water in the pipe, a wet spacer, or an offset in the counts?"
    )
    return [watch("ratio", text, value=ratio, limit=low if ratio < low else high, low=low, high=high)]
