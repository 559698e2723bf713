"""Sheets: what every printed page has in common. Title block, hairlines, the section drawn to scale, page numbers."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from itertools import pairwise
from pathlib import Path

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from .core.products.cautions import cautions_for, standing_caution
from .core.quantities.judgement import Judgement
from .core.quantities.words import Words
from .core.tanks.shapes import Outline

TEXT, BOLD, MONO = (
    "AtkinsonHyperlegibleNext-Regular",
    "AtkinsonHyperlegibleNext-Bold",
    "AtkinsonHyperlegibleMono-Regular",
)
INK, RULE, LINE, LIMIT, DONE, PAPER = (
    HexColor(colour) for colour in ("#1B262B", "#B9B2A2", "#0B6E7A", "#B83A26", "#47733B", "#F6F3EC")
)
_FONTS = Path(__file__).resolve().parent / "fonts"
for _name in (TEXT, BOLD, MONO):
    pdfmetrics.registerFont(TTFont(_name, _FONTS / f"{_name}.ttf"))

WIDTH, HEIGHT = A4
MARGIN = 14 * mm
INNER = WIDTH - 2 * MARGIN


def printable(text: str) -> str:
    """Write out what the sheets' fonts have no sign for."""
    return text.replace("kΩ", "kohm").replace("MΩ", "Mohm").replace("Ω", "ohm")


def _fitted(text: str, font: str, size: float, width: float) -> str:
    """Shorten text to a width [pt]."""
    if pdfmetrics.stringWidth(text, font, size) <= width:
        return text
    while text and pdfmetrics.stringWidth(text + "…", font, size) > width:
        text = text[:-1]
    return text + "…"


