"""A link without a job: two ends, a lead, a signal. The whole answer and what else the link carries."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from wavilex.core.link.answer import quantity_data
from wavilex.core.link.cable import Cable
from wavilex.core.link.check import Capacity, check_link
from wavilex.core.link.compression import NONE, compression_words, parse_compression
from wavilex.core.link.ends import ceilings, ends_capacity, limited_by
from wavilex.core.link.rates import ceiling_text, parse_over
from wavilex.core.link.shapes import CellOut, ColumnOut, ComparedOut, RowOut, ScratchOut
from wavilex.core.link.sides import cell_differences, with_common_figures
from wavilex.core.link.sums import line_data, link_sums
from wavilex.core.link.table import cell_data, room_of, row_data
from wavilex.core.link.words import cable_text, plain_count, source_of, verdict_sentence
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import HDR_BITS, DigitalVideo, demand, encoding_name

COLUMNS = (("rgb", 8), ("rgb", 10), ("rgb", 12), ("422", 12), ("420", 10))
TIMINGS = (
    "cvt:3840x2160@240:rb2", "cvt:3840x2160@144:rb2", "vic:118", "vic:97", "cvt:2560x1440@240:rb2",
    "cvt:2560x1440@144:rb2", "cvt:2560x1440@120:rb1", "cvt:1920x1080@240:rb2", "vic:63", "vic:16",
)  # fmt: skip
_LEAST: Mapping[str, Literal["any", "422", "444"]] = {"rgb": "444", "422": "422", "420": "any"}


@dataclass(frozen=True, slots=True)
class LinkQuestion:
    """Ends as `frl:4x10` or `tmds:600`, the lead, the signal, and what both ends compress (`parse_compression`)."""

    out: str
    inp: str
    cable: Cable
    timing: str
    encoding: str
    bits: int
    audio: str = "2ch"
    compression: str = NONE

    def signal(self) -> DigitalVideo:
        return DigitalVideo(parse_timing(self.timing), self.encoding, self.bits, self.audio)


def column_data(columns: Sequence[tuple[str, int]] = COLUMNS) -> list[ColumnOut]:
    """A table's columns as plain data: RGB and 4:4:4 weigh the same and share theirs.

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
        for e, b in columns
    ]


def scratch_link(ask: LinkQuestion) -> ScratchOut:
    """Everything about one signal over the link, and the table of usual modes over it, as plain data."""
    sink = parse_compression(ask.compression)
    cap = ends_capacity(ask.out, ask.cable, ask.inp, sink)
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
        "ceiling": ceiling_text(*ceilings(cap)),
        "limited_by": limited_by(cap, link),
        "compression": compression_words(sink, on_dp=_by_dp(cap)) if sink else "",
        "quantities": [quantity_data(q) for q in link_sums(link)],
        "source": source_of(link),
        "line": line_data(link),
        "plain_count": plain_count(link),
        "columns": column_data(),
        "rows": [_row(code, cap, ask.audio, code == ask.timing) for code in codes],
    }


def _by_dp(cap: Capacity) -> bool:
    return cap.dp is not None and cap.dp.lanes > 0


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
        "compression": told["compression"] or compression_words(None),
    }


def figure_words(told: ScratchOut) -> dict[str, str]:
    """The sums of an answer as named words."""
    return {q["name"]: q["text"] for q in told["quantities"]}


def _row(code: str, cap: Capacity, audio: str, wanted: bool) -> RowOut:
    t = parse_timing(code)
    cells: list[CellOut] = []
    for encoding, bits in COLUMNS:
        v = check_link(demand(DigitalVideo(t, encoding, bits, audio)), cap)
        cells.append(cell_data(encoding, bits, v.verdict, v.used_percent, v.blocked_by, room_of(v)))
    return row_data(t, code, wanted, cells)
