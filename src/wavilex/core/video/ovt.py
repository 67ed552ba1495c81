"""Optimised video timings of CTA-861.6: the least clock that leaves room for sound and for the sink's work.

Value from memory of the document, with the steps' order and roundings settled by comparison: tests hold a grid
of sizes and rates against `edid-decode --ovt`. Rates of one family (48, 50 and 60 Hz) share clock and line
rate, so that a switch between them only changes the vertical blanking.
"""

from __future__ import annotations

from fractions import Fraction
from math import ceil, lcm

from wavilex.core.errors import TimingError
from wavilex.core.video.cvt import check_limits
from wavilex.core.video.timing import Timing

_FAMILIES = ((24, 25, 30), (48, 50, 60), (100, 120), (200, 240), (300, 360), (400, 480))
_MIN_V_BLANK = Fraction(460, 1_000_000)  # seconds
_SYNC_AND_BACK = Fraction(400, 1_000_000)  # seconds from sync's start to the picture, rounded up to lines
_V_SYNC, _H_SYNC, _H_BACK = 8, 32, 32
_MIN_H_BLANK = 80
_STEP = 8  # pixels a line grows by
_CLOCK_STEP_HZ = 1_000
_HALVED_FROM_HZ = 590_000_000  # above it the blanking must hold its sound in 4:2:0 too, at half the clock
_PACKET_RATE_HZ = 195_000  # 192 kHz of samples and a margin
_PACKET = 32


def ovt_timing(width: int, height: int, rate: Fraction) -> Timing:
    """The optimised timing of a progressive picture; rates are whole Hz or 1000/1001 of one.

    Raises TimingError outside the limits or for another rate.
    """
    code = f"ovt:{width}x{height}@{rate}"
    check_limits(width, height, rate, code)
    pulled = rate.denominator == 1001
    hz = round(rate)
    if rate != (Fraction(hz * 1000, 1001) if pulled else hz):
        raise TimingError(f"optimised timings have whole rates or 1000/1001 of one, not {rate} Hz", where=code)
    family = next((f for f in _FAMILIES if hz in f), (hz,))
    top = family[-1]
    lines = lcm(*(Fraction(top, r).denominator for r in family))  # so that every rate has whole lines
    if top * _MIN_V_BLANK >= 1:
        raise TimingError("no time for a picture at this rate", where=code)
    clock_hz, h_total, v_total = _least_clock(width, height, top, lines)
    v_total_here = v_total * top // hz
    v_back = max(1, ceil(v_total * top * _SYNC_AND_BACK) - _V_SYNC)
    v_front = v_total_here - height - _V_SYNC - v_back
    if v_front < 1:
        raise TimingError("too small and slow for optimised timings", where=code)
    if pulled:
        clock_hz = round(Fraction(clock_hz * 1000, 1001))
    return Timing(
        code, "OVT", width, h_total - width - _H_SYNC - _H_BACK, _H_SYNC, _H_BACK,
        height, v_front, _V_SYNC, v_back, clock_hz, Fraction(clock_hz, h_total * v_total_here),
    )  # fmt: skip


def _least_clock(width: int, height: int, top: int, lines: int) -> tuple[int, int, int]:
    """Clock in Hz, pixels a line, lines a frame: the least clock over all frame heights that can still win."""
    v_total = ceil(height / (1 - top * _MIN_V_BLANK) / lines) * lines
    packets = ceil(Fraction(_PACKET_RATE_HZ, v_total * top))
    blank = _PACKET + _PACKET * packets
    full = ceil(Fraction(width + max(_MIN_H_BLANK, blank), _STEP)) * _STEP
    halved = max(full, width + 2 * blank)
    best: tuple[int, int, int] | None = None
    while best is None or width * v_total * top <= best[0]:
        found = _line(full, v_total * top)
        if found is None or found * v_total * top > _HALVED_FROM_HZ:
            found = _line(halved, v_total * top)
        if found is not None and (best is None or found * v_total * top < best[0]):
            best = (found * v_total * top, found, v_total)
        v_total += lines
    return best


def _line(least: int, line_hz: int) -> int | None:
    """Pixels a line from `least` on, in steps, at which the clock is a whole number of kHz; None: at none."""
    for h_total in range(least, least + _STEP * _CLOCK_STEP_HZ, _STEP):
        if h_total * line_hz % _CLOCK_STEP_HZ == 0:
            return h_total
    return None
