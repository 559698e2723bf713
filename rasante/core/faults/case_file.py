"""A case of trouble as a file: ``rasante.case/1``. An installation and what was found in, advice out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from functools import cache
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.schema_words import schema_problems, validator_of
from ..quantities.units import System
from ..scaling.chain_form import Ground, read_chain
from ..tanks.tank_file import check_document
from ..wiring.circuit import check_circuit, circuit_schema
from .advice import gates_of, words_of
from .case_ahead import meanings
from .case_form import CaseForm, read_case
from .case_words import because_text, verdict_text, where_text
from .fault_test import places, rigs
from .installation import Installation
from .unlisted import UNKNOWN

FORMAT = "rasante.case/1"
#: How many tests are told of.
_TOLD = 5


@cache
def case_schema() -> dict[str, Any]:
    """Return the JSON Schema of a case's file; tank and circuit are checked by their own."""
    text = {"type": "string", "maxLength": 200}
    finding = {
        "type": "object",
        "additionalProperties": False,
        "required": ["test"],
        "properties": {
            "test": text,
            "reads": {"type": ["string", "number"], "description": "What was read, with its unit; or “nothing”"},
            "put_in": {"type": ["string", "number"], "description": "The signal that was put in, with its unit"},
            "finds": {**text, "description": "Of a sign: which of its outcomes"},
            "red": text,
            "black": text,
        },
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A case of trouble",
        "type": "object",
        "additionalProperties": False,
        "required": ["format", "tank", "findings"],
        "properties": {
            "format": {"const": FORMAT},
            "tank": {"type": "object", "description": "rasante.tank/1"},
            "chain": {"type": "object", "additionalProperties": {"type": "string", "maxLength": 200}},
            "circuit": {"type": "object", "description": circuit_schema()["title"]},
            "technology": text,
            "age_years": {"type": "number", "minimum": 0, "maximum": 100},
            "hazardous": {"type": "boolean"},
            "radio": {"type": "boolean"},
            "float_gauge": {"type": "boolean"},
            "place": {"enum": list(places())},
            "lacks": {"type": "array", "items": text},
            "barred": {"type": "array", "items": text},
            "symptom": {"type": "string", "maxLength": 1000},
            "findings": {"type": "array", "maxItems": 60, "items": finding},
        },
    }


@cache
def _validator() -> Any:
    return validator_of(case_schema())


def read_case_file(document: Any, system: System = "metric") -> CaseForm:
    """Read a case's file, and say what to do next.

    Raises
    ------
    InputError
        With every problem at its place.
    """
    if not isinstance(document, Mapping) or document.get("format") != FORMAT:
        raise InputError.at("format", f"must be “{FORMAT}”: this is no case")
    wrong = schema_problems(_validator(), document)
    if wrong:
        raise InputError(*wrong)
    with _within("tank"):
        file = check_document(document["tank"])
    circuit = None
    if "circuit" in document:
        with _within("circuit"):
            circuit = check_circuit(document["circuit"])
    chained = read_chain(document.get("chain", {}), Ground(file, file.tank, circuit, {}), system)
    with _within("chain"):
        chained.form.require()
    if chained.chain is None:
        raise InputError.at("chain", "does not make a chain of this tank")
    at = Installation(
        chained.chain,
        circuit,
        document.get("technology", ""),
        document.get("age_years", 3.0),
        document.get("hazardous", False),
        radio=document.get("radio", False),
        floats=document.get("float_gauge", False),
    )
    found = read_case(_entries(document), at, system)
    problems = [Problem(_place(one.where), one.what) for one in found.form.problems]
    if problems:
        raise InputError(*problems)
    return found


@contextmanager
def _within(key: str) -> Iterator[None]:
    """Problems of a part of the file, at their places in the whole."""
    try:
        yield
    except InputError as error:
        raise InputError(*(Problem(f"{key}.{one.where}", one.what) for one in error.problems)) from None


#: What a finding of the file is called in the form.
_COLUMNS = {"reads": "value", "finds": "outcome", "put_in": "put_in", "red": "red", "black": "black"}


def _place(path: str) -> str:
    return path.replace("rows[", "findings[").replace(".value", ".reads").replace(".outcome", ".finds")


def _entries(document: Mapping[str, Any]) -> dict[str, str]:
    entries = {f"lacks.{one}": "yes" for one in document.get("lacks", ())}
    entries |= {f"barred.{one}": "yes" for one in document.get("barred", ())}
    entries |= {"place": document["place"]} if "place" in document else {}
    for row, one in enumerate(document["findings"]):
        entries[f"rows[{row}].test"] = one["test"]
        for key, column in _COLUMNS.items():
            if key in one:
                entries[f"rows[{row}].{column}"] = str(one[key])
    return entries


def case_document(found: CaseForm, system: System) -> dict[str, Any]:
    """Write what stands, what to do next and why."""
    belief, advice = found.advice.belief, found.advice
    shares = sorted(belief.by_part.items(), key=lambda one: -one[1])
    document: dict[str, Any] = {
        "format": "rasante.advice/1",
        "verdict": advice.verdict,
        "because": because_text(advice),
        "says": list(verdict_text(advice)),
        "where": where_text(advice),
        "parts": [{"part": part, "says": words_of(part), "share": round(share, 4)} for part, share in shares],
        "trail": [
            {"did": one.do, "read": one.read, "says": one.says, "doubtful": one.doubtful} for one in found.steps
        ],
        "minutes": found.minutes,
        "next": [
            {
                "test": choice.test.key,
                "do": choice.test.do,
                "where": places()[choice.test.place].says,
                "set_up": rigs()[choice.test.rig].says,
                "minutes": choice.minutes,
                "bits": round(choice.bits, 3),
                "first": list(gates_of(choice.test, found.at).values()),
            }
            for choice in advice.choices[:_TOLD]
        ],
    }
    if advice.choices:
        document["next"][0]["outcomes"] = [
            {"share": round(one.share, 3), "reads": one.read, "means": one.means}
            for one in meanings(found, advice.choices[0].test, system)
        ]
    if advice.verdict == "found":
        repair = advice.fault.kind.repair
        document["repair"] = {
            "fault": advice.fault.says,
            "do": repair.do,
            "minutes": repair.minutes,
            "kit": repair.kit,
        }
    if advice.verdict == "cannot-tell":
        document["cannot_tell"] = [words_of(part) for part in advice.together if part != UNKNOWN]
    return document
