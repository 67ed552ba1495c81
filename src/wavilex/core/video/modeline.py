"""Custom timings from an X.org modeline, typed or pasted."""

from __future__ import annotations

import re
from fractions import Fraction

from wavilex.core.errors import TimingError
from wavilex.core.video.timing import Timing

_LINE = re.compile(
    r'\s*(?:modeline\s+)?(?:"[^"]*"\s+|[^\s\d"]\S*\s+)?(\d{1,5}(?:\.\d{1,6})?)((?:\s+\d{1,5}){8})((?:\s+[+-]?[a-z]+)*)\s*$',
    re.IGNORECASE | re.ASCII,
)
_FLAGS = {"+hsync", "-hsync", "+vsync", "-vsync", "interlace", "interlaced"}


def parse_modeline(text: str) -> Timing:
    """A timing from `Modeline "name" MHz h1 h2 h3 h4 v1 v2 v3 v4 [flags]`; name and word may be left out.

    Raises TimingError naming what is wrong.
    """
    m = _LINE.match(text)
    if not m:
        raise TimingError(
            "a modeline is a clock in MHz, four horizontal and four vertical figures, flags", where="modeline"
        )
    numbers = [int(n) for n in m[2].split()]
    flags = {f.lower() for f in m[3].split()}
    if strange := flags - _FLAGS:
        raise TimingError(f"{sorted(strange)[0]!r} is no flag known here", where="modeline")
    h, v = numbers[:4], numbers[4:]
    for name, edges in (("horizontal", h), ("vertical", v)):
        if not edges[0] <= edges[1] < edges[2] <= edges[3]:
            raise TimingError(f"the {name} figures must grow: active, sync start, sync end, total", where="modeline")
    clock_hz = int(Fraction(m[1]) * 1_000_000)
    if not clock_hz:
        raise TimingError("a clock of zero shows nothing", where="modeline")
    interlaced = bool(flags & {"interlace", "interlaced"})
    scale = 2 if interlaced else 1
    if any(edge % scale for edge in v[:3]):
        raise TimingError("an interlaced modeline has even vertical figures but for the total", where="modeline")
    lines = [v[0], v[1] - v[0], v[2] - v[1], v[3] - v[2]]
    half_line = interlaced and v[3] % 2 == 1
    refresh = Fraction(clock_hz * scale, h[3] * v[3])
    return Timing(
        f"modeline:{m[1]} {' '.join(m[2].split())}{' ' + ' '.join(sorted(flags)) if flags else ''}",
        "custom", h[0], h[1] - h[0], h[2] - h[1], h[3] - h[2],
        lines[0] // scale, lines[1] // scale, lines[2] // scale, lines[3] // scale,
        clock_hz, refresh, interlaced, "-hsync" not in flags, "-vsync" not in flags, half_line or not interlaced,
    )  # fmt: skip
