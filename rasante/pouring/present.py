"""How runs of pours are written for the API: litres, and readings in what they are written in."""

from __future__ import annotations

from datetime import UTC, datetime

import numpy as np

from ..core.pouring.meter import METER_NAMES
from ..core.pouring.pour_fields import DOES, READS, WAYS
from ..core.pouring.pour_form import PourForm
from ..core.pouring.run_file import reading_scale
from ..core.quantities.units import System
from ..core.quantities.words import Words
from ..core.readings.changes import Change
from ..planned.present import fields
from ..tanks.present import judgements
from . import answers
from .models import PourRecord

#: Points of the curve that are drawn.
_DRAWN = 121


def run(found: PourForm, system: System) -> answers.RunReading:
    """Write a run as far as it has been typed."""
    scale, w = reading_scale(found.reads), Words(system)
    advice, misfit = found.advice, found.misfit
    return answers.RunReading(
        fields_read=fields(found.form),
        ways=WAYS,
        reads=READS,
        does=DOES,
        meters=METER_NAMES,
        top_l=found.top * 1000,
        target_l=found.target * 1000,
        factor=None if found.factor is None else found.factor.factor,
        pulses_per_l=None if found.pulses is None else found.pulses / 1000,
        pours=len(found.pours),
        curve=None if found.poured is None else _curve(found, scale),
        advice=None
        if advice is None
        else answers.PourAdvice(
            amount_l=advice.amount * 1000,
            to_volume_l=advice.to_volume * 1000,
            to_reading=None if advice.to_reading is None else advice.to_reading * scale,
            now_l=advice.now * 1000,
            then_l=advice.then * 1000,
            to_go=advice.to_go,
            enough=advice.enough,
            minutes_to_go=found.minutes_to_go,
            cans=advice.cans,
            can_l=advice.can * 1000,
        ),
        misfit=None
        if misfit is None
        else answers.Misfit(
            row=misfit.row,
            amount_l=abs(misfit.amount) * 1000,
            should_be_l=abs(misfit.should_be) * 1000,
            half_l=misfit.half * 1000,
            looks=misfit.looks,
        ),
        shape=None if found.against is None else _shape(found, w),
        judgements=judgements(found.judgements, system),
    )


def _curve(found: PourForm, scale: float) -> answers.PourCurve:
    assert found.poured is not None
    curve, order = found.poured.curve, found.poured
    x = np.linspace(curve.reading[0], curve.reading[-1], _DRAWN)
    return answers.PourCurve(
        reading=(x * scale).tolist(),
        volume_l=(curve.at(x) * 1000).tolist(),
        half_l=(curve.half(x) * 1000).tolist(),
        worst_l=curve.worst * 1000,
        at=[
            answers.PointOfRun(row=int(row), reading=float(reading) * scale, volume_l=float(volume) * 1000)
            for row, reading, volume in zip(order.rows, order.readings, order.volumes, strict=True)
        ],
    )


def _shape(found: PourForm, w: Words) -> answers.BesideShape:
    against, joined = found.against, found.joined
    assert against is not None
    return answers.BesideShape(
        agrees=against.agrees,
        worst_l=float(abs(against.difference).max()) * 1000,
        patterns=[
            answers.PourPattern(label=one.label, value=one.value, half=one.half, unit=one.unit)
            for one in against.patterns[:3]
        ],
        joined=None
        if joined is None
        else answers.JoinedShape(
            fits=joined.worst <= 1.0,
            worst_l=float(joined.half.max()) * 1000,
            moves=[
                answers.PourPattern(label=one.label, value=one.value, half=one.half, unit=one.unit)
                for one in joined.moves
            ],
        ),
    )


def seen(found: list[tuple[Change, float, float]]) -> list[answers.SeenDelivery]:
    """Write deliveries as readings saw them."""
    return [
        answers.SeenDelivery(
            start=datetime.fromtimestamp(move.start_s, UTC),
            volume_l=move.volume_m3 * 1000,
            before_mm=round(before * 1000, 1),
            after_mm=round(after * 1000, 1),
        )
        for move, before, after in found
    ]


def record(one: PourRecord) -> answers.PourRecord:
    """Write a run of which a table was issued, from what was frozen in it."""
    said = one.document
    return answers.PourRecord(
        id=one.pk,
        number=one.number,
        table=said.get("table"),
        issued_at=one.issued_at,
        issued_by=said["issued_by"],
        why=said["why"],
        take=said["take"],
        reads=said["reads"],
        pours=len(said["pours"]),
        worst_l=said["worst_l"],
    )
