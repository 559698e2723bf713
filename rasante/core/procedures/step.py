"""The steps themselves, and the gates between them, as data with a schema: a shop can add its own."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.schema_words import schema_problems, validator_of
from .facts import DERIVED, HAZARDS, Clause, options_of

FORMAT = "rasante.procedures/1"
PHASES = {
    "plan": "Before driving", "arrive": "On arrival", "safe": "Make safe", "survey": "Survey", "open": "Open",
    "place": "Place", "cut": "Cut to length", "fit": "Fit", "wire": "Wire", "set": "Set", "prove": "Prove",
    "leave": "Leave",
}  # fmt: skip
KINDS = ("confirm", "measure", "choose", "wait", "still", "compute", "compare", "photo", "take", "sign")
#: Who may do a step, with the words for it; a technician where nothing is said.
WHO = {"technician": "", "authorised": "Only whoever is authorised for it.", "licensed": "Only the licensed."}
#: Where a field of a step is written: a plan of the tank, or the visit itself.
TARGETS = ("visit", "survey", "gauge", "wiring", "wet_ends")
#: What a field of the visit may be, beside the quantities that are typed with a unit.
PLAIN = ("text", "count", "number", "reading", "percent", "angle")
QUANTITIES = ("length", "volume", "voltage", "current", "resistance", "temperature", *PLAIN)
#: What a step may show, computed by the stations.
SHOWS = (
    *(
        "asset",
        "identity",
        "kit",
        "received",
        "now",
        "should",
        "linear",
        "spot",
        "cut",
        "rods",
        "wiring",
        "chain",
        "rescale",
    ),
    *("marks", "table", "trouble", "proof", "office", "courses", "bench", "device"),
)


@dataclass(frozen=True)
class StepField:
    """A field of a step.

    Parameters
    ----------
    to : str
        Where it is written, ``gauge:cut.depth``: a target of `TARGETS` and the path in it.
    label, quantity : str
        Its words, and one of `QUANTITIES`.
    optional : bool
        Whether the step is done without it.
    least, most : float or None
        What it is held to, in SI, per cent, or degrees.
    limit_words : str
        The limits in words, with their reason.
    """

    to: str
    label: str
    quantity: str
    optional: bool = False
    least: float | None = None
    most: float | None = None
    limit_words: str = ""

    @property
    def target(self) -> str:
        """The plan that it is written to, or ``visit``."""
        return self.to.partition(":")[0]

    @property
    def path(self) -> str:
        """The path in that plan."""
        return self.to.partition(":")[2]


@dataclass(frozen=True)
class Step:
    """One step.

    Parameters
    ----------
    key, phase, title, instruction, why, hazard : str
        Its tag, its phase of `PHASES`, and its words.
    kind : str
        Of `KINDS`.
    minutes : (float, float, float)
        Least, likely and most [min].
    when : tuple of mapping
        The alternatives under which it belongs to a visit; none for always.
    after : tuple of str
        The steps that come before it, where they belong to the visit.
    needs, gives, takes : tuple of str
        Gates that must hold before it; that it closes when done; and that no longer hold after it.
    who : str
        Of `WHO`.
    kit : tuple of str
        Tools to bring.
    parts : tuple of (str, int)
        What is used up, with counts.
    fields : tuple of StepField
        What is typed, taken or scanned.
    options : mapping of str to str
        What is chosen from.
    shows : tuple of str
        What the stations compute for it, of `SHOWS`.
    last : bool
        Whether everything else comes before it.
    """

    key: str
    phase: str
    title: str
    instruction: str
    why: str
    kind: str
    minutes: tuple[float, float, float]
    when: tuple[Clause, ...] = ()
    hazard: str = ""
    after: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    gives: tuple[str, ...] = ()
    takes: tuple[str, ...] = ()
    who: str = "technician"
    kit: tuple[str, ...] = ()
    parts: tuple[tuple[str, int], ...] = ()
    fields: tuple[StepField, ...] = ()
    options: Mapping[str, str] | None = None
    shows: tuple[str, ...] = ()
    last: bool = False

    @property
    def waits(self) -> bool:
        """Whether nobody needs to stand by while it goes on."""
        return self.kind == "wait"


@dataclass(frozen=True)
class Gate:
    """Something that must hold before other steps.

    Parameters
    ----------
    key, title, hold : str
        Its tag, its words, and what it holds off.
    when : tuple of mapping
        The alternatives under which it applies.
    """

    key: str
    title: str
    hold: str
    when: tuple[Clause, ...] = ()


def _clauses(when: Any) -> tuple[Clause, ...]:
    rows = [] if when is None else [when] if isinstance(when, Mapping) else when
    return tuple(
        {key: (values,) if isinstance(values, str) else tuple(values) for key, values in row.items()} for row in rows
    )


def step_schema() -> dict[str, Any]:
    """Return the JSON Schema of one step, of Rasante's own or of a shop's."""
    words = {"type": "string", "minLength": 1, "maxLength": 400}
    tag = {"type": "string", "pattern": "^[a-z][a-z0-9_]{0,39}$"}
    tags = {"type": "array", "items": tag, "uniqueItems": True}
    values = {"anyOf": [words, {"type": "array", "items": words, "minItems": 1}]}
    clause = {"type": "object", "additionalProperties": values, "minProperties": 1}
    number = {"type": "number"}
    field = {
        "type": "object",
        "additionalProperties": False,
        "required": ["to", "label", "quantity"],
        "properties": {
            "to": {"type": "string", "pattern": f"^({'|'.join(TARGETS)}):[a-z_]+(\\[\\d\\])?(\\.[a-z_]+)*$"},
            "label": words,
            "quantity": {"enum": list(QUANTITIES)},
            "optional": {"type": "boolean"},
            "least": number,
            "most": number,
            "limit_words": words,
        },
    }
    part = {
        "type": "array",
        "prefixItems": [words, {"type": "integer", "minimum": 1, "maximum": 999}],
        "minItems": 2,
        "items": False,
    }
    minutes = {
        "type": "array",
        "items": {"type": "number", "minimum": 0, "maximum": 1440},
        "minItems": 3,
        "maxItems": 3,
    }
    needed = {
        "key": tag,
        "phase": {"enum": list(PHASES)},
        "title": words,
        "instruction": words,
        "why": words,
        "kind": {"enum": list(KINDS)},
        "minutes": minutes,
    }
    may = {
        "when": {"anyOf": [clause, {"type": "array", "items": clause, "minItems": 1}]},
        "hazard": words,
        "after": tags,
        "needs": tags,
        "gives": tags,
        "takes": tags,
        "who": {"enum": list(WHO)},
        "kit": {"type": "array", "items": words},
        "parts": {"type": "array", "items": part},
        "fields": {"type": "array", "items": field, "maxItems": 8},
        "options": {"type": "object", "additionalProperties": words, "minProperties": 2},
        "shows": {"type": "array", "items": {"enum": list(SHOWS)}, "uniqueItems": True},
        "last": {"type": "boolean"},
    }
    return {"type": "object", "additionalProperties": False, "required": list(needed), "properties": needed | may}


def _step(row: Mapping[str, Any]) -> Step:
    plain = {
        key: tuple(row[key]) for key in ("after", "needs", "gives", "takes", "kit", "shows", "minutes") if key in row
    }
    built = {
        "when": _clauses(row.get("when")),
        "parts": tuple((name, int(count)) for name, count in row.get("parts", ())),
        "fields": tuple(StepField(**field) for field in row.get("fields", ())),
    }
    return Step(**{**row, **plain, **built})


@cache
def procedure_data() -> dict[str, Any]:
    """Return ``procedures.json`` as read: jobs, facts, gates, steps."""
    data: dict[str, Any] = json.loads(resources.files(__package__).joinpath("procedures.json").read_text("utf-8"))
    return data


@cache
def gates() -> dict[str, Gate]:
    """Return the gates by their keys."""
    return {
        key: Gate(key, row["title"], row["hold"], _clauses(row.get("when")))
        for key, row in procedure_data()["gates"].items()
    }


@cache
def standard_steps() -> tuple[Step, ...]:
    """Return Rasante's own steps, in the order in which good people work."""
    return check_steps(procedure_data()["steps"])


