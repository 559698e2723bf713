"""A two-wire loop with a tank at one end and a screen at the other, of its own making: nothing of the product is
asked.

The fault finder is judged by it, so it has its own arithmetic: Ohm's law along one ladder of resistances with at
most one
leak, a lying cylinder's segment in closed form, a card and a screen as their sheets say, and people who misread. What
the keys of tests and parts mean is all that it takes from elsewhere.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

OPEN = 4e7
#: Copper of 0.5 mm² at 20 °C [Ω/m], from memory of IEC 60228: 36.0 Ω/km.
CORE_OHM_M = 0.036


@dataclass(frozen=True)
class Site:
    """A loop as its sheets say: lengths [m], ohms, the sensor's ends, and what the screen shows of a full tank."""

    name: str
    height_m: float
    cable_m: tuple[float, ...]
    fuse_ohm: float
    barrier_ohm: float
    input_ohm: float
    full_ma: float
    number_full: float
    shown_full: float
    lying: bool
    card: bool
    hazardous: bool

    @property
    def boxed(self) -> bool:
        return len(self.cable_m) > 1


#: Ends as each sheet says: a 0.4 bar sensor in 3 m of diesel, a 5 psi one in 2 m, and one made to measure.
SITES = {
    "two-wire with barrier, to a screen by registers": Site(
        "barrier", 3.0, (40.0, 15.0), 5.0, 150.0, 100.0, 13.8851, 3000.0, 9424.78, False, True, True
    ),
    "new pressure sensor on a farm": Site(
        "farm", 2.0, (40.0, 15.0), 0.0, 0.0, 250.0, 11.6467, 2000.0, 4149.6, True, True, False
    ),
    "two-wire into a panel meter": Site(
        "meter", 2.0, (25.0,), 5.0, 0.0, 250.0, 20.0, 2000.0, 2000.0, False, False, False
    ),
}


@dataclass
class State:
    """What is truly there: everything as it should be until something is changed."""

    site: Site
    level: float
    supply_v: float = 24.0
    broken: set[str] = field(default_factory=set)  # places: fuse, barrier, clamp±, core1±, splice±, core2±, plug±
    leak: tuple[str, float] | None = None  # panel, box or field; ohms
    wet_side: str = "cable"  # or sensor: on which side of the plug
    extra_ohm: tuple[str, float] | None = None
    crossed: str = ""  # panel, box or field
    loop_sink_ma: tuple[str, float] | None = None  # a calibrator that draws, in series
    across_ma: float = 0.0  # one that sources into the input
    input_factor: float = 1.0  # the burden's ohms, by what they should be
    sensed_add: float = 0.0
    level_add: float = 0.0
    stuck_sensed: float | None = None
    range_factor: float = 1.0
    density: float = 1.0
    sent_add: float = 0.0
    span: float = 1.0
    sends: float | None = None
    sensor_noise: float = 0.0
    card: Callable[[float], float] | None = None
    card_noise: float = 0.0
    lag: bool = False
    number: Callable[[float], float] | None = None
    read: float | None = None
    look: str = ""
    stale: bool = False
    shown: Callable[[float], float] | None = None
    dip_add: float = 0.0
    signs: dict[str, str] = field(default_factory=dict)


