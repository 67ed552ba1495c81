"""A link without a job: two ends, a lead, a signal. The whole answer and what else the link carries."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wavilex.core.errors import SignalError
from wavilex.core.link.answer import quantity_data
from wavilex.core.link.cable import BUILDS, GRADES, POWERS, Cable, check_proofs
from wavilex.core.link.check import Capacity, End, LinkVerdict, cable_capacity, check_link
from wavilex.core.link.dsc import DscSink
from wavilex.core.link.rates import NO_FRL, ceiling_text, parse_over
from wavilex.core.link.shapes import CellOut, ColumnOut, ComparedOut, RowOut, ScratchOut
from wavilex.core.link.sides import cell_differences, with_common_figures
from wavilex.core.link.sums import line_data, link_sums
from wavilex.core.link.table import cell_data, row_data
from wavilex.core.link.words import cable_text, plain_count, source_of, verdict_sentence
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import HDR_BITS, DigitalVideo, demand, encoding_name

COLUMNS = (("rgb", 8), ("rgb", 10), ("rgb", 12), ("422", 12), ("420", 10))
TIMINGS = (
    "cvt:3840x2160@240:rb2", "cvt:3840x2160@144:rb2", "vic:118", "vic:97", "cvt:2560x1440@240:rb2",
    "cvt:2560x1440@144:rb2", "cvt:2560x1440@120:rb1", "cvt:1920x1080@240:rb2", "vic:63", "vic:16",
)  # fmt: skip
_LEAST: Mapping[str, Literal["any", "422", "444"]] = {"rgb": "444", "422": "422", "420": "any"}
_FULL_TMDS_HZ = 600_000_000
_WHERE = {"out": "the sending end", "lead": "the lead", "in": "the receiving end"}


@dataclass(frozen=True, slots=True)
class LinkQuestion:
    """Ends as `frl:4x10` or `tmds:600`, the lead, the signal, and whether both ends compress."""

    out: str
    inp: str
    cable: Cable
    timing: str
    encoding: str
    bits: int
    audio: str = "2ch"
    compressed: bool = False

    def signal(self) -> DigitalVideo:
        return DigitalVideo(parse_timing(self.timing), self.encoding, self.bits, self.audio)


def column_data() -> list[ColumnOut]:
    """The table's columns as plain data: RGB and 4:4:4 weigh the same and share theirs.

    `chroma` is the least a want names when it asks for a column's signal.
    """
    return [
        {
            "encoding": e,
            "bits": b,
            "name": "RGB, 4:4:4" if e == "rgb" else encoding_name(e),
            "chroma": _LEAST[e],
            "deep": b >= HDR_BITS,
            "full": e == "rgb",
        }
        for e, b in COLUMNS
    ]


def end_of(text: str) -> End:
    """`frl:4x10` or `tmds:600` as one end of a link; an FRL end takes TMDS to 600 MHz too. Raises SignalError."""
    tmds_hz, frl = parse_over(text)
    return End(_FULL_TMDS_HZ if tmds_hz is None else tmds_hz, frl)


def _capacity(ask: LinkQuestion) -> Capacity:
    """What the two ends and the lead carry together. Raises SignalError."""
    c = ask.cable
    for what, value, known in (("grade", c.grade, GRADES), ("build", c.build, BUILDS), ("power", c.power, POWERS)):
        if value not in known:
            raise SignalError(f"a lead's {what} is one of {', '.join(known)}, not {value!r}", where=what)
    check_proofs(c.proved, c.failed)
    return cable_capacity(end_of(ask.out), c, end_of(ask.inp), DscSink() if ask.compressed else None)


def scratch_link(ask: LinkQuestion) -> ScratchOut:
    """Everything about one signal over the link, and the table of usual modes over it, as plain data."""
    cap = _capacity(ask)
    signal = ask.signal()
    link = check_link(demand(signal), cap)
    others = [c for c in TIMINGS if parse_timing(c).mode != signal.timing.mode]
    codes = sorted([ask.timing, *others], key=lambda c: (-parse_timing(c).pixel_clock_hz, c))
    return {
        "signal": signal.name,
        "modeline": signal.timing.modeline,
        "verdict": link.verdict,
        "sentence": verdict_sentence(link),
        "used_percent": link.used_percent,
        "ceiling": ceiling_text(cap.tmds_hz, cap.frl),
        "limited_by": _limited_by(cap, link),
        "quantities": [quantity_data(q) for q in link_sums(link)],
        "source": source_of(link),
        "line": line_data(link),
        "plain_count": plain_count(link),
        "columns": column_data(),
        "rows": [_row(code, cap, ask.audio, code == ask.timing) for code in codes],
    }


def compare_links(a: LinkQuestion, b: LinkQuestion) -> ComparedOut:
    """Two links side by side, differences first: what was asked, the verdicts, the figures, the tables' cells."""
    one, two = scratch_link(a), scratch_link(b)
    return {
        "rows": with_common_figures(_words(a, one), figure_words(one), _words(b, two), figure_words(two)),
        "cells": cell_differences(one["rows"], two["rows"], column_data()),
    }


def _words(ask: LinkQuestion, told: ScratchOut) -> dict[str, str]:
    timing = parse_timing(ask.timing)
    length_mm = ask.cable.length_mm
    return {
        "answer": told["sentence"],
        "sending end": ceiling_text(*parse_over(ask.out)),
        "lead": cable_text(ask.cable),
        "lead’s length": f"{length_mm / 1000:g} m" if length_mm else "not measured",
        "receiving end": ceiling_text(*parse_over(ask.inp)),
        "link carries": told["ceiling"],
        "signal": told["signal"],
        "timing": f"{timing.code} ({timing.family})",
        "sound": ask.signal().sound.name,
        "compression": "allowed" if ask.compressed else "not allowed",
    }


def figure_words(told: ScratchOut) -> dict[str, str]:
    """The sums of an answer as named words."""
    return {q["name"]: q["text"] for q in told["quantities"]}


def _limited_by(cap: Capacity, link: LinkVerdict) -> str:
    part = cap.frl_by if link.transport == "frl" or (cap.frl == NO_FRL and link.verdict == "blocked") else cap.tmds_by
    return "the lead" if cap.dead else _WHERE.get(part, "")


def _row(code: str, cap: Capacity, audio: str, wanted: bool) -> RowOut:
    t = parse_timing(code)
    cells: list[CellOut] = []
    for encoding, bits in COLUMNS:
        v = check_link(demand(DigitalVideo(t, encoding, bits, audio)), cap)
        cells.append(cell_data(encoding, bits, v.verdict, v.used_percent, v.blocked_by))
    return row_data(t, code, wanted, cells)
