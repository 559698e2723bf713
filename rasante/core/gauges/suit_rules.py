"""Rules by which a gauge model fits a situation: each gives its reason with its number, or says nothing.

Common practice, no published source, unless a source is named. A rule that says ``stop`` cannot be got round at the
tank; one that says ``watch`` names what has to be done first.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import degrees, tan

import numpy as np

from ..products.registry import NOT_KNOWN, materials
from ..quantities.errors import InputError
from ..quantities.judgement import Judgement, good, stop, watch
from ..tanks.inside import beam_meets_wall
from .model import ZONES, GaugeModel, Technology
from .situation import Situation

#: Standard density of water that ranges in metres or feet of water are written for [kg/m³]: conventional, 4 °C.
WATER = 1000.0
#: Room that is wanted over the blanking distance [m].
_ROOM_M = 0.05
#: Pressure from which a tank does not breathe [bar].
_PRESSURE_BAR = 0.05


@dataclass(frozen=True)
class Case:
    """A model in a situation."""

    model: GaugeModel
    there: Situation

    @property
    def kind(self) -> Technology:
        """The model's way of measuring."""
        return self.model.kind


Rule = Callable[[Case], Judgement | None]


def pressure(case: Case) -> Judgement | None:
    """The vessel's pressure against the model's, and weighing against the air only in open tanks."""
    bar, model = case.there.pressure_bar, case.model
    if case.kind.weighs and bar > _PRESSURE_BAR:
        text = "Under {value:.1f} bar: weighed against the air, that reads as level."
        return stop("pressurised", text, value=bar, limit=_PRESSURE_BAR)
    if bar > model.pressure_bar:
        text = "Up to {value:.1f} bar above the liquid; it bears {limit:g} bar."
        return stop("pressure", text, value=bar, limit=model.pressure_bar)
    if case.kind.mount != "below" and bar > _PRESSURE_BAR:
        text = "Under {value:.1f} bar: the licensed fit it, in an empty vessel."
        return watch("pressure-fitting", text, value=bar, limit=_PRESSURE_BAR)
    return None


def temperature(case: Case) -> Judgement | None:
    """Process temperatures."""
    low, high = case.there.temperature_c
    least, most = case.model.temperature_c
    if low >= least and high <= most:
        return None
    text = "The product gets {low:g} to {high:g} °C; it bears {least:g} to {most:g} °C."
    beyond = high if high > most else low
    limit = most if high > most else least
    return stop("temperature", text, value=beyond, limit=limit, low=low, high=high, least=least, most=most)


def conducting(case: Case) -> Judgement | None:
    """Rods need a liquid that conducts, bare capacitance probes one that does not."""
    needs, conducts = case.kind.conductive, case.there.product.conductive
    if needs is None or conducts is needs:
        return None
    if needs:
        why = "does not conduct" if conducts is False else "is not known to conduct"
        return stop("not-conductive", "The liquid {why}: a wet rod looks dry.", why=why)
    why = "conducts" if conducts else "may conduct"
    return stop("conductive", "The liquid {why}: it bridges the bare tubes, and any level reads full.", why=why)


def blanking(case: Case) -> Judgement | None:
    """The highest level must stay under the blanking distance; what is near a plate's pad is not read."""
    model, there = case.model, case.there
    if case.kind.mount == "below":
        if there.lowest_m < model.blanking_m:
            text = "The lowest {limit:length} above the pad are not read."
            return watch("near-zone", text, value=there.lowest_m, limit=model.blanking_m)
        return None
    if case.kind.mount != "top":
        return None
    room = there.face_m - model.blanking_m - there.surface_m(there.highest_m)
    if room < 0:
        text = (
            "Its blanking of {blanking:length} reaches {short:length} below the highest level: fits if it is raised "
            "by {raised:length}."
        )
        numbers = {"blanking": model.blanking_m, "short": -room, "raised": -room + _ROOM_M}
        return watch("blanking", text, value=room, limit=0.0, **numbers)
    if room < _ROOM_M - 1e-9:
        text = "Only {value:length} between its blanking and the highest level."
        return watch("blanking-near", text, value=room, limit=_ROOM_M)
    return None


