"""Rules by which a gauge model fits a situation: each gives its reason with its number, or says nothing.

Common practice, no published source, unless a source is named. A rule that says ``stop`` cannot be got round at the
tank; one that says ``watch`` names what has to be done first.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import degrees, tan

import numpy as np

from ..errors import InputError
from ..judgement import Judgement, Weight
from ..tanks.inside import beam_meets_wall
from ..units import System, show
from .model import ZONES, GaugeModel, fluids
from .situation import Situation

#: Standard density of water that ranges in metres or feet of water are written for [kg/m³]: conventional, 4 °C.
WATER = 1000.0
#: Room that is wanted over the blanking distance [m].
_ROOM_M = 0.05
_LASER_TALLEST_M = 4.0


@dataclass(frozen=True)
class Case:
    """A model in a situation, and the units of the words."""

    model: GaugeModel
    there: Situation
    system: System

    def length(self, metres: float) -> str:
        """Write a length."""
        return show(metres, "length", self.system)


Rule = Callable[[Case], Judgement | None]


def _say(weight: Weight, code: str, text: str) -> Judgement:
    return Judgement(weight, code, text)


def pressure(case: Case) -> Judgement | None:
    """The vessel's pressure against the model's, and weighing against the air only in open tanks."""
    bar, model = case.there.pressure_bar, case.model
    if model.technology == "hydrostatic" and bar > 0.05:
        return _say("stop", "pressurised", f"Under {bar:.1f} bar: weighed against the air, that reads as level.")
    if bar > model.pressure_bar:
        return _say("stop", "pressure", f"Up to {bar:.1f} bar above the liquid; it bears {model.pressure_bar:g} bar.")
    if model.kind.mount != "below" and bar > 0.05:
        return _say("watch", "pressure-fitting", f"Under {bar:.1f} bar: the licensed fit it, in an empty vessel.")
    return None


def temperature(case: Case) -> Judgement | None:
    """Process temperatures."""
    low, high = case.there.temperature_c
    least, most = case.model.temperature_c
    if low < least or high > most:
        seen, borne = f"{low:g} to {high:g} °C", f"{least:g} to {most:g} °C"
        return _say("stop", "temperature", f"The product gets {seen}; it bears {borne}.")
    return None


def conducting(case: Case) -> Judgement | None:
    """Rods need a liquid that conducts, bare capacitance probes one that does not."""
    conducts = case.there.conductive
    if case.model.technology == "rods" and conducts is not True:
        why = "does not conduct" if conducts is False else "is not known to conduct"
        return _say("stop", "not-conductive", f"The liquid {why}: a wet rod looks dry.")
    if case.model.technology == "capacitance" and conducts is not False:
        why = "conducts" if conducts else "may conduct"
        return _say("stop", "conductive", f"The liquid {why}: it bridges the bare tubes, and any level reads full.")
    return None


def blanking(case: Case) -> Judgement | None:
    """The highest level must stay under the blanking distance; what is near a sonar's plate is not read."""
    model, there = case.model, case.there
    if model.kind.mount == "below":
        if there.lowest_m < model.blanking_m:
            lost = f"{case.length(model.blanking_m)}"
            return _say("watch", "near-zone", f"The lowest {lost} above the pad are not read.")
        return None
    if model.kind.mount != "top":
        return None
    room = there.face_m - model.blanking_m - there.surface_m(there.highest_m)
    if room < 0:
        text = (
            f"Its blanking of {case.length(model.blanking_m)} reaches {case.length(-room)} below the highest level: "
            f"fits if it is raised by {case.length(-room + _ROOM_M)}."
        )
        return _say("watch", "blanking", text)
    if room < _ROOM_M - 1e-9:
        return _say("watch", "blanking-near", f"Only {case.length(room)} between its blanking and the highest level.")
    return None


def reach(case: Case) -> Judgement | None:
    """Its range against the tank's height."""
    model, there = case.model, case.there
    if model.technology == "hydrostatic":
        need = there.density[1] / WATER * max(there.surface_m(there.highest_m) - there.floor_m, 0.0)
        kind = "of water, by weight"
    elif model.kind.mount == "top":
        need, kind = there.depth_m, "away"
    elif model.kind.mount == "below":
        need, kind = there.surface_m(there.highest_m), "above the pad"
    else:
        need, kind = there.depth_m, "below the flange"
    span = case.length(model.range_m)
    if need > model.range_m * (1 + 1e-9):
        return _say("stop", "range", f"The farthest is {case.length(need)} {kind}; it measures {span}.")
    return _say("good", "range", f"Measures {span}; the farthest is {case.length(need)} {kind}.")


