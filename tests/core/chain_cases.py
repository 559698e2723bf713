"""Scaling chains for the tests, and chains at random with one mistake in them, read by noisy instruments."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass
from typing import Any

import numpy as np

from rasante.core.quantities.units import UNITS
from rasante.core.scaling import registers
from rasante.core.scaling.agreement import instrument
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import Ground, read_chain
from rasante.core.scaling.chain_line import readable
from rasante.core.scaling.chain_settings import settle
from rasante.core.scaling.numbers import Register
from rasante.core.tanks.tank_file import TankFile
from rasante.core.wiring.circuit import Circuit

from .gauge_cases import lying, upright

_DENSITIES = ("840 kg/m3", "1000 kg/m3", "745 kg/m3")
_FILES: dict[str, TankFile] = {}


def file_of(name: str) -> TankFile:
    """One of two tanks, made once: their curves are kept."""
    if name not in _FILES:
        _FILES[name] = lying() if name == "lying" else upright()
    return _FILES[name]


def ground(file: TankFile, start: dict[str, str] | None = None, circuit: Circuit | None = None) -> Ground:
    """What a chain stands on: a tank as surveyed, which is its table too."""
    return Ground(file, file.tank, circuit, start or {})


def path_of(name: str) -> str:
    return name.replace("_", ".", 1)


def get(c: Chain, name: str) -> Any:
    """A setting by its entry, ``sensor_high`` for ``sensor.high``."""
    return c.settings()[path_of(name)]


def put(c: Chain, **settings: Any) -> Chain:
    """The chain with other settings, and nothing that follows from them."""
    return c.put({path_of(name): value for name, value in settings.items()})


def run(c: Chain, level: float, exact: bool = True) -> dict[str, float]:
    return c.at(level, exact)


def forward(c: Chain, station: str, value: float, exact: bool = True) -> float:
    return float(c.over(station, np.array([value]), exact)[0])


def backward(c: Chain, station: str, value: float) -> float:
    return float(c.hop(station).backward(np.array([value]))[0])


def chain(tank: str = "upright", **entries: str) -> Chain:
    """A chain from what is typed: ``sensor__high="15 psi"`` stands for ``sensor.high``."""
    typed = {key.replace("__", "."): text for key, text in entries.items()}
    file = file_of(tank)
    found = read_chain(typed, ground(file), "metric")
    assert found.chain is not None, found.form.problems
    return found.chain


def random_chain(rng: random.Random) -> Chain:
    """A chain that agrees with itself: any quantity, signal, card, register and screen."""
    quantity = rng.choice(["pressure", "pressure", "level", "distance", "counts", "time"])
    kind = rng.choice(["ma4", "ma4", "ma4", "ma0", "v10", "v15", "digital"])
    whole = rng.choice(["int16", "int32", "float32", "float32", "uint16"])
    unit, decimals = rng.choice([("mm", 0), ("cm", 1), ("m", 3), ("ft", 2), ("in", 1)])
    shown = rng.choice([("level", "mm", 0), ("level", "in", 1), ("volume", "l", 0), ("volume", "usgal", 0),
                        ("volume_pct", "pct", 2), ("linear_pct", "pct", 2), ("ullage", "mm", 0)])  # fmt: skip
    entries = {
        "sensor__quantity": quantity, "signal__kind": kind, "register__type": whole, "scaled__unit": unit,
        "scaled__decimals": str(decimals), "shown__as": shown[0], "shown__unit": shown[1],
        "shown__decimals": str(shown[2]), "counts__bits": rng.choice(["12", "15", "16"]),
        "register__order": rng.choice(["ABCD", "ABCD", "CDAB"]), "liquid__density": rng.choice(_DENSITIES),
        "sensor__zero": f"{rng.choice([0, 50, 100])} mm",
    }  # fmt: skip
    if quantity == "pressure":
        entries["sensor__high"] = rng.choice(["0.25 bar", "0.4 bar", "5 psi", "3.5 mH2O", "4 mH2O"])
    return chain(rng.choice(["lying", "upright"]), **entries)


@dataclass(frozen=True)
class Mistake:
    """What was done to a chain: the hop and the settings that are wrong, and the chain that was there before."""

    hop: str
    names: tuple[str, ...]
    wrong: Chain
    former: tuple[Chain, ...] = ()


def mistaken(c: Chain, rng: random.Random) -> Mistake:
    """A chain with one setting wrong, or one pair that goes together, by enough to be seen."""
    while True:
        found = rng.choice(_MISTAKES)(c, rng)
        if found is not None and _seen(c, found):
            return found


def _seen(c: Chain, mistake: Mistake) -> bool:
    """Whether it moves its hop's output by two per cent of what that spans at a third and two thirds of the range."""
    low, high = readable(c)
    ends = [run(c, level, exact=False)[mistake.hop] for level in (low, high)]
    moved = [
        abs(run(mistake.wrong, level, exact=False)[mistake.hop] - run(c, level, exact=False)[mistake.hop])
        for level in (low + (high - low) / 3, low + (high - low) * 2 / 3)
    ]
    return max(moved) > 0.02 * abs(ends[1] - ends[0]) and all(math.isfinite(m) for m in moved)


