"""What HDR would cost on a weak screen, held against standard range, in figures; the school decides.

The smallest step seen, about 1 %: a round figure of our own near the bound that BT.2246 draws for PQ (from memory).
"""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.light.transfer import bt1886_light, pq_light, pq_signal

WEAK_HDR_CD_M2 = 500  # a screen whose HDR white stays under this gains little from HDR: own figure
_SEEN_STEP = 0.01


@dataclass(frozen=True, slots=True)
class Cost:
    """One figure of HDR beside standard range. worse: is HDR the worse of the two there?"""

    what: str
    hdr: str
    sdr: str
    worse: bool | None


def _step(light: float, bits: int, *, hdr: bool, white: float) -> float:
    """How much a code step changes the light there, as a share."""
    most = (1 << bits) - 1
    if hdr:
        at = pq_signal(light)
        return pq_light(min(at + 1 / most, 1.0)) / light - 1
    at = (light / white) ** (1 / 2.4)
    return bt1886_light(min(at + 1 / most, 1.0), white) / light - 1


def costs(
    peak: float | None, white: float | None, bits: int | None, zones: int | None, *, self_lit: bool
) -> list[Cost]:
    """What HDR does better or worse than standard range on this screen. None: not known, and then not said."""
    out = []
    if peak is not None and white is not None:
        out.append(
            Cost("highlights over white", f"{peak / max(white, 1):.1f} times white", "none", peak <= white * 1.5)
        )
    if bits is not None:
        for at in (0.5, 10.0):
            ref = white or 120.0
            hdr, sdr = (_step(at, bits, hdr=h, white=ref) for h in (True, False))
            out.append(Cost(
                f"a step of its {bits} bits at {at:g} cd/m²", f"{100 * hdr:.1f} %", f"{100 * sdr:.1f} %",
                hdr > sdr and hdr > _SEEN_STEP))  # fmt: skip
    if not self_lit and zones is not None:
        words = (
            "the whole picture dims together: black is grey beside a highlight" if zones == 0 else f"{zones} zones dim"
        )
        out.append(Cost("black beside highlights", words, "black stays as it is", zones == 0))
    return out


def is_weak(peak: float | None, bits: int | None, zones: int | None, *, self_lit: bool) -> bool | None:
    """Is a screen weak at HDR? None: too little is known."""
    known = [
        peak is not None and peak < WEAK_HDR_CD_M2,
        bits is not None and bits <= 8,
        zones == 0 and not self_lit,
    ]
    return True if any(known) else None if peak is None else False