def turndown(case: Case) -> Judgement | None:
    """How much of a pressure sensor's range the tank uses: its error goes by the whole range."""
    model, there = case.model, case.there
    if model.technology != "hydrostatic":
        return None
    used = there.density_mean / WATER * max(there.surface_m(there.highest_m) - there.floor_m, 1e-6) / model.range_m
    if 0 < used < 0.3:
        off = case.length(model.accuracy_span * model.range_m / (there.density_mean / WATER))
        return _say("watch", "turndown", f"A full tank uses {used:.0%} of its range: it errs {off} at any level.")
    return None


def beam(case: Case) -> Judgement | None:
    """Where the beam meets the wall, by the tank's own shape at the spot."""
    model, there = case.model, case.there
    if model.kind.mount != "top" or model.beam_rad == 0:
        return None
    try:
        meets = beam_meets_wall(there.tank.shape, there.x_m, there.y_m, there.face_m, model.beam_rad / 2)
    except InputError:
        return None
    if meets is None:
        return None
    if meets == 0.0:
        return _say("stop", "beside", "The spot is beside the tank's inside.")
    text = f"Its {degrees(model.beam_rad):.0f}° beam meets the wall {case.length(meets)} below its face."
    return _say("watch", "beam", text + " Move it towards the middle, or take a narrower beam.")


def opening(case: Case) -> Judgement | None:
    """The opening's bore against the body, and against the beam at the end of a long nozzle."""
    model, there = case.model, case.there
    if model.bore_m == 0 or there.bore_m is None:
        return None
    if there.bore_m < model.bore_m:
        return _say(
            "watch",
            "bore",
            f"Needs an opening of {case.length(model.bore_m)}; this one is {case.length(there.bore_m)}. Another "
            "opening, or an adapter made for it.",
        )
    nozzle = there.face_m - there.tank.inside_height
    if model.kind.mount == "top" and nozzle > 0 and 2 * nozzle * tan(model.beam_rad / 2) > there.bore_m:
        return _say(
            "watch",
            "nozzle",
            f"The nozzle is too narrow for its length: {case.length(nozzle)} down the beam is wider than "
            f"{case.length(there.bore_m)}.",
        )
    return None


def vapour(case: Case) -> Judgement | None:
    """Sound goes another way through vapour; light is stopped by it."""
    technology, amount = case.model.technology, case.there.vapour
    if technology == "ultrasonic" and amount == "heavy":
        return _say("stop", "vapour", "Heavy vapour: sound is faster or slower in it, and the level goes with it.")
    if technology == "laser" and amount == "heavy":
        return _say("stop", "vapour", "Heavy vapour fogs its window and scatters its light.")
    if technology in ("ultrasonic", "laser") and amount == "some":
        return _say("watch", "vapour", "Some vapour: check it against a dip, cold and warm.")
    return None


def foam(case: Case) -> Judgement | None:
    """Foam swallows sound and light, and some of a radar's echo."""
    technology, amount = case.model.technology, case.there.foam
    if amount == "none" or case.model.kind.mount != "top":
        return None
    if amount == "heavy" and technology in ("ultrasonic", "laser"):
        return _say("stop", "foam", "Heavy foam swallows the echo.")
    return _say("watch", "foam", f"{amount.capitalize()} foam: the echo may come from its top or not at all.")


def waves(case: Case) -> Judgement | None:
    """A rough surface throws echoes aside."""
    if case.there.waves == "heavy" and case.model.kind.mount == "top":
        return _say("watch", "waves", "A rough surface: take a stilling tube or a longer filter.")
    return None


def sediment(case: Case) -> Judgement | None:
    """What lies on the floor."""
    there, technology = case.there, case.model.technology
    if there.sediment_m <= 0:
        return None
    lies = case.length(there.sediment_m)
    if technology == "sonar" and there.sediment_m > 0.02:
        return _say("stop", "sediment", f"{lies} of sediment above the pad: the echo comes from it.")
    if technology == "hydrostatic":
        return _say("watch", "sediment", f"{lies} of sediment: hang it clear above that, and set the offset.")
    if technology in ("capacitance", "rods"):
        return _say("watch", "sediment", f"{lies} of sediment: leave a gap above it, or it bridges the tip.")
    return None