def _put(hop: str, c: Chain, former: tuple[Chain, ...] = (), **settings: Any) -> Mistake:
    return Mistake(hop, tuple(path_of(name) for name in settings), put(c, **settings), former)


def _span(c: Chain, rng: random.Random) -> Mistake:
    factor = rng.choice([rng.uniform(0.5, 0.9), rng.uniform(1.1, 1.7)])
    options = [
        _put("sent", c, sensor_high=get(c, "sensor_low") + (get(c, "sensor_high") - get(c, "sensor_low")) * factor)
    ]
    options.append(
        _put("number", c, scaled_high=get(c, "scaled_low") + (get(c, "scaled_high") - get(c, "scaled_low")) * factor)
    )
    if c.signal is not None:
        options.append(
            _put(
                "counts",
                c,
                counts_high=get(c, "counts_low") + (get(c, "counts_high") - get(c, "counts_low")) * min(factor, 0.9),
            )
        )
        return rng.choice(options)
    return options[1]


def _zero(c: Chain, rng: random.Random) -> Mistake:
    off = rng.choice([-1, 1]) * rng.uniform(0.08, 0.4)
    span = abs(get(c, "scaled_high") - get(c, "scaled_low"))
    return rng.choice(
        [
            _put("sensed", c, sensor_zero=get(c, "sensor_zero") + off),
            _put("number", c, scaled_low=get(c, "scaled_low") + off / 2 * span),
            _put("shown", c, shown_zero=get(c, "shown_zero") + off),
        ]
    )


def _inverted(c: Chain, rng: random.Random) -> Mistake:
    options = [_put("number", c, scaled_low=get(c, "scaled_high"), scaled_high=get(c, "scaled_low"))]
    if c.signal is not None:
        options.append(_put("sent", c, sensor_low=get(c, "sensor_high"), sensor_high=get(c, "sensor_low")))
        options.append(_put("counts", c, counts_low=get(c, "counts_high"), counts_high=get(c, "counts_low")))
    return rng.choice(options)


def _units(c: Chain, rng: random.Random) -> Mistake:
    other = rng.choice([unit for unit in ("mm", "cm", "m", "in", "ft") if unit != get(c, "shown_from")])
    factor = UNITS[get(c, "scaled_unit")].si / UNITS[other].si
    options = [
        _put("shown", c, shown_from=other),
        _put("number", c, scaled_low=get(c, "scaled_low") * factor, scaled_high=get(c, "scaled_high") * factor),
    ]
    if get(c, "shown_as") == "volume":
        options.append(_put("shown", c, shown_unit="impgal" if get(c, "shown_unit") != "impgal" else "l"))
    return rng.choice(options)


def _density(c: Chain, rng: random.Random) -> Mistake | None:
    if c.sensing.kind != "pressure":
        return None
    other = rng.choice([rho for rho in (745.0, 840.0, 1000.0, 1025.0) if rho != get(c, "liquid_density")])
    ratio = get(c, "liquid_density") / other
    return rng.choice(
        [
            _put("sensed", c, liquid_density=other),
            _put("sensed", c, liquid_density=get(c, "liquid_density") * rng.uniform(1.06, 1.2)),
            _put("number", c, scaled_low=get(c, "scaled_low") * ratio, scaled_high=get(c, "scaled_high") * ratio),
        ]
    )


