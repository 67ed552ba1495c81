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
from functools import cache
from math import prod
from typing import Any

from pydantic import ValidationError

from wavilex.core import refused
from wavilex.core.errors import SignalError
from wavilex.core.scan.described import Colour, Scan
from wavilex.core.scan.shapes import ScanRead
from wavilex.core.scan.signals import CARRIERS_HZ, COLOURS, NAMES, SYNCS, analogue, is_wide
from wavilex.core.video.cta import VICS, cta_timing
from wavilex.core.video.dmt import DMT_IDS, dmt_timing
from wavilex.core.video.named import timing_of

_BT601_HZ = Fraction(13_500_000)  # luma samples a second, 858 a line of 525, 864 of 625 (BT.601)
_PICTURE = {"525": (Fraction(720, 858), 240), "625": (Fraction(720, 864), 288)}  # of a line; lines a field
# name: dot clock, dots, lines, picture, interlaced (BT.601; those of 720 lines and more: CTA-861, SMPTE 296M and 274M)
_NAMED = {
    "240p": (_BT601_HZ, 858, 262, "720x240", False), "288p": (_BT601_HZ, 864, 312, "720x288", False),
    "480i": (_BT601_HZ, 858, 525, "720x480", True), "576i": (_BT601_HZ, 864, 625, "720x576", True),
    "480p": (2 * _BT601_HZ, 858, 525, "720x480", False), "576p": (2 * _BT601_HZ, 864, 625, "720x576", False),
}  # fmt: skip
_WIDE_HZ = Fraction(74_250_000)
_NAMED_WIDE = {
    "720p": (_WIDE_HZ, 1650, 750, "1280x720", False), "720p50": (_WIDE_HZ, 1980, 750, "1280x720", False),
    "1080i": (_WIDE_HZ, 2200, 1125, "1920x1080", True), "1080i50": (_WIDE_HZ, 2640, 1125, "1920x1080", True),
    "1080p": (2 * _WIDE_HZ, 2200, 1125, "1920x1080", False),
}  # fmt: skip
# clocks that machines derive theirs from, by name (BT.1700, BT.601)
_CLOCKS = {"ntsc": CARRIERS_HZ["ntsc"], "pal": CARRIERS_HZ["pal"], "bt601": _BT601_HZ}
_CLOCK_NAMES = {"ntsc": "the 525-line colour carrier", "pal": "the 625-line colour carrier", "bt601": "BT.601’s"}
_BY_NAME = re.compile(
    r"(?:(?P<a>\d+(?:/\d+)?)\s*[x×*]\s*)?(?P<clock>ntsc|pal|bt601)\b(?:\s*[x×*]\s*(?P<b>\d+(?:/\d+)?))?", re.IGNORECASE
)
_MOST_PART, _SNAP = 16, Fraction(1, 50_000)  # parts of a carrier looked for, and how near a typed clock must lie
_FIGURE = re.compile(r"(?P<n>\d+(?:\.\d+)?(?:/\d+)?)\s*(?P<unit>mhz|khz|hz|dots?|lines?)(?![a-z])", re.IGNORECASE)
_SIZE = re.compile(r"(?<![\d.])(\d{2,4})\s*[x×]\s*(\d{2,4})(?!\d)")
_HELP = "write 480i, 640x480@60, or figures: 5.3693 MHz (or 3/2 x ntsc) 341.25 dots 262 lines 256x224"
# the picture such totals usually carry, where nobody typed it: DMT, CTA-861; 440 of 24 kHz machines (common practice)
_OF_TOTALS: Mapping[tuple[int, bool], str] = {
    (440, False): "640x400", (449, False): "640x400", (525, False): "640x480", (625, False): "720x576",
    (628, False): "800x600", (750, False): "1280x720", (806, False): "1024x768", (1066, False): "1280x1024",
    (1125, False): "1920x1080", (1125, True): "1920x1080",
}  # fmt: skip
_TELEVISION_LINES = frozenset({262, 263, 312, 313})


