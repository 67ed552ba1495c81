"""CTA-861-I video identification codes that the starter gear needs.

Figures are values from memory of the document; tests compare every row with `edid-decode --vic N`.
"""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.errors import TimingError
from wavilex.core.video.timing import Timing

# vic: (h_active, front, sync, back, v_active, front, sync, back, clock_hz, interlaced, both polarities)
# Vertical figures per field for interlaced codes, as CTA-861-I table 1 lists them.
_T = tuple[int, int, int, int, int, int, int, int, int, bool, bool]
_TABLE: dict[int, _T] = {
    1: (640, 16, 96, 48, 480, 10, 2, 33, 25_175_000, False, False),
    2: (720, 16, 62, 60, 480, 9, 6, 30, 27_000_000, False, False),
    3: (720, 16, 62, 60, 480, 9, 6, 30, 27_000_000, False, False),
    4: (1280, 110, 40, 220, 720, 5, 5, 20, 74_250_000, False, True),
    5: (1920, 88, 44, 148, 540, 2, 5, 15, 74_250_000, True, True),
    16: (1920, 88, 44, 148, 1080, 4, 5, 36, 148_500_000, False, True),
    17: (720, 12, 64, 68, 576, 5, 5, 39, 27_000_000, False, False),
    18: (720, 12, 64, 68, 576, 5, 5, 39, 27_000_000, False, False),
    19: (1280, 440, 40, 220, 720, 5, 5, 20, 74_250_000, False, True),
    20: (1920, 528, 44, 148, 540, 2, 5, 15, 74_250_000, True, True),
    31: (1920, 528, 44, 148, 1080, 4, 5, 36, 148_500_000, False, True),
    32: (1920, 638, 44, 148, 1080, 4, 5, 36, 74_250_000, False, True),
    33: (1920, 528, 44, 148, 1080, 4, 5, 36, 74_250_000, False, True),
    34: (1920, 88, 44, 148, 1080, 4, 5, 36, 74_250_000, False, True),
    41: (1280, 440, 40, 220, 720, 5, 5, 20, 148_500_000, False, True),
    47: (1280, 110, 40, 220, 720, 5, 5, 20, 148_500_000, False, True),
    63: (1920, 88, 44, 148, 1080, 4, 5, 36, 297_000_000, False, True),
    64: (1920, 528, 44, 148, 1080, 4, 5, 36, 297_000_000, False, True),
    93: (3840, 1276, 88, 296, 2160, 8, 10, 72, 297_000_000, False, True),
    94: (3840, 1056, 88, 296, 2160, 8, 10, 72, 297_000_000, False, True),
    95: (3840, 176, 88, 296, 2160, 8, 10, 72, 297_000_000, False, True),
    96: (3840, 1056, 88, 296, 2160, 8, 10, 72, 594_000_000, False, True),
    97: (3840, 176, 88, 296, 2160, 8, 10, 72, 594_000_000, False, True),
    98: (4096, 1020, 88, 296, 2160, 8, 10, 72, 297_000_000, False, True),
    101: (4096, 968, 88, 128, 2160, 8, 10, 72, 594_000_000, False, True),
    102: (4096, 88, 88, 128, 2160, 8, 10, 72, 594_000_000, False, True),
    117: (3840, 1056, 88, 296, 2160, 8, 10, 72, 1_188_000_000, False, True),
    118: (3840, 176, 88, 296, 2160, 8, 10, 72, 1_188_000_000, False, True),
    198: (7680, 2352, 176, 592, 4320, 16, 20, 44, 2_376_000_000, False, True),
    199: (7680, 552, 176, 592, 4320, 16, 20, 44, 2_376_000_000, False, True),
    218: (4096, 800, 88, 296, 2160, 8, 10, 72, 1_188_000_000, False, True),
    219: (4096, 88, 88, 128, 2160, 8, 10, 72, 1_188_000_000, False, True),
}
VICS = tuple(_TABLE)
_NTSC = Fraction(1000, 1001)


def cta_timing(vic: int, refresh: Fraction | None = None) -> Timing:
    """The timing of a CTA code, at its listed clock or at its 1000/1001 partner.

    `refresh` in Hz picks the partner: `60000/1001` for vic 97, `60` for vic 2.
    Raises TimingError for a code or a rate the code does not stand for.
    Source: CTA-861-I, table 1 and its note that one code stands for both rates.
    """
    row = _TABLE.get(vic)
    if row is None:
        raise TimingError(f"no CTA code {vic} is known here", where=f"vic:{vic}")
    ha, hf, hs, hb, va, vf, vs, vb, clock_hz, interlaced, positive = row
    h_total = ha + hf + hs + hb
    lines = Fraction(va + vf + vs + vb) + (Fraction(1, 2) if interlaced else 0)
    listed = Fraction(clock_hz) / (h_total * lines)
    code = f"vic:{vic}"
    if refresh is not None and refresh != listed:
        allowed = _partners(listed)
        if refresh not in allowed:
            names = " or ".join(str(r) for r in (listed, *allowed))
            raise TimingError(f"vic {vic} runs at {names} Hz, not {refresh}", where=f"vic:{vic}@{refresh}")
        clock_hz = round(refresh * h_total * lines)
        code = f"vic:{vic}@{refresh}"
        listed = refresh
    return Timing(
        code, "CTA", ha, hf, hs, hb, va, vf, vs, vb, clock_hz, listed, interlaced, positive, positive
    )  # fmt: skip


def _partners(listed: Fraction) -> tuple[Fraction, ...]:
    """The other rate a code stands for, in Hz: none for the 50 Hz family."""
    if round(listed) % 6:
        return ()
    whole = Fraction(round(listed))
    return (whole * _NTSC,) if listed == whole else (whole,)
