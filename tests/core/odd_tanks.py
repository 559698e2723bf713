"""Odd tanks for trials of pouring: polygons, tapers, steps, tubs and domes, and somebody who pours into them."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from rasante.core.pouring.advice import advise
from rasante.core.pouring.poured import Instruments, Pour, Poured, Start, put_together
from rasante.core.quantities.arrays import Array

#: A meter good for 0.3 % that repeats to 0.1 %, and a sensor good for 0.5 mm; all k = 2.
INSTRUMENTS = Instruments(factor=1.0, factor_half=0.003, repeat=0.001, reading_half=0.5e-3)
KINDS = ("polygon", "tapered", "steps", "tub", "dome")


def surface_of(kind: str, height: float, rng: np.random.Generator) -> tuple[Array, Array]:
    """Levels [m] and the liquid's surface there [m²] of a made-up tank."""
    z = np.linspace(0.0, height, 4001)
    area = rng.uniform(0.15, 1.2)
    if kind == "polygon":
        corners = int(rng.integers(2, 5))
        at = np.concatenate([[0.0], np.sort(rng.uniform(0.1, 0.9, corners - 1)) * height, [height]])
        share = np.interp(z, at, rng.uniform(0.5, 1.0, corners + 1))
    elif kind == "tapered":
        share = np.interp(z, [0.0, height], [rng.uniform(0.5, 0.95), 1.0])
    elif kind == "steps":
        at = np.sort(rng.uniform(0.12, 0.88, int(rng.integers(1, 4)))) * height
        share = rng.uniform(0.5, 1.0, len(at) + 1)[np.searchsorted(at, z)]
    elif kind == "tub":
        floor, lid = rng.uniform(0.08, 0.3) * height, rng.uniform(0.03, 0.1) * height
        share = np.where(z < floor, rng.uniform(0.25, 0.6), 1.0)
        share = share * np.where(z > height - lid, 1 - 0.25 * ((z - height + lid) / lid).clip(0) ** 2, 1.0)
    else:
        below, above = rng.uniform(0.08, 0.25) * height, rng.uniform(0.05, 0.2) * height
        share = 1 - ((below - z).clip(0) / below) ** 2 * rng.uniform(0.6, 1.0)
        share = share * (1 - ((z - height + above).clip(0) / above) ** 2 * rng.uniform(0.4, 0.9))
    return z, area * np.maximum(share, 0.03)


@dataclass
class Somebody:
    """Pours into a made-up tank, by a meter and a sensor that are as good as they are said to be.

    Parameters
    ----------
    seed : int
        Of the tank and of all noise.
    """

    seed: int
    pours: list[Pour] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.rng = np.random.default_rng(self.seed)
        self.kind = KINDS[self.seed % len(KINDS)]
        self.z, surface = surface_of(self.kind, float(self.rng.uniform(0.35, 1.3)), self.rng)
        self.v = np.concatenate([[0.0], np.cumsum((surface[1:] + surface[:-1]) / 2 * np.diff(self.z))])
        self.capacity = float(self.v[-1])
        self.meter = 1 + self.rng.normal(0, 0.0015)
        self.inside = 0.0
        self.start = Start(0.0, 0.0, self.read())

    def read(self) -> float:
        """What the sensor says once it stands still [m]."""
        return float(np.interp(self.inside, self.v, self.z) + self.rng.normal(0, 0.25e-3))

    def pour(self, amount: float) -> None:
        """Pour in, or draw off what is less than 0 [m³]."""
        self.inside += amount
        said = amount / self.meter * (1 + self.rng.normal(0, 0.0005))
        self.pours.append(Pour(said, self.read(), row=len(self.pours)))

    def put(self) -> Poured:
        """All of it together."""
        found = put_together(self.start, self.pours, INSTRUMENTS)
        assert found is not None
        return found

    def follow(self, target: float, most: int = 50) -> list[float]:
        """Pour as advised until it is enough; the true largest error after each pour, whole once full [m³]."""
        errors, found = [], None
        for _ in range(most):
            top = 0.9999 * self.capacity
            advice = advise(None if found is None else found.curve, self.inside, top, target)
            if advice.amount == 0:
                break
            self.pour(advice.amount)
            found = self.put()
            whole = found.curve.volume[-1] > 0.98 * self.capacity
            errors.append(float(self.errors(found)[1].max()) if whole else self.capacity)
        return errors

    def errors(self, found: Poured) -> tuple[Array, Array]:
        """Levels [m], and how far off the curve is there [m³]."""
        z = self.z[(self.z >= found.curve.reading[0]) & (self.z <= found.curve.reading[-1])][::8]
        return z, np.abs(found.curve.at(z) - np.interp(z, self.z, self.v))

    def error_by_lines(self, found: Poured) -> float:
        """The largest error of straight lines between the same points [m³]."""
        z = self.errors(found)[0]
        return float(
            np.abs(np.interp(z, found.curve.reading, found.curve.volume) - np.interp(z, self.z, self.v)).max()
        )