def wall(case: Case) -> Judgement | None:
    """A sonar listens through one bare metal wall that can be reached from below."""
    there = case.there
    if case.model.technology != "sonar":
        return None
    if there.double_wall:
        return _say("stop", "double-wall", "A double wall: the sound does not cross what is between.")
    if there.lined:
        return _say("stop", "lining", "A lined wall: the lining and the gap behind it take the sound.")
    if there.wall in ("plastic", "fibreglass"):
        return _say("stop", "wall", f"A wall of {there.wall} takes the sound; it needs metal.")
    if not there.bottom_reached:
        return _say("stop", "bottom", "The bottom cannot be reached from outside.")
    return None


def materials(case: Case) -> Judgement | None:
    """Wetted materials against the product."""
    known = fluids()["materials"]
    group = case.there.group
    if not case.model.wetted:
        return None
    if not group:
        return _say("watch", "materials", "The product is not known: its wetted materials cannot be judged.")
    bad, fair = [], []
    for key in case.model.wetted:
        entry = known[key]
        if group in entry.get("fair", ()):
            fair.append(entry["name"])
        elif group not in entry["good"]:
            bad.append(entry["name"])
    product = case.there.file.product
    if bad:
        return _say("stop", "materials", f"{', '.join(bad)} {_do(bad)} not bear {product}.")
    if fair:
        return _say("watch", "materials", f"{', '.join(fair)} {_do(fair)} not bear {product} for ever.")
    return None


def _do(names: list[str]) -> str:
    return "do" if len(names) > 1 else "does"


def supply(case: Case) -> Judgement | None:
    """The supply against its lift-off voltage."""
    model, volts = case.model, case.there.supply_v
    if volts is None or model.supply_max_v == 0:
        return None
    if volts > model.supply_max_v:
        return _say("stop", "supply", f"The supply gives {volts:g} V and more; it bears {model.supply_max_v:g} V.")
    if volts < model.lift_off_v:
        return _say("stop", "supply", f"The supply gives as little as {volts:g} V; it needs {model.lift_off_v:g} V.")
    return None


def vented(case: Case) -> Judgement | None:
    """A submersible sensor needs the air above the liquid to be the air that its cable breathes."""
    if case.model.technology != "hydrostatic" or case.there.pressure_bar > 0.05:
        return None
    if not case.there.breathes:
        return _say("watch", "no-vent", "No vent is recorded: it weighs right only where the tank breathes.")
    return None


def approval(case: Case) -> Judgement | None:
    """Approval against the zone where it sits."""
    need = case.there.zone
    if case.model.kind.mount == "below" and need == "0":
        need = "1"
    if ZONES.index(case.model.zone) < ZONES.index(need):
        has = "no approval" if case.model.zone == "none" else f"approval for zone {case.model.zone}"
        return _say("stop", "zone", f"Sits in zone {need} and has {has}.")
    return None


def laser_tall(case: Case) -> Judgement | None:
    """Lasers are for tanks under 4 m."""
    if case.model.technology == "laser" and case.there.depth_m > _LASER_TALLEST_M:
        return _say("stop", "tall", f"For tanks under 4 m; the floor is {case.length(case.there.depth_m)} below it.")
    return None


def point_levels(case: Case) -> Judgement | None:
    """Rods switch at levels; a float's dial takes height for volume."""
    if case.model.technology == "rods":
        return _say("watch", "points", "Switches at the rods' levels and tells no level between them.")
    if case.model.technology != "float":
        return None
    tank = case.there.tank
    levels = np.linspace(0, tank.inside_height, 101)
    gap = levels / tank.inside_height - tank.volume(levels) / tank.capacity
    worst = int(np.argmax(np.abs(gap)))
    off = f"{abs(gap[worst]):.0%} {'high' if gap[worst] > 0 else 'low'} at {case.length(float(levels[worst]))}"
    return _say("watch", "crude", f"A crude reference: 5–10 % out, and it takes height for volume, {off}.")


RULES: tuple[Rule, ...] = (
    pressure,
    temperature,
    materials,
    approval,
    conducting,
    reach,
    laser_tall,
    blanking,
    beam,
    opening,
    wall,
    vapour,
    foam,
    waves,
    sediment,
    turndown,
    vented,
    supply,
    point_levels,
)
