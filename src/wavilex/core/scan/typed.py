"""An analogue signal as a person types it: a name (`480i`), a mode (`640x480@60`), or its figures in any order.

Figures: `5.3693 MHz` dot clock, `341.25 dots` and `262 lines` with blanking, `15.734 kHz` line rate, `60.05 Hz`,
`256x224` picture, `interlaced`. What is left out is worked out of the rest; without a dot clock the sampling of BT.601
stands in, and the picture is taken as 4:3: a guess, and said to be one.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from pydantic import ValidationError

from wavilex.core import refused
from wavilex.core.errors import SignalError, TimingError
from wavilex.core.scan.described import Scan
from wavilex.core.scan.shapes import ScanRead
from wavilex.core.scan.signals import COLOURS, NAMES, SYNCS, analogue
from wavilex.core.video.codes import usual_timing
from wavilex.core.video.mode import parse_mode

_BT601_HZ = Fraction(13_500_000)  # luma samples a second, 858 a line of 525, 864 of 625 (BT.601)
_PICTURE = {"525": (Fraction(720, 858), 240), "625": (Fraction(720, 864), 288)}  # of a line; lines a field
# name: dot clock, dots, lines, picture, interlaced
_NAMED = {
    "240p": (_BT601_HZ, 858, 262, "720x240", False), "288p": (_BT601_HZ, 864, 312, "720x288", False),
    "480i": (_BT601_HZ, 858, 525, "720x480", True), "576i": (_BT601_HZ, 864, 625, "720x576", True),
    "480p": (2 * _BT601_HZ, 858, 525, "720x480", False), "576p": (2 * _BT601_HZ, 864, 625, "720x576", False),
}  # fmt: skip
_FIGURE = re.compile(r"(?P<n>\d+(?:\.\d+)?(?:/\d+)?)\s*(?P<unit>mhz|khz|hz|dots?|lines?)(?![a-z])", re.IGNORECASE)
_SIZE = re.compile(r"(?<![\d.])(\d{2,4})\s*[x×]\s*(\d{2,4})(?!\d)")
_HELP = "write 480i, 640x480@60, or figures: 5.3693 MHz 341.25 dots 262 lines 256x224"


@dataclass(frozen=True, slots=True)
class Typed:
    """A signal read; guessed: what stands in for figures nobody gave, empty where all are there."""

    scan: Scan
    guessed: str = ""


def typed(text: str) -> Typed:
    """Raises SignalError with what is missing."""
    plain = text.strip().lower()
    if plain in _NAMED:
        clock, dots, lines, active, interlaced = _NAMED[plain]
        return Typed(_scan(clock, Fraction(dots), lines, active, interlaced, shape="4:3"), "its dot clock: BT.601’s")
    if "@" in plain:
        return Typed(_of_mode(plain))
    return _of_figures(text)


def _of_mode(text: str) -> Scan:
    try:
        mode = parse_mode(text)
    except TimingError as error:
        raise SignalError(f"{error.message}; {_HELP}") from None
    t = usual_timing(mode)
    if t.mode != mode:
        raise SignalError(f"no timing is known for {mode}; {_HELP}")
    lines = int(t.v_total * (2 if t.interlaced else 1))
    return _scan(Fraction(t.pixel_clock_hz), Fraction(t.h_total), lines, f"{t.h_active}x{t.frame_height}",
                 t.interlaced, sync="two_wires")  # fmt: skip


def _of_figures(text: str) -> Typed:
    found: dict[str, Fraction] = {}
    for m in _FIGURE.finditer(text):
        over, _, under = m["n"].partition("/")
        if under and not Fraction(under):
            raise SignalError(f"{m['n']} divides by 0; {_HELP}")
        found.setdefault(m["unit"].lower().rstrip("s"), Fraction(over) / Fraction(under or 1))
    left = _FIGURE.sub(" ", text)
    size = _SIZE.search(left)
    rest = _SIZE.sub(" ", left, count=1).replace(",", " ").split()
    interlaced = "interlaced" in [w.lower() for w in rest]
    strange = [w for w in rest if w.lower() not in ("interlaced", "progressive")]
    if strange:
        raise SignalError(f"{strange[0]!r} is not understood; {_HELP}")
    clock, dots = _hz(found, "mhz", 1_000_000), found.get("dot")
    line = _hz(found, "khz", 1000) or (clock / dots if clock and dots else None)
    if line is None:
        raise SignalError(f"the line rate is missing: give kHz, or MHz and dots; {_HELP}")
    guessed = ""
    if dots is None:
        guessed = "" if clock else "its dot clock: BT.601’s"
        dots = (clock or _BT601_HZ * (2 if line > 25_000 else 1)) / line
    lines = found.get("line")
    if lines is None and "hz" in found:
        lines = Fraction(round(2 * line / found["hz"] - 1) if interlaced else round(line / found["hz"]))
        lines += 1 if interlaced and lines % 2 == 0 else 0  # two fields share a whole, odd number of lines
    if lines is None or lines.denominator != 1:
        raise SignalError(f"lines a frame are missing, or Hz; {_HELP}")
    active = f"{size[1]}x{size[2]}" if size else _usual_picture(dots, lines, interlaced)
    return Typed(_scan(dots * line, dots, int(lines), active, interlaced, shape="4:3" if guessed else None), guessed)


def _hz(found: dict[str, Fraction], unit: str, times: int) -> Fraction | None:
    return found[unit] * times if unit in found else None


def _usual_picture(dots: Fraction, lines: Fraction, interlaced: bool) -> str:
    field = lines / 2 if interlaced else lines
    share, high = _PICTURE["525" if field < 288 else "625"]
    if field > 400:
        raise SignalError(f"the picture’s size is missing, as 640x400; {_HELP}")
    return f"{int(dots * share)}x{high * (2 if interlaced else 1)}"


def _scan(
    clock: Fraction, dots: Fraction, lines: int, active: str, interlaced: bool,
    sync: str = "on_picture", shape: str | None = None,
) -> Scan:  # fmt: skip
    data = {"dot_clock_hz": _ratio(clock), "dots": _ratio(dots), "lines": lines, "active": active, "sync": sync}
    return scan_from_data({**data, "interlaced": interlaced, "shape": shape})


def scan_from_data(data: Mapping[str, Any]) -> Scan:
    """A signal as it stands in a profile. Raises SignalError with the figure that is wrong."""
    try:
        return Scan.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise SignalError(f"{refused.place(first)} {refused.words(first)}".strip()) from None


def _ratio(value: Fraction) -> str:
    return str(value.numerator) if value.denominator == 1 else f"{value.numerator}/{value.denominator}"


def scan_data(scan: Scan, guessed: str = "") -> ScanRead:
    """A signal as people know it, worked out of its clocks, and its part of a profile."""
    s = analogue(scan)
    aspect = s.pixel_aspect
    return {
        "name": s.name, "system": NAMES[s.system], "line_khz": round(float(s.line_hz) / 1000, 3),
        "vertical_hz": round(float(s.vertical_hz), 3), "dot_clock_mhz": round(float(s.dot_clock_hz) / 1e6, 4),
        "active": scan.active, "pixel_aspect": f"{aspect.numerator}:{aspect.denominator}" if aspect else None,
        "shape": f"{float(s.shape):.3f}", "sync": SYNCS[s.sync], "colour": COLOURS.get(s.colour or "", ""),
        "guessed": guessed, "scan": scan.model_dump(mode="json", exclude_defaults=True),
    }  # fmt: skip
