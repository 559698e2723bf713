"""Files that are made to harm: what they take is bounded, and what is said of them tells what to do."""

from __future__ import annotations

import base64
import io
import subprocess
import sys
import zipfile

from openpyxl import Workbook
from PIL import Image

from rasante.tanks.workbook import first_sheet
from rasante.tanks.workbook_reader import MOST_MEMORY, MOST_UNPACKED

from .base import ApiTest

EMPTY = {"mapping": None, "reference_height_mm": None, "text": ""}


def with_sheet(xml: bytes) -> str:
    """A workbook whose sheet is what is given, as it is sent."""
    made = io.BytesIO()
    Workbook().save(made)
    out = io.BytesIO()
    with zipfile.ZipFile(made) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for part in old.infolist():
            new.writestr(part, xml if part.filename == "xl/worksheets/sheet1.xml" else old.read(part))
    return base64.b64encode(out.getvalue()).decode()


#: Reads a workbook from its input, and says what was refused and how much memory [kB] the reading took at most.
READING = """
import resource, sys
from rasante.core.quantities.errors import InputError
from rasante.tanks.workbook import first_sheet
try:
    first_sheet(sys.stdin.buffer.read(), 10_000, 100)
except InputError as refused:
    print(refused, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)
"""
HEAD = b'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
TAIL = b"</sheetData></worksheet>"


class Workbooks(ApiTest):
    def refusal(self, workbook: str) -> str:
        answer = self.send("post", "charts/preview/", {**EMPTY, "workbook": workbook})
        return self.refused(answer)["workbook"]

    def test_a_small_file_with_a_huge_sheet(self) -> None:
        row = b"<row><c><v>1</v></c>" + b"<c><v>2</v></c>" * 300 + b"</row>"
        for name, xml in {
            "many cells": HEAD + row * 60_000 + TAIL,
            "two cells far apart": HEAD
            + b'<row r="1"><c r="A1"><v>1</v></c></row><row r="1048576"><c r="XFD1048576"><v>2</v></c></row>'
            + TAIL,
        }.items():
            with self.subTest(name):
                packed = with_sheet(xml)
                self.assertLess(len(packed), 2_000_000)
                self.assertIn("far too large unpacked", self.refusal(packed))
                # What the reading took lay in a process of its own, and within its limit. It is asked for from a
                # small one: whatever a large one starts counts as large as that for a moment.
                command = [sys.executable, "-c", READING]
                done = subprocess.run(command, input=base64.b64decode(packed), capture_output=True, check=True)
                said, _, most = done.stdout.decode().rpartition(" ")
                self.assertIn("far too large unpacked", said)
                self.assertLess(int(most) * 1024, MOST_MEMORY)

    def test_one_that_says_less_than_it_unpacks_to_meets_the_limits(self) -> None:
        packed = bytearray(base64.b64decode(with_sheet(HEAD + b"<row><c><v>1</v></c></row>" * 5_000_000 + TAIL)))
        with zipfile.ZipFile(io.BytesIO(packed)) as book:
            sizes = {part.file_size for part in book.infolist() if part.file_size > MOST_UNPACKED}
        (size,) = sizes
        lies = bytes(packed).replace(size.to_bytes(4, "little"), (1000).to_bytes(4, "little"))
        self.assertNotEqual(lies, bytes(packed))
        self.assertRegex(
            self.refusal(base64.b64encode(lies).decode()),
            "is no XLSX workbook|far too large|its first sheet is empty",
        )

    def test_no_workbook_at_all(self) -> None:
        for name, content in {
            "a text": b"level,volume\n1,2\n",
            "half a workbook": base64.b64decode(with_sheet(HEAD + TAIL))[:900],
            "another zip": b"PK\x05\x06" + 18 * b"\0",
            "a sheet that is no XML": base64.b64decode(with_sheet(b"<<<<")),
        }.items():
            with self.subTest(name):
                self.assertRegex(
                    self.refusal(base64.b64encode(content).decode()), "is no XLSX workbook|its first sheet is empty"
                )

    def test_what_a_sheet_holds_comes_as_it_is(self) -> None:
        book = Workbook()
        for row in (["mm", "L", "when"], [0, 0.5, True], [1e-7, "½", "=1+1"], [None, "", 3]):
            book.active.append(row)
        out = io.BytesIO()
        book.save(out)
        rows = first_sheet(out.getvalue(), 10, 3)
        self.assertEqual(rows[:2], [["mm", "L", "when"], [0.0, 0.5, "True"]])
        self.assertEqual(rows[2][:2], [1e-7, "½"])
        self.assertEqual(rows[3], [None, None, 3.0])
        self.assertEqual(len(first_sheet(out.getvalue(), 2, 2)), 2)


class Pictures(ApiTest):
    def test_only_named_formats_are_opened(self) -> None:
        for kind in ("GIF", "TIFF", "BMP", "PPM", "PCX", "EPS"):
            with self.subTest(kind):
                out = io.BytesIO()
                Image.new("RGB", (8, 8)).save(out, kind)
                answer = self.send(
                    "post", "tanks/read-picture/", {"picture": base64.b64encode(out.getvalue()).decode()}
                )
                self.assertIn("take a PNG, JPEG or WebP", self.refused(answer)["picture"])
