"""A spot for the gauge: what is in its way, what its beam meets, and what the table has to know of it."""

from __future__ import annotations

from dataclasses import dataclass
from math import acos, cos, degrees, hypot, radians, tan

import numpy as np

from ..quantities.errors import InputError
from ..quantities.form import Form
from ..quantities.judgement import Judgement, Number, by_weight, good, stop, watch
from ..tanks.inside import bounds, plan_of
from ..tanks.lying import Lying
from ..tanks.ports import read_position
from .model import GaugeModel
from .situation import Situation

#: What may stand in a tank, with how wide it is taken where nobody typed it [m].
OBSTACLES: dict[str, tuple[str, float]] = {
    "float": ("Float arm's reach", 0.3),
    "baffle": ("Baffle", 0.01),
    "inlet": ("Fill pipe or inlet", 0.05),
    "outlet": ("Suction or dip tube", 0.05),
    "vent": ("Vent", 0.05),
    "valve": ("Bottom valve", 0.08),
    "seam": ("Weld seam at the bottom", 0.015),
    "stub": ("Stub or ladder", 0.05),
}
MOST_OBSTACLES = 20
#: Room that is wanted around a probe or a cable, and from the fill's fall to a beam [m]: common practice.
_CLEAR_M, _SEAM_CLEAR_M = 0.05, 0.05
#: Tilt of a sonar's pad at which its echo still comes back to it [°]: common practice.
_PAD_LEVEL_DEG = 3.0
#: An echo that goes through the pad's own tilt this much longer is worth a word [1].
_PATH_SHARE = 0.001


@dataclass(frozen=True)
class Obstacle:
    """Something that stands in the tank: its kind, where it is in plan, and how far it reaches around that [m]."""

    kind: str
    name: str
    x_m: float
    y_m: float
    radius_m: float


@dataclass(frozen=True)
class Placement:
    """A spot judged.

    Parameters
    ----------
    obstacles : tuple of Obstacle
        What stands in the tank.
    pad_tilt_deg : float
        Tilt of a pad on the bottom, by the shell under it and as typed [°].
    judgements : tuple of Judgement
        The heaviest first.
    """

    obstacles: tuple[Obstacle, ...]
    pad_tilt_deg: float
    judgements: tuple[Judgement, ...]


def read_obstacles(form: Form, ports: list[dict[str, object]]) -> list[Obstacle]:
    """Read what stands in the tank: what was typed, and the fill pipes and vents of the survey whose place is known.

    Parameters
    ----------
    form : Form
        ``obstacles[i].kind|name|x|y|radius``.
    ports : list of dict
        The survey's openings.
    """
    found = []
    kinds = {key: label for key, (label, _) in OBSTACLES.items()}
    for index in range(form.count("obstacles", "kind", MOST_OBSTACLES)):
        path = f"obstacles[{index}]"
        kind = form.choice(f"{path}.kind", kinds)
        x = form.quantity(f"{path}.x", "length", -50.0, 200.0)
        y = form.quantity(f"{path}.y", "length", -50.0, 50.0, usual=0.0)
        reach = OBSTACLES[kind][1] if kind else 0.0
        radius = form.quantity(f"{path}.radius", "length", 0.0, 20.0, usual=reach)
        name = form.text(f"{path}.name", 60)
        if kind and x is None and form.fields[f"{path}.x"].state == "empty":
            form.blame(f"{path}.x", "type where along the tank it is")
        if kind and x is not None:
            found.append(Obstacle(kind, name or OBSTACLES[kind][0], x, y, radius))
    for port in ports:
        along = read_position(str(port.get("position", "")), "metric")[0]
        uses = port.get("uses", ())
        for use, kind in (("fill", "inlet"), ("draw", "outlet")):
            if along is not None and isinstance(uses, list) and use in uses and "gauge" not in uses:
                found.append(Obstacle(kind, str(port.get("name") or use), along / 1000, 0.0, OBSTACLES[kind][1]))
    return found


