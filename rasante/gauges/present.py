"""How gauges are written for the API: millimetres and litres from SI."""

from __future__ import annotations

from dataclasses import asdict
from typing import overload

import numpy as np

from ..core.gauges.cables import CableCut
from ..core.gauges.placement import Obstacle, beam_reach
from ..core.gauges.plan import GaugePlan
from ..core.gauges.probes import ProbeCut
from ..core.gauges.rods import COUPLING_M, RodSet, State
from ..core.gauges.situation import Situation
from ..core.gauges.suit import VERDICTS, Verdict
from ..core.gauges.tilt import TiltMap
from ..core.quantities.errors import InputError
from ..core.quantities.form import Form
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.tanks.inside import plan_of
from ..core.tanks.tank import Tank
from ..planned.present import fields
from ..tanks.present import judgements
from . import answers
from .drawn import drawn_gauge


@overload
def _mm(metres: float) -> float: ...


@overload
def _mm(metres: None) -> None: ...


def _mm(metres: float | None) -> float | None:
    return None if metres is None else round(metres * 1000, 6)


def verdict(key: str, found: Verdict, capacity_m3: float, system: System) -> answers.Verdict:
    """Write a model's verdict."""
    expected = found.expected
    return answers.Verdict(
        key=key,
        name=found.model.name,
        technology=found.model.technology,
        verdict=found.verdict,
        words=VERDICTS[found.verdict],
        reasons=judgements(found.reasons, system),
        outputs=list(found.model.outputs),
        install_min=found.model.install_min,
        u95_l=expected.u95_m3 * 1000 if expected else None,
        u95_pct=expected.u95_m3 / capacity_m3 * 100 if expected else None,
        u95_at_mm=_mm(expected.at_m) if expected else None,
        u95_level_mm=_mm(expected.u95_level_m) if expected else None,
        table_u95_l=expected.table_u95_m3 * 1000 if expected else None,
        parts=[answers.UncertainPart(name=part.name, u95_mm=_mm(part.u95_m)) for part in expected.parts]
        if expected
        else [],
    )


def situation(there: Situation) -> answers.Situation:
    """Write what a gauge meets."""
    return answers.Situation(
        lowest_mm=_mm(there.lowest_m),
        highest_mm=_mm(there.highest_m),
        temperature_c=list(there.temperature_c),
        pressure_bar=there.pressure_bar,
        density_kg_m3=list(there.density),
        zone=there.zone,
        vapour=there.vapour,
        x_mm=_mm(there.x_m),
        y_mm=_mm(there.y_m),
        face_mm=_mm(there.face_m),
        depth_mm=_mm(there.depth_m),
        assumed=list(there.assumed),
    )


def plan_view(tank: Tank) -> answers.PlanView | None:
    """Write a tank seen from above [mm]; None where nothing but points is known of it."""
    try:
        plan = plan_of(tank.shape)
    except InputError:
        return None
    return answers.PlanView(
        outline_mm=np.round(plan.outline * 1000, 2).tolist(),
        low_mm=[_mm(v) for v in plan.low],
        high_mm=[_mm(v) for v in plan.high],
    )


def obstacle(thing: Obstacle) -> answers.Obstacle:
    """Write something that stands in the tank."""
    return answers.Obstacle(
        kind=thing.kind, name=thing.name, x_mm=_mm(thing.x_m), y_mm=_mm(thing.y_m), radius_mm=_mm(thing.radius_m)
    )


def probe(found: ProbeCut | None, system: System) -> answers.Probe | None:
    """Write a probe's cut."""
    if found is None:
        return None
    return answers.Probe(
        school=found.school.key,
        depth_mm=_mm(found.depth_m),
        gap_mm=_mm(found.gap_m),
        cut_mm=_mm(found.cut_m),
        pieces_mm=[_mm(piece) for piece in found.pieces_m],
        schools=[answers.School(key=one.key, label=one.label, cut_mm=_mm(cut)) for one, cut in found.by_school],
        wet_l=None if found.wet_m3 is None else found.wet_m3 * 1000,
        steps=[Words(system).say(step) for step in found.steps],
        judgements=judgements(found.judgements, system),
    )