def _live_zero(c: Chain, rng: random.Random) -> Mistake | None:
    other = {"ma4": "ma0", "ma0": "ma4", "v15": "v5"}.get(get(c, "signal_kind"))
    if other is None:
        return None
    ends = {"ma0": (0.0, 0.020), "ma4": (0.004, 0.020), "v5": (0.0, 5.0)}[other]
    return rng.choice(
        [_put("counts", c, counts_at_low=ends[0], counts_at_high=ends[1]), _put("sent", c, signal_kind=other)]
    )


def _words(c: Chain, rng: random.Random) -> Mistake | None:
    if get(c, "register_type") not in ("int32", "float32"):
        return None
    other = rng.choice([order for order in ("ABCD", "CDAB", "BADC", "DCBA") if order != get(c, "register_order")])
    return rng.choice([_put("read", c, read_order=other), _put("words", c, register_order=other)])


def _point(c: Chain, rng: random.Random) -> Mistake:
    factor = rng.choice([0.1, 10.0, 0.01])
    return rng.choice(
        [
            _put("read", c, read_multiplier=get(c, "read_multiplier") * factor),
            _put("words", c, register_multiplier=get(c, "register_multiplier") * min(factor, 0.1)),
        ]
    )


def _old_range(c: Chain, rng: random.Random) -> Mistake | None:
    """The sensor was changed for another range, and its settings, or those after it, were left as they were."""
    if c.signal is None:
        return None
    factor = rng.choice([0.5, 2 / 3, 1.5, 2.0])
    old = settle(put(c, sensor_high=get(c, "sensor_low") + (get(c, "sensor_high") - get(c, "sensor_low")) * factor))
    if rng.random() < 0.5:
        return _put("sent", c, (old,), sensor_high=get(old, "sensor_high"))
    left = {name: get(old, name) for name in ("scaled_low", "scaled_high") if get(old, name) != get(c, name)}
    return _put("number", c, (old,), **left) if left else None


def _taken(c: Chain, rng: random.Random) -> Mistake:
    return _put("shown", c, shown_takes="distance", shown_zero=c.screen.reference_m)


_MISTAKES = [_span, _zero, _inverted, _units, _density, _live_zero, _words, _point, _old_range, _taken]


def readings(
    c: Chain, wrong: Chain, rng: random.Random, stations: tuple[str, ...] | None = None
) -> list[dict[str, float]]:
    """What instruments read along a chain that is wrong, at two levels; every part is as good as it is sold."""
    low, high = readable(c)
    there, now = c.settings(), wrong.settings()

    def drawn(path: str, tolerance: str) -> dict[str, Any]:
        return {path: now[path] * (1 + rng.gauss(0, there[tolerance] / 2))} if path in now else {}

    real = wrong.put(
        {
            "sensor.zero": now["sensor.zero"] + rng.gauss(0, there["sensor.mounting"] / 2),
            **drawn("liquid.density", "liquid.tolerance"),
            **drawn("sensor.sound", "sensor.medium"),
        }
    )
    sensor = rng.gauss(0, there["sensor.accuracy"] / 2)
    card = rng.gauss(0, there["counts.accuracy"] / 2) if c.card is not None else 0.0
    rows = []
    for share in (rng.uniform(0.12, 0.4), rng.uniform(0.6, 0.88)):
        value = low + (high - low) * share
        row = {}
        for station in c.stations:
            if station != "level":
                value = forward(real, station, value)
            if station == ("number" if c.signal is None else "sent"):
                span = c.scaling.high - c.scaling.low if c.signal is None else c.signal.span
                value += sensor * span
            if station == "counts":
                assert c.card is not None
                value = float(round(value + card * (c.card.high - c.card.low)))
            row[station] = _read(c, wrong, station, value, rng)
        rows.append({s: v for s, v in row.items() if stations is None or s in stations})
    return rows


def _read(c: Chain, wrong: Chain, station: str, value: float, rng: random.Random) -> float:
    """A reading: with noise where an instrument measures, as it stands where a number is shown."""
    if station == "words":
        # What a person types is words, and they are understood as the chain has them.
        writes, right = wrong.find(Register), c.find(Register)
        assert writes is not None and right is not None
        there = registers.wrapped(np.array([value]), writes.type)
        words = registers.to_words(there, writes.type, writes.order)
        return float(registers.from_words(words, right.type, right.order)[0])
    if station in ("number", "read", "shown"):
        return float(f"{value:.8g}")
    value += rng.gauss(0, float(instrument(c, station, np.array([value]))[0]))
    return float(round(value)) if station == "counts" else value
