"""Gauge models: what a level sensor of a make or kind can do, as data that people add to and hand on."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from math import radians
from typing import Any

from ..products.registry import materials
from ..quantities.errors import InputError, Problem
from ..quantities.judgement import WEIGHTS, Weight
from ..quantities.schema_words import schema_problems, validator_of
from ..quantities.signals import OUTPUTS
from ..quantities.text import refuse_what_cannot_be_kept

FORMAT = "rasante.gauges/1"
MOST_MODELS = 500
#: What an approval covers, from nothing to the inside of a tank of petrol.
ZONES = ("none", "2", "1", "0")


Effects = Mapping[str, tuple[Weight, str]]


@dataclass(frozen=True)
class Technology:
    """A way of measuring: one row of ``technologies.json``, and all that rules and drawings need to know of it.

    Parameters
    ----------
    key, name, works, caution : str
        Its tag, its name, how it works, and what to mind with it.
    mount : {"top", "inside", "below"}
        Where it sits: on top, in the liquid, or under the bottom.
    senses : {"level", "distance", "points"}
        What it tells.
    kit : tuple of str
        What to take along for it.
    vapour, foam, waves : mapping of str to (weight, str)
        What each amount, ``some`` or ``heavy``, does to it; an amount that is not named does nothing.
    immersed : bool
        Whether what sits on top reaches down into the liquid.
    weighs : bool
        Whether it weighs the liquid above it against the air.
    conductive : bool or None
        Whether it needs a liquid that conducts, or one that does not; None where that is all the same.
    through_wall : bool
        Whether it listens through the bottom plate.
    cut : {"", "probe", "cable", "rods"}
        What of it is cut to length.
    sediment : {"", "hides", "hang-clear", "bridges"}
        What sediment does: hide the surface, lie around it, or bridge its tip.
    tallest_m : float
        The tallest tank that it is for [m]; 0 for any.
    linear_share : float
        Share of the capacity by which it is out, being linear in height and crude [1]; 0 for one that is not.
    """

    key: str
    name: str
    mount: str
    senses: str
    works: str
    caution: str
    kit: tuple[str, ...]
    vapour: Effects
    foam: Effects
    waves: Effects
    immersed: bool = False
    weighs: bool = False
    conductive: bool | None = None
    through_wall: bool = False
    cut: str = ""
    sediment: str = ""
    tallest_m: float = 0.0
    linear_share: float = 0.0

    @property
    def beams(self) -> bool:
        """Whether it looks down through what is above the liquid, by a beam."""
        return self.mount == "top" and not self.immersed


def technology_schema() -> dict[str, Any]:
    """Return the JSON Schema of ``technologies.json``: every row says what vapour, foam and waves do to it."""
    words = {"type": "string", "minLength": 1}
    effect = {"type": "array", "prefixItems": [{"enum": list(WEIGHTS)}, words], "minItems": 2, "items": False}
    effects = {"type": "object", "additionalProperties": False, "properties": {"some": effect, "heavy": effect}}
    needed = {
        "name": words,
        "mount": {"enum": ["top", "inside", "below"]},
        "senses": {"enum": ["level", "distance", "points"]},
        "works": words,
        "caution": words,
        "kit": {"type": "array", "items": words, "minItems": 1},
        "vapour": effects,
        "foam": effects,
        "waves": effects,
    }
    may = {
        "immersed": {"type": "boolean"},
        "weighs": {"type": "boolean"},
        "conductive": {"type": "boolean"},
        "through_wall": {"type": "boolean"},
        "cut": {"enum": ["probe", "cable", "rods"]},
        "sediment": {"enum": ["hides", "hang-clear", "bridges"]},
        "tallest_m": {"type": "number", "exclusiveMinimum": 0},
        "linear_share": {"type": "number", "exclusiveMinimum": 0, "maximum": 1},
    }
    row = {"type": "object", "additionalProperties": False, "required": list(needed), "properties": needed | may}
    return {"type": "object", "additionalProperties": row}


def _data(name: str) -> Any:
    return json.loads(resources.files(__package__).joinpath(name).read_text("utf-8"))


@cache
def technologies() -> dict[str, Technology]:
    """Return the ways of measuring, by their keys."""
    found = {}
    for key, row in _data("technologies.json").items():
        effects = {
            name: {amount: (weight, text) for amount, (weight, text) in row[name].items()}
            for name in ("vapour", "foam", "waves")
        }
        found[key] = Technology(key, **{**row, **effects, "kit": tuple(row["kit"])})
    return found


@dataclass(frozen=True)
class GaugeModel:
    """A gauge model. Lengths in metres, unlike its document; shares in 1.

    Parameters
    ----------
    name, technology : str
        Its name, and its way of measuring.
    range_m : float
        The most that it measures: distance, height of liquid, or height of water for pressure [m].
    blanking_m, beam_rad : float
        What it cannot read next to its face [m], and the full angle of its beam [rad].
    accuracy_span, accuracy_reading : float
        Half-widths by its range and by what it reads [1]; with `accuracy_m` and the resolution, in any position.
    temperature_span : float
        Half-width by its range for each 10 K off 20 °C [1/10 K].
    outputs : tuple of str
        What it sends, of `signals.OUTPUTS`.
    lift_off_v, supply_max_v : float
        Least and most voltage [V]; 0 for what needs none.
    wetted : tuple of str
        Its materials in the liquid or its vapour, keys of `registry.materials`.
    zone : str
        The most hazardous zone it is approved for, of `ZONES`.
    temperature_c : (float, float)
        Process temperatures [°C].
    pressure_bar : float
        Most pressure of the process [bar].
    bore_m : float
        The opening that it needs [m]; 0 for none.
    cable_stock_m : tuple of float
        Lengths that its cable is sold in [m].
    section_m, sections : float, int
        Length of a probe's piece, and how many may be joined.
    tube_inside_m, rod_outside_m : float
        A probe's tube and rod, for the fuel that a wet calibration takes [m].
    install_min : float
        Minutes to install.
    """

    name: str
    technology: str
    range_m: float
    blanking_m: float
    beam_rad: float
    accuracy_m: float
    accuracy_span: float
    accuracy_reading: float
    temperature_span: float
    resolution_m: float
    outputs: tuple[str, ...]
    lift_off_v: float
    supply_max_v: float
    wetted: tuple[str, ...]
    zone: str
    temperature_c: tuple[float, float]
    pressure_bar: float
    bore_m: float
    cable_stock_m: tuple[float, ...]
    section_m: float
    sections: int
    tube_inside_m: float
    rod_outside_m: float
    install_min: float

    @property
    def kind(self) -> Technology:
        """Its way of measuring."""
        return technologies()[self.technology]


_AMOUNTS = {
    "blanking_mm": "What it cannot read next to its face [mm]",
    "beam_deg": "Full angle of its beam [°]",
    "accuracy_mm": "Half-width of its reading in any position (k = 2) [mm]",
    "accuracy_pct_span": "Half-width by its range [%]",
    "accuracy_pct_reading": "Half-width by what it reads [%]",
    "temperature_pct_span_per_10k": "Half-width by its range for each 10 K off 20 °C [%]",
    "resolution_mm": "The least step of its reading [mm]",
    "bore_mm": "The opening that it needs [mm]",
    "probe_section_mm": "Length of a probe's piece [mm]",
    "tube_inside_mm": "Inside diameter of a probe's tube [mm]",
    "rod_outside_mm": "Outside diameter of a probe's rod [mm]",
}
_NEEDED = (
    "name", "technology", "range_max_mm", "output", "lift_off_v", "supply_max_v", "wetted", "zone",
    "temperature_min_c", "temperature_max_c", "pressure_max_bar", "install_min",
)  # fmt: skip


@cache
def model_schema() -> dict[str, Any]:
    """Return the JSON Schema of one model."""

    def number(most: float, words: str, least: float = 0) -> dict[str, Any]:
        return {"type": "number", "minimum": least, "maximum": most, "description": words}

    length = {"type": "number", "exclusiveMinimum": 0, "maximum": 1e6}
    return {
        "type": "object",
        "additionalProperties": False,
        "required": list(_NEEDED),
        "properties": {
            "name": {"type": "string", "minLength": 1, "maxLength": 120},
            "technology": {"enum": list(technologies())},
            "range_max_mm": {**length, "description": "The most it measures [mm]"},
            **{key: number(1e6, words) for key, words in _AMOUNTS.items()},
            "probe_sections": {"type": "integer", "minimum": 1, "maximum": 10, "description": "Pieces of a probe"},
            "output": {"type": "array", "items": {"enum": list(OUTPUTS)}, "uniqueItems": True, "maxItems": 12},
            "lift_off_v": number(100, "Least voltage it works from [V]"),
            "supply_max_v": number(400, "Most voltage it bears [V]"),
            "wetted": {"type": "array", "items": {"enum": list(materials())}, "uniqueItems": True},
            "zone": {"enum": list(ZONES), "description": "Most hazardous zone it is approved for"},
            "temperature_min_c": number(500, "Lowest process temperature [°C]", -273),
            "temperature_max_c": number(500, "Highest process temperature [°C]", -273),
            "pressure_max_bar": number(1000, "Most pressure of the process [bar]"),
            "cable_stock_mm": {"type": "array", "items": length, "maxItems": 20},
            "install_min": number(10000, "Minutes to install"),
        },
    }


def file_schema() -> dict[str, Any]:
    """Return the JSON Schema of a file of models."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Gauge models",
        "type": "object",
        "additionalProperties": False,
        "required": ["format", "models"],
        "properties": {
            "format": {"const": FORMAT},
            "models": {"type": "array", "items": model_schema(), "maxItems": MOST_MODELS},
        },
    }


