"""What is assumed of compression where a link is asked for by hand: how it is written and told, what is usual."""

from __future__ import annotations

import re

from wavilex.core.errors import SignalError
from wavilex.core.link.dp import DP_SLICES
from wavilex.core.link.dsc import SLICE_CODES, USUAL_MOST_BPP, DscSink, slice_code, widest_code
from wavilex.core.link.rates import ceiling_text, frl_rate

NONE = "none"
USUAL = "8x340"  # what receiving ends of 48 Gb/s commonly declare: common practice
_FORM = re.compile(r"(\d{1,2})x(\d{3})((?:,[^,]+)*)", re.ASCII)
_DP_MHZ = (340, 400, 450, 500, 550, 600, 650, 700, 750, 800)  # of a slice, as a DisplayPort end states it

_MOST_CHUNK_KIB = 63
_HOW = (
    f"write {NONE}, allowed (for {USUAL}) or slices x MHz: {USUAL}; after it, as far as stated, chunk:n (the field n, "
    "1024 × (1 + n) bytes a line), all (any bits a pixel) and frl:4x10 (the fastest step taken compressed)"
)


def parse_compression(text: str) -> DscSink | None:
    """`none` → None; `allowed` → the usual; `16x400,all,chunk:11,frl:4x10`. Raises SignalError."""
    if text in ("", NONE):
        return None
    m = _FORM.fullmatch(USUAL if text == "allowed" else text)
    code = slice_code(int(m[1]), int(m[2])) if m else None
    cut = (int(m[1]), int(m[2])) if m else (0, 0)
    on_dp = cut[0] in DP_SLICES and cut[1] in _DP_MHZ
    if m is None or not (code or on_dp):
        known = ", ".join(f"{n}x{mhz}" for n, mhz in SLICE_CODES.values() if n)
        raise SignalError(f"{text!r} is no compression: {_HOW}. Declared together: {known}", where="compression")
    chunk, every, frl = 0, False, None
    for part in filter(None, m[3].split(",")):
        key, _, value = part.partition(":")
        if key == "chunk" and value.isdecimal() and int(value) <= _MOST_CHUNK_KIB:
            chunk = int(value)
        elif part == "all":
            every = True
        elif key == "frl":
            frl = frl_rate(value)
        else:
            raise SignalError(f"{part!r} says nothing of compression: {_HOW}", where="compression")
    return DscSink(code or widest_code(cut), chunk, every, frl, dp_cut=None if code else cut)


def compression_words(sink: DscSink | None, *, on_dp: bool = False) -> str:
    """What was assumed, in words, for beside the answer. on_dp: where a link bounds bits a pixel by its room alone."""
    if sink is None:
        return "not allowed"
    slices, mhz = sink.cut
    words = [f"{slices} slice{'s' if slices > 1 else ''} a line at most, each to {mhz} MHz"]
    if on_dp:
        return f"{words[0]}; as many bits a pixel as there is room for"
    words.append("any bits a pixel" if sink.all_bpp else f"at most {USUAL_MOST_BPP} bits a pixel")
    words.append(
        f"at most {1024 * (1 + sink.chunk_kib)} bytes a line" if sink.chunk_kib else "no bound of bytes a line"
    )
    if sink.frl is not None:
        words.append(f"compressed to {ceiling_text(None, sink.frl)}")
    return "; ".join(words)


def slice_choices() -> dict[str, str]:
    """The pairs a receiving end can declare."""
    pairs = [(n, mhz) for n, mhz in SLICE_CODES.values() if n]
    return {f"{n}x{mhz}": f"{n} slice{'s' if n > 1 else ''}, {mhz} MHz each" for n, mhz in pairs}
