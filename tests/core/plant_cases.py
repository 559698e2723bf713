"""Plants for the tests: a quay tank with deliveries and draws at random, and an ice plant with a pump."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rasante.core.plant.flows import DAY_S, Calendar, Flow, Pump, Vessel, every_day
from rasante.core.plant.instruments import Surface
from rasante.core.plant.plant import Course, Plant
from rasante.core.scaling.volumes import curve_of

from .samples import tank_file, two_to_one

#: A Monday, midnight UTC.
MONDAY = 1_699_833_600.0
WEEK_S = 7 * DAY_S
QUAY = two_to_one().tank


@dataclass(frozen=True)
class Week:
    """A week of one tank: when it was read, what was read as volume, and when deliveries truly came."""

    times: np.ndarray
    volumes: np.ndarray
    course: Course
    deliveries: list[tuple[float, float]]


def random_spans(rng: np.random.Generator, length: tuple[float, float], apart: tuple[float, float]) -> Calendar:
    """Spans at random within a week, hours apart, each so many seconds long."""
    starts, ends, when = [], [], MONDAY + 3600 * rng.uniform(3, 12)
    while when < MONDAY + WEEK_S - 6 * 3600:
        starts.append(when)
        ends.append(when + rng.uniform(*length))
        when = ends[-1] + 3600 * rng.uniform(*apart)
    return Calendar(tuple(starts), tuple(ends))


def random_week(seed: int, deliveries: bool, draws: bool) -> Week:
    """A week with noise, sloshing and the warmth of the day; with deliveries of 2 to 15 % and draws if asked for."""
    rng = np.random.default_rng(seed)
    capacity = QUAY.capacity
    flows = []
    comes = Calendar()
    if draws:
        flows.append(
            Flow("draw", "a", None, capacity * rng.uniform(0.5, 6) * 1e-6, random_spans(rng, (300, 2400), (1, 6)))
        )
        flows.append(Flow("ebb", "a", None, capacity * rng.uniform(0, 5e-7), Calendar((MONDAY,), (MONDAY + WEEK_S,))))
    if deliveries:
        size, took = rng.uniform(0.022, 0.15) * capacity, rng.uniform(600, 3000)
        comes = random_spans(rng, (took, took + 1e-6), (14, 48))
        flows.append(Flow("fill", None, "a", size / took, comes))
    start = capacity * rng.uniform(0.25, 0.35)
    plant = Plant((Vessel("a", QUAY, start, 8e-4),), tuple(flows), (), seed, 9.0, rng.uniform(0, 3))
    _, course = plant.advance(plant.start(MONDAY), MONDAY + WEEK_S)
    times = np.arange(MONDAY, MONDAY + WEEK_S, rng.choice([120.0, 300.0, 600.0]))
    storm = every_day(MONDAY, MONDAY + WEEK_S, float(rng.integers(0, 20)), 5 * 3600.0)
    surface = Surface(rng.uniform(2e-4, 3e-3), rng.uniform(0, 0.012), rng.uniform(2, 4), storm)
    level = plant.level("a", course.volume("a", times), times) + surface.heave(seed, times)
    read = np.round(np.clip(level, 0, QUAY.inside_height), 3)
    return Week(times, curve_of(QUAY).volume(read), course, list(zip(comes.starts, comes.ends, strict=True)))


def ice_plant(seed: int = 7) -> Plant:
    """An upright tank from which a pump fills a header tank, that is drawn from evenly."""
    upright = tank_file(
        {
            "kind": "vertical_cylinder",
            "diameter_mm": 3000,
            "shell_height_mm": 5000,
            "bottom": {"kind": "flat"},
            "top": {"kind": "flat"},
        }
    ).tank
    header = tank_file({"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1500}).tank
    return Plant(
        (Vessel("upright", upright, 30.0), Vessel("header", header, 1.5)),
        (Flow("ice", "header", None, 0.0005, Calendar((MONDAY,), (MONDAY + WEEK_S,))),),
        (Pump("pump", "upright", "header", 0.002, "header", 1.0, 2.6),),
        seed,
    )