def reach(case: Case) -> Judgement | None:
    """Its range against the tank's height."""
    model, there = case.model, case.there
    if case.kind.weighs:
        need = there.density[1] / WATER * max(there.surface_m(there.highest_m) - there.floor_m, 0.0)
        where = "of water, by weight"
    elif case.kind.mount == "top":
        need, where = there.depth_m, "away"
    elif case.kind.mount == "below":
        need, where = there.surface_m(there.highest_m), "above the pad"
    else:
        need, where = there.depth_m, "below the flange"
    if need > model.range_m * (1 + 1e-9):
        text = "The farthest is {value:length} {where}; it measures {limit:length}."
        return stop("range", text, value=need, limit=model.range_m, where=where)
    text = "Measures {limit:length}; the farthest is {value:length} {where}."
    return good("range", text, value=need, limit=model.range_m, where=where)


def turndown(case: Case) -> Judgement | None:
    """How much of a pressure sensor's range the tank uses: its error goes by the whole range."""
    model, there = case.model, case.there
    if not case.kind.weighs:
        return None
    used = there.density_mean / WATER * max(there.surface_m(there.highest_m) - there.floor_m, 1e-6) / model.range_m
    if not 0 < used < 0.3:
        return None
    off = model.accuracy_span * model.range_m / (there.density_mean / WATER)
    text = "A full tank uses {value:.0%} of its range: it errs {off:length} at any level."
    return watch("turndown", text, value=used, limit=0.3, off=off)


def beam(case: Case) -> Judgement | None:
    """Where the beam meets the wall, by the tank's own shape at the spot."""
    model, there = case.model, case.there
    if not case.kind.beams or model.beam_rad == 0:
        return None
    try:
        meets = beam_meets_wall(there.tank.shape, there.x_m, there.y_m, there.face_m, model.beam_rad / 2)
    except InputError:
        return None
    if meets is None:
        return None
    if meets == 0.0:
        return stop("beside", "The spot is beside the tank's inside.")
    text = (
        "Its {angle:.0f}° beam meets the wall {value:length} below its face. Move it towards the middle, or take a "
        "narrower beam."
    )
    return watch("beam", text, value=meets, limit=there.depth_m, angle=degrees(model.beam_rad))


def opening(case: Case) -> Judgement | None:
    """The opening's bore against the body, and against the beam at the end of a long nozzle."""
    model, there = case.model, case.there
    if model.bore_m == 0 or there.bore_m is None:
        return None
    if there.bore_m < model.bore_m:
        text = (
            "Needs an opening of {limit:length}; this one is {value:length}. Another opening, or an adapter made for "
            "it."
        )
        return watch("bore", text, value=there.bore_m, limit=model.bore_m)
    nozzle = there.face_m - there.tank.inside_height
    wide = 2 * nozzle * tan(model.beam_rad / 2)
    if case.kind.beams and nozzle > 0 and wide > there.bore_m:
        text = "The nozzle is too narrow for its length: {nozzle:length} down the beam is wider than {limit:length}."
        return watch("nozzle", text, value=wide, limit=there.bore_m, nozzle=nozzle)
    return None


def vapour(case: Case) -> Judgement | None:
    """Sound goes another way through vapour; light is stopped by it."""
    effect = case.kind.vapour.get(case.there.vapour)
    return Judgement(effect[0], "vapour", effect[1]) if effect else None


def foam(case: Case) -> Judgement | None:
    """Foam swallows sound and light, and some of a radar's echo."""
    effect = case.kind.foam.get(case.there.foam)
    return Judgement(effect[0], "foam", effect[1]) if effect else None


def waves(case: Case) -> Judgement | None:
    """A rough surface throws echoes aside."""
    effect = case.kind.waves.get(case.there.waves)
    return Judgement(effect[0], "waves", effect[1]) if effect else None


def sediment(case: Case) -> Judgement | None:
    """What lies on the floor."""
    lies = case.there.sediment_m
    if lies <= 0 or not case.kind.sediment:
        return None
    if case.kind.sediment == "hides":
        text = "{value:length} of sediment above the pad: the echo comes from it."
        return stop("sediment", text, value=lies, limit=0.02) if lies > 0.02 else None
    if case.kind.sediment == "hang-clear":
        return watch(
            "sediment", "{value:length} of sediment: hang it clear above that, and set the offset.", value=lies
        )
    return watch("sediment", "{value:length} of sediment: leave a gap above it, or it bridges the tip.", value=lies)


