"""What can be wrong at a loop, and cases drawn from it: the trade's weights, and nothing of the product's."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import replace

from .loop_rig import Rig, Site, State

#: What can be wrong: its weight in the trade, the parts that it may rightly be laid to, and what it does to the
#: state.
Cause = tuple[str, float, frozenset[str], Callable[[State, random.Random], State]]


def _near(rng: random.Random, least: float, most: float) -> float:
    return rng.choice([-1, 1]) * rng.uniform(least, most)


def _factor(rng: random.Random, least: float = 0.15, most: float = 0.9) -> float:
    return math.exp(rng.choice([-1, 1]) * rng.uniform(least, most))


def _only(*parts: str) -> frozenset[str]:
    return frozenset(parts)


def causes(site: Site) -> list[Cause]:
    """Everything that may be wrong at a site; common practice, no published source."""
    c, s = replace, site.number_full
    found: list[Cause] = [
        ("nothing", 6, _only("nothing"), lambda a, r: a),
        ("no supply", 4, _only("supply"), lambda a, r: c(a, supply_v=0.0)),
        ("supply sags", 1.5, _only("supply"), lambda a, r: c(a, supply_v=r.uniform(6, 12))),
        ("reversed at the sensor", 2, _only("connection"), lambda a, r: c(a, crossed="field")),
        ("reversed in the panel", 1.5, _only("wiring"), lambda a, r: c(a, crossed="panel")),
        ("clamp loose", 2.5, _only("clamp"), lambda a, r: c(a, broken={"clamp" + r.choice("+−")})),
        ("core broken", 2, _only("cable"), lambda a, r: c(a, broken={"core1" + r.choice("+−")})),
        ("plug off", 2.5, _only("connection"), lambda a, r: c(a, broken={"plug" + r.choice("+−")})),
        ("short", 1.5, _only("cable"), lambda a, r: c(a, leak=("panel", 0.6))),
        ("wet plug", 2, _only("connection"), lambda a, r: c(a, leak=("field", 10 ** r.uniform(2.7, 4.0)),
                                                                 wet_side=r.choice(["cable", "sensor"]))),
        ("bad clamp", 1, _only("clamp"), lambda a, r: c(a, extra_ohm=("clamp", r.uniform(1200, 5000)))),
        ("calibrator left", 1, _only("wiring"), lambda a, r: c(a, loop_sink_ma=("panel", r.uniform(4, 12)))),
        ("calibrator across", 0.6, _only("wiring"), lambda a, r: c(a, across_ma=r.uniform(4, 16))),
        ("sensor dead", 5, _only("sensor"), lambda a, r: c(a, sends=0.0)),
        ("sensor high", 3, _only("sensor"), lambda a, r: c(a, sends=r.choice([21.5, 22.0]))),
        ("zero drift", 5, _only("sensor"), lambda a, r: c(a, sent_add=_near(r, 0.05, 0.2))),
        ("span drift", 3, _only("sensor"), lambda a, r: c(a, span=1 + _near(r, 0.1, 0.35))),
        ("stuck", 4, _only("sensor"), lambda a, r: c(a, stuck_sensed=r.uniform(0, 1), look="frozen")),
        ("noisy", 4, _only("sensor"), lambda a, r: c(a, sensor_noise=r.uniform(0.06, 0.2))),
        ("breather", 5, _only("breather"),
         lambda a, r: c(a, sensed_add=_near(r, 0.03, 0.08), look="drifting", signs={"breather": "blocked"})),
        ("moved", 3, _only("mounting"), lambda a, r: c(a, level_add=_near(r, 0.06, 0.2), signs={"mount": "moved"})),
        ("other range", 3, _only("sensor"),
         lambda a, r: c(a, range_factor=r.choice([0.4, 0.5, 0.667, 1.5, 2.0, 2.5]), signs={"label": "other"})),
        ("density", 2, _only("product"),
         lambda a, r: c(a, density=1 + _near(r, 0.09, 0.22), signs={"product": "other"})),
        ("screen scale", 2.5, _only("screen"),
         lambda a, r: c(a, shown=_times(r.choice([0.2642, 0.3048, 3.2808, 3.7854, 0.1, 10.0, 0.5])),
                        signs={"screen": "other"})),
        ("scaling", 4, _only("scaling"),
         lambda a, r: c(a, number=_times(r.choice([0.4, 0.5, 0.667, 0.75, 1.333, 1.5, 2.0, 2.5])),
                        signs={"scaling": "other"})),
        ("decimals", 1.5, _only("scaling"),
         lambda a, r: c(a, number=_times(r.choice([0.1, 10.0])), signs={"scaling": "other"})),
        ("backwards", 1.5, _only("scaling"), lambda a, r: c(a, number=lambda x: s - x, signs={"scaling": "other"})),
        ("dip", 3, _only("dip"), lambda a, r: c(a, dip_add=_near(r, 0.05, 0.14))),
    ]  # fmt: skip
    if site.fuse_ohm:
        found.append(("fuse", 5, _only("fuse"), lambda a, r: c(a, broken={"fuse"})))
    if site.barrier_ohm:
        found.append(("barrier", 2, _only("barrier"), lambda a, r: c(a, broken={"barrier"})))
    if site.boxed:
        found += [
            ("crossed in the box", 1, _only("splice"), lambda a, r: c(a, crossed="box")),
            ("second core broken", 1.5, _only("cable"), lambda a, r: c(a, broken={"core2" + r.choice("+−")})),
            ("splice open", 3, _only("splice"), lambda a, r: c(a, broken={"splice" + r.choice("+−")})),
            ("wet splice", 5, _only("splice"), lambda a, r: c(a, leak=("box", 10 ** r.uniform(2.7, 4.0)))),
            ("bad splice", 2, _only("splice"), lambda a, r: c(a, extra_ohm=("splice", r.uniform(1200, 5000)))),
        ]
    if site.card:
        found += [
            ("channel dead", 3, _only("channel"), lambda a, r: c(a, card=lambda ma: 0.0)),
            ("channel floor", 2.5, _only("channel"), lambda a, r: c(a, card=_floor(r.uniform(6, 14)))),
            ("channel stuck", 2, _only("channel"), lambda a, r: c(a, card=_at(r.uniform(7000, 32000)), look="frozen")),  # noqa: E501
            ("channel noisy", 1, _only("channel"), lambda a, r: c(a, card_noise=r.uniform(0.06, 0.2))),
            ("input 0–20", 3, _only("input-setting"),
             lambda a, r: c(a, card=lambda ma: ma / 20 * 26214 + 6553, signs={"input-setting": "other"})),
            ("filter", 1, _only("input-setting"),
             lambda a, r: c(a, lag=True, look="drifting", signs={"input-setting": "other"})),
            ("burden", 1, _only("wiring"), lambda a, r: c(a, input_factor=r.choice([0.5, 2.0]))),
            ("other register", 2, _only("register"),
             lambda a, r: c(a, read=float(round(r.choice([r.uniform(0, 1.1 * s), 10 ** r.uniform(0, 4.5)]))),
                            signs={"register": "other"})),
            ("mapping", 1.5, _only("register"), lambda a, r: c(a, number=_at(-4 * s / (site.full_ma - 4)), signs={"register": "other"})),  # noqa: E501
            ("link down", 4, _only("link"),
             lambda a, r: c(a, read=r.uniform(0, s), look="stale", signs={"age": "old"})),
            ("stale", 1.5, _only("link"), lambda a, r: c(a, read=r.uniform(0, s), look="frozen", signs={"age": "old"})),  # noqa: E501
        ]  # fmt: skip
    if site.name != "meter":
        found.append(
            ("table", 2, _only("table"),
             lambda a, r: c(a, shown=_times(r.choice([0.7, 0.8, 0.9, 1.12, 1.2, 1.35])), signs={"table": "other"}))
        )  # fmt: skip
    return found


def _times(k: float) -> Callable[[float], float]:
    return lambda x: x * k


def _at(value: float) -> Callable[[float], float]:
    return lambda x: value


def _floor(until: float) -> Callable[[float], float]:
    return lambda ma: 6553.0 if ma < until else 6553 + (ma - 4) / 16 * 26214


def draw(site: Site, rng: random.Random, faults: int = 1) -> tuple[State, list[str], frozenset[str]]:
    """A state with so many things wrong, what they are, and the parts to which they may rightly be laid.

    A fault that is not seen at the screen, nor by whoever looks at it, is nobody's call, and drawn anew.
    """
    every = causes(site)
    while True:
        state = State(site, rng.uniform(0.1, 0.9) * site.height_m)
        names, parts = [], frozenset[str]()
        for name, _, blamed, change in rng.choices(every, [weight for _, weight, _, _ in every], k=faults):
            before = state.signs
            state = change(state, rng)
            state = replace(state, signs={**before, **state.signs})
            names.append(name)
            parts |= blamed
        if len(set(names)) < faults or (faults > 1 and "nothing" in names):
            continue
        if names == ["nothing"] or "dip" in names or state.look or state.sensor_noise or state.card_noise:
            return state, names, parts
        if faults > 1 or _seen(state):
            return state, names, parts


def _seen(state: State) -> bool:
    wrong = Rig(state, random.Random(0), 0.0)
    right = Rig(State(state.site, state.level), random.Random(0), 0.0)
    shown = [one.shows(one.read(one.number(one.currents()[0] + one.s.across_ma))) for one in (wrong, right)]
    return abs(shown[0] - shown[1]) > 0.03 * state.site.shown_full
