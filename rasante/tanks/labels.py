"""Labels: a tank's file as a QR code on a sheet, and read back from a picture of one."""

from __future__ import annotations

import io

import segno
import zxingcpp
from reportlab.lib.units import mm

from ..core.quantities.errors import InputError
from ..core.quantities.units import Unit, show_in
from ..core.tanks.label import is_label, read_label, write_label
from ..core.tanks.tank_file import write_tank_file
from ..pictures import from_base64, opened
from ..sheets import INK, INNER, MARGIN, TEXT, Sheet
from .models import Tank


def code_of(tank: Tank) -> segno.QRCode:
    """Make the QR code of a tank's label, with as much error correction as there is room for."""
    return segno.make_qr(write_label(tank.document), error="l", boost_error=True)


def label_svg(tank: Tank) -> bytes:
    """Draw a label's code, for the screen."""
    out = io.BytesIO()
    code_of(tank).save(out, kind="svg", border=4, xmldecl=False, svgclass=None, lineclass=None, omitsize=True)
    return out.getvalue()


def label_sheet(tank: Tank, length: Unit, volume: Unit) -> bytes:
    """Make the label's sheet: the code large enough for a phone, and in words what it stands for."""
    code = code_of(tank)
    file = tank.file
    block = [
        ("Site", tank.site.name),
        ("Product", file.product),
        ("Capacity", show_in(file.tank.capacity, volume)),
        ("Inside height", show_in(file.tank.inside_height, length)),
        ("Reference height", show_in(file.tank.reference_height_m, length)),
        ("Revision", str(tank.revision)),
    ]
    sheet = Sheet("Tank label", tank.name, block, f"revision {tank.revision}")
    modules = [bytes(row) for row in code.matrix]
    side = min(150 * mm, max(60 * mm, len(modules) * 1.1 * mm))
    dot = side / len(modules)
    left, top = MARGIN + (INNER - side) / 2, sheet.y - 6 * mm
    canvas = sheet.canvas
    canvas.setFillColor(INK)
    for row, cells in enumerate(modules):
        for column, dark in enumerate(cells):
            if dark:
                canvas.rect(left + column * dot, top - (row + 1) * dot, dot * 1.01, dot * 1.01, stroke=0, fill=1)
    sheet.y = top - side - 8 * mm
    canvas.setFont(TEXT, 9)
    sheet.paragraph(
        "The code holds the whole tank file. A phone shows it as text beginning with RASANTE1; paste that text, or a "
        "picture of this label, where tanks are imported, and the tank is there with its table."
    )
    return sheet.finish()


def read_picture(picture: str) -> str:
    """Read the tank file from a picture of a label.

    Parameters
    ----------
    picture : str
        A PNG, JPEG or WebP picture in Base64.

    Returns
    -------
    str
        The tank file's text.

    Raises
    ------
    InputError
        If it is no picture, or no label can be made out in it.
    """
    with opened(from_base64(picture)) as image:
        grey = image.convert("L")
    found = [code.text for code in zxingcpp.read_barcodes(grey)]
    for text in found:
        if is_label(text):
            return write_tank_file(read_label(text).document)
    if found:
        raise InputError.at("picture", f"the code in it is not a tank's label: it says “{found[0][:40]}”")
    raise InputError.at("picture", "no code can be made out in it: go closer, hold it square, and mind the glare")