@cache
def _validator() -> Any:
    return validator_of(model_schema())


def check_model(document: Any, where: str = "") -> GaugeModel:
    """Build a model from its document.

    Raises
    ------
    InputError
        With every problem at its key, under `where`.
    """
    problems = schema_problems(_validator(), document)
    if problems:
        raise InputError(*(Problem(".".join(part for part in (where, p.where) if part), p.what) for p in problems))
    if document["temperature_min_c"] > document["temperature_max_c"]:
        raise InputError.at(f"{where}.temperature_min_c".strip("."), "is above the highest: swap them")

    if document["lift_off_v"] > document["supply_max_v"] > 0:
        what = "is above the most voltage that it bears: swap them"
        raise InputError.at(f"{where}.lift_off_v".strip("."), what)

    def amount(key: str, scale: float) -> float:
        return float(document.get(key, 0.0)) * scale

    return GaugeModel(
        name=document["name"],
        technology=document["technology"],
        range_m=amount("range_max_mm", 1e-3),
        blanking_m=amount("blanking_mm", 1e-3),
        beam_rad=amount("beam_deg", radians(1)),
        accuracy_m=amount("accuracy_mm", 1e-3),
        accuracy_span=amount("accuracy_pct_span", 1e-2),
        accuracy_reading=amount("accuracy_pct_reading", 1e-2),
        temperature_span=amount("temperature_pct_span_per_10k", 1e-2),
        resolution_m=amount("resolution_mm", 1e-3),
        outputs=tuple(document["output"]),
        lift_off_v=amount("lift_off_v", 1),
        supply_max_v=amount("supply_max_v", 1),
        wetted=tuple(document["wetted"]),
        zone=document["zone"],
        temperature_c=(float(document["temperature_min_c"]), float(document["temperature_max_c"])),
        pressure_bar=amount("pressure_max_bar", 1),
        bore_m=amount("bore_mm", 1e-3),
        cable_stock_m=tuple(float(mm) / 1000 for mm in document.get("cable_stock_mm", ())),
        section_m=amount("probe_section_mm", 1e-3),
        sections=int(document.get("probe_sections", 1)),
        tube_inside_m=amount("tube_inside_mm", 1e-3),
        rod_outside_m=amount("rod_outside_mm", 1e-3),
        install_min=amount("install_min", 1),
    )


