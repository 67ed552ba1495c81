"""The whole answer to `does this signal fit this link?`, as plain data."""

from __future__ import annotations

from wavilex.core.link.cable import Cable
from wavilex.core.link.check import Capacity, check_link
from wavilex.core.link.compression import compression_words, parse_compression
from wavilex.core.link.ends import ends_capacity, limited_by
from wavilex.core.link.rates import parse_over
from wavilex.core.link.shapes import LinkAnswerOut, QuantityOut
from wavilex.core.link.sums import link_sums
from wavilex.core.link.words import source_of, verdict_sentence
from wavilex.core.quantity import Quantity
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand


def link_answer(
    timing: str, encoding: str, bits: int, over: str, audio: str, dsc: str, *,
    lead: Cable | None = None, inp: str | None = None,
) -> LinkAnswerOut:  # fmt: skip
    """The fields of `wavilex link --json`. Raises TimingError or SignalError on a malformed question.

    over: a link of this rate as it is; with a lead or a receiving end (inp) it is the sending end's rate.
    dsc: as `parse_compression` takes it.
    """
    signal = DigitalVideo(parse_timing(timing), encoding, bits, audio)
    sink = parse_compression(dsc)
    if lead is None and inp is None:
        way = parse_over(over)
        cap = Capacity(way.tmds_hz, way.frl, "link", "link", dsc=sink, dp=way.dp, dp_by="link", dvi=way.dvi)
    else:
        cap = ends_capacity(over, lead, inp or over, sink)
    link = check_link(demand(signal), cap)
    answer: LinkAnswerOut = {
        "signal": signal.name,
        "verdict": link.verdict,
        "fits": link.fits,
        "blocked_by": link.blocked_by,
        "used_percent": link.used_percent,
        "pixel_clock_hz": signal.timing.pixel_clock_hz,
        "transport": link.transport,
        "sentence": verdict_sentence(link),
        "limited_by": limited_by(cap, link),
        "compression": compression_words(sink, on_dp=link.dp is not None),
        "reasons": [
            {
                "code": link.blocked_by or link.verdict,
                "text": verdict_sentence(link),
                "source": source_of(link),
                "quantities": [quantity_data(q) for q in link_sums(link)],
            }
        ],
    }
    if link.tmds is not None:
        rate = link.tmds.character_rate_hz
        answer["tmds_character_rate_hz"] = int(rate) if rate.denominator == 1 else float(rate)
    if link.dsc is not None:
        answer["bits_per_pixel"] = link.dsc.bits_per_pixel_x16 / 16
        answer["slices"] = link.dsc.slices
    return answer


def answer_words(answer: LinkAnswerOut) -> dict[str, str]:
    """An answer as named words, to hold beside another."""
    figures = {q["name"]: q["text"] for q in answer["reasons"][0]["quantities"]}
    return {"verdict": answer["verdict"], "transport": answer["transport"], **figures}


def quantity_data(q: Quantity) -> QuantityOut:
    """A figure as plain data: exact text of the value, its unit, and the rounded text to show."""
    return {"name": q.name, "value": str(q.value), "unit": q.unit, "text": q.text(), "over": q.over,
            "working": q.working}  # fmt: skip