def _away(there: Situation, thing: Obstacle) -> float:
    """Room between the spot and the thing's edge in plan [m]; a baffle and a seam run across the whole tank."""
    if thing.kind in ("baffle", "seam"):
        return abs(there.x_m - thing.x_m) - thing.radius_m
    return hypot(there.x_m - thing.x_m, there.y_m - thing.y_m) - thing.radius_m


def pad_tilt(there: Situation, typed_deg: float) -> float:
    """Tilt of a pad under the bottom at the spot [°]: of the shell there, and what was read beside it, together.

    Notes
    -----
    The shell's own tilt by the floor's fall over 10 mm either way at the spot.
    """
    step = 0.005
    x, y = there.x_m, there.y_m
    try:
        floor, _ = bounds(
            there.tank.shape, np.array([x - step, x + step, x, x]), np.array([y, y, y - step, y + step])
        )
    except InputError:
        return typed_deg
    along, across = (float(floor[1] - floor[0]) / (2 * step), float(floor[3] - floor[2]) / (2 * step))
    if np.isnan(along) or np.isnan(across):
        return typed_deg
    slope = there.tank.shape.slope if isinstance(there.tank.shape, Lying) else 0.0
    shell = degrees(acos(1 / np.sqrt(1 + (along + slope) ** 2 + across**2)))
    return hypot(shell, typed_deg)


@dataclass(frozen=True)
class Spot:
    """What is known of a spot beside where it is.

    Parameters
    ----------
    things : tuple of Obstacle
        What stands in the tank.
    pad_tilt_deg : float
        Tilt read beside a pad [°].
    port : str
        The name of the opening that the gauge takes; empty if nobody said.
    """

    things: tuple[Obstacle, ...] = ()
    pad_tilt_deg: float = 0.0
    port: str = ""


def read_spot(form: Form, ports: list[dict[str, object]]) -> Spot:
    """Read what is known of a spot.

    Parameters
    ----------
    form : Form
        ``obstacles[i]…`` as `read_obstacles`, ``spot.pad_tilt``, ``spot.port`` (the name of the opening it takes).
    ports : list of dict
        The survey's openings.
    """
    things = tuple(read_obstacles(form, ports))
    return Spot(things, form.quantity("spot.pad_tilt", "angle", 0.0, 45.0, usual=0.0), form.text("spot.port", 200))


def place_gauge(spot: Spot, there: Situation, model: GaugeModel | None, ports: list[dict[str, object]]) -> Placement:
    """Judge a spot for a model.

    Parameters
    ----------
    spot : Spot
        What is known of it.
    there : Situation
        The tank, with the spot.
    model : GaugeModel or None
        The gauge, if one is chosen.
    ports : list of dict
        The survey's openings.
    """
    tilt = pad_tilt(there, spot.pad_tilt_deg)
    found = [_judge_thing(there, model, thing) for thing in spot.things]
    found += [_judge_port(spot.port, model, ports), _judge_table(there), _judge_pad(there, model, tilt)]
    found.append(_judge_wall(there))
    judgements = [judgement for judgement in found if judgement is not None]
    if not any(j.weight != "good" for j in judgements):
        judgements.append(good("clear", "Nothing that is noted stands in its way here."))
    return Placement(spot.things, tilt, tuple(by_weight(judgements)))


def beam_reach(model: GaugeModel, distance_m: float) -> float:
    """Half the width of a model's beam at a distance below its face [m]; 0 without a beam."""
    return distance_m * tan(model.beam_rad / 2)


def _judge_thing(there: Situation, model: GaugeModel | None, thing: Obstacle) -> Judgement | None:
    """Clear of a thing: a beam by its width at the floor, a pad by its face, all else by room for itself."""
    mount = model.kind.mount if model else "inside"
    beams = model is not None and model.kind.beams
    room = _away(there, thing)
    if thing.kind == "seam" and mount != "below":
        return None
    wide = _CLEAR_M
    if model and beams and thing.kind != "vent":
        wide = max(wide, beam_reach(model, there.depth_m))
    if mount == "below":
        wide = _SEAM_CLEAR_M
    if room >= wide:
        return None
    here = "{name}: {value:length} away"
    numbers: dict[str, Number] = {"value": max(room, 0.0), "limit": wide, "short": wide - room, "name": thing.name}
    if thing.kind == "seam":
        text = here + ". Move the pad {short:length}, or set it on a wedge beside the seam."
        return watch("seam", text, **numbers)
    if beams:
        text = here + ", in the beam, half as wide as {limit:length} at the floor. Move it {short:length}."
        return watch(f"in-beam-{thing.kind}", text, **numbers)
    judge = stop if room < 0 else watch
    return judge(f"near-{thing.kind}", here + "; it needs {limit:length}. Move it {short:length}.", **numbers)