@dataclass(frozen=True, slots=True)
class Typed:
    """A signal read; guessed: what stands in for figures nobody gave, empty where all are there."""

    scan: Scan
    guessed: str = ""


_CARRIED: Mapping[str, tuple[str, Colour]] = {
    "pal": ("288p", "pal"), "ntsc": ("240p", "ntsc"), "secam": ("288p", "secam"), "pal60": ("240p", "pal_525"),
}  # fmt: skip
_USUAL_HZ = {
    "240p": 60,
    "480i": 60,
    "480p": 60,
    "288p": 50,
    "576i": 50,
    "576p": 50,
    "720p": 60,
    "1080i": 60,
    "1080p": 60,
}


def _said(plain: str) -> str:
    """A name with its rate behind it (`288p50`, `480i 60 hz`) as the name alone, where the rate is that name’s own."""
    named = re.fullmatch(r"(\d{3,4}[pi])\s*(\d{2})(?:\s*hz)?", plain)
    return (
        named[1] if named and _USUAL_HZ.get(named[1]) == int(named[2]) else plain.replace(" ", "") if named else plain
    )


def typed(text: str) -> Typed:
    """Raises SignalError with what is missing."""
    plain = _said(text.strip().lower())
    if plain in _CARRIED:
        name, colour = _CARRIED[plain]
        scan = typed(name).scan.model_copy(update={"colour": colour})
        return Typed(
            scan, f"{COLOURS[colour]} says only how colour is carried: taken for {name}, with BT.601’s dot clock"
        )
    if plain in _NAMED:
        clock, dots, lines, active, interlaced = _NAMED[plain]
        return Typed(_scan(clock, Fraction(dots), lines, active, interlaced, shape="4:3"), "its dot clock: BT.601’s")
    if plain in _NAMED_WIDE:
        clock, dots, lines, active, interlaced = _NAMED_WIDE[plain]
        return Typed(_scan(clock, Fraction(dots), lines, active, interlaced, "on_luma", "16:9"))
    if "@" in plain:
        return Typed(_of_mode(plain))
    return _of_figures(text)


def _of_mode(text: str) -> Scan:
    t = timing_of(text)
    if t is None or t.mode != text:
        raise SignalError(f"no timing is known for {text!r}; {_HELP}")
    lines = int(t.v_total * (2 if t.interlaced else 1))
    shape = "16:9" if is_wide(t.h_active, t.frame_height) else None
    return _scan(Fraction(t.pixel_clock_hz), Fraction(t.h_total), lines, f"{t.h_active}x{t.frame_height}",
                 t.interlaced, "two_wires", shape)  # fmt: skip


def _of_figures(text: str) -> Typed:
    found: dict[str, Fraction] = {}
    loose: dict[str, Fraction] = {}  # by how much a figure may be off, as it was rounded when it was typed
    for m in _FIGURE.finditer(text):
        over, _, under = m["n"].partition("/")
        if under and not Fraction(under):
            raise SignalError(f"{m['n']} divides by 0; {_HELP}")
        unit = m["unit"].lower().rstrip("s")
        found.setdefault(unit, Fraction(over) / Fraction(under or 1))
        loose.setdefault(unit, Fraction(0) if under else Fraction(1, 2 * 10 ** len(over.partition(".")[2])))
    left = _FIGURE.sub(" ", text)
    named = _BY_NAME.search(left)
    left = _BY_NAME.sub(" ", left, count=1)
    size = _SIZE.search(left)
    rest = _SIZE.sub(" ", left, count=1).replace(",", " ").split()
    interlaced = "interlaced" in [w.lower() for w in rest]
    strange = [w for w in rest if w.lower() not in ("interlaced", "progressive")]
    if strange:
        raise SignalError(f"{strange[0]!r} is not understood; {_HELP}")
    clock, dots = _hz(found, "mhz", 1_000_000), found.get("dot")
    guessed = ""
    if named is not None:
        clock = _named_clock(named)
    elif clock is not None and loose["mhz"]:
        clock, guessed = _exact_clock(clock)
    line = _hz(found, "khz", 1000) or (clock / dots if clock and dots else None)
    if line is None:
        raise SignalError(f"the line rate is missing: give kHz, or MHz and dots; {_HELP}")
    known_lines = found.get("line")
    if known_lines is None and "hz" in found:
        off = loose["hz"] / found["hz"] + (loose["khz"] / found["khz"] if "khz" in found else 0)
        known_lines = Fraction(_whole_lines(line / found["hz"], off, interlaced))
    picture = f"{size[1]}x{size[2]}" if size else _OF_TOTALS.get((int(known_lines or 0), interlaced), "")
    if dots is None and clock is None:
        dots, guessed = _guessed_dots(line, int(picture.split("x")[0]) if picture else 0)
    elif dots is None and clock is not None:
        dots = clock / line
    assert dots is not None
    lines = known_lines
    if lines is None or lines.denominator != 1:
        raise SignalError(f"lines a frame are missing, or Hz; {_HELP}")
    active = picture or _usual_picture(dots, lines, interlaced)
    if picture and not size:
        guessed = f"{guessed}; its picture: {picture}" if guessed else f"its picture: {picture}"
    width, height = (int(n) for n in active.split("x"))
    shape = "16:9" if is_wide(width, height) else "4:3" if clock is None else None
    return Typed(_scan(dots * line, dots, int(lines), active, interlaced, shape=shape), guessed)


