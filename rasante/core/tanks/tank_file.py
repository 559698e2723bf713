"""The tank file, ``rasante.tank/1``: reading and writing it.

The document itself is the one truth about a tank's shape. It is kept as it was written (millimetres, litres);
the computation works on the `Tank` that is built from it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from importlib import resources
from typing import Any

from ..quantities.errors import InputError
from ..quantities.text import refuse_what_cannot_be_kept
from .check import KEYS, check_tank
from .kinds import SHAPES
from .tank import Tank

LARGEST_FILE = 1_000_000


@dataclass(frozen=True)
class TankFile:
    """A checked tank file.

    Parameters
    ----------
    document : mapping
        The document as it was written.
    tank : Tank
        What the computation works on.
    """

    document: Mapping[str, Any]
    tank: Tank

    @property
    def name(self) -> str:
        """The tank's name."""
        return str(self.document["name"])

    @property
    def product(self) -> str:
        """What it holds, or nothing if that is not stated."""
        return str(self.document.get("product", ""))


def read_tank_file(text: str) -> TankFile:
    """Read a tank file.

    Parameters
    ----------
    text : str
        The JSON text, at most 1 MB; a leading byte order mark is passed over.

    Raises
    ------
    InputError
        With every problem found, each at its key.
    """
    if len(text) > LARGEST_FILE:
        raise InputError.at(
            "",
            f"this is {len(text) / 1e6:.1f} MB; a tank file has at most 1 MB: check that it is the right file",
        )
    document = _load(text.removeprefix("\ufeff"))
    refuse_what_cannot_be_kept(document)
    return check_document(_completed(document))


def _completed(document: Any) -> Any:
    """Write into a file's shape what it leaves to usage, so that it means the same wherever it is read later."""
    shape = document.get("shape") if isinstance(document, Mapping) else None
    kind = SHAPES.get(str(shape.get("kind"))) if isinstance(shape, Mapping) else None
    if kind is None or not isinstance(shape, Mapping):
        return document
    if not all(isinstance(shape.get(one.key, []), list) for one in kind.rows):
        return document
    left_out = {
        one.key: one.usual_of(shape) for one in kind.choices if one.usual is not None and one.key not in shape
    }
    if not left_out:
        return document
    return {**document, "shape": {**shape, **left_out}}


def _load(text: str) -> Any:
    def unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        seen: dict[str, Any] = {}
        for key, value in pairs:
            if key in seen:
                raise InputError.at(key, "this key is written twice in one object: keep one of them")
            seen[key] = value
        return seen

    def constant(name: str) -> float:
        raise InputError.at("", f"{name} is not a number a tank file may hold: write a finite number")

    if not text.strip():
        raise InputError.at("", "there is nothing in it: paste or pick a tank file")
    try:
        return json.loads(text, object_pairs_hook=unique, parse_constant=constant)
    except json.JSONDecodeError as error:
        raise InputError.at("", f"not JSON at line {error.lineno}, column {error.colno}: {error.msg}") from None
    except InputError:
        raise
    except RecursionError:
        raise InputError.at("", "not a tank file: its brackets are nested far too deep") from None
    except ValueError as error:  # integers with more digits than Python converts
        raise InputError.at("", f"not a tank file: {error}") from None


def check_document(document: Any) -> TankFile:
    """Check a document that has been read from JSON and build its tank.

    Parameters
    ----------
    document : mapping
        Keys and values as in ``docs/formats/tank-file.md``.

    Raises
    ------
    InputError
        With every problem found, each at its key.
    """
    return TankFile(document, check_tank(document))


def write_tank_file(document: Mapping[str, Any]) -> str:
    """Write a document as the text of a tank file, keys in the order of the format."""
    ordered = {key: document[key] for key in KEYS if key in document}
    return json.dumps(ordered, indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of the tank file that ships with the project."""
    text = resources.files(__package__).joinpath("tank_file.schema.json").read_text("utf-8")
    schema: dict[str, Any] = json.loads(text)
    return schema
