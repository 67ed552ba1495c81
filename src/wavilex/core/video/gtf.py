"""VESA generalised timing formula 1.1, default curve, progressive, no margins.

Value from memory of the document; step names follow its computation by vertical frame rate.
Tests compare with `edid-decode --gtf`.
"""

from __future__ import annotations

from fractions import Fraction
from math import floor

from wavilex.core.errors import TimingError
from wavilex.core.video.cvt import check_limits
from wavilex.core.video.timing import Timing

_CELL = 8
_MIN_PORCH = 1
_V_SYNC = 3
_MIN_VSYNC_BP = Fraction(550, 1_000_000)
_C, _M = 30, 300  # default curve: C', M'


def _nearest(value: Fraction) -> int:
    return floor(value + Fraction(1, 2))


def gtf_timing(width: int, height: int, rate: Fraction) -> Timing:
    """The GTF timing; widths are rounded to a multiple of 8, clocks to whole kHz. Raises TimingError."""
    code = f"gtf:{width}x{height}@{rate}"
    check_limits(width, height, rate, code)
    pixels = _nearest(Fraction(width, _CELL)) * _CELL
    if 1 / rate <= _MIN_VSYNC_BP:
        raise TimingError("no time for a picture at this rate", where=code)
    h_period_est = (1 / rate - _MIN_VSYNC_BP) / (height + _MIN_PORCH)
    sync_and_back = _nearest(_MIN_VSYNC_BP / h_period_est)
    v_total = height + sync_and_back + _MIN_PORCH
    h_period = 1 / (rate * v_total)
    duty = _C - _M * h_period * 1_000_000 / 1000
    h_blank = _nearest(pixels * duty / (100 - duty) / (2 * _CELL)) * 2 * _CELL
    h_total = pixels + h_blank
    h_sync = _nearest(Fraction(8, 100) * h_total / _CELL) * _CELL
    h_front = h_blank // 2 - h_sync
    clock_hz = _nearest(h_total / h_period / 1000) * 1000
    if min(h_front, h_sync, sync_and_back - _V_SYNC, clock_hz) < 1:
        raise TimingError("too small and slow for this formula", where=code)
    return Timing(
        code, "GTF", pixels, h_front, h_sync, h_front + h_sync,
        height, _MIN_PORCH, _V_SYNC, sync_and_back - _V_SYNC, clock_hz,
        Fraction(clock_hz, h_total * v_total), h_sync_positive=False, v_sync_positive=True,
    )  # fmt: skip
