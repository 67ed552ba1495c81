"""Timings made from others: pixels repeated for slow pictures, and fast vertical active.

An address carries them as a suffix: `vic:16+fva2`, `modeline:13.5 720 …+rep2`.
"""

from __future__ import annotations

from dataclasses import replace

from wavilex.core.errors import TimingError
from wavilex.core.video.timing import Timing

MOST_REPEATED = 10  # HDMI 1.4b: a pixel is sent 1 to 10 times; value from memory
MOST_FVA = 16  # HDMI 2.1: the factor less one travels in four bits; value from memory


def repeated(t: Timing, times: int) -> Timing:
    """Each pixel sent `times` times: widths and clock grow, rates stay. Raises TimingError.

    Source: HDMI 1.4b, pixel repetition; value from memory.
    """
    if not 2 <= times <= MOST_REPEATED:
        raise TimingError(f"a pixel is repeated 2 to {MOST_REPEATED} times, not {times}", where=t.code)
    return replace(
        t, code=f"{t.code}+rep{times}", h_active=t.h_active * times, h_front=t.h_front * times,
        h_sync=t.h_sync * times, h_back=t.h_back * times, pixel_clock_hz=t.pixel_clock_hz * times,
    )  # fmt: skip


def fast_vertical_active(t: Timing, times: int) -> Timing:
    """The picture sent `times` as fast with the rest of the frame blank: the clock grows, the rate stays.

    The added lines go to the vertical front porch. The link must carry the grown clock, and the picture is
    whole after 1/times of the time. Raises TimingError. Source: HDMI 2.1; value from memory [medium certainty].
    """
    if not 2 <= times <= MOST_FVA:
        raise TimingError(f"fast vertical active multiplies by 2 to {MOST_FVA}, not {times}", where=t.code)
    if t.interlaced:
        raise TimingError("fast vertical active is for progressive timings", where=t.code)
    return replace(
        t, code=f"{t.code}+fva{times}", v_front=t.v_front + int(t.v_total) * (times - 1),
        pixel_clock_hz=t.pixel_clock_hz * times,
    )  # fmt: skip


def least_repetition(t: Timing, floor_hz: int) -> int | None:
    """How often each pixel must be sent for the clock to reach `floor_hz`; None when no repetition does."""
    times = -(-floor_hz // t.pixel_clock_hz)
    return times if times <= MOST_REPEATED else None
