"""Which mode proves which rate: the shortest way to find out what a path really carries."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wavilex.core.link.frl import frl_fits
from wavilex.core.link.rates import FRL_RATES, FrlRate
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

# 2160p120 at rising depth steps through the upper rates: common practice. The lower ones by 2160p60 and 1440p120.
_LADDER = (
    ("vic:118", "444", 12), ("vic:118", "444", 10), ("vic:118", "444", 8), ("vic:97", "444", 10), ("vic:97", "422", 12),
    ("vic:63", "444", 8),
)  # fmt: skip
_UP_TO_48 = FRL_RATES[:6]


@dataclass(frozen=True, slots=True)
class Step:
    """A mode to try, and the lowest rate that carries it uncompressed."""

    signal: DigitalVideo
    timing: str
    rate: FrlRate


def proof_steps() -> list[Step]:
    """Modes to try from the top, each needing the next lower rate. With two channels of sound."""
    found: list[Step] = []
    for code, encoding, bits in _LADDER:
        signal = DigitalVideo(parse_timing(code), encoding, bits)
        rate = frl_fits(demand(signal), _UP_TO_48)
        if rate is not None and all(rate != s.rate for s in found):
            found.append(Step(signal, code, rate))
    return found


@dataclass(frozen=True, slots=True)
class Conclusion:
    """What the outcomes prove: at least `lowest`; under `below` when that is known. `determined` when both meet."""

    lowest: FrlRate | None
    below: FrlRate | None
    determined: bool
    sentence: str


def conclude(outcomes: Mapping[FrlRate, bool], *, compression_off: bool) -> Conclusion:
    """From which rates' modes stuck (True) or fell back (False). Nothing is proved while compression may be on."""
    if not compression_off:
        text = "Undetermined: a picture may have come compressed. Switch compression off and look again."
        return Conclusion(None, None, False, text)
    stuck = [r for r, yes in outcomes.items() if yes]
    fell = [r for r, yes in outcomes.items() if not yes]
    lowest, below = max(stuck, default=None), min(fell, default=None)
    if lowest is not None and below is not None and below <= lowest:
        text = "The outcomes contradict each other: a mode stuck that needs more than one that fell back. Try again."
        return Conclusion(None, None, False, text)
    rates = [s.rate for s in proof_steps()]
    between = [r for r in rates if (lowest is None or r > lowest) and (below is None or r < below)]
    top = lowest == max(rates)
    determined = top or (lowest is not None and below is not None and not between)
    parts = []
    if lowest is not None:
        parts.append(f"the path carries at least {lowest.name}")
    if below is not None:
        parts.append(f"it, or the source, stops under {below.name}")
    if not parts:
        return Conclusion(None, None, False, "Nothing tried yet.")
    text = " and ".join(parts)
    tail = "" if determined else f"; still open: {', '.join(r.name for r in between)}" if between else ""
    return Conclusion(lowest, below, determined, text[0].upper() + text[1:] + tail + ".")
