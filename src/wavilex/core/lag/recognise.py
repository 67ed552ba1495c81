"""How a screen handles kinds of signal, told from its lag: interlaced, low-resolution progressive, buffered frames.

Interlaced pictures cost more than progressive; low-resolution progressive ones are often taken for interlaced. Common
practice; the figures compared are this screen's own.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.lag.difference import Given, compare, equivalence

_HALF = Fraction(1, 2)


@dataclass(frozen=True, slots=True)
class Finding:
    """kind: a stable word; fields: how many fields or frames later; words: the sentence."""

    kind: str
    fields: float
    words: str


def interlaced(progressive: Given, interlaced_: Given, field_us: Fraction) -> Finding | None:
    """What a screen does with interlaced pictures: by how many fields they are later. None below six readings each."""
    d = compare(progressive, interlaced_)
    if d is None or d.ci_low_us is None or d.ci_high_us is None:
        return None
    fields = float(d.us / field_us)
    if d.ci_high_us < field_us * _HALF:
        return Finding("line_by_line", fields, "interlaced costs less than half a field: lines are filled in at once")
    if d.ci_low_us > field_us * _HALF:
        held = max(1, round(fields))
        words = f"interlaced is {fields:.1f} fields later: it holds {held} field{'' if held == 1 else 's'} to weave"
        return Finding("holds_fields", fields, words)
    return Finding("undecided", fields, "interlaced costs about half a field: take more readings")


def low_progressive(progressive: Given, interlaced_: Given, low: Given, field_us: Fraction) -> Finding | None:
    """Is low-resolution progressive taken for interlaced? If it lags as interlaced does, and not as progressive."""
    like_interlaced = equivalence(interlaced_, low)
    like_progressive = equivalence(progressive, low)
    apart = compare(progressive, interlaced_)
    if like_interlaced is None or like_progressive is None or apart is None or apart.ci_low_us is None:
        return None
    fields = float(like_progressive.difference.us / field_us)
    if apart.ci_low_us <= field_us * _HALF:
        return Finding("no_telling", fields, "interlaced and progressive lag alike here: lag cannot tell them apart")
    if like_interlaced.decision == "same" and like_progressive.decision == "changed":
        words = "low-resolution progressive lags as interlaced does: it is probably taken for interlaced"
        return Finding("as_interlaced", fields, words)
    if like_progressive.decision == "same":
        return Finding("as_progressive", fields, "low-resolution progressive lags as progressive does: taken as it is")
    return Finding("undecided", fields, "low-resolution progressive lies between the two: take more readings")


def buffers(processing_us: Fraction, frame_us: Fraction) -> Finding:
    """How many whole frames the screen holds back, by what is left when scan-out is taken off."""
    frames = int(processing_us // frame_us)
    if processing_us < frame_us * _HALF:
        return Finding("none", 0.0, "shows lines as they come: less than half a frame held back")
    if frames < 1:
        return Finding("part", float(processing_us / frame_us), "holds back part of a frame")
    share = float(processing_us / frame_us)
    return Finding("frames", share, f"holds back {frames} whole {'frame' if frames == 1 else 'frames'} at least")
