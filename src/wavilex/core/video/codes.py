"""From an address (`vic:97@60000/1001`, `cvt:2560x1440@120:rb1`) to its timing."""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache

from wavilex.core.errors import TimingError
from wavilex.core.video.cta import VICS, cta_timing, hdmi_timing
from wavilex.core.video.cvt import cvt_timing
from wavilex.core.video.derived import fast_vertical_active, repeated
from wavilex.core.video.dmt import DMT_IDS, dmt_timing
from wavilex.core.video.gtf import gtf_timing
from wavilex.core.video.mode import Mode, parse_mode
from wavilex.core.video.modeline import parse_modeline
from wavilex.core.video.ovt import ovt_timing
from wavilex.core.video.timing import Timing

_VIC = re.compile(r"vic:(\d{1,3})(?:@(\S+))?$", re.ASCII)
_CVT = re.compile(r"cvt:(\d{1,5})x(\d{1,5})@([^:]+?)(?::(rb\d))?$", re.ASCII)
_HDMI = re.compile(r"hdmivic:(\d)$", re.ASCII)
_DMT = re.compile(r"dmt:0x([0-9a-fA-F]{1,2})$", re.ASCII)
_GTF = re.compile(r"gtf:(\d{1,5})x(\d{1,5})@(\S+)$", re.ASCII)
_OVT = re.compile(r"ovt:(\d{1,5})x(\d{1,5})@(\S+)$", re.ASCII)
_DERIVED = re.compile(r"(.+)\+(fva|rep)(\d{1,2})$", re.ASCII)
_RATE = re.compile(r"\d{1,7}(?:/\d{1,5}|\.\d{1,6})?$", re.ASCII)


_REDUCED_BLANK = 160  # pixels of a line's blanking in reduced-blanking timings (CVT 1.1), at most


@lru_cache(maxsize=4096)
def parse_timing(text: str) -> Timing:
    """The timing an address stands for. Raises TimingError with what was expected."""
    if (m := _DERIVED.match(text)) and not _DERIVED.match(m[1]):
        return (fast_vertical_active if m[2] == "fva" else repeated)(parse_timing(m[1]), int(m[3]))
    if m := _VIC.match(text):
        return cta_timing(int(m[1]), _rate(m[2], text) if m[2] else None)
    if m := _HDMI.match(text):
        return hdmi_timing(int(m[1]))
    if m := _DMT.match(text):
        return dmt_timing(int(m[1], 16))
    if m := _GTF.match(text):
        return gtf_timing(int(m[1]), int(m[2]), _rate(m[3], text))
    if m := _OVT.match(text):
        return ovt_timing(int(m[1]), int(m[2]), _rate(m[3], text))
    if text.startswith("modeline:"):
        return parse_modeline(text.removeprefix("modeline:"))
    if m := _CVT.match(text):
        return cvt_timing(int(m[1]), int(m[2]), _rate(m[3], text), m[4] or "rb0")
    raise TimingError(f"{text!r} is no timing; write vic:97, vic:97@60000/1001 or cvt:2560x1440@120:rb1", where="")


def names_mode(code: str, mode: Mode) -> bool:
    """Is a listed timing (`vic:16`) or mode (`1920x1080@60`) of this mode?"""
    return code == mode or (":" in code and parse_timing(code).mode == mode)


def listed_timing(text: str) -> Timing:
    """What an entry of a list of modes stands for, in either spelling. Raises TimingError.

    `vic:97` is a timing by its address; `3840x2160@60` a mode, as it usually travels.
    """
    return parse_timing(text) if ":" in text else usual_timing(parse_mode(text))


def _rate(text: str, where: str) -> Fraction:
    if not _RATE.match(text):
        raise TimingError(f"{text!r} is no refresh rate; write 60, 59.94 or 60000/1001", where=where)
    numerator, _, denominator = text.partition("/")
    if denominator and int(denominator) == 0:
        raise TimingError("a rate cannot be divided by zero", where=where)
    return Fraction(text) if not denominator else Fraction(int(numerator), int(denominator))


@lru_cache(maxsize=1024)
def usual_timing(mode: Mode) -> Timing:
    """The timing a mode usually travels as when the sink's list does not say.

    The CTA code where one exists (consoles and televisions use those), else the monitor timing (DMT) whose blanking is
    not reduced, else CVT-RB2.
    Common practice; the sink's own list comes first wherever it is known.
    """
    for vic in VICS:
        timing = cta_timing(vic)
        if timing.mode == mode:
            return timing
    for number in DMT_IDS:
        timing = dmt_timing(number)
        if timing.mode == mode and timing.h_blank > _REDUCED_BLANK:
            return timing
    return cvt_timing(mode.width, mode.height, Fraction(mode.hz), "rb2")
