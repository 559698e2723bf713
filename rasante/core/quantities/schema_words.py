"""What a JSON Schema finds wrong, in plain words at its key: what is there, and what should be."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from .errors import Problem

_NAMES = {
    "object": "an object with keys", "array": "a list", "string": "text", "number": "a number",
    "integer": "a whole number", "boolean": "true or false", "null": "null",
}  # fmt: skip


def place_of(path: Iterable[Any]) -> str:
    """Write where in a document something is: ``parts[0].values.ohm``."""
    steps = [f"[{step}]" if isinstance(step, int) else f".{step}" for step in path]
    return "".join(steps).lstrip(".")


def _name(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if value is None:
        return "null"
    if isinstance(value, Mapping):
        return "an object"
    if isinstance(value, list):
        return "a list"
    return f"“{value[:30]}”" if isinstance(value, str) else f"{value:g}"


def _words(error: Any) -> str:
    rule, wanted, value = error.validator, error.validator_value, error.instance
    if rule == "type":
        kinds = [wanted] if isinstance(wanted, str) else list(wanted)
        return f"must be {' or '.join(_NAMES[kind] for kind in kinds)}, not {_name(value)}"
    if rule in ("enum", "const"):
        options = wanted if rule == "enum" else [wanted]
        return f"is {_name(value)}; known are {', '.join(str(one) for one in options)}"
    bounds = {
        "minimum": "at least", "maximum": "at most", "exclusiveMinimum": "more than", "exclusiveMaximum": "less than",
    }  # fmt: skip
    if rule in bounds:
        return f"is {_name(value)}; it must be {bounds[rule]} {wanted:g}"
    sizes = {"minItems": "at least", "maxItems": "at most"}
    if rule in sizes:
        return f"has {len(value)} entries; it must have {sizes[rule]} {wanted}"
    if rule == "minLength":
        return "must not be empty"
    if rule == "maxLength":
        return f"has {len(value)} characters; at most {wanted} are taken"
    if rule == "pattern":
        return f"is {_name(value)}: it has letters that are not taken there"
    if rule == "uniqueItems":
        return "names something twice"
    return f"is {_name(value)}, which is not taken there"


def schema_problems(validator: Any, document: Any) -> list[Problem]:
    """Find everything that a schema refuses in a document.

    Parameters
    ----------
    validator : jsonschema validator
        Of the schema.
    document : Any
        As read from JSON.

    Returns
    -------
    list of Problem
        Each at its key; a key that is missing, or not known, at that key.
    """
    found = []
    for error in validator.iter_errors(document):
        where = place_of(error.absolute_path)
        if error.validator == "required":
            missing = [key for key in error.validator_value if key not in error.instance]
            found += [Problem(_under(where, key), "is missing: it is required") for key in missing]
        elif error.validator == "additionalProperties" and error.validator_value is False:
            known = list(error.schema.get("properties", {}))
            found += [
                Problem(_under(where, str(key)), f"this key is not known here; known are {', '.join(known)}")
                for key in error.instance
                if key not in known
            ]
        else:
            found.append(Problem(where, _words(error)))
    found += [Problem(where, "must be a finite number") for where in _endless(document, "")]
    return list(dict.fromkeys(found))


def _endless(value: Any, where: str) -> Iterator[str]:
    """Where numbers stand that are none, or have no end: JSON has no such, but some write them."""
    if isinstance(value, float) and not math.isfinite(value):
        yield where
    elif isinstance(value, Mapping):
        for key, one in value.items():
            yield from _endless(one, _under(where, str(key)))
    elif isinstance(value, list):
        for index, one in enumerate(value):
            yield from _endless(one, f"{where}[{index}]")


def _under(where: str, key: str) -> str:
    return f"{where}.{key}" if where else key


def validator_of(schema: Mapping[str, Any]) -> Any:
    """Make a validator of a schema (2020-12)."""
    # A tenth of a second to read, and no start needs it.
    from jsonschema import Draft202012Validator

    return Draft202012Validator(schema)
