"""Strips of a film's frames: about a moment to look at, and about every kept press as evidence."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from wavilex.core.film.shapes import FilmTold

_BESIDE = 4  # frames to each side of the moment
_WIDTH, _SMALL, _GAP = 160, 96, 4
_CAPTION = 16
_MOST = 24  # presses on one sheet: own figure

Stack = NDArray[np.uint8]


def about(stack: Stack, frame: int, width: int = _WIDTH) -> Image.Image:
    """The frames about a moment side by side, small: four before it, itself, four after it. stack: (n, rows, cols)."""
    height = max(1, width * stack.shape[1] // stack.shape[2])
    shown = range(frame - _BESIDE, frame + _BESIDE + 1)
    sheet = Image.new("L", (len(shown) * (width + _GAP) - _GAP, height), 128)
    for n, k in enumerate(shown):
        if 0 <= k < len(stack):
            sheet.paste(Image.fromarray(stack[k].copy()).resize((width, height)), (n * (width + _GAP), 0))
    return sheet


def png(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def evidence(stack: Stack, told: FilmTold) -> bytes:
    """Every kept press on one sheet, as PNG: its lag, and the frames about its start and its answer, the moment in the
    middle of each; of very many presses the first.
    """
    by = {(m["press"], m["end"]): m["frames"] for m in told["moves"]}
    rows = []
    for p in told["presses"]:
        if not p["kept"] or p["start_frame"] is None or p["answer_frame"] is None or p["filed_ms"] is None:
            continue
        ends = (p["start_frame"] + by.get((p["n"], "start"), 0), p["answer_frame"] + by.get((p["n"], "answer"), 0))
        rows.append((f"press {p['n'] + 1}: {p['filed_ms']:.1f} ms", [about(stack, k, _SMALL) for k in ends]))
    rows = rows[:_MOST]
    wide, high = rows[0][1][0].size if rows else (1, 1)
    sheet = Image.new("L", (2 * wide + 4 * _GAP, max(1, len(rows)) * (high + _CAPTION + _GAP)), 255)
    draw, font = ImageDraw.Draw(sheet), ImageFont.load_default(12)
    for n, (words, strips) in enumerate(rows):
        y = n * (high + _CAPTION + _GAP)
        draw.text((2, y), f"{words}; starts in the middle of the left, answers of the right", fill=0, font=font)
        for k, strip in enumerate(strips):
            x = k * (wide + 4 * _GAP)
            sheet.paste(strip, (x, y + _CAPTION))
            middle = x + _BESIDE * (_SMALL + _GAP)
            draw.rectangle((middle, y + _CAPTION, middle + _SMALL - 1, y + _CAPTION + high - 1), outline=255)
    return png(sheet)
