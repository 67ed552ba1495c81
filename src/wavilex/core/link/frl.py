"""The FRL capacity procedure: does a signal fit a fixed-rate link, and how much of it does it use?

Source: HDMI 2.1, FRL video transport; value from memory. Steps are numbered as the document's.
All sums are in whole numbers: some real modes land at 0.9998 of a line.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from wavilex.core.link.rates import FrlRate, Stop
from wavilex.core.video.signal import Demand
from wavilex.core.video.worst import CLOCK_BASE, fewest_characters, shortest_line, slowest_lane

MOST_BORROWED_TRIBYTES = 400  # [medium certainty]
# what of a line is too small: the whole of it, blanking's own share, or what a picture may borrow from blanking
Shortage = Literal["line", "blanking", "borrowing"]


@dataclass(frozen=True, slots=True)
class FrlUse:
    """The sums of one line over one FRL step, for the answer and for showing.

    line_us is the shortest line in µs, characters the least the link carries in it, overhead and used
    fractions of those characters (used includes the overhead). `blocked_by` is None when it fits; where it is the
    rate, `short_of` says which of its three tests fails. blank_share_tribytes: what blanking's own share holds.
    """

    rate: FrlRate
    line_us: Fraction
    character_rate_hz: Fraction
    characters: int
    picture_characters: int
    blank_characters: int
    saved_characters: int
    overhead: Fraction
    used: Fraction
    borrowed_tribytes: Fraction
    blocked_by: Stop | None
    short_of: Shortage | None = None
    blank_share_tribytes: int = 0


@lru_cache(maxsize=64)
def overhead(lanes: int) -> Fraction:
    """Step 1: share of characters lost to super blocks, error correction, mapping and 0.3 % margin."""
    return Fraction(2 * lanes + 2 * 32 + 5, 2 * (4 * 510 + lanes)) + Fraction(3, 1000)


def frl_use(need: Demand, rate: FrlRate) -> FrlUse:
    """Steps 1 to 7 for a demand over an FRL step."""
    t = need.signal.timing
    lost = overhead(rate.lanes)
    line_num, line_den = shortest_line(t)
    char_num, char_den = slowest_lane(rate.lane_gbps)
    characters = fewest_characters(t, rate.lanes, rate.lane_gbps)
    # step 5: shares of the line in time, with eff = lanes · r_char · (1 − ovh)
    eff_num = rate.lanes * char_num * (lost.denominator - lost.numerator)
    eff_den = char_den * lost.denominator
    blank_ok = t.h_blank * CLOCK_BASE * eff_num >= need.tb_blank * line_den * eff_den
    share_num = t.h_active * CLOCK_BASE * eff_num  # characters in the active share = this / share_den
    share_den = line_den * eff_den
    over = 3 * need.tb_active * share_den - 2 * share_num  # twice (1.5·TB − share), scaled
    # the time borrowed, at the signal's mean tri-byte rate: (TB_active + TB_blank) / T_line
    borrowed_num, borrowed_den = over * (need.tb_active + need.tb_blank), 2 * eff_num * line_num
    borrow_ok = borrowed_num <= MOST_BORROWED_TRIBYTES * borrowed_den
    # step 7
    picture = -(-3 * need.tb_active // 2)
    together = picture + need.tb_blank - need.saved
    used_ok = together * lost.denominator + lost.numerator * characters <= characters * lost.denominator
    used = (
        Fraction(together * lost.denominator + lost.numerator * characters, characters * lost.denominator)
        if characters
        else Fraction(10**6)
    )
    blocked: Stop | None = None
    short: Shortage | None = None if used_ok else "line"
    if used_ok and not (blank_ok and borrow_ok):
        short = "borrowing" if blank_ok else "blanking"
    if short is not None:
        blocked = "rate"
    elif need.tb_blank < need.blank_needed:  # step 4
        blocked = "no_audio_room" if need.audio_packets else "no_blanking_room"
    return FrlUse(
        rate=rate,
        line_us=Fraction(line_num * 1_000_000, line_den),
        character_rate_hz=Fraction(char_num, char_den),
        characters=characters,
        picture_characters=picture,
        blank_characters=need.tb_blank,
        saved_characters=need.saved,
        overhead=lost,
        used=used,
        borrowed_tribytes=Fraction(borrowed_num, borrowed_den) if over > 0 else Fraction(0),
        blocked_by=blocked,
        short_of=short,
        blank_share_tribytes=t.h_blank * CLOCK_BASE * eff_num // (line_den * eff_den),
    )


def frl_fits(need: Demand, rates: tuple[FrlRate, ...]) -> FrlRate | None:
    """The lowest of `rates` that carries the demand, or None."""
    return next((r for r in sorted(rates) if frl_use(need, r).blocked_by is None), None)
