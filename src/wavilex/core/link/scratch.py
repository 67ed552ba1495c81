"""A link without a job: two ends, a lead, a signal. The whole answer and what else the link carries."""

from __future__ import annotations

from typing import Any

from wavilex.core.errors import SignalError
from wavilex.core.link.answer import quantity_data
from wavilex.core.link.cable import GRADES
from wavilex.core.link.check import Capacity, End, LinkVerdict, capacity, check_link
from wavilex.core.link.dsc import DscSink
from wavilex.core.link.rates import NO_FRL, parse_over
from wavilex.core.link.sums import ceiling_text, line_data, link_sums, plain_count, source_of, verdict_sentence
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand, encoding_name, mode_name

COLUMNS = (("rgb", 8), ("rgb", 10), ("rgb", 12), ("422", 12), ("420", 10))
TIMINGS = (
    "cvt:3840x2160@240:rb2", "cvt:3840x2160@144:rb2", "vic:118", "vic:97", "cvt:2560x1440@240:rb2",
    "cvt:2560x1440@144:rb2", "cvt:2560x1440@120:rb1", "cvt:1920x1080@240:rb2", "vic:63", "vic:16",
)  # fmt: skip
_FULL_TMDS_HZ = 600_000_000
_WHERE = {"out": "the sending end", "lead": "the lead", "in": "the receiving end"}


def column_data() -> list[dict[str, Any]]:
    """The table's columns as plain data: RGB and 4:4:4 weigh the same and share theirs."""
    return [{"encoding": e, "bits": b, "name": "RGB, 4:4:4" if e == "rgb" else encoding_name(e)} for e, b in COLUMNS]


def end_of(text: str) -> End:
    """`frl:4x10` or `tmds:600` as one end of a link; an FRL end takes TMDS to 600 MHz too. Raises SignalError."""
    tmds_hz, frl = parse_over(text)
    return End(_FULL_TMDS_HZ if tmds_hz is None else tmds_hz, frl)


def scratch_capacity(out: str, grade: str, length_mm: int | None, inp: str) -> Capacity:
    """What the two ends and the lead carry together. Raises SignalError."""
    if grade not in GRADES:
        raise SignalError(f"certification is one of {', '.join(GRADES)}, not {grade!r}", where="grade")
    return capacity(end_of(out), GRADES[grade], end_of(inp), length_mm)


def scratch_link(
    out: str, grade: str, length_mm: int | None, inp: str,
    timing: str, encoding: str, bits: int, audio: str, *, compressed: bool,
) -> dict[str, Any]:  # fmt: skip
    """Everything about one signal over the link, and the table of usual modes over it, as plain data."""
    cap = scratch_capacity(out, grade, length_mm, inp)
    sink = DscSink() if compressed else None
    signal = DigitalVideo(parse_timing(timing), encoding, bits, audio)
    link = check_link(demand(signal), cap, sink)
    codes = sorted({timing, *TIMINGS}, key=lambda c: (-parse_timing(c).pixel_clock_hz, c))
    return {
        "signal": signal.name,
        "verdict": link.verdict,
        "sentence": verdict_sentence(link),
        "used_percent": link.used_percent,
        "ceiling": ceiling_text(cap.tmds_hz, cap.frl),
        "limited_by": _limited_by(cap, link),
        "quantities": [quantity_data(q) for q in link_sums(link)],
        "source": source_of(link),
        "line": line_data(link),
        "plain_count": plain_count(link),
        "rows": [{**_row(code, cap, audio, sink), "wanted": code == timing} for code in codes],
    }


def _limited_by(cap: Capacity, link: LinkVerdict) -> str:
    part = cap.frl_by if link.transport == "frl" or (cap.frl == NO_FRL and link.verdict == "blocked") else cap.tmds_by
    return _WHERE.get(part, "")


def _row(code: str, cap: Capacity, audio: str, sink: DscSink | None) -> dict[str, Any]:
    t = parse_timing(code)
    cells = []
    for encoding, bits in COLUMNS:
        v = check_link(demand(DigitalVideo(t, encoding, bits, audio)), cap, sink)
        cells.append(
            {"encoding": encoding, "bits": bits, "verdict": v.verdict, "used_percent": v.used_percent,
             "stopped_by": v.blocked_by}
        )  # fmt: skip
    return {
        "mode": t.mode, "name": mode_name(t.mode), "width": t.h_active, "height": t.frame_height, "hz": t.nominal_hz,
        "timing": code, "family": t.family, "cells": cells,
    }  # fmt: skip
