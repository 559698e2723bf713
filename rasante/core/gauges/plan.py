"""The gauge of a tank as it is planned: the situation, every model judged, the choice, the spot, and what to cut."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from ..quantities.form import Form
from ..quantities.judgement import Judgement, by_weight
from ..quantities.units import System
from ..tanks.tank_file import TankFile
from .cables import CableCut, cut_cable, read_hang
from .model import GaugeModel
from .placement import Placement, place_gauge, read_spot
from .probes import ProbeCut, cut_probe, read_tape
from .rods import RodSet, read_rods, set_rods
from .situation import Situation, read_situation
from .suit import Verdict, judge_models

#: Reasons of a model that another spot, opening or riser may take away.
SPOT_REASONS = ("beam", "beside", "blanking", "blanking-near", "bore", "near-zone", "nozzle", "sediment", "range")


@dataclass(frozen=True)
class GaugePlan:
    """A gauge as it is planned.

    Parameters
    ----------
    form : Form
        The fields.
    there : Situation
        What it meets.
    models : mapping of str to GaugeModel
        The models to choose from, by their keys.
    key : str
        The key of the model that was chosen; empty before.
    verdict : Verdict or None
        The chosen model's.
    output : str
        The output that it is wired for, of `signals.OUTPUTS`; empty before, or if it has none.
    reason : str
        Why it was chosen against the advice, if it was.
    placement : Placement
        The spot judged for it.
    probe, cable, rods : ProbeCut, CableCut, RodSet or None
        What to cut, for a gauge that is cut.
    """

    form: Form
    there: Situation
    models: Mapping[str, GaugeModel]
    key: str
    verdict: Verdict | None
    output: str
    reason: str
    placement: Placement
    probe: ProbeCut | None
    cable: CableCut | None
    rods: RodSet | None

    @cached_property
    def verdicts(self) -> tuple[tuple[str, Verdict], ...]:
        """Every model by its key, ranked; judged where that is asked for: a visit or a sheet has chosen already."""
        keys = {id(model): key for key, model in self.models.items()}
        found = judge_models(self.there, list(self.models.values()))
        return tuple((keys[id(verdict.model)], verdict) for verdict in found)

    @property
    def model(self) -> GaugeModel | None:
        """The chosen model."""
        return self.verdict.model if self.verdict else None

    @property
    def at_the_spot(self) -> list[Judgement]:
        """What is to be minded of the spot: of the placement, and the model's own reasons that a spot moves."""
        own = [reason for reason in self.verdict.reasons if reason.code in SPOT_REASONS] if self.verdict else []
        found = [*own, *self.placement.judgements]
        if any(judgement.weight != "good" for judgement in own):
            found = [judgement for judgement in found if judgement.code != "clear"]
        return by_weight(found)

    @property
    def against(self) -> bool:
        """Whether the choice is against the advice."""
        return self.verdict is not None and self.verdict.verdict == "no"


def read_gauge_plan(
    entries: Mapping[str, str],
    file: TankFile,
    ports: list[dict[str, Any]],
    models: Mapping[str, GaugeModel],
    system: System,
    double_wall: bool = False,
) -> GaugePlan:
    """Read a plan as far as it has been typed.

    Parameters
    ----------
    entries : mapping of str to str
        As `read_situation`, `read_spot`, `read_tape`, `read_hang` and `read_rods` name them, with ``choice.model``
        (a key of `models`), ``choice.output`` and ``choice.reason``.
    file, ports : TankFile, list of dict
        The tank and its openings.
    models : mapping of str to GaugeModel
        The models to choose from.
    system : {"metric", "us"}
        What a bare number means.
    double_wall : bool
        Whether its survey says that it has a double wall.
    """
    form = Form(entries, system)
    there = read_situation(form, file, ports, double_wall)
    key = form.choice("choice.model", {name: model.name for name, model in models.items()})
    model = models.get(key)
    chosen = judge_models(there, [model])[0] if model is not None else None
    outputs = {name: name for name in (model.outputs if model else ())}
    if str(entries.get("choice.output", "")) not in outputs:
        # The output of a model chosen before: the first one of this.
        form.entries = {**entries, "choice.output": ""}
    output = form.choice("choice.output", outputs, next(iter(outputs), ""))
    reason = form.text("choice.reason", 1000)
    if chosen is not None and chosen.verdict == "no" and not reason:
        form.blame("choice.reason", "does not fit: say why it is taken all the same")
    placement = place_gauge(read_spot(form, ports), there, model, ports)
    cut = model.kind.cut if model else ""
    return GaugePlan(
        form,
        there,
        models,
        key,
        chosen,
        output,
        reason,
        placement,
        cut_probe(read_tape(form, there.depth_m), there, model) if model and cut == "probe" else None,
        cut_cable(read_hang(form, there.depth_m), there, model) if model and cut == "cable" else None,
        set_rods(read_rods(form, there.tank.inside_height), there) if cut == "rods" else None,
    )


def all_judgements(plan: GaugePlan) -> list[Judgement]:
    """Everything that is to be minded of the chosen gauge, the heaviest first."""
    found = list(plan.verdict.reasons) if plan.verdict else []
    found += plan.placement.judgements
    for part in (plan.probe, plan.cable, plan.rods):
        if part is not None:
            found += part.judgements
    return by_weight(found)