class Sheet:
    """A document of A4 pages with the same head and foot on each.

    Parameters
    ----------
    title : str
        What the sheet is, for instance ``Volume table``.
    subject : str
        Whose: the tank.
    block : sequence of (str, str)
        The title block's entries, name and value, in reading order.
    revision : str
        What tells this sheet from an older one.
    """

    def __init__(self, title: str, subject: str, block: Sequence[tuple[str, str]], revision: str) -> None:
        self._buffer = io.BytesIO()
        self.canvas = Canvas(self._buffer, pagesize=A4, pageCompression=1)
        self.canvas.setTitle(f"{title}: {subject}")
        self.canvas.setAuthor("Rasante")
        self.title, self.subject, self.revision = title, subject, revision
        self.page = 1
        self.y = HEIGHT - MARGIN
        self._head()
        self._title_block(block)

    def _head(self) -> None:
        c = self.canvas
        c.setFillColor(INK)
        c.setFont(BOLD, 17)
        c.drawString(MARGIN, self.y - 5 * mm, self.subject[:60])
        c.setFont(TEXT, 10)
        c.drawRightString(WIDTH - MARGIN, self.y - 5 * mm, self.title)
        self.y -= 8 * mm
        c.setStrokeColor(LINE)
        c.setLineWidth(1.4)
        c.line(MARGIN, self.y, WIDTH - MARGIN, self.y)
        self.y -= 3 * mm
        c.setFont(TEXT, 7)
        c.setFillColor(INK)
        c.drawString(MARGIN, MARGIN - 8.5 * mm, standing_caution())
        c.drawRightString(WIDTH - MARGIN, MARGIN - 5 * mm, f"Rasante · {self.revision} · page {self.page}")

    def _title_block(self, block: Sequence[tuple[str, str]]) -> None:
        c, columns = self.canvas, 3
        width = INNER / columns
        rows = [block[i : i + columns] for i in range(0, len(block), columns)]
        for row in rows:
            wrapped = [simpleSplit(value or "not stated", TEXT, 9, width - 3 * mm)[:2] for _, value in row]
            height = (5 + 4 * max(len(lines) for lines in wrapped)) * mm
            for index, ((name, _), lines) in enumerate(zip(row, wrapped, strict=True)):
                x = MARGIN + index * width
                c.setFont(TEXT, 6.5)
                c.setFillColor(LINE)
                c.drawString(x, self.y - 2.6 * mm, name)
                c.setFillColor(INK)
                c.setFont(TEXT, 9)
                for number, line in enumerate(lines):
                    c.drawString(x, self.y - (6.6 + 4 * number) * mm, line)
            self.y -= height
            self.rule()

    def rule(self) -> None:
        """Draw a hairline across the page and leave a little room."""
        self.canvas.setStrokeColor(RULE)
        self.canvas.setLineWidth(0.4)
        self.canvas.line(MARGIN, self.y, WIDTH - MARGIN, self.y)
        self.y -= 2 * mm

    def need(self, height: float) -> None:
        """Begin a new page if less than `height` [pt] is left on this one."""
        if self.y - height < MARGIN:
            self.new_page()

    def new_page(self) -> None:
        """Begin a new page with the same head."""
        self.canvas.showPage()
        self.page += 1
        self.y = HEIGHT - MARGIN
        self._head()

    def heading(self, text: str) -> None:
        """Write a heading."""
        self.need(14 * mm)
        self.canvas.setFillColor(INK)
        self.canvas.setFont(BOLD, 11)
        self.canvas.drawString(MARGIN, self.y - 4.5 * mm, text)
        self.y -= 8 * mm

    def paragraph(self, text: str, size: float = 9, colour: HexColor = INK) -> None:
        """Write text over the width of the page."""
        for line in simpleSplit(printable(text), TEXT, size, INNER):
            self.need(size + 4)
            self.canvas.setFillColor(colour)
            self.canvas.setFont(TEXT, size)
            self.canvas.drawString(MARGIN, self.y - size, line)
            self.y -= size + 3
        self.y -= 2

    def grid(
        self, names: Sequence[str], rows: Sequence[Sequence[str]], shares: Sequence[float] = (), size: float = 7.5
    ) -> None:
        """Print rows under their names.

        Parameters
        ----------
        names : sequence of str
            The columns.
        rows : sequence of sequence of str
            The cells; one that ends with ``!`` stands out.
        shares : sequence of float
            Widths of the columns by one another; empty where they are alike.
        size : float
            Size of the cells' type [pt].
        """
        canvas, whole = self.canvas, sum(shares) or len(names)
        widths = [INNER * share / whole for share in shares or [1.0] * len(names)]
        lefts = [MARGIN + sum(widths[:index]) for index in range(len(widths))]

        def head() -> None:
            canvas.setFont(TEXT, 6.5)
            canvas.setFillColor(LINE)
            for left, name in zip(lefts, names, strict=True):
                canvas.drawString(left, self.y - 3 * mm, name)
            self.y -= 5 * mm

        self.need(min(len(rows) + 2, 8) * 6 * mm)
        head()
        for row in rows:
            if self.y - 6 * mm < MARGIN:
                self.new_page()
                head()
            canvas.setStrokeColor(RULE)
            canvas.setLineWidth(0.3)
            canvas.line(MARGIN, self.y, WIDTH - MARGIN, self.y)
            canvas.setFont(MONO, size)
            for left, width, text in zip(lefts, widths, row, strict=True):
                canvas.setFillColor(LIMIT if text.endswith("!") else INK)
                canvas.drawString(left, self.y - 4.2 * mm, _fitted(printable(text), MONO, size, width - 1.5 * mm))
            self.y -= 6 * mm
        self.rule()

    def settings(self, items: Sequence[tuple[str, str]], columns: int = 2, by_hand: bool = True) -> None:
        """Print short settings side by side, each with a line behind it to write what was set by hand.

        Parameters
        ----------
        items : sequence of (str, str)
            Names and values, in reading order down the columns.
        columns : int
            How many stand side by side.
        by_hand : bool
            Whether there is room to write.
        """
        canvas, step = self.canvas, 4.5 * mm
        width = INNER / columns
        rows = -(-len(items) // columns)
        named, valued = (0.37, 0.45) if by_hand else (0.45, 0.55)
        begun = 0
        while begun < rows:
            self.need(min(rows - begun, 3) * step)
            room = max(int((self.y - MARGIN) // step), 1)
            block = items[begun * columns : (begun + room) * columns]
            deep = -(-len(block) // columns)
            for index, (name, value) in enumerate(block):
                left, y = MARGIN + (index // deep) * width, self.y - (index % deep) * step - 3.2 * mm
                canvas.setFillColor(INK)
                canvas.setFont(TEXT, 7)
                canvas.drawString(left, y, _fitted(printable(name), TEXT, 7, width * named - 1.5 * mm))
                canvas.setFont(MONO, 7)
                text = _fitted(printable(value), MONO, 7, width * valued - 1.5 * mm)
                canvas.drawString(left + width * named, y, text)
                if by_hand:
                    canvas.setStrokeColor(RULE)
                    canvas.setLineWidth(0.3)
                    canvas.line(left + width * (named + valued), y - 0.8 * mm, left + width - 3 * mm, y - 0.8 * mm)
            self.y -= deep * step
            begun += deep
        self.rule()

    def errors(self, curves: Sequence[tuple[str, Sequence[tuple[float, float]]]], band: float, unit: str) -> None:
        """Draw errors over what was applied, with the tolerance as a band.

        Parameters
        ----------
        curves : sequence of (str, sequence of (float, float))
            By run and way: where [any], and by how much it was off.
        band : float
            The tolerance either way, in the errors' unit.
        unit : str
            That unit's name.
        """
        height, pad = 36 * mm, 16 * mm
        points = [point for _, curve in curves for point in curve]
        if len(points) < 2:
            return
        self.need(height + 4 * mm)
        c, left, right = self.canvas, MARGIN + pad, WIDTH - MARGIN - 34 * mm
        low, high = min(x for x, _ in points), max(x for x, _ in points)
        most = 1.15 * max(band, *(abs(error) for _, error in points)) or 1.0
        middle = self.y - height / 2

        def place(x: float, error: float) -> tuple[float, float]:
            share = (x - low) / (high - low) if high > low else 0.5
            return left + share * (right - left), middle + error / most * (height / 2 - 2 * mm)

        c.setFillColor(HexColor("#E6EDE2"))
        c.rect(left, place(low, -band)[1], right - left, place(low, band)[1] - place(low, -band)[1], stroke=0, fill=1)
        c.setStrokeColor(INK)
        c.setLineWidth(0.4)
        c.line(left, middle, right, middle)
        c.setFont(TEXT, 6.5)
        c.setFillColor(INK)
        for value in (band, 0.0, -band):
            c.drawRightString(left - 1.5 * mm, place(low, value)[1] - 2, f"{value:+.3g} {unit}" if value else "0")
        for number, (name, curve) in enumerate(curves):
            c.setStrokeColor(LINE if number % 2 == 0 else INK)
            c.setDash(*(((), 0) if number < 2 else ((3, 2), 0)))
            placed = [place(*point) for point in sorted(curve)]
            for (x0, y0), (x1, y1) in pairwise(placed):
                c.line(x0, y0, x1, y1)
            c.setDash()
            for x, y in placed:
                c.circle(x, y, 1.6, stroke=1, fill=number % 2)
            c.drawString(right + 3 * mm, self.y - (5 + 4 * number) * mm, name)
        c.setFillColor(INK)
        self.y -= height + 2 * mm

    def section(
        self, outline: Outline, height: float, reference_m: float, labels: tuple[str, str]
    ) -> Callable[[float, float], tuple[float, float]]:
        """Draw a tank's long section to scale.

        Parameters
        ----------
        outline : Outline
            The section.
        height : float
            Room for it [pt].
        reference_m : float
            Height of the reference point above the inside bottom [m].
        labels : (str, str)
            What to write at the inside height and at the reference point.

        Returns
        -------
        callable
            Where a place of the section, along and up [m], is on the page [pt].
        """
        self.need(height)
        c = self.canvas
        points = outline.along
        low, high = points.min(axis=0), points.max(axis=0)
        bottom, tall = min(low[1], 0.0), max(high[1], reference_m)
        scale = min((INNER - 70 * mm) / (high[0] - low[0]), (height - 8 * mm) / (tall - bottom))
        x0 = MARGIN + (INNER - 50 * mm - (high[0] - low[0]) * scale) / 2
        y0 = self.y - height + 4 * mm

        def place(x: float, z: float) -> tuple[float, float]:
            return (x - low[0]) * scale + x0, (z - bottom) * scale + y0

        placed = [place(*point) for point in points.tolist()]
        path = c.beginPath()
        path.moveTo(*placed[0])
        for point in placed[1:]:
            path.lineTo(*point)
        path.close()
        c.setFillColor(PAPER)
        c.setStrokeColor(INK)
        c.setLineWidth(1)
        c.drawPath(path, fill=1)
        c.setLineWidth(0.4)
        c.setDash(3, 2)
        for start, end in outline.seams:
            c.line(*place(*start), *place(*end))
        right = max(x for x, _ in placed)
        for level, label in ((high[1], labels[0]), (reference_m, labels[1])):
            y = place(0, level)[1]
            if label:
                c.setDash(1, 2)
                c.line(right, y, right + 8 * mm, y)
                c.setFont(TEXT, 7)
                c.setFillColor(INK)
                offset = 1.5 if level == reference_m and reference_m > high[1] else -2.5
                c.drawString(right + 9 * mm, y + offset, label)
        c.setDash()
        self.y -= height
        return place

    def minded(self, found: Sequence[Judgement], w: Words) -> None:
        """Print what is to be minded, the heaviest first; nothing where all is good."""
        minded = [judgement for judgement in found if judgement.weight != "good"]
        if not minded:
            return
        self.heading("To be minded")
        for judgement in minded:
            colour = LIMIT if judgement.weight == "stop" else INK
            self.paragraph(f"{judgement.weight.upper()}: {w.say(judgement)}", 8.5, colour)

    def cautions(self, product: str, stations: tuple[str, ...]) -> None:
        """Print the cautions of some stations for a product."""
        self.heading("Cautions")
        for caution in cautions_for(product):
            if caution.station in stations:
                self.paragraph(caution.text, 8)

    def to_sign(self, *labels: str) -> None:
        """Leave lines to sign on."""
        self.need(20 * mm)
        self.y -= 12 * mm
        width = INNER / len(labels)
        for index, label in enumerate(labels):
            x = MARGIN + index * width
            self.canvas.setStrokeColor(INK)
            self.canvas.setLineWidth(0.6)
            self.canvas.line(x, self.y, x + width - 8 * mm, self.y)
            self.canvas.setFont(TEXT, 8)
            self.canvas.setFillColor(INK)
            self.canvas.drawString(x, self.y - 4 * mm, label)
        self.y -= 8 * mm

    def finish(self) -> bytes:
        """Return the PDF."""
        self.canvas.save()
        return self._buffer.getvalue()