class Rig:
    """Somebody at such a loop, with a meter, a calibrator and a tape."""

    def __init__(self, state: State, rng: random.Random, misreads: float = 0.02) -> None:
        self.s, self.rng, self.misreads = state, rng, misreads
        self.accuracy = rng.gauss(0.0, 0.004)
        self.datum, self.float_off = rng.gauss(0.0, 0.004), rng.gauss(0.0, 0.035)
        self.supply_off = rng.gauss(1.0, 0.01)
        self.behind = rng.gauss(0.0, 0.8)

    # --- the loop -------------------------------------------------------------------------------------------
    def means(self, level: float | None = None, breather: bool = True, placed: bool = True) -> float:
        """What the sensor means to send [mA]."""
        s, top = self.s, self.s.site.height_m
        level = s.level if level is None else level
        if s.sends is not None:
            return s.sends
        depth = max(level + (s.level_add * top if placed else 0.0), 0.0) / top * s.density
        sensed = s.stuck_sensed if s.stuck_sensed is not None else depth + (s.sensed_add if breather else 0.0)
        share = max(sensed, 0.0) / s.range_factor * s.span + self.rng.gauss(0.0, s.sensor_noise)
        full = s.site.full_ma - 4.0
        ma = 4.0 + full * share + 16.0 * s.sent_add + full * self.accuracy
        return min(max(ma, 3.8), 20.5)

    def _cores(self) -> list[float]:
        return [CORE_OHM_M * metres for metres in self.s.site.cable_m]

    def _ladder(self) -> tuple[float, float]:
        """Ohms in series on the panel's side of the leak, and beyond it."""
        s, site = self.s, self.s.site
        near = 0.1 + site.fuse_ohm + site.barrier_ohm * 2 + site.input_ohm * s.input_factor
        cores = self._cores()
        far = 2 * sum(cores)
        place = s.leak[0] if s.leak else "field"
        split = {"panel": 0.0, "box": 2 * cores[0], "field": far}[place]
        if s.extra_ohm is not None:
            beyond = s.extra_ohm[0] == "splice" and place == "panel"
            return near + split + (0.0 if beyond else s.extra_ohm[1]), far - split + (
                s.extra_ohm[1] if beyond else 0.0
            )
        return near + split, far - split

    def _open(self, up_to: str) -> bool:
        """Whether anything is broken between the supply and a place."""
        order = ["fuse", "barrier", "clamp", "core1", "splice", "core2", "plug"]
        reach = {"fuse": 1, "panel": 2, "field": 3, "inbox": 4, "box": 5, "end": 6, "sensor": 7}[up_to]
        return any(one.rstrip("+−") in order[:reach] for one in self.s.broken)

    def _polarity(self, place: str) -> int:
        """−1 where what is at a place has been crossed before it."""
        order = {"panel": 0, "field": 1, "inbox": 1, "box": 2, "end": 2, "sensor": 3}
        crossed = {"": 9, "panel": 1, "box": 2, "field": 3}[self.s.crossed]
        return -1 if order[place] >= crossed else 1

    def currents(self, ma: float | None = None) -> tuple[float, float]:
        """What flows at the panel and into the sensor [mA], as it is wired."""
        s, volts = self.s, self.s.supply_v * self.supply_off
        ma = self.means() if ma is None else ma
        near, far = self._ladder()
        blocked = bool(s.crossed) or self._open("sensor") or s.supply_v < 1
        if self._open("field") or s.supply_v < 1:
            return 0.0, 0.0
        if s.loop_sink_ma is not None:
            ma = min(ma, s.loop_sink_ma[1])
        lift = 10.0 + (2.0 if s.loop_sink_ma is not None else 0.0)
        leak = (
            s.leak[1]
            if s.leak and not self._open({"panel": "field", "box": "box", "field": "end"}[s.leak[0]])
            else 0.0
        )
        want = 0.0 if blocked else ma / 1000
        if not leak:
            most = max((volts - lift) / (near + far), 0.0)
            amp = min(want, most)
            return 1000 * amp, 1000 * amp
        # One node: V = volts − near·(I_leak + I_sensor), I_leak = V / leak.
        node = (volts - near * want) / (1 + near / leak)
        if want and node - far * want < lift:
            want = max((volts / (1 + near / leak) - lift) / (far + near / (1 + near / leak)), 0.0)
            node = (volts - near * want) / (1 + near / leak)
        return 1000 * (want + node / leak), 1000 * want

    def volts(self, place: str) -> float:
        """Volts across the pair at a place; the supply's and the fuse's against its minus."""
        s, site = self.s, self.s.site
        supply = s.supply_v * self.supply_off
        total, sensor = (one / 1000 for one in self.currents())
        if place == "supply":
            return supply - 0.1 * total
        if place == "after-fuse":
            return 0.0 if "fuse" in s.broken else supply - (0.1 + site.fuse_ohm) * total
        if self._open(place):
            return 0.0
        cores = self._cores()
        near = 0.1 + site.fuse_ohm + 2 * site.barrier_ohm + site.input_ohm * s.input_factor
        drop = near * total
        if place in ("field", "inbox", "box", "end", "sensor") and s.extra_ohm and s.extra_ohm[0] == "clamp":
            drop += s.extra_ohm[1] * total
        if place in ("box", "end", "sensor") and s.extra_ohm and s.extra_ohm[0] == "splice":
            drop += s.extra_ohm[1] * total
        at_box = total if not s.leak or s.leak[0] != "panel" else sensor
        if place in ("inbox", "box", "end", "sensor"):
            drop += 2 * cores[0] * at_box
        if place in ("end", "sensor") and len(cores) > 1:
            drop += 2 * cores[1] * (total if s.leak and s.leak[0] == "field" else sensor)
        if s.loop_sink_ma is not None and place != "panel":
            # What a calibrator in series takes: all but what the rest wants, where it rules.
            rules = s.loop_sink_ma[1] <= self.means()
            drop += supply - drop - 10.0 if rules else 2.0
        return (supply - drop) * self._polarity(place)

    def alone(self, place: str, ma: float) -> float:
        """The sensor on a meter's own 24 V, from a place on [mA]."""
        s = self.s
        behind = {"panel": 0, "box": 5, "sensor": 9}[place]
        order = ["fuse", "barrier", "clamp", "core1", "splice", "core2", "plug"]
        broken = any(order.index(one.rstrip("+−")) >= max(behind, 3) for one in s.broken if place != "sensor")
        crossed = (s.crossed == "box" and place == "panel") or (s.crossed == "field" and place != "sensor")
        leaks = s.leak and (
            place == "panel"
            or (place == "box" and s.leak[0] in ("field", "box"))
            or (s.leak[0] == "field" and s.wet_side == "sensor")
        )
        extra = s.extra_ohm[1] if s.extra_ohm and s.extra_ohm[0] == "splice" and place == "panel" else 0.0
        flow = 0.0 if broken or crossed else min(ma, 1000 * (24.0 - 10.0) / (50.0 + extra))
        cut = broken and s.leak and s.leak[0] != "box"
        # The calibrator's own supply gives no more than this.
        return min(flow + (1000 * 23.0 / s.leak[1] if leaks and s.leak and not cut else 0.0), 25.0)

    def ohms(self, test: str) -> float:
        s, cores = self.s, self._cores()
        if test == "fuse-ohms":
            return OPEN if "fuse" in s.broken else self.s.site.fuse_ohm
        broken = {one.rstrip("+−") for one in s.broken}
        leak = s.leak[1] if s.leak else 1e12
        if test in ("pair-ohms", "insulation"):
            reaches = not s.leak or not broken & ({"core1"} if s.leak[0] == "box" else {"core1", "splice", "core2"})
            if s.leak and s.leak[0] == "panel":
                reaches = True
            # With the sensor off, what is wet on its own side is off with it.
            gone = test == "insulation" and s.leak and s.leak[0] == "field" and s.wet_side == "sensor"
            resting = 1e7 if test == "pair-ohms" and not broken & {"core1", "splice", "core2", "plug"} else 1e12
            return 1 / (1 / (leak if reaches and not gone else 1e12) + 1 / resting)
        if test == "beyond-box-ohms":
            there = s.leak and s.leak[0] == "field" and not broken & {"core2"}
            resting = 1e7 if not broken & {"core2", "plug"} else 1e12
            return 1 / (1 / (leak if there else 1e12) + 1 / resting)
        if test == "box-insulation":
            there = s.leak and s.leak[0] in ("box", "field") and not (s.leak[0] == "field" and "core2" in broken)
            resting = 1e7 if not broken & {"core2", "plug"} else 1e12
            return 1 / (1 / (leak if there else 1e12) + 1 / resting)
        through = ("core1",) if test == "half-loop-ohms" else ("core1", "splice", "core2")
        if broken & set(through):
            return OPEN
        wires = 2 * (cores[0] if test == "half-loop-ohms" else sum(cores))
        if s.extra_ohm and s.extra_ohm[0] == "splice" and test == "loop-ohms":
            wires += s.extra_ohm[1]
        shorted = s.leak and s.leak[1] < 10 and s.leak[0] == "panel"
        return min(wires, leak) if shorted else wires

    # --- behind the loop ------------------------------------------------------------------------------------
    def counts(self, ma: float) -> float:
        s = self.s
        raw = s.card(ma * s.input_factor) if s.card else 6553 + (ma * s.input_factor - 4) / 16 * 26214
        raw += self.rng.gauss(0.0, 5 + 26214 * s.card_noise)
        return float(round(min(max(raw, 0.0), 32767.0)))

    def number(self, ma: float) -> float:
        s, site = self.s, self.s.site
        seen = 4 + (self.counts(ma) - 6553) / 26214 * 16 if site.card else ma * s.input_factor
        full = site.number_full * (seen - 4) / (site.full_ma - 4)
        return s.number(full) if s.number else full

    def read(self, number: float) -> float:
        return self.s.read if self.s.read is not None else float(round(number))

    def shows(self, read: float) -> float:
        s, site = self.s, self.s.site
        # A table ends at the tank's top; a panel meter shows whatever number it has.
        share = read / site.number_full if site.name == "meter" else min(max(read / site.number_full, 0.0), 1.0)
        if site.lying:
            # A circle's segment by its height: (θ − sin θ) / 2π with θ = 2 acos(1 − 2h/d).
            angle = 2 * math.acos(1 - 2 * share)
            share = (angle - math.sin(angle)) / (2 * math.pi)
        shown = site.shown_full * share
        return float(round(s.shown(shown) if s.shown else shown))

    # --- what somebody reads --------------------------------------------------------------------------------
    def do(self, key: str, reads: dict[str, Any], outcomes: tuple[str, ...]) -> tuple[float | None, str]:
        """Do a test by its key: a value, or one of its outcomes."""
        slip = self.rng.random() < self.misreads
        if outcomes:
            seen = self._sign(key, outcomes)
            return None, self.rng.choice(outcomes) if slip or seen not in outcomes else seen
        value, scale, noise = self._value(key, reads)
        value += self.rng.gauss(0.0, noise)
        if slip:
            value += scale * self.rng.uniform(-0.5, 0.5)
        if "ohms" in reads:
            return min(max(value, 0.1), OPEN), ""
        return value, ""

    def _value(self, key: str, reads: dict[str, Any]) -> tuple[float, float, float]:  # noqa: PLR0912
        s, site = self.s, self.s.site
        if "ohms" in reads:
            ohm = self.ohms(key)
            return ohm, ohm, 0.02 * ohm + 0.2 if ohm < OPEN else 0.0
        if "volts" in reads:
            if key == "input-volts":
                amp = (self.currents()[0] + s.across_ma) / 1000
                return amp * site.input_ohm * s.input_factor, 5.0, 0.01
            at = {"supply": "supply", "after-fuse": "after-fuse"}.get(key, key.removesuffix("-volts"))
            value = self.volts({"pair": "field"}.get(at, at))
            return value, 24.0, 0.05 + 0.002 * abs(value)
        if "alone" in reads:
            level = reads["held"] * site.height_m if "held" in reads else None
            ma = self.means(level, breather=reads.get("without") != "breather", placed="held" not in reads)
            return self.alone(reads["alone"], ma) / 1000, 0.016, 2e-5
        if reads["station"] == "level":
            off = s.dip_add * site.height_m if not reads.get("fresh") else 0.0
            if key == "float":
                return (s.level + (self.float_off + s.dip_add) * site.height_m, site.height_m, 0.005 * site.height_m)
            own = self.datum * (0.5 if reads.get("fresh") else 1.0) * site.height_m
            return s.level + off + own, site.height_m, 0.002 * site.height_m
        arriving = self.currents()[0] + s.across_ma
        if "put_in" in reads:
            arriving = (
                reads["put_in"] * 1000
                if "inject" in reads
                else self.currents(reads["put_in"] * 1000)[0] + s.across_ma
            )
        if reads["station"] == "arriving":
            return arriving / 1000, 0.016, 1.5e-5
        if reads.get("spare"):
            return 6553 + (arriving - 4) / 16 * 26214, 26214.0, 30.0
        if s.lag and "put_in" not in reads:
            arriving += self.behind
        if reads["station"] == "counts" or (reads["station"] == "reader" and site.card):
            return self.counts(arriving), 26214.0, 10.0
        number = self.number(arriving)
        if reads["station"] in ("number", "words", "reader"):
            return round(number), site.number_full, 0.0
        if reads["station"] == "read":
            return self.read(number), site.number_full, 0.0
        return self.shows(self.read(number)), site.shown_full, 0.0

    def _sign(self, key: str, outcomes: tuple[str, ...]) -> str:
        s = self.s
        missed = self.rng.random() < 0.04
        if key == "look":
            usual = "noisy" if s.sensor_noise or s.card_noise else s.look or self._usual_look()
            return self.rng.choice(outcomes) if missed else usual
        if key == "alone-still":
            return outcomes[int((s.sensor_noise > 0) != missed)]
        if key == "inject-still":
            return outcomes[int((s.card_noise > 0) != missed)]
        seen = s.signs.get(key, outcomes[0])
        return next(one for one in outcomes if one != seen) if missed else seen

    def _usual_look(self) -> str:
        first = [self.shows(self.read(self.number(self.currents()[0] + self.s.across_ma))) for _ in range(4)]
        stands = max(first) - min(first) < 0.002 * self.s.site.shown_full
        dead = self.currents()[1] < 3.7
        return "frozen" if dead and stands and self.rng.random() < 0.6 else "live"