def wall(case: Case) -> Judgement | None:
    """What listens through the plate needs one bare metal wall that can be reached from below."""
    there = case.there
    if not case.kind.through_wall:
        return None
    if there.double_wall:
        return stop("double-wall", "A double wall: the sound does not cross what is between.")
    if there.lined:
        return stop("lining", "A lined wall: the lining and the gap behind it take the sound.")
    if there.wall in ("plastic", "fibreglass"):
        return stop("wall", "A wall of {wall} takes the sound; it needs metal.", wall=there.wall)
    if not there.bottom_reached:
        return stop("bottom", "The bottom cannot be reached from outside.")
    return None


def wetted(case: Case) -> Judgement | None:
    """Wetted materials against the product."""
    known, product = materials(), case.there.product
    if not case.model.wetted:
        return None
    if not product.known:
        return watch("materials", "The product is {known}.", known=NOT_KNOWN)
    bad, fair = [], []
    for key in case.model.wetted:
        entry = known[key]
        if product.group in entry.get("fair", ()):
            fair.append(entry["name"])
        elif product.group not in entry["good"]:
            bad.append(entry["name"])
    name = case.there.file.product
    if bad:
        return stop("materials", "{bad} {do} not bear {product}.", bad=", ".join(bad), do=_do(bad), product=name)
    if fair:
        text = "{fair} {do} not bear {product} for ever."
        return watch("materials", text, fair=", ".join(fair), do=_do(fair), product=name)
    return None


def _do(names: list[str]) -> str:
    return "do" if len(names) > 1 else "does"


def supply(case: Case) -> Judgement | None:
    """The supply against its lift-off voltage."""
    model, volts = case.model, case.there.supply_v
    if volts is None or model.supply_max_v == 0:
        return None
    if volts > model.supply_max_v:
        text = "The supply gives {value:g} V and more; it bears {limit:g} V."
        return stop("supply", text, value=volts, limit=model.supply_max_v)
    if volts < model.lift_off_v:
        text = "The supply gives as little as {value:g} V; it needs {limit:g} V."
        return stop("supply", text, value=volts, limit=model.lift_off_v)
    return None


def vented(case: Case) -> Judgement | None:
    """A submersible sensor needs the air above the liquid to be the air that its cable breathes."""
    if not case.kind.weighs or case.there.pressure_bar > _PRESSURE_BAR or case.there.breathes:
        return None
    return watch("no-vent", "No vent is recorded: it weighs right only where the tank breathes.")


def approval(case: Case) -> Judgement | None:
    """Approval against the zone where it sits."""
    need = case.there.zone
    if case.kind.mount == "below" and need == "0":
        need = "1"
    if ZONES.index(case.model.zone) >= ZONES.index(need):
        return None
    has = "no approval" if case.model.zone == "none" else f"approval for zone {case.model.zone}"
    return stop("zone", "Sits in zone {need} and has {has}.", need=need, has=has)


def tall(case: Case) -> Judgement | None:
    """Some ways of measuring are for low tanks only."""
    most = case.kind.tallest_m
    if not most or case.there.depth_m <= most:
        return None
    text = "For tanks under {limit:g} m; the floor is {value:length} below it."
    return stop("tall", text, value=case.there.depth_m, limit=most)


def point_levels(case: Case) -> Judgement | None:
    """Rods switch at levels; a float's dial takes height for volume."""
    if case.kind.senses == "points":
        return watch("points", "Switches at the rods' levels and tells no level between them.")
    if not case.kind.linear_share:
        return None
    tank = case.there.tank
    levels = np.linspace(0, tank.inside_height, 101)
    gap = levels / tank.inside_height - tank.volume(levels) / tank.capacity
    worst = int(np.argmax(np.abs(gap)))
    text = "A crude reference: 5–10 % out, and it takes height for volume, {value:.0%} {way} at {at:length}."
    way = "high" if gap[worst] > 0 else "low"
    return watch("crude", text, value=abs(float(gap[worst])), way=way, at=float(levels[worst]))


RULES: tuple[Rule, ...] = (
    pressure,
    temperature,
    wetted,
    approval,
    conducting,
    reach,
    tall,
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
