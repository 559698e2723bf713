"""The figures of a model as they are typed off its data sheet, put into its document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..quantities.errors import InputError, Problem
from ..quantities.typed import read_number
from .model import model_schema


def with_figures(document: Mapping[str, Any], figures: Mapping[str, str]) -> dict[str, Any]:
    """Put figures into a model's document as they are typed off its data sheet.

    Parameters
    ----------
    document : mapping
        A model's document, or as much of it as there is.
    figures : mapping of str to str
        Numbers by their keys, with a decimal comma or point; several parted by semicolons where the model has a list.
        An empty one takes the figure out.

    Raises
    ------
    InputError
        With every figure that cannot be read, at its key.
    """
    schema = model_schema()["properties"]
    found, problems = dict(document), []
    for key, text in figures.items():
        kind = schema.get(key, {}).get("type")
        if kind not in ("number", "integer", "array") or (kind == "array" and "enum" in schema[key]["items"]):
            problems.append(Problem(key, "is no figure of a model"))
            continue
        parts = [part for part in text.split(";") if part.strip()]
        try:
            read = [read_number(part) for part in (parts if kind == "array" else parts and [text])]
        except InputError as error:
            problems.append(Problem(key, error.problems[0].what))
            continue
        whole = [int(number) if number.is_integer() else number for number in read]
        if not whole:
            found.pop(key, None)
        else:
            found[key] = whole if kind == "array" else whole[0]
    if problems:
        raise InputError(*problems)
    return found
