"""The TMDS rule: character rate against the lower ceiling, and room for sound in the blanking.

Source: HDMI 1.4b and 2.0; value from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.link.rates import TMDS_MIN_HZ, Stop
from wavilex.core.video.signal import Demand
from wavilex.core.video.worst import PACKET_CHARACTERS

TMDS_CONTROL_CHARACTERS = 30  # blanking characters kept for control, about [medium certainty]


@dataclass(frozen=True, slots=True)
class TmdsUse:
    """Character rate over ceiling; `blocked_by` is None when it fits."""

    ceiling_hz: int
    character_rate_hz: Fraction
    used: Fraction
    blocked_by: Stop | None


def blank_needed(need: Demand) -> int:
    """Characters of a line's blanking that control and sound ask."""
    return TMDS_CONTROL_CHARACTERS + PACKET_CHARACTERS * need.tmds_audio_packets


def tmds_use(need: Demand, ceiling_hz: int, *, with_sound: bool = True) -> TmdsUse:
    """Judge a demand against a TMDS ceiling in Hz, above 0; DVI carries no sound and keeps no room for it."""
    rate = need.tmds_rate_hz
    blocked: Stop | None = None
    if rate > ceiling_hz:
        blocked = "rate"
    elif rate < TMDS_MIN_HZ:
        blocked = "below_minimum_clock"
    elif with_sound and need.tmds_audio_packets and need.blank_characters < blank_needed(need):
        blocked = "no_audio_room"
    return TmdsUse(ceiling_hz, rate, rate / ceiling_hz, blocked)
