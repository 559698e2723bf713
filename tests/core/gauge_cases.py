"""What the gauges' tests share: tanks, situations and the generic models."""

from __future__ import annotations

import json
from importlib import resources
from typing import Any

from rasante.core.gauges.model import GaugeModel, check_model, generic_models
from rasante.core.gauges.situation import Situation, read_situation
from rasante.core.gauges.suit import Verdict, judge_models
from rasante.core.quantities.form import Form
from rasante.core.tanks.survey import read_survey
from rasante.core.tanks.tank_file import TankFile, check_document

from .said import said

VENT = [{"name": "Vent", "uses": ["vent"], "size": "2 in", "position": "4 m", "note": ""}]
FLAT = {"kind": "flat"}


def lying(product: str = "diesel", **keys: Any) -> TankFile:
    """A 2 m × 5 m lying tank with flat ends, its flange 150 mm above the inside top."""
    shape = {
        "kind": "horizontal_cylinder", "diameter_mm": 2000, "shell_length_mm": 5000,
        "left_head": FLAT, "right_head": FLAT,
    }  # fmt: skip
    document = {"format": "rasante.tank/1", "name": "case", "product": product, "shape": shape}
    return check_document({**document, "reference_height_mm": 2150, "safe_fill_pct": 95, **keys})


def upright(product: str = "water", height: float = 3000) -> TankFile:
    shape = {
        "kind": "vertical_cylinder", "diameter_mm": 2000, "shell_height_mm": height, "bottom": FLAT, "top": FLAT,
    }  # fmt: skip
    document = {"format": "rasante.tank/1", "name": "case", "product": product, "shape": shape}
    return check_document({**document, "reference_height_mm": height + 200})


def meet(
    file: TankFile, entries: dict[str, str] | None = None, ports: list[dict[str, Any]] | None = None
) -> Situation:
    form = Form(entries or {}, "metric")
    there = read_situation(form, file, VENT if ports is None else ports)
    assert form.problems == [], form.problems
    return there


def model(technology: str, **changes: Any) -> GaugeModel:
    """The first generic model of a technology, with figures changed."""
    document = next(one for one in generic_models() if one["technology"] == technology)
    return check_model({**document, **changes})


def judged(there: Situation, *models: GaugeModel) -> Verdict:
    return judge_models(there, list(models))[0]


def reasons(there: Situation, one: GaugeModel) -> dict[str, str]:
    """The reasons by their codes, the good ones left out."""
    return {reason.code: said(reason) for reason in judged(there, one).reasons if reason.weight != "good"}


def demo_tanks() -> list[tuple[TankFile, list[dict[str, Any]]]]:
    """Every tank of the demo that is surveyed on its own."""
    text = resources.files("rasante.demo").joinpath("scenario.json").read_text("utf-8")
    found = []
    for item in json.loads(text)["tanks"]:
        survey = read_survey(item["entries"], "metric")
        if survey.file is not None:
            found.append((survey.file, item["ports"]))
    return found
