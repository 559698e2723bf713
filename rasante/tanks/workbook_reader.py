"""Reads a workbook from standard input and writes its first sheet as JSON: run as a process that can be ended.

It is run by its path and imports nothing of the application, so that it starts at once and holds nothing that a
hostile file could reach.
"""

from __future__ import annotations

import datetime
import json
import resource
import sys
from io import BytesIO
from typing import Any
from zipfile import ZipFile, is_zipfile

#: What it may use: memory [bytes] and time of a processor [s].
MOST_MEMORY = 700_000_000
MOST_SECONDS = 10
#: How large its parts may say they are unpacked [bytes]; a chart's whole sheet is a tenth of that.
MOST_UNPACKED = 100_000_000


def written(cell: Any) -> Any:
    """Return a cell as JSON has it: a number as a number, anything else as its text."""
    if isinstance(cell, bool) or cell is None or cell == "":
        return None if cell in (None, "") else str(cell)
    if isinstance(cell, (int, float, str)):
        return cell
    if isinstance(cell, (datetime.date, datetime.time)):
        return cell.isoformat()
    return str(cell)


def main(most_rows: int, most_columns: int) -> None:
    """Read and write, within the limits."""
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_SECONDS, MOST_SECONDS))
    from python_calamine import CalamineWorkbook

    content = sys.stdin.buffer.read()
    # Those that say so need not be unpacked to be refused; those that lie meet the limits.
    if (
        is_zipfile(BytesIO(content))
        and sum(part.file_size for part in ZipFile(BytesIO(content)).infolist()) > MOST_UNPACKED
    ):
        raise MemoryError("more memory unpacked than any chart takes")
    sheet = CalamineWorkbook.from_filelike(BytesIO(content)).get_sheet_by_index(0)
    rows = []
    for number, row in enumerate(sheet.iter_rows()):
        if number >= most_rows:
            break
        rows.append([written(cell) for cell in row[:most_columns]])
    json.dump(rows, sys.stdout)


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