def read_steps(text: str) -> list[dict[str, Any]]:
    """Read a shop's own steps from a file of `FORMAT`: ``{"format": …, "steps": [ … ]}``.

    Raises
    ------
    InputError
        If it is no such file; with each step's fault at its key.
    """
    try:
        document = json.loads(text)
    except ValueError as error:
        raise InputError.at("", f"is not JSON: {error}") from None
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise InputError.at("format", f"must be {FORMAT}")
    if not isinstance(document.get("steps"), list):
        raise InputError.at("steps", "must be a list of steps")
    rows: list[dict[str, Any]] = document["steps"]
    with_own(rows)
    return rows


def with_own(rows: Sequence[Mapping[str, Any]]) -> tuple[Step, ...]:
    """Return Rasante's own steps with a shop's behind them.

    Raises
    ------
    InputError
        At the keys of a shop's step that is wrong: one may not bear the key of another, give a gate, or come last.
    """
    own = check_steps(rows, {step.key for step in standard_steps()})
    problems = [
        Problem(f"steps[{i}].gives", "only Rasante's own steps give gates") for i, one in enumerate(own) if one.gives
    ]
    problems += [Problem(f"steps[{i}].last", "the signature comes last") for i, one in enumerate(own) if one.last]
    if problems:
        raise InputError(*problems)
    return (*standard_steps()[:-1], *own, standard_steps()[-1])


