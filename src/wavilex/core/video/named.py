"""Test signals by name: modes as elsewhere, and interlaced ones (`1920x1080i@60`)."""

from __future__ import annotations

import re
from functools import lru_cache

from wavilex.core.errors import TimingError
from wavilex.core.video.codes import usual_timing
from wavilex.core.video.cta import VICS, cta_timing
from wavilex.core.video.mode import parse_mode
from wavilex.core.video.timing import Timing

_INTERLACED = re.compile(r"\d+x\d+i@\d+")


@lru_cache(maxsize=256)
def timing_of(signal: str) -> Timing | None:
    """The timing a test signal usually has: its CTA code where there is one. None where its name is no mode."""
    for vic in VICS:
        timing = cta_timing(vic)
        if timing.mode == signal:
            return timing
    try:
        return usual_timing(parse_mode(signal)) if signal else None
    except TimingError:
        return None


def is_interlaced(signal: str) -> bool:
    """Does a test signal's name say that it is interlaced, also where it is of no known timing?"""
    timing = timing_of(signal)
    return timing.interlaced if timing is not None else _INTERLACED.fullmatch(signal) is not None


def shown(signal: str) -> str:
    """A signal's name for people (`1080i60`); as it was written where it is no mode."""
    timing = timing_of(signal)
    if timing is None:
        return signal
    if timing.interlaced:
        return f"{timing.frame_height}i{timing.nominal_hz}"
    return parse_mode(signal).name
