"""Wet calibration of a capacitance probe: full and empty counts, each taken once it stands still."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..form import Form
from ..judgement import Judgement
from ..units import System

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
    readings: dict[str, list[float]] = {}
    for end in ENDS:
        rows = range(form.count(end, "counts", MOST_READINGS))
        found = [form.number(f"{end}[{row}].counts", 0, 1e9) for row in rows]
        readings[end] = [value for value in found if value is not None]
    last = {end: values[-1] for end, values in readings.items() if values}
    span = abs(last["full"] - last["empty"]) if len(last) == 2 else max(last.values(), default=0.0)
    typed = form.number("still", 0, 1e6)
    limit = typed if typed is not None else max(span * _STILL_SHARE, 1.0)
    ends = {end: _end(values, limit) for end, values in readings.items()}
    fuel, temperature = form.text("fuel", 80), form.odd("temperature", "temperature", -60, 90)
    judgements = _judge(ends, fuel, temperature, product, limit)
    return WetEnds(form, ends, limit, fuel, temperature, tuple(judgements))


def _end(values: list[float], limit: float) -> WetEnd:
    if len(values) < _LAST:
        return WetEnd(tuple(values), None, False, None)
    tail = values[-_LAST:]
    spread = max(tail) - min(tail)
    still = spread <= limit
    return WetEnd(tuple(values), spread, still, sum(tail) / _LAST if still else None)


def _judge(
    ends: Mapping[str, WetEnd], fuel: str, temperature: float | None, product: str, limit: float
) -> list[Judgement]:
    found = []
    for end, state in ends.items():
        name = "Full" if end == "full" else "Empty"
        if state.spread is None:
            missing = _LAST - len(state.readings)
            text = f"{name}: {missing} more reading{'s' if missing > 1 else ''} until it can be judged."
            found.append(Judgement("watch", f"{end}-few", text))
        elif not state.still:
            text = (
                f"{name}: the last {_LAST} lie {state.spread:g} counts apart, still is {limit:g}: wait, read again."
                + (" Drain it longer: fuel clings." if end == "empty" else " Tap it: bubbles rise.")
            )
            found.append(Judgement("watch", f"{end}-moves", text))
        else:
            found.append(Judgement("good", f"{end}-still", f"{name}: stands still at {state.counts:.0f} counts."))
    full, empty = ends["full"].counts, ends["empty"].counts
    if full is not None and empty is not None:
        found += _judge_both(full, empty)
    if not fuel or temperature is None:
        text = "Name the fuel and its temperature: another fuel, or the same one much colder, has other ends."
        found.append(Judgement("watch", "fuel", text))
    elif product and fuel.strip().lower() != product.strip().lower():
        text = f"Calibrated in {fuel}; the tank holds {product}: full will not be full."
        found.append(Judgement("stop", "other-fuel", text))
    return found


def _judge_both(full: float, empty: float) -> list[Judgement]:
    if full <= empty:
        text = "Full reads no more than empty: the readings are swapped, or the inner rod touches the tube."
        return [Judgement("stop", "swapped", text)]
    if empty <= 0:
        return []
    ratio, (low, high) = full / empty, _FUEL_RATIO
    if not low <= ratio <= high:
        text = (
            f"Full is {ratio:.2f} times empty; fuels give about {low:g} to {high:g} where counts grow with "
            "capacitance: water in the pipe, a wet spacer, or an offset in the counts?"
        )
        return [Judgement("watch", "ratio", text)]
    return []
