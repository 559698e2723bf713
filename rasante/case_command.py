"""``rasante diagnose``: a case of trouble from a file, and what to do next."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from .command import fail
from .core.faults.case_file import case_document, read_case_file
from .core.faults.case_words import percent
from .core.quantities.errors import InputError
from .core.quantities.text import refuse_what_cannot_be_kept

#: More than this is no case.
_LARGEST = 2_000_000


def diagnose(arguments: argparse.Namespace) -> None:
    """Print what a case's findings tell, and what to do next."""
    try:
        found = read_case_file(_read(arguments.file), arguments.units)
    except InputError as error:
        more = len(error.problems) - 1
        also = f" (and {more} more)" if more else ""
        fail(f"{arguments.file}: {' '.join(str(error.problems[0]).split())}{also}")
    document = case_document(found, arguments.units)
    if arguments.format == "json":
        json.dump(document, sys.stdout, indent=1, ensure_ascii=False)
        print()
    else:
        print("\n".join(_lines(document)))


def _read(name: str) -> Any:
    try:
        text = sys.stdin.read(_LARGEST + 1) if name == "-" else Path(name).read_text("utf-8-sig")
    except OSError as error:
        fail(f"{name}: {(error.strerror or str(error)).lower()}")
    except UnicodeDecodeError:
        fail(f"{name}: is not UTF-8 text, so it is no case")
    if len(text) > _LARGEST:
        fail(f"{name}: is too large for a case")
    try:
        document = json.loads(text)
        refuse_what_cannot_be_kept(document)
    except InputError as error:
        fail(f"{name}: {error.problems[0].what}")
    except (ValueError, RecursionError) as error:
        fail(f"{name}: is no JSON: {error}")
    return document


def _lines(document: dict[str, Any]) -> list[str]:
    lines = [f"{percent(one['share']):>9}  {one['says']}" for one in document["parts"] if one["share"] >= 0.01]
    for one in document["trail"]:
        lines += ["", f"{one['did']}: {one['read']}{'  (doubtful: take it again)' if one['doubtful'] else ''}"]
        lines.append(f"  {one['says']}")
    lines.append("")
    if document["says"]:
        what, *then = document["says"]
        return [*lines, f"{what}.", *(f"  {one}" for one in then)]
    first = document["next"][0]
    lines.append(f"Do this next: {first['do']} ({first['where']}, {first['minutes']:g} min).")
    lines += [f"  {document['because']}"] if document["because"] else []
    lines += [f"  First: {one}." for one in first["first"]]
    lines += [f"  {one['reads']} ({percent(one['share'])}): {one['means']}" for one in first["outcomes"]]
    return lines
