"""Labels as a PDF of self-adhesive sheets, each label where the sheet has it, to a tenth of a millimetre."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO

import segno
from reportlab.lib.colors import black
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth

from wavilex.core.tell.hand_shapes import LabelOut
from wavilex.core.tell.labels import UM, LabelSheet
from wavilex.server.paper.page import BOLD, INK, RULE, TEXT, TaggedCanvas, register

_PAD = 2 * mm
_LEAST_PT = 5.0
_QUIET_MODULES = 2
_CODE = 24 * mm


def label_sheet_pdf(
    title: str, rows: Sequence[LabelOut], sheet: LabelSheet, *, first: int = 1, link: str = "", lines: bool = True
) -> bytes:  # fmt: skip
    """first: the place to begin at, on a sheet begun before, from 1. link: an address to print as a QR code on each, ""
    none; labels under 20 mm have no room for one. lines: a hair line round each label, to cut or to see by.
    """
    register()
    out = BytesIO()
    canvas = TaggedCanvas(out, pagesize=A4, invariant=1)
    canvas.setTitle(f"{title}: labels")
    place = first - 1
    for n, row in enumerate(rows):
        if n and place % sheet.count == 0:
            canvas.showPage()
        _label(canvas, row, sheet, place % sheet.count, link, lines)
        place += 1
    canvas.save()
    return out.getvalue()


def _label(canvas: TaggedCanvas, row: LabelOut, sheet: LabelSheet, place: int, link: str, lines: bool) -> None:
    line, column = divmod(place, sheet.columns)
    x = (sheet.left_um + column * sheet.step_x_um) / UM * mm
    width, height = sheet.width_um / UM * mm, sheet.height_um / UM * mm
    y = A4[1] - (sheet.top_um + line * sheet.step_y_um) / UM * mm - height
    if lines:
        canvas.begin_artifact()
        canvas.setStrokeColor(RULE)
        canvas.setLineWidth(0.2)
        canvas.rect(x, y, width, height)
        canvas.end_tag()
    right = x + width - _PAD
    if link and height >= 20 * mm:
        side = min(height - 2 * _PAD, _CODE)
        _code(canvas, link, right - side, y + _PAD, side)
        right -= side + _PAD
    room = right - x - _PAD
    canvas.begin_tag("P")
    canvas.setFillColor(INK)
    large = min(height * 0.34, 20)
    top = y + height - _PAD - large * 0.8
    _fitted(canvas, row["code"], BOLD, large, x + _PAD, top, room)
    small = max(min(height * 0.17, 10), _LEAST_PT)
    if height >= 15 * mm:
        _fitted(canvas, row["name"], TEXT, small * 1.15, x + _PAD, top - small * 1.6, room)
        _fitted(canvas, row["text"], TEXT, small, x + _PAD, top - small * 3.0, room)
    else:
        beside = stringWidth(f"{row['code']} ", BOLD, large)
        _fitted(canvas, row["name"], TEXT, small, x + _PAD + beside, top, room - beside)
        _fitted(canvas, row["text"], TEXT, _LEAST_PT, x + _PAD, y + _PAD * 0.7, room)
    canvas.end_tag()


def _fitted(canvas: TaggedCanvas, text: str, font: str, size: float, x: float, y: float, room: float) -> None:
    """Text as large as it may be and fits; what cannot be made small enough is cut, with a mark."""
    text = text.replace("→", "to")
    while size > _LEAST_PT and stringWidth(text, font, size) > room:
        size -= 0.25
    cut = text
    while cut and stringWidth(cut, font, size) > room:
        cut = cut[:-2] + "…" if cut.endswith("…") else cut[:-1] + "…"
        if cut == "…":
            break
    canvas.setFont(font, size)
    canvas.drawString(x, y, cut)


def _code(canvas: TaggedCanvas, text: str, x: float, y: float, side: float) -> None:
    """A QR code drawn as squares."""
    rows = list(segno.make(text, error="m").matrix)
    step = side / (len(rows) + 2 * _QUIET_MODULES)
    canvas.begin_artifact()
    canvas.setFillColor(black)
    for n, line in enumerate(rows):
        for m, dark in enumerate(line):
            if dark:
                canvas.rect(
                    x + (m + _QUIET_MODULES) * step, y + side - (n + 1 + _QUIET_MODULES) * step, step, step,
                    stroke=0, fill=1,
                )  # fmt: skip
    canvas.end_tag()