@cache
def generic_models() -> tuple[dict[str, Any], ...]:
    """Return the documents of the generic models that ship with the application."""
    return tuple(_data("models.json")["models"])


def _refuse_constant(name: str) -> None:
    raise ValueError(f"{name} is no number")


def read_models(text: str) -> list[dict[str, Any]]:
    """Read a file of models.

    Raises
    ------
    InputError
        If it is no JSON, no such file, or a model in it is wrong: at ``models[i].key``.
    """
    try:
        content = json.loads(text, parse_constant=_refuse_constant)
    except ValueError as error:
        raise InputError.at("", f"this is no JSON: {error}") from None
    refuse_what_cannot_be_kept(content)
    if not isinstance(content, Mapping) or content.get("format") != FORMAT:
        raise InputError.at("format", f"must be “{FORMAT}”: this is no file of gauge models")
    models = content.get("models")
    if not isinstance(models, list) or not models:
        raise InputError.at("models", "must be a list of at least one model")
    if len(models) > MOST_MODELS:
        raise InputError.at("models", f"has {len(models)}; at most {MOST_MODELS} are read at once")
    problems: list[Problem] = []
    for index, document in enumerate(models):
        try:
            check_model(document, f"models[{index}]")
        except InputError as error:
            problems.extend(error.problems)
    if problems:
        raise InputError(*problems)
    return models


def write_models(documents: Sequence[Mapping[str, Any]]) -> str:
    """Write models as a file."""
    content = {"format": FORMAT, "models": [dict(document) for document in documents]}
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"
