"""Workbooks taken in: read in a process with limits of memory and time, since a small file can hold a huge sheet."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path
from typing import Any

import orjson

from ..core.quantities.errors import InputError

_READER = Path(__file__).with_name("workbook_reader.py")
#: How long it may take by the clock [s]; a busy machine is slow, not wrong.
_LONGEST = 30


def first_sheet(content: bytes, most_rows: int, most_columns: int) -> list[list[Any]]:
    """Return the cells of a workbook's first sheet: numbers, texts, and None where there is nothing.

    Parameters
    ----------
    content : bytes
        An XLSX file.
    most_rows, most_columns : int
        What is read of it; the rest is left.

    Raises
    ------
    InputError
        If it is no workbook, or takes more memory or time than any chart does.
    """
    command = [sys.executable, "-I", str(_READER), str(most_rows), str(most_columns)]
    try:
        done = subprocess.run(command, input=content, capture_output=True, timeout=_LONGEST, check=False)
    except subprocess.TimeoutExpired:
        raise InputError.at("workbook", "takes far too long to read: save the chart's sheet alone") from None
    # Ended by a signal, or out of memory: the limits held.
    if done.returncode < 0 or b"memory" in done.stderr.lower() or b"capacity overflow" in done.stderr:
        raise InputError.at("workbook", "is far too large unpacked: save the chart's sheet alone")
    if done.returncode != 0:
        raise InputError.at("workbook", "is no XLSX workbook: save it as XLSX or CSV and pick it again")
    return orjson.loads(done.stdout)