def _named_clock(m: re.Match[str]) -> Fraction:
    """`3/2 x ntsc`: a clock as machines derive it."""
    parts = [m[k] for k in ("a", "b") if m[k]]
    if any(p.endswith("/0") for p in parts):
        raise SignalError(f"{m[0].strip()} divides by 0; {_HELP}")
    return _CLOCKS[m["clock"].lower()] * prod((Fraction(p) for p in parts), start=Fraction(1))


def _exact_clock(typed_hz: Fraction) -> tuple[Fraction, str]:
    """A typed clock as the simple part of a colour carrier or of BT.601's that it was rounded from; else as typed."""
    parts = sorted({Fraction(n, d) for n in range(1, _MOST_PART + 1) for d in range(1, 9)}, key=lambda p: p.denominator)
    for name, base in _CLOCKS.items():
        for part in parts:
            if abs(base * part - typed_hz) <= typed_hz * _SNAP:
                return base * part, "" if base * part == typed_hz else f"its dot clock: {part} of {_CLOCK_NAMES[name]}"
    return typed_hz, ""


def _guessed_dots(line_hz: Fraction, width: int) -> tuple[Fraction, str]:
    """Dots a line where no clock was typed: BT.601's, or so many that the typed picture fills a line as its does."""
    dots = _BT601_HZ * (2 if line_hz > 25_000 else 1) / line_hz
    share = _PICTURE["525"][0]
    if width <= dots * share:
        return dots, "its dot clock: BT.601’s"
    return width / share, f"its dot clock: {width} dots fill a line as far as BT.601’s do"


def _whole_lines(quotient: Fraction, off: Fraction, interlaced: bool) -> int:
    """Lines a frame out of line rate over vertical rate: a total that is in use, as far as the typed figures allow,
    else the nearest; odd where two fields share a frame.

    Sources: BT.1700 (525, 625), low-resolution modes of whole lines, CTA-861 and DMT totals.
    """
    exact = quotient * 2 if interlaced else quotient
    known = [n for n in _known_totals(interlaced) if abs(n - exact) <= exact * off]
    if known:
        return min(known, key=lambda n: (abs(n - exact), n))
    if not interlaced:
        return round(exact)
    return 2 * int(exact // 2) + 1


@cache
def _known_totals(interlaced: bool) -> tuple[int, ...]:
    timings = [t for t in (*map(cta_timing, VICS), *map(dmt_timing, DMT_IDS)) if t.interlaced == interlaced]
    totals = {int(t.v_total * (2 if interlaced else 1)) for t in timings if t.half_line}
    return tuple(sorted(totals | (set() if interlaced else _TELEVISION_LINES)))


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