def cable(found: CableCut | None, system: System) -> answers.Cable | None:
    """Write a cable's cut."""
    if found is None:
        return None
    lengths = {
        f"{key.removesuffix('_m')}_mm": _mm(value) for key, value in asdict(found).items() if key.endswith("_m")
    }
    return answers.Cable(**lengths, judgements=judgements(found.judgements, system))


def relay_state(state: State) -> answers.RelayState:
    return answers.RelayState(fill=state.fill, cutout=state.cutout, pump=state.pump, booster=state.booster)


def rods(found: RodSet | None, system: System) -> answers.RodSet | None:
    """Write rods and their relays."""
    if found is None:
        return None
    return answers.RodSet(
        rods=[
            answers.Rod(
                key=rod.key,
                name=rod.name,
                tip_mm=_mm(rod.tip_m),
                length_mm=_mm(rod.length_m),
                sheath_mm=_mm(rod.sheath_m),
                pieces_mm=[_mm(piece) for piece in rod.pieces_m],
                couplings=rod.couplings,
            )
            for rod in found.rods
        ],
        spacer_mm=_mm(found.spacer_m),
        engaged_mm=_mm(COUPLING_M / 2),
        pump_on=found.relays.pump_on,
        booster_on=found.relays.booster_on,
        terminals=list(found.relays.order),
        bands=[
            answers.Band(
                from_mm=_mm(band.from_m),
                to_mm=_mm(band.to_m),
                wet=[key for key, is_wet in band.rising.wet.items() if is_wet],
                rising=relay_state(band.rising),
                falling=relay_state(band.falling),
                filling=relay_state(band.filling),
                resting=relay_state(band.resting),
            )
            for band in found.bands
        ],
        judgements=judgements(found.judgements, system),
    )


def gauge_plan(plan: GaugePlan) -> answers.GaugeReading:
    """Write a gauge's plan."""
    tank, system = plan.there.tank, plan.form.system
    chosen, drawn = plan.verdict, drawn_gauge(plan)
    return answers.GaugeReading(
        fields_read=fields(plan.form),
        situation=situation(plan.there),
        verdicts=[verdict(key, found, tank.capacity, system) for key, found in plan.verdicts],
        chosen=verdict(plan.key, chosen, tank.capacity, system) if chosen else None,
        output=plan.output,
        drawn=None if drawn is None else answers.DrawnGauge(**drawn),
        beam_reach_mm=_mm(beam_reach(chosen.model, plan.there.depth_m)) if chosen else 0.0,
        plan=plan_view(tank),
        obstacles=[obstacle(thing) for thing in plan.placement.obstacles],
        pad_tilt_deg=plan.placement.pad_tilt_deg,
        placement=judgements(plan.at_the_spot, system),
        probe=probe(plan.probe, system),
        cable=cable(plan.cable, system),
        rods=rods(plan.rods, system),
    )


def tilt(found: TiltMap, pitch_deg: float, roll_deg: float, fills: tuple[float, ...], form: Form) -> answers.Tilt:
    """Write a tilt map; null beside the tank."""
    litres = np.round(found.worst_m3 * 1000, 4)
    return answers.Tilt(
        fields_read=fields(form),
        pitch_deg=pitch_deg,
        roll_deg=roll_deg,
        fills_pct=[fill * 100 for fill in fills],
        x_mm=np.round(found.x_m * 1000, 3).tolist(),
        y_mm=np.round(found.y_m * 1000, 3).tolist(),
        worst_l=[[None if np.isnan(v) else float(v) for v in row] for row in litres],
        best_mm=[_mm(v) for v in found.best],
        best_l=found.best_m3 * 1000,
        middle_l=found.middle_m3 * 1000,
        along_l=found.along_m3 * 1000,
        across_l=found.across_m3 * 1000,
        along_off_mm=_mm(found.along_off_m),
        across_off_mm=_mm(found.across_off_m),
    )
