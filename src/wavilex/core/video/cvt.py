"""Coordinated video timings: normal blanking, reduced blanking 1, 2 and 3.

Source: VESA CVT 1.2 and 2.0; value from memory. Step numbers follow the document's computation of
normal and reduced blanking timing parameters. Tests compare with `edid-decode --cvt`.
"""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from math import ceil, floor

from wavilex.core.errors import TimingError
from wavilex.core.video.timing import Timing

_MICRO = Fraction(1, 1_000_000)
_CELL = 8  # pixels; CVT 1.2 table 2, normal and RB1
_CLOCK_STEP_HZ = 250_000  # normal and RB1
_CLOCK_STEP_RB2_HZ = 1_000
_MIN_V_FRONT = 3
_MIN_V_BACK = 7  # the newer text (1.2); the older says 6, which matters in small slow modes only
_MIN_VSYNC_BP = 550 * _MICRO
_MIN_V_BLANK = 460 * _MICRO
LIMITS = {"width": (64, 20480), "height": (64, 16384), "rate": (1, 1000)}
KINDS = ("rb0", "rb1", "rb2", "rb3")


def cvt_timing(width: int, height: int, rate: Fraction, kind: str) -> Timing:
    """The CVT timing of a progressive picture.

    Args:
        width, height: active pixels and lines; widths that are no multiple of 8 are rounded down
            for rb0 and rb1, as the document does.
        rate: wanted refresh in Hz; the one reached is a little lower, clocks being rounded down.
        kind: "rb0" normal, "rb1", "rb2", "rb3" (CVT 2.0, 80 pixels of blanking).
    Raises TimingError outside LIMITS or for another kind.
    """
    where = f"cvt:{width}x{height}@{rate}:{kind}"
    check_limits(width, height, rate, where)
    if kind not in KINDS:
        raise TimingError(f"blanking must be one of {', '.join(KINDS)}", where=where)
    make = {"rb0": _normal, "rb1": _reduced_1, "rb2": _reduced_2, "rb3": _reduced_3}[kind]
    timing = make(width, height, rate, where)
    if not timing.pixel_clock_hz or min(timing.h_front, timing.h_sync, timing.v_back) < 1:
        raise TimingError("too small and slow for this kind of blanking", where=where)
    return timing


def check_limits(width: int, height: int, rate: Fraction, where: str) -> None:
    """Raises TimingError outside LIMITS."""
    for name, value in (("width", width), ("height", height), ("rate", rate)):
        low, high = LIMITS[name]
        if not low <= value <= high:
            raise TimingError(f"{name} must be {low} to {high}", where=where)


def _sync_lines(width: int, height: int) -> int:
    """Vertical sync width by picture shape, lines (CVT 1.2 table 3-2)."""
    cells = width // _CELL * _CELL
    for shape_w, shape_h, lines in ((4, 3, 4), (16, 9, 5), (16, 10, 6), (5, 4, 7), (15, 9, 7)):
        if _CELL * (height * shape_w // shape_h // _CELL) == cells:
            return lines
    return 10


def _normal(width: int, height: int, rate: Fraction, code: str) -> Timing:
    width = width // _CELL * _CELL
    v_sync = _sync_lines(width, height)
    if 1 / rate <= _MIN_VSYNC_BP:
        raise TimingError("no time for a picture at this rate", where=code)
    h_period = (1 / rate - _MIN_VSYNC_BP) / (height + _MIN_V_FRONT)  # step 7, estimate, s
    sync_and_back = max(floor(_MIN_VSYNC_BP / h_period) + 1, v_sync + _MIN_V_BACK)  # step 8
    v_back = sync_and_back - v_sync  # step 9
    v_total = height + sync_and_back + _MIN_V_FRONT  # step 10
    duty = max(Fraction(30) - 300 * (h_period / _MICRO) / 1000, Fraction(20))  # step 12, percent
    h_blank = floor(width * duty / (100 - duty) / (2 * _CELL)) * 2 * _CELL  # step 13
    h_total = width + h_blank  # step 14
    clock = floor(h_total / h_period / _CLOCK_STEP_HZ) * _CLOCK_STEP_HZ  # step 15
    h_sync = floor(Fraction(8, 100) * h_total / _CELL) * _CELL  # step 17
    h_back = h_blank // 2
    refresh = Fraction(clock, h_total * v_total)
    return Timing(
        code, "CVT", width, h_blank - h_back - h_sync, h_sync, h_back,
        height, _MIN_V_FRONT, v_sync, v_back, clock, refresh,
        h_sync_positive=False, v_sync_positive=True,
    )  # fmt: skip


def _blank_lines(height: int, rate: Fraction, least: int, code: str) -> int:
    """Vertical blanking of reduced timings: at least 460 µs, at least `least` lines."""
    if 1 / rate <= _MIN_V_BLANK:
        raise TimingError("no time for a picture at this rate", where=code)
    h_period = (1 / rate - _MIN_V_BLANK) / height
    return max(floor(_MIN_V_BLANK / h_period) + 1, least)


def _reduced_1(width: int, height: int, rate: Fraction, code: str) -> Timing:
    width = width // _CELL * _CELL
    v_sync = _sync_lines(width, height)
    blank = _blank_lines(height, rate, _MIN_V_FRONT + v_sync + _MIN_V_BACK, code)
    h_total, v_total = width + 160, height + blank
    clock = floor(rate * v_total * h_total / _CLOCK_STEP_HZ) * _CLOCK_STEP_HZ
    return Timing(
        code, "CVT-RB1", width, 48, 32, 80,
        height, _MIN_V_FRONT, v_sync, blank - _MIN_V_FRONT - v_sync, clock,
        Fraction(clock, h_total * v_total), h_sync_positive=True, v_sync_positive=False,
    )  # fmt: skip


def _reduced_2(width: int, height: int, rate: Fraction, code: str) -> Timing:
    return _reduced(width, height, rate, code, "CVT-RB2", floor)


def _reduced_3(width: int, height: int, rate: Fraction, code: str) -> Timing:
    """CVT 2.0: as RB2, but the clock is rounded up, so that the rate is reached."""
    return _reduced(width, height, rate, code, "CVT-RB3", ceil)


def _reduced(
    width: int, height: int, rate: Fraction, code: str, family: str, to_step: Callable[[Fraction], int]
) -> Timing:
    v_sync, v_back = 8, 6
    blank = _blank_lines(height, rate, 1 + v_sync + v_back, code)
    h_total, v_total = width + 80, height + blank
    clock = to_step(rate * v_total * h_total / _CLOCK_STEP_RB2_HZ) * _CLOCK_STEP_RB2_HZ
    return Timing(
        code, family, width, 8, 32, 40,
        height, blank - v_sync - v_back, v_sync, v_back, clock,
        Fraction(clock, h_total * v_total), h_sync_positive=True, v_sync_positive=False,
    )  # fmt: skip