def check_steps(rows: Sequence[Any], others: set[str] | None = None) -> tuple[Step, ...]:
    """Check steps against the schema and against one another, and build them.

    Parameters
    ----------
    rows : sequence
        As read from JSON.
    others : set of str, optional
        The keys of steps that stand beside them.

    Raises
    ------
    InputError
        At the key that is wrong.
    """
    found = schema_problems(validator_of({"type": "array", "items": step_schema(), "maxItems": 300}), rows)
    if found:
        raise InputError(*(Problem(f"steps{problem.where}", problem.what) for problem in found))
    known = (others or set()) | {row["key"] for row in rows}
    options, seen = options_of(procedure_data()), set(others or ())
    facts: dict[str, set[str] | None] = {key: set(words) for key, words in options.items()}
    facts |= {key: {"yes", "no"} for key in HAZARDS} | dict.fromkeys(DERIVED)
    for i, row in enumerate(rows):
        at = f"steps[{i}]"
        if row["key"] in seen:
            found.append(Problem(f"{at}.key", f"there is a step {row['key']} already"))
        seen.add(row["key"])
        found += [
            Problem(f"{at}.after", f"there is no step {key}") for key in row.get("after", ()) if key not in known
        ]
        for name in ("needs", "gives", "takes"):
            found += [
                Problem(f"{at}.{name}", f"there is no gate {key}")
                for key in row.get(name, ())
                if key not in procedure_data()["gates"]
            ]
        for clause in _clauses(row.get("when")):
            for key, values in clause.items():
                if key not in facts:
                    found.append(Problem(f"{at}.when.{key}", "is not a fact of a visit"))
                    continue
                allowed = facts[key]
                found += [
                    Problem(f"{at}.when.{key}", f"{value} is not known: {', '.join(sorted(allowed))}")
                    for value in values
                    if allowed is not None and value not in allowed
                ]
        if row["kind"] == "choose" and not row.get("options"):
            found.append(Problem(f"{at}.options", "says from what is chosen"))
        if list(row["minutes"]) != sorted(row["minutes"]):
            found.append(Problem(f"{at}.minutes", "must be least, likely, most, in that order"))
    if found:
        raise InputError(*found)
    return tuple(_step(row) for row in rows)