def _judge_port(name: str, model: GaugeModel | None, ports: list[dict[str, object]]) -> Judgement | None:
    """The vent stays open, and filling stays possible."""
    port = next((port for port in ports if port.get("name") == name), None)
    if not name or port is None or (model and model.kind.mount == "below"):
        return None
    uses = _uses(port)
    if "vent" in uses:
        if not any("vent" in _uses(other) for other in ports if other is not port):
            text = "{port} is the only vent: never block it. A wye keeps it open."
            return stop("blocks-vent", text, port=name)
        return watch("shares-vent", "{port} is a vent: fit a wye, so that it stays open.", port=name)
    if "fill" in uses:
        return watch("shares-fill", "{port} is the fill: a tee with a flapper, or filling stops here.", port=name)
    return good("port", "{port} is free for it; the vent stays open.", port=name)


def _uses(port: dict[str, object]) -> list[str]:
    uses = port.get("uses", ())
    return [str(use) for use in uses] if isinstance(uses, list | tuple) else []


def _judge_table(there: Situation) -> Judgement | None:
    """A sloped tank's table is made for one place along it."""
    shape = there.tank.shape
    if not isinstance(shape, Lying) or shape.slope == 0 or abs(there.x_m - shape.gauge_m) < 0.005:
        return None
    off = abs(there.x_m - shape.gauge_m)
    height = off * abs(shape.slope)
    volume = float(there.tank.surface(there.tank.inside_height / 2)) * height
    text = (
        "The table is made for {limit:length} from the left, {off:length} away: on this slope that is "
        "{height:length} of level, {volume:volume} half full. Set the gauge position at Survey to the spot."
    )
    return stop("table-spot", text, value=there.x_m, limit=shape.gauge_m, off=off, height=height, volume=volume)


def _judge_pad(there: Situation, model: GaugeModel | None, tilt: float) -> Judgement | None:
    """A pad under the bottom, near level: its echo goes aside, and its path is longer."""
    if model is None or not model.kind.through_wall:
        return None
    longer = 1 / cos(radians(tilt)) - 1
    text = "The pad is {value:.1f}° off level: its path reads {far:length} long when full"
    numbers: dict[str, Number] = {"value": tilt, "limit": _PAD_LEVEL_DEG, "far": there.highest_m * longer}
    if tilt > _PAD_LEVEL_DEG:
        judge = stop if tilt > 2 * _PAD_LEVEL_DEG else watch
        return judge("pad-tilt", text + ", and the echo misses it. Bottom centre is level.", **numbers)
    return (watch if longer > _PATH_SHARE else good)("pad-path", text + ".", **numbers)


def _judge_wall(there: Situation) -> Judgement | None:
    """The least depth under the spot, and how much of the tank it cannot see because the floor rises there."""
    try:
        floor = float(bounds(there.tank.shape, there.x_m, there.y_m)[0])
        plan = plan_of(there.tank.shape)
    except InputError:
        return None
    if np.isnan(floor):
        return stop("beside", "The spot is beside the tank's inside.")
    lowest = float(np.nanmin(bounds(there.tank.shape, there.x_m, np.linspace(plan.low[1], plan.high[1], 81))[0]))
    if floor - lowest <= 0.01:
        return None
    text = "The floor under the spot is {value:length} above the lowest: {lost:volume} lie below its foot."
    return watch("floor-rises", text, value=floor - lowest, limit=0.01, lost=float(there.tank.volume(floor)))
